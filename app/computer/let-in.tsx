import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useFetcher } from 'react-router';
import { LINK_ROLES } from '~/core/access/roles';
import type { DoorAddress } from '~/protocol/door';
import { FormField } from '../studio/form-field';
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

interface Link {
  name: string;
  role: (typeof LINK_ROLES)[number];
  hours: number;
  uses: number;
}
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
  const { control, handleSubmit, getValues } = useForm<Link>({
    defaultValues: { name: '', role: LINK_ROLES[0], hours: HOURS[1][0], uses: USES[0][0] },
  });
  const make = handleSubmit((link) => void fetcher.submit({ intent: 'link', ...link }, { method: 'post' }));
  const token = fetcher.data?.token;
  if (token !== undefined)
    return (
      <>
        <DialogContent>
          <p className="computer-hint">{t('computer.shownOnce', { name: getValues('name') })}</p>
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
    <form onSubmit={(event) => void make(event)} noValidate>
      <DialogContent className="computer-fields">
        <FormField
          control={control}
          name="name"
          autoFocus
          label={t('computer.linkName')}
          help={t('computer.linkNameHint')}
          rules={{
            validate: (name) => String(name).trim() !== '' || t('computer.linkNameMissing'),
            maxLength: { value: 60, message: t('computer.linkNameLong') },
          }}
        />
        <FormField control={control} name="role" select label={t('computer.linkRole')}>
          {LINK_ROLES.map((role) => (
            <MenuItem key={role} value={role}>
              {t(`computer.role.${role}`)}
            </MenuItem>
          ))}
        </FormField>
        <FormField control={control} name="hours" select label={t('computer.linkHours')}>
          {HOURS.map(([n, words]) => (
            <MenuItem key={n} value={n}>
              {t(`computer.hours.${words}`)}
            </MenuItem>
          ))}
        </FormField>
        <FormField control={control} name="uses" select label={t('computer.linkUses')}>
          {USES.map(([n, words]) => (
            <MenuItem key={n} value={n}>
              {t(`computer.uses.${words}`)}
            </MenuItem>
          ))}
        </FormField>
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
        <Button type="submit" disabled={fetcher.state !== 'idle'}>
          {t('computer.makeLink')}
        </Button>
      </DialogActions>
    </form>
  );
}
