import Button from '@mui/material/Button';
import { useBroadcastActions } from '../delivery/broadcast-actions';
import { useBus, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** What one wants at hand while live: keep what just happened, mark a place, pause the recording. */
export function AtHand() {
  const relay = useBus((now) => now.relay);
  const broadcast = useBus((now) => now.broadcast);
  const actions = useBroadcastActions();
  const { control } = useStudio();
  const { t } = useTranslation();
  const session = relay?.session ?? null;
  if (broadcast.state === 'off' || broadcast.state === 'ending' || !session) return null;
  const back = session.lookback;
  const paused = session.recording?.paused ?? false;
  return (
    <div role="group" aria-label={t('shell.atHand')} className="at-hand">
      <Button
        className="cover"
        onClick={() => void control.press({ command: 'cover', params: {} }, 'page')}
        aria-pressed={session.coverHeld}
        aria-keyshortcuts="Shift+V"
        title={t('air.coverHint')}
      >
        {session.coverHeld ? t('air.uncover') : t('air.cover')}
      </Button>
      {back && (
        <Button onClick={() => void actions.keep()} title="K" aria-keyshortcuts="K">
          {t('air.keep', { seconds: Math.max(1, Math.round(back.seconds)) })}
        </Button>
      )}
      <Button onClick={() => void actions.mark('')} title="M" aria-keyshortcuts="M">
        {t('air.marker')}
      </Button>
      {session.recording && (
        <Button onClick={() => void actions.pause(!paused)} aria-pressed={paused}>
          {paused ? t('air.resumeRecording') : t('air.pauseRecording')}
        </Button>
      )}
    </div>
  );
}
