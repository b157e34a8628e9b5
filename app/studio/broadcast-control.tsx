import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type ReactNode } from 'react';
import type { BroadcastState } from '~/protocol/bus';
import { useStudio } from './studio-context';

/** Starting at one press, stopping with a question: a broadcast ended by mistake cannot be undone. */
export function useBroadcastControl(): {
  busy: boolean;
  start: () => void;
  /** Records without sending anything. */
  record: () => void;
  /** Sends as planned, privately, to a stand-in. */
  rehearse: () => void;
  askStop: () => void;
  dialog: ReactNode;
} {
  const { showId, bus, say } = useStudio();
  const [busy, setBusy] = useState(false);
  const [asking, setAsking] = useState(false);

  const send = async (intent: 'start' | 'record' | 'rehearse' | 'stop') => {
    setBusy(true);
    try {
      const response = await fetch(`/show/${showId}/broadcast`, {
        method: 'POST',
        body: new URLSearchParams({ intent }),
      });
      const answer = (await response.json()) as {
        broadcast?: BroadcastState;
        problems?: string[];
        message?: string;
      };
      if (answer.broadcast) {
        bus.setBroadcast(answer.broadcast);
        // It is on all the same; what did not work on a platform is said.
        if (answer.problems && answer.problems.length > 0) say(answer.problems.join('. '));
      } else say(answer.message ?? 'That did not work: try again.');
    } catch {
      say('The studio server does not answer: check that it runs, then try again.');
    } finally {
      setBusy(false);
    }
  };

  const stop = () => {
    setAsking(false);
    void send('stop');
  };
  const dialog = (
    <Dialog open={asking} onClose={() => setAsking(false)} aria-labelledby="stop-title">
      <DialogTitle id="stop-title" sx={{ fontFamily: '"Bricolage Grotesque Variable"', fontSize: 18 }}>
        Stop the broadcast?
      </DialogTitle>
      <DialogContent>
        All destinations are ended and the recording is closed. Viewers see the platform's own end.
      </DialogContent>
      <DialogActions>
        <Button onClick={() => setAsking(false)}>Keep going</Button>
        <Button
          onClick={stop}
          autoFocus
          sx={{ bgcolor: 'var(--ember)', color: 'var(--onAccent)', '&:hover': { bgcolor: 'var(--ember)' } }}
        >
          Stop the broadcast
        </Button>
      </DialogActions>
    </Dialog>
  );
  return {
    busy,
    start: () => void send('start'),
    record: () => void send('record'),
    rehearse: () => void send('rehearse'),
    askStop: () => setAsking(true),
    dialog,
  };
}
