import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useRef, useState } from 'react';
import { useFetcher } from 'react-router';
import type { RecordingFacts } from '~/server/vault/recording-repository';
import { NameField } from '../studio/name-field';
import { NumberField } from '../studio/number-field';
import { Panel } from '../studio/panel';
import { DATE, length, titleOf } from './format';
import { ScrubStrip } from './scrub-strip';
import { useTranslation } from '../words/words';

/** One file: played, scrubbed with pictures, trimmed, put into another container, named, deleted. */
export function RecordingView({ recording }: { recording: RecordingFacts }) {
  const { t } = useTranslation();
  const fetcher = useFetcher<{ message?: string }>();
  const player = useRef<HTMLVideoElement>(null);
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(recording.seconds);
  const [deleting, setDeleting] = useState(false);
  const source = `/files/recordings/${recording.id}`;
  const send = (fields: Record<string, string>) => void fetcher.submit(fields, { method: 'post' });
  const trimmed = from > 0.05 || to < recording.seconds - 0.05;
  const mp4 = recording.file.endsWith('.mp4');
  const here = () => player.current?.currentTime ?? 0;
  const copy = (container: 'mp4' | 'mkv', cut: boolean) =>
    send({
      intent: 'rewrap',
      recordingId: recording.id,
      to: container,
      title: cut ? `${titleOf(recording)} ${length(from)}–${length(to)}`.replaceAll(':', '.') : '',
      ...(cut && { fromSeconds: String(from), toSeconds: String(to) }),
    });
  return (
    <Panel
      label={t('vault.player')}
      title={
        <NameField
          label={t('vault.title')}
          name={titleOf(recording)}
          onRename={(title) => send({ intent: 'rename', id: recording.id, title })}
        />
      }
      aside={
        <span className="figure" style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
          {DATE.format(recording.startedMs)} · {length(recording.seconds)}
        </span>
      }
    >
      <video
        ref={player}
        controls
        preload="metadata"
        src={source}
        aria-label={`Recording of ${DATE.format(recording.startedMs)}`}
        style={{ width: '100%', maxHeight: 'calc(100vh - 430px)', background: '#000', borderRadius: 6 }}
      />
      <ScrubStrip
        source={source}
        seconds={recording.seconds}
        from={from}
        to={to}
        onSeek={(seconds) => {
          if (player.current) player.current.currentTime = seconds;
        }}
      />
      <div
        role="group"
        aria-label={t('vault.trim')}
        style={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 1fr) auto minmax(0, 1fr) auto auto',
          gap: 8,
          alignItems: 'center',
          marginTop: 8,
        }}
      >
        <NumberField
          label={t('vault.in')}
          unit="s"
          digits={1}
          value={from}
          min={0}
          max={to}
          onCommit={setFrom}
        />
        <Button onClick={() => setFrom(Math.min(here(), to))} sx={{ bgcolor: 'var(--raised)' }}>
          {t('vault.setIn')}
        </Button>
        <NumberField
          label={t('vault.out')}
          unit="s"
          digits={1}
          value={to}
          min={from}
          max={recording.seconds}
          onCommit={setTo}
        />
        <Button onClick={() => setTo(Math.max(here(), from))} sx={{ bgcolor: 'var(--raised)' }}>
          {t('vault.setOut')}
        </Button>
        <Button
          variant="contained"
          disabled={!trimmed || to - from < 0.1 || fetcher.state !== 'idle'}
          onClick={() => copy(mp4 ? 'mp4' : 'mkv', true)}
        >
          {t('vault.exportClip')}
        </Button>
      </div>
      <p style={{ color: 'var(--quiet)', fontSize: 12.5, margin: '6px 0 0' }}>
        {t('vault.nothingIsEncodedAgainA')}
      </p>
      {fetcher.data?.message && (
        <p role="alert" style={{ color: 'var(--rose)', margin: '6px 0 0' }}>
          {fetcher.data.message}
        </p>
      )}
      <div style={{ display: 'flex', gap: 8, marginTop: 10, flexWrap: 'wrap' }}>
        <Button onClick={() => copy('mp4', false)} disabled={mp4} sx={{ bgcolor: 'var(--raised)' }}>
          {t('vault.makeAnMp')}
        </Button>
        <Button onClick={() => copy('mkv', false)} sx={{ bgcolor: 'var(--raised)' }}>
          {mp4 ? t('vault.makeAMatroska') : t('vault.repairFile')}
        </Button>
        <Button component="a" href={`${source}?download`} download sx={{ bgcolor: 'var(--raised)' }}>
          {t('vault.download')}
        </Button>
        <Button onClick={() => setDeleting(true)} sx={{ color: 'var(--rose)', marginLeft: 'auto' }}>
          {t('vault.delete')}
        </Button>
      </div>
      <Dialog open={deleting} onClose={() => setDeleting(false)} aria-labelledby="delete-title">
        <DialogTitle id="delete-title">{t('vault.deleteThisRecording')}</DialogTitle>
        <DialogContent>{t('vault.theFileIsRemovedFrom')}</DialogContent>
        <DialogActions>
          <Button onClick={() => setDeleting(false)} autoFocus>
            {t('vault.keepIt')}
          </Button>
          <Button
            disabled={fetcher.state !== 'idle'}
            onClick={() => {
              setDeleting(false);
              send({ intent: 'delete', id: recording.id });
            }}
            sx={{ color: 'var(--rose)' }}
          >
            {t('vault.delete')}
          </Button>
        </DialogActions>
      </Dialog>
    </Panel>
  );
}
