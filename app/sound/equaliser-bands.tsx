import AddRounded from '@mui/icons-material/AddRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import {
  BAND_RANGES,
  BAND_SHAPES,
  inRange,
  MAX_BANDS,
  type BandShape,
  type EqualiserBand,
  type ProcessorOf,
} from '~/core/sound/chain/chain-settings';
import { SmallButton } from '../studio/small-button';
import { DRAWING_HEIGHT, EQ_RANGE_DB, eqScale, hzScale } from './chain-drawings';
import { ParameterSlider, valueText } from './parameter-slider';
import { useTranslation } from '../words/words';

const SHAPE_NAMES: Record<BandShape, string> = {
  'high-pass': 'High-pass',
  'low-pass': 'Low-pass',
  'low-shelf': 'Low shelf',
  'high-shelf': 'High shelf',
  bell: 'Bell',
  notch: 'Notch',
};
const hasGain = (band: EqualiserBand) => ['bell', 'low-shelf', 'high-shelf'].includes(band.shape);

interface Props {
  processor: ProcessorOf<'equaliser'>;
  onPreview: (processor: ProcessorOf<'equaliser'>) => void;
  onCommit: (processor: ProcessorOf<'equaliser'>, what: string) => void;
  chosen: number;
  onChoose: (index: number) => void;
}

/** The handles of the bands, over the drawing: dragged, or moved by arrow keys. */
export function BandHandles({ processor, onPreview, onCommit, chosen, onChoose }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [dragged, setDragged] = useState<EqualiserBand | null>(null);
  const { bands } = processor;
  const put = (index: number, band: EqualiserBand) => ({
    ...processor,
    bands: bands.map((b, i) => (i === index ? band : b)),
  });
  const at = (event: PointerEvent, band: EqualiserBand): EqualiserBand => {
    const { left, top, width, height } = box.current!.getBoundingClientRect();
    const frequencyHz = inRange(
      Math.round(hzScale(width).invert(event.clientX - left)),
      BAND_RANGES.frequencyHz,
    );
    if (!hasGain(band)) return { ...band, frequencyHz };
    const gainDb = Math.round(eqScale(height).invert(event.clientY - top) * 10) / 10;
    return { ...band, frequencyHz, gainDb: inRange(gainDb, BAND_RANGES.gainDb) };
  };
  const onKey = (event: KeyboardEvent, index: number, band: EqualiserBand) => {
    const ratio = event.shiftKey ? 1.12 : 1.02;
    const db = event.shiftKey ? 1 : 0.2;
    const moves: Record<string, Partial<EqualiserBand>> = {
      ArrowRight: { frequencyHz: Math.round(band.frequencyHz * ratio + 0.5) },
      ArrowLeft: { frequencyHz: Math.round(band.frequencyHz / ratio - 0.5) },
      ArrowUp: hasGain(band) ? { gainDb: Math.round((band.gainDb + db) * 10) / 10 } : {},
      ArrowDown: hasGain(band) ? { gainDb: Math.round((band.gainDb - db) * 10) / 10 } : {},
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    const next = { ...band, ...move };
    next.frequencyHz = inRange(next.frequencyHz, BAND_RANGES.frequencyHz);
    next.gainDb = inRange(next.gainDb, BAND_RANGES.gainDb);
    onCommit(put(index, next), 'Equaliser');
  };
  return (
    <div ref={box} style={{ position: 'absolute', inset: 0 }}>
      {bands.map((band, i) => (
        <button
          key={i}
          type="button"
          className="band-handle"
          data-chosen={i === chosen}
          aria-label={`Band ${i + 1}, ${SHAPE_NAMES[band.shape]}, ${valueText(band.frequencyHz, 'Hz')}${hasGain(band) ? `, ${valueText(band.gainDb, 'dB')}` : ''}`}
          style={{
            left: `${hzScale(100)(band.frequencyHz)}%`,
            top: eqScale(DRAWING_HEIGHT)(hasGain(band) ? Math.max(-EQ_RANGE_DB, band.gainDb) : 0),
            opacity: band.on ? 1 : 0.4,
          }}
          onFocus={() => onChoose(i)}
          onKeyDown={(e) => onKey(e, i, band)}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            onChoose(i);
            setDragged(band);
          }}
          onPointerMove={(e) => {
            if (dragged && e.currentTarget.hasPointerCapture(e.pointerId)) onPreview(put(i, at(e, band)));
          }}
          onPointerUp={(e) => {
            if (!dragged) return;
            setDragged(null);
            const next = at(e, band);
            if (Math.abs(next.frequencyHz - dragged.frequencyHz) > 1 || next.gainDb !== dragged.gainDb)
              onCommit(put(i, next), 'Equaliser');
          }}
        />
      ))}
    </div>
  );
}

