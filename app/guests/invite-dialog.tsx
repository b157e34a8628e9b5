import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import type { SeatRecord } from '~/core/guests/seats';
import type { DoorAddress } from '~/protocol/door';
import { LinkCode } from '../computer/link-code';
import { orderOrSay } from '../studio/order';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

interface Made {
  token: string;
  addresses: DoorAddress[];
}

/** Makes a link for a seat, or for anyone, and shows it to be copied or held before a phone. */
export function InviteButton({ seat, className }: { seat: SeatRecord | null; className?: string }) {
  const { showId, say } = useStudio();
  const { t } = useTranslation();
  const [made, setMade] = useState<Made | null>(null);
  const [open, setOpen] = useState(false);
  const invite = async () => {
    const link = await orderOrSay<Made>(`/show/${showId}/guest-link`, { seatId: seat?.id ?? null }, say);
    if (!link) return;
    setMade(link);
    setOpen(true);
  };
  return (
    <>
      <Button
        className={className}
        onClick={() => void invite()}
        aria-label={seat ? t('guests.inviteTo', { name: seat.name }) : t('guests.inviteAnyone')}
      >
        {seat ? t('guests.invite') : t('guests.inviteAnyone')}
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        maxWidth="sm"
        fullWidth
        aria-labelledby="invite-title"
      >
        <DialogTitle id="invite-title">
          {seat ? t('guests.linkFor', { name: seat.name }) : t('guests.linkForAnyone')}
        </DialogTitle>
        <DialogContent>
          {made && (
            <>
              <LinkCode token={made.token} addresses={made.addresses} />
              <p className="computer-hint">{t('guests.linkHint')}</p>
              {made.addresses.every(({ url }) => isLoopback(url)) && (
                <p className="computer-problem">{t('guests.onlyHere')}</p>
              )}
            </>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>{t('computer.done')}</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** Whether an address leads nowhere but to this very computer. */
const isLoopback = (url: string): boolean =>
  ['127.0.0.1', 'localhost', '[::1]'].includes(new URL(url).hostname);
