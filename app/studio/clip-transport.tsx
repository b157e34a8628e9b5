import FirstPageRounded from '@mui/icons-material/FirstPageRounded';
import LastPageRounded from '@mui/icons-material/LastPageRounded';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import IconButton from '@mui/material/IconButton';
import type { Press } from '~/core/commands/commands';
import { lengthText } from '~/core/rundown/length-text';
import { useTranslation } from '../words/words';
import { useDesk, useStudio } from './studio-context';

/** So long before the end a hand-over is tried. */
const BEFORE_END_SECONDS = 10;

/** Plays and pauses clips, jumps to their beginning or shortly before their end, and says what is left. */
export function ClipTransport({ inputId, name }: { inputId: string; name: string }) {
  const { control, say } = useStudio();
  const played = useDesk((now) => now.inputs.find((input) => input.inputId === inputId)?.played ?? null);
  const { t } = useTranslation();
  const press = (command: 'clips' | 'clipsTo', more: Press['params']) =>
    void control
      .press({ command, params: { clipsId: inputId, ...more } }, 'page')
      .then((problem) => problem && say(problem));
  const left = played?.length == null ? null : Math.max(0, played.length - played.seconds);
  return (
    <div role="group" aria-label={t('clips.of', { name })} className="clip-transport">
      <IconButton
        size="small"
        aria-label={t(played?.playing ? 'clips.pause' : 'clips.play', { name })}
        disabled={!played}
        onClick={() => press('clips', { on: !played?.playing })}
      >
        {played?.playing ? <PauseRounded fontSize="small" /> : <PlayArrowRounded fontSize="small" />}
      </IconButton>
      <IconButton
        size="small"
        aria-label={t('clips.start')}
        title={t('clips.start')}
        disabled={!played}
        onClick={() => press('clipsTo', { toSeconds: 0 })}
      >
        <FirstPageRounded fontSize="small" />
      </IconButton>
      <IconButton
        size="small"
        aria-label={t('clips.end', { seconds: BEFORE_END_SECONDS })}
        title={t('clips.end', { seconds: BEFORE_END_SECONDS })}
        disabled={played?.length == null}
        onClick={() => press('clipsTo', { toSeconds: -BEFORE_END_SECONDS })}
      >
        <LastPageRounded fontSize="small" />
      </IconButton>
      <span className="one-line">{name}</span>
      <span className="figure">
        {left === null ? '' : t('clips.left', { time: lengthText(Math.ceil(left)) })}
      </span>
    </div>
  );
}