/** The chosen band in figures. */
export function BandFields({ processor, onPreview, onCommit, chosen, onChoose }: Props) {
  const { t } = useTranslation();
  const { bands } = processor;
  const index = Math.min(chosen, bands.length - 1);
  const band = bands[index];
  const put = (part: Partial<EqualiserBand>) => ({
    ...processor,
    bands: bands.map((b, i) => (i === index ? { ...b, ...part } : b)),
  });
  const add = () => {
    onCommit(
      {
        ...processor,
        bands: [...bands, { on: true, shape: 'bell', frequencyHz: 2000, gainDb: 0, q: 1 }],
      },
      'Equaliser',
    );
    onChoose(bands.length);
  };
  const of = `Band ${index + 1}`;
  return (
    <>
      <div style={{ display: 'flex', alignItems: 'center', gap: 4, marginBottom: 4 }}>
        {band ? (
          <select
            className="plain-select"
            aria-label={t('sound.shapeOfBandNumber', { number: index + 1 })}
            value={band.shape}
            onChange={(e) => onCommit(put({ shape: e.target.value as BandShape }), 'Equaliser')}
          >
            {BAND_SHAPES.map((shape) => (
              <option key={shape} value={shape}>
                {`${index + 1} ${SHAPE_NAMES[shape]}`}
              </option>
            ))}
          </select>
        ) : (
          <span style={{ flex: 1 }} />
        )}
        {band && (
          <button
            type="button"
            className="chip"
            aria-pressed={band.on}
            aria-label={t('sound.bandNumberOn', { number: index + 1 })}
            onClick={() => onCommit(put({ on: !band.on }), 'Equaliser')}
          >
            {band.on ? t('sound.on') : t('sound.off')}
          </button>
        )}
        <SmallButton label={t('sound.addABand')} disabled={bands.length >= MAX_BANDS} onClick={add}>
          <AddRounded sx={{ fontSize: 17 }} />
        </SmallButton>
        {band && (
          <SmallButton
            label={t('sound.removeBandNumber', { number: index + 1 })}
            onClick={() =>
              onCommit({ ...processor, bands: bands.filter((_, i) => i !== index) }, 'Equaliser')
            }
          >
            <CloseRounded sx={{ fontSize: 16 }} />
          </SmallButton>
        )}
      </div>
      {band && (
        <>
          <ParameterSlider
            of={of}
            range={BAND_RANGES.frequencyHz}
            value={band.frequencyHz}
            onPreview={(frequencyHz) => onPreview(put({ frequencyHz }))}
            onCommit={(frequencyHz) => onCommit(put({ frequencyHz }), 'Equaliser')}
          />
          {hasGain(band) && (
            <ParameterSlider
              of={of}
              range={BAND_RANGES.gainDb}
              value={band.gainDb}
              onPreview={(gainDb) => onPreview(put({ gainDb }))}
              onCommit={(gainDb) => onCommit(put({ gainDb }), 'Equaliser')}
            />
          )}
          <ParameterSlider
            of={of}
            range={BAND_RANGES.q}
            value={band.q}
            onPreview={(q) => onPreview(put({ q }))}
            onCommit={(q) => onCommit(put({ q }), 'Equaliser')}
          />
        </>
      )}
    </>
  );
}
