import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import { LINK_ROLES } from '~/core/access/roles';
import type { DoorAddress } from '~/protocol/door';
import { useTranslation } from '../words/words';
import { LinkCode } from './link-code';

/** Hours a link is good for; 0 for as long as it is not revoked. */
const HOURS = [
  [3, 'short'],
  [12, 'evening'],
  [168, 'week'],
  [0, 'always'],
] as const;
/** How many browsers; 0 for any. */
const USES = [
  [1, 'one'],
  [10, 'ten'],
  [0, 'any'],
] as const;

type Answer = { token?: string; message?: string };

/**
 * Makes a link for somebody and shows it, once.
 * @param addresses where one can come in from another device @param local where programs of this computer can
 */
export function LetIn({ addresses, local }: { addresses: readonly DoorAddress[]; local: string | null }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  // Each opening is a link of its own: nothing of the last one is shown again.
  const [round, setRound] = useState(0);
  return (
    <>
      <Button
        onClick={() => {
          setRound((n) => n + 1);
          setOpen(true);
        }}
        className="raised"
      >
        {t('computer.letIn')}
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        maxWidth="sm"
        fullWidth
        aria-labelledby="let-in-title"
      >
        <DialogTitle id="let-in-title">{t('computer.letInTitle')}</DialogTitle>
        <LinkForm key={round} addresses={addresses} local={local} close={() => setOpen(false)} />
      </Dialog>
    </>
  );
}

function LinkForm({
  addresses,
  local,
  close,
}: {
  addresses: readonly DoorAddress[];
  local: string | null;
  close: () => void;
}) {
  const { t } = useTranslation();
  const fetcher = useFetcher<Answer>();
  const [name, setName] = useState('');
  const [hours, setHours] = useState<number>(HOURS[1][0]);
  const [uses, setUses] = useState<number>(USES[0][0]);
  const token = fetcher.data?.token;
  if (token !== undefined)
    return (
      <>
        <DialogContent>
          <p className="computer-hint">{t('computer.shownOnce', { name })}</p>
          <LinkCode
            token={token}
            addresses={[...addresses, ...(local === null ? [] : [{ url: local, fingerprint: null }])]}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>{t('computer.done')}</Button>
        </DialogActions>
      </>
    );
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="intent" value="link" />
      <DialogContent className="computer-fields">
        <TextField
          autoFocus
          required
          name="name"
          label={t('computer.linkName')}
          helperText={t('computer.linkNameHint')}
          value={name}
          onChange={(e) => setName(e.target.value.slice(0, 60))}
        />
        <TextField select name="role" label={t('computer.linkRole')} defaultValue={LINK_ROLES[0]}>
          {LINK_ROLES.map((role) => (
            <MenuItem key={role} value={role}>
              {t(`computer.role.${role}`)}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          name="hours"
          label={t('computer.linkHours')}
          value={hours}
          onChange={(e) => setHours(Number(e.target.value))}
        >
          {HOURS.map(([n, words]) => (
            <MenuItem key={n} value={n}>
              {t(`computer.hours.${words}`)}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          name="uses"
          label={t('computer.linkUses')}
          value={uses}
          onChange={(e) => setUses(Number(e.target.value))}
        >
          {USES.map(([n, words]) => (
            <MenuItem key={n} value={n}>
              {t(`computer.uses.${words}`)}
            </MenuItem>
          ))}
        </TextField>
        {addresses.length === 0 && (
          <p role="alert" className="computer-problem">
            {t('computer.nowhere')}
          </p>
        )}
        {fetcher.data?.message && (
          <p role="alert" className="computer-problem">
            {fetcher.data.message}
          </p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>{t('computer.cancel')}</Button>
        <Button type="submit" disabled={name.trim() === '' || fetcher.state !== 'idle'}>
          {t('computer.makeLink')}
        </Button>
      </DialogActions>
    </fetcher.Form>
  );
}
