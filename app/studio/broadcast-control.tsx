import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type ReactNode } from 'react';
import type { BeginIntent } from '../delivery/broadcast-orders';
import { useBus, useStudio } from './studio-context';
import { useTranslation } from '../words/words';

/** Starting at one press, stopping with a question: a broadcast ended by mistake cannot be undone. */
export function useBroadcastControl(): {
  busy: boolean;
  start: () => void;
  /** Records without sending anything. */
  record: () => void;
  /** Sends as planned, privately, to a stand-in. */
  rehearse: () => void;
  /** Keeps the last minutes at hand, without sending or recording. */
  lookBack: () => void;
  askStop: () => void;
  dialog: ReactNode;
} {
  const { t } = useTranslation();
  const { control } = useStudio();
  const broadcast = useBus((now) => now.broadcast);
  const relay = useBus((now) => now.relay);
  const [busy, setBusy] = useState(false);
  const [asking, setAsking] = useState(false);

  const send = async (intent: BeginIntent) => {
    setBusy(true);
    try {
      await control.broadcast.begin(intent);
    } finally {
      setBusy(false);
    }
  };

  const stop = (intent: 'stop' | 'finish') => {
    setAsking(false);
    void send(intent);
  };
  const ending = broadcast.state === 'ending';
  const late = (relay?.session?.destinations ?? []).filter((d) => d.delaySeconds > 0 && d.state === 'live');
  const behind = ending ? 0 : Math.max(0, ...late.map((d) => d.delaySeconds));
  const names = late.map((d) => d.name).join(' and ');
  const dialog = (
    <Dialog open={asking} onClose={() => setAsking(false)} aria-labelledby="stop-title">
      <DialogTitle id="stop-title" sx={{ fontFamily: '"Bricolage Grotesque Variable"', fontSize: 18 }}>
        {ending ? t('shell.cutTheLastSecondsOff') : t('shell.stopTheBroadcast')}
      </DialogTitle>
      <DialogContent>
        {ending
          ? t('shell.stillGet', { names: names || t('shell.delayedDestinations') })
          : t('shell.allDestinationsAreEndedAnd')}
        {behind > 0 && <p style={{ margin: '10px 0 0' }}>{t('shell.viewersBehind', { names, behind })}</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={() => setAsking(false)}>{t('shell.keepGoing')}</Button>
        {behind > 0 && (
          <Button onClick={() => stop('finish')} sx={{ bgcolor: 'var(--raised)' }}>
            {t('shell.finishDelayed', { behind })}
          </Button>
        )}
        <Button
          onClick={() => stop('stop')}
          autoFocus
          sx={{ bgcolor: 'var(--ember)', color: 'var(--onAccent)', '&:hover': { bgcolor: 'var(--ember)' } }}
        >
          {ending ? t('shell.cutOff') : t('shell.stopTheBroadcast2')}
        </Button>
      </DialogActions>
    </Dialog>
  );
  return {
    busy,
    start: () => void send('start'),
    record: () => void send('record'),
    rehearse: () => void send('rehearse'),
    lookBack: () => void send('lookBack'),
    askStop: () => setAsking(true),
    dialog,
  };
}
