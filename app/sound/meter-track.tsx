import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { dbOfAmplitude, FADER_MAX_DB, FADER_MIN_DB, VOICE_BAND_DB } from '~/core/sound/decibel';
import type { StripReading } from '~/protocol/shared-sound';
import { recordsOf } from '~/core/show/document';
import { useDocument } from '../studio/studio-context';
import { LiveCanvas, type LiveDrawing } from './live-canvas';
import { useTranslation } from '../words/words';

export type MeterReading = Pick<StripReading, 'level' | 'held' | 'rms'>;

const HEIGHT = 34;
const BAR_HEIGHT = 14;

export function trackShare(db: number): number {
  return Math.min(1, Math.max(0, (db - FADER_MIN_DB) / (FADER_MAX_DB - FADER_MIN_DB)));
}

interface Props {
  name: string;
  read: () => MeterReading | null;
  gainDb: number;
  muted: boolean;
  /** It stands beside what one is about. */
  aside?: boolean;
  /** Without it the track only shows. */
  onGain?: (db: number, done: boolean) => void;
}

/** The meter is the fader's track: the level runs in it, the handle stands on it, the bracket marks where a voice belongs. */
export function MeterTrack({ name, read, gainDb, muted, aside, onGain }: Props) {
  const { t } = useTranslation();
  const track = useRef<HTMLDivElement>(null);
  const target = recordsOf(useDocument(), 'show')[0]?.sound.targetLufs ?? -16;
  const dbAt = (event: PointerEvent) => {
    const box = track.current!.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    return Math.round((FADER_MIN_DB + share * (FADER_MAX_DB - FADER_MIN_DB)) * 2) / 2;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const steps: Record<string, number> = {
      ArrowRight: 1,
      ArrowUp: 1,
      ArrowLeft: -1,
      ArrowDown: -1,
      PageUp: 6,
      PageDown: -6,
    };
    const step = steps[event.key];
    if (event.key === 'Home') onGain?.(FADER_MIN_DB, true);
    else if (event.key === 'End') onGain?.(FADER_MAX_DB, true);
    else if (step) onGain?.(Math.min(FADER_MAX_DB, Math.max(FADER_MIN_DB, gainDb + step)), true);
    else return;
    event.preventDefault();
  };
  return (
    <div
      ref={track}
      role={onGain ? 'slider' : 'meter'}
      tabIndex={onGain ? 0 : undefined}
      aria-label={onGain ? t('sound.levelOfName', { name }) : t('sound.meterOfName', { name })}
      aria-valuemin={FADER_MIN_DB}
      aria-valuemax={FADER_MAX_DB}
      aria-valuenow={Math.round(gainDb * 10) / 10}
      aria-valuetext={gainDb <= FADER_MIN_DB ? 'silent' : `${gainDb.toFixed(1)} decibels`}
      onKeyDown={onGain && onKeyDown}
      onPointerDown={(event) => {
        if (!onGain || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        onGain(dbAt(event), false);
      }}
      onPointerMove={(event) => {
        if (onGain && event.currentTarget.hasPointerCapture(event.pointerId)) onGain(dbAt(event), false);
      }}
      onPointerUp={(event) => {
        if (onGain && event.currentTarget.hasPointerCapture(event.pointerId)) onGain(dbAt(event), true);
      }}
      onDoubleClick={() => onGain?.(0, true)}
      style={{
        position: 'relative',
        height: HEIGHT,
        touchAction: 'none',
        cursor: onGain ? 'ew-resize' : undefined,
        borderRadius: 4,
      }}
    >
      <LiveCanvas
        height={HEIGHT}
        aside={aside}
        draw={(drawing) => paintMeter(drawing, read(), muted, target)}
        style={{ position: 'absolute', inset: 0 }}
      />
      {onGain && (
        <svg
          aria-hidden
          width={14}
          height={28}
          viewBox="0 0 14 28"
          style={{
            position: 'absolute',
            top: 3,
            left: `calc(${trackShare(gainDb) * 100}% - 7px)`,
            pointerEvents: 'none',
          }}
        >
          <path d="M7 0 13 6V22L7 28 1 22V6Z" fill="var(--text)" stroke="var(--ground)" strokeWidth={1.5} />
        </svg>
      )}
    </div>
  );
}

function paintMeter(
  { context, width, colour }: LiveDrawing,
  reading: MeterReading | null,
  muted: boolean,
  targetLufs: number,
): void {
  const top = (HEIGHT - BAR_HEIGHT) / 2;
  context.fillStyle = colour('ground');
  context.beginPath();
  context.roundRect(0, top, width, BAR_HEIGHT, BAR_HEIGHT / 2);
  context.fill();
  if (reading) {
    const fill = context.createLinearGradient(0, 0, width, 0);
    fill.addColorStop(0, colour('glacier'));
    fill.addColorStop(trackShare(-18), colour('glacier'));
    fill.addColorStop(trackShare(-7), colour('larch'));
    fill.addColorStop(trackShare(-1), colour('ember'));
    fill.addColorStop(1, colour('ember'));
    context.save();
    context.beginPath();
    context.roundRect(0, top, width, BAR_HEIGHT, BAR_HEIGHT / 2);
    context.clip();
    context.globalAlpha = muted ? 0.3 : 1;
    context.fillStyle = fill;
    context.fillRect(0, top, trackShare(dbOfAmplitude(reading.level)) * width, BAR_HEIGHT);
    // A notch where the mean power stands: how loud it is, beside how high it peaks.
    const rms = trackShare(dbOfAmplitude(reading.rms)) * width;
    context.fillStyle = colour('ground');
    context.globalAlpha = 0.55;
    if (rms > 2) context.fillRect(rms - 1, top + 3, 2, BAR_HEIGHT - 6);
    context.restore();
    const held = trackShare(dbOfAmplitude(reading.held)) * width;
    if (held > 1) {
      context.fillStyle = colour('text');
      context.globalAlpha = muted ? 0.4 : 1;
      context.fillRect(Math.min(held, width - 2), top - 2, 2, BAR_HEIGHT + 4);
      context.globalAlpha = 1;
    }
  }
  const [from, to] = [targetLufs, targetLufs + VOICE_BAND_DB].map((db) => trackShare(db) * width);
  context.strokeStyle = colour('quiet');
  context.lineWidth = 1.5;
  for (const [y, inward] of [
    [3, 4],
    [HEIGHT - 3, -4],
  ] as const) {
    context.beginPath();
    context.moveTo(from, y + inward);
    context.lineTo(from, y);
    context.lineTo(to, y);
    context.lineTo(to, y + inward);
    context.stroke();
  }
}
