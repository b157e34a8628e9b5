import { useEffect, useRef, useState } from 'react';
import type { Rect } from '~/core/geometry/rect';
import { NO_CROP, type InputRecord } from '~/core/show/records';
import type { InputState } from '~/protocol/engine';
import { LiveView } from '../studio/live-view';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** The input's own picture, live. Dragging over it crops to what was drawn: so a region of a screen is chosen. */
export function InputView({
  input,
  state,
  bare,
  onPoint,
}: {
  input: InputRecord;
  state: InputState | null;
  /** Before it is coloured. */
  bare: boolean;
  /** Waits for a press on the picture, told as a share of each side; null when nothing waits for one. */
  onPoint: ((x: number, y: number) => void) | null;
}) {
  const { t } = useTranslation();
  const { edit } = useStage();
  const box = useRef<HTMLDivElement>(null);
  const [band, setBand] = useState<{ from: { x: number; y: number }; to: { x: number; y: number } } | null>(
    null,
  );
  const waiting = onPoint !== null;
  // The button that was pressed may stand far below: what is to be pressed next must be in sight.
  useEffect(() => {
    if (waiting) box.current?.scrollIntoView({ block: 'nearest' });
  }, [waiting]);
  const ready = state?.state === 'ready' && state.width > 0;
  const upright = input.turnDeg === 0 && !input.mirrored;
  const share = (event: React.PointerEvent) => {
    const r = box.current!.getBoundingClientRect();
    return {
      x: Math.min(1, Math.max(0, (event.clientX - r.left) / r.width)),
      y: Math.min(1, Math.max(0, (event.clientY - r.top) / r.height)),
    };
  };
  const rect = band && between(band.from, band.to);
  const finish = () => {
    setBand(null);
    if (!rect || rect.width < 0.03 || rect.height < 0.03) return;
    const { crop } = input;
    const [w, h] = [1 - crop.left - crop.right, 1 - crop.top - crop.bottom];
    const part = (value: number) => Math.round(value * 1e4) / 1e4;
    edit(t('layout.regionOfName', { name: input.name }), [
      {
        ...input,
        crop: {
          left: part(crop.left + rect.x * w),
          right: part(crop.right + (1 - rect.x - rect.width) * w),
          top: part(crop.top + rect.y * h),
          bottom: part(crop.bottom + (1 - rect.y - rect.height) * h),
        },
      },
    ]);
  };
  const cropped = Object.values(input.crop).some((side) => side > 0);
  return (
    <>
      <div
        ref={box}
        data-testid="input-view"
        onPointerDown={(event) => {
          if (!ready || event.button !== 0) return;
          if (onPoint) {
            const at = share(event);
            return onPoint(at.x, at.y);
          }
          if (!upright) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          setBand({ from: share(event), to: share(event) });
        }}
        onPointerMove={(event) => band && setBand({ ...band, to: share(event) })}
        onPointerUp={finish}
        onPointerCancel={() => setBand(null)}
        style={{
          position: 'relative',
          aspectRatio: ready ? `${state.width} / ${state.height}` : '16 / 9',
          maxHeight: 170,
          margin: '0 auto',
          borderRadius: 5,
          overflow: 'hidden',
          cursor: ready && (upright || onPoint) ? 'crosshair' : undefined,
          outline: onPoint ? '2px solid var(--glacier)' : undefined,
          touchAction: 'none',
          background: '#000',
        }}
      >
        <LiveView
          subject={{ type: 'input', inputId: input.id, frame: 'wide', bare }}
          label={t('layout.nameLive', { name: input.name })}
        />
        {rect && (
          <div
            style={{
              position: 'absolute',
              left: `${rect.x * 100}%`,
              top: `${rect.y * 100}%`,
              width: `${rect.width * 100}%`,
              height: `${rect.height * 100}%`,
              boxShadow: 'inset 0 0 0 1.5px var(--glacier), 0 0 0 999px #0b0e11a0',
            }}
          />
        )}
      </div>
      <div
        style={{ display: 'flex', alignItems: 'center', minHeight: 26, fontSize: 12, color: 'var(--quiet)' }}
      >
        <span style={{ flex: 1 }}>
          {onPoint ? t('layout.pressThePlaceInThe') : upright ? t('layout.drawARectangleToUse') : ''}
        </span>
        {cropped && (
          <button
            type="button"
            onClick={() =>
              edit(t('layout.wholePictureOfName', { name: input.name }), [{ ...input, crop: NO_CROP }])
            }
            style={{
              border: 0,
              background: 'none',
              font: 'inherit',
              color: 'var(--glacier)',
              cursor: 'pointer',
              minHeight: 26,
            }}
          >
            {t('layout.wholePicture')}
          </button>
        )}
      </div>
    </>
  );
}

function between(a: { x: number; y: number }, b: { x: number; y: number }): Rect {
  return {
    x: Math.min(a.x, b.x),
    y: Math.min(a.y, b.y),
    width: Math.abs(a.x - b.x),
    height: Math.abs(a.y - b.y),
  };
}
