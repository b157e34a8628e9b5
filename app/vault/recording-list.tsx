import { useBus } from '../studio/studio-context';
import type { RecordingFacts } from '~/server/vault/recording-repository';
import { pictureOf, KIND_WORDS, length, titleOf } from './format';
import { useTranslation } from '../words/words';

/** Everything that was recorded, cut out or copied, newest first. */
export function RecordingList({
  recordings,
  chosen,
  onChoose,
}: {
  recordings: readonly RecordingFacts[];
  chosen: string | null;
  onChoose: (id: string) => void;
}) {
  const { t } = useTranslation();
  const relay = useBus((now) => now.relay);
  const running = relay?.session?.recording ?? null;
  return (
    <>
      {running && (
        <p
          style={{
            margin: '0 0 10px',
            padding: '8px 12px',
            borderRadius: 6,
            background: 'var(--raised)',
            borderLeft: `4px solid ${running.message ? 'var(--rose)' : 'var(--ember)'}`,
            lineHeight: 1.4,
          }}
        >
          {running.message ||
            (running.paused ? (
              'Recording is paused.'
            ) : (
              <>
                Recording now: <span className="figure">{length(running.seconds)}</span>,{' '}
                <span className="figure">{(running.bytes / 1e6).toFixed(1)} MB</span>. It is listed when the
                broadcast ends.
              </>
            ))}
        </p>
      )}
      {recordings.length === 0 && !running && (
        <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>{t('vault.everyBroadcastIsRecordedAs')}</p>
      )}
      {recordings.map((recording) => {
        const selected = recording.id === chosen;
        return (
          <button
            key={recording.id}
            type="button"
            aria-pressed={selected}
            onClick={() => onChoose(recording.id)}
            style={{
              display: 'flex',
              width: '100%',
              justifyContent: 'space-between',
              gap: 10,
              alignItems: 'baseline',
              padding: '9px 12px',
              marginBottom: 5,
              border: 0,
              borderRadius: 8,
              cursor: 'pointer',
              textAlign: 'left',
              font: 'inherit',
              color: 'var(--text)',
              background: 'var(--raised)',
              boxShadow: selected ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
            }}
          >
            <span style={{ minWidth: 0 }}>
              <span
                style={{
                  display: 'block',
                  overflow: 'hidden',
                  textOverflow: 'ellipsis',
                  whiteSpace: 'nowrap',
                }}
              >
                {titleOf(recording)}
              </span>
              <span style={{ color: 'var(--quiet)', fontSize: 12 }}>
                {KIND_WORDS[recording.kind]}, {pictureOf(recording)},{' '}
                {recording.file.endsWith('.mp4') ? 'MP4' : 'Matroska'}
              </span>
              {recording.note && (
                <span style={{ display: 'block', color: 'var(--rose)', fontSize: 12 }}>{recording.note}</span>
              )}
            </span>
            <span className="figure" style={{ color: 'var(--quiet)', fontSize: 12.5, whiteSpace: 'nowrap' }}>
              {length(recording.seconds)} · {(recording.bytes / 1e6).toFixed(1)} MB
            </span>
          </button>
        );
      })}
    </>
  );
}
