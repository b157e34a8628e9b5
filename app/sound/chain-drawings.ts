/** What the cards of a voice chain draw over the live signal. Scales and shapes by D3, painted on a canvas. */
import { scaleLinear, scaleLog } from 'd3-scale';
import { area, line } from 'd3-shape';
import { autoMakeUpDb, compressorGainDb } from '~/core/sound/chain/compressor';
import { expanderGainDb } from '~/core/sound/chain/expander';
import type { ProcessorOf } from '~/core/sound/chain/chain-settings';
import { bandsResponseDb } from '~/core/sound/biquad';
import type { ProcessorReading } from '~/protocol/shared-sound';
import type { LiveDrawing } from './live-canvas';
import { SPECTRUM_HZ } from './live-spectrum';

export const DRAWING_HEIGHT = 92;
/** Readings that are kept: six seconds. */
export const HISTORY = 180;
const FLOOR_DB = -72;

export const hzScale = (width: number) => scaleLog([20, 20_000], [0, width]).clamp(true);
const spectrumScale = (height: number) => scaleLinear([-100, -10], [height, 0]).clamp(true);
export const EQ_RANGE_DB = 18;
export const eqScale = (height: number) =>
  scaleLinear([-EQ_RANGE_DB, EQ_RANGE_DB], [height - 4, 4]).clamp(true);

function stroke(
  { context }: LiveDrawing,
  colour: string,
  width: number,
  path: (c: CanvasRenderingContext2D) => void,
  dash: number[] = [],
): void {
  context.save();
  context.beginPath();
  context.setLineDash(dash);
  path(context);
  context.strokeStyle = colour;
  context.lineWidth = width;
  context.stroke();
  context.restore();
}

/** Grey mountains: what the voice is made of now. */
export function drawSpectrum(d: LiveDrawing, levels: ArrayLike<number>, colour: string, alpha: number): void {
  const x = hzScale(d.width);
  const y = spectrumScale(d.height);
  d.context.save();
  d.context.globalAlpha = alpha;
  d.context.fillStyle = colour;
  d.context.beginPath();
  area<number>()
    .x((hz) => x(hz))
    .y0(d.height)
    .y1((_, i) => y(levels[i]))
    .context(d.context)(SPECTRUM_HZ as number[]);
  d.context.fill();
  d.context.restore();
}

export function drawSpectrumLine(d: LiveDrawing, levels: ArrayLike<number>, colour: string): void {
  const x = hzScale(d.width);
  const y = spectrumScale(d.height);
  stroke(d, colour, 1.5, (c) =>
    line<number>()
      .x((hz) => x(hz))
      .y((_, i) => y(levels[i]))
      .context(c)(SPECTRUM_HZ as number[]),
  );
}

function drawLevels(d: LiveDrawing, history: readonly ProcessorReading[], colour: string): void {
  const x = scaleLinear([0, HISTORY - 1], [0, d.width]);
  const y = scaleLinear([FLOOR_DB, 0], [d.height, 8]).clamp(true);
  stroke(d, colour, 1.5, (c) =>
    line<ProcessorReading>()
      .x((_, i) => x(HISTORY - history.length + i))
      .y((r) => y(r.inputDb))
      .context(c)(history as ProcessorReading[]),
  );
}

function drawThreshold(d: LiveDrawing, db: number, colour: string, dash: number[]): void {
  const y = scaleLinear([FLOOR_DB, 0], [d.height, 8]).clamp(true)(db);
  stroke(
    d,
    colour,
    1.2,
    (c) => {
      c.moveTo(0, y);
      c.lineTo(d.width, y);
    },
    dash,
  );
}

/** Level over time with both thresholds; a bar along the top where the gate is open. */
export function drawGate(
  d: LiveDrawing,
  { values }: ProcessorOf<'gate'>,
  history: readonly ProcessorReading[],
): void {
  const step = d.width / (HISTORY - 1);
  d.context.fillStyle = d.colour('moss');
  history.forEach((r, i) => {
    if (r.gainDb > -3) d.context.fillRect((HISTORY - history.length + i) * step, 0, step + 0.5, 4);
  });
  drawThreshold(d, values.openDb, d.colour('larch'), [5, 3]);
  drawThreshold(d, values.closeDb, d.colour('quiet'), [2, 3]);
  drawLevels(d, history, d.colour('glacier'));
}

/** A curve of output over input, with the point where the signal is now, and the reduction along the top. */
function drawCurve(
  d: LiveDrawing,
  outputDb: (inputDb: number) => number,
  history: readonly ProcessorReading[],
  ceilingDb: number | null,
): void {
  const side = scaleLinear([FLOOR_DB, 6], [0, d.width]);
  const up = scaleLinear([FLOOR_DB, 6], [d.height, 2]).clamp(true);
  const inputs = Array.from({ length: 60 }, (_, i) => FLOOR_DB + (i * (6 - FLOOR_DB)) / 59);
  stroke(
    d,
    d.colour('line'),
    1,
    (c) => {
      c.moveTo(side(FLOOR_DB), up(FLOOR_DB));
      c.lineTo(side(6), up(6));
    },
    [3, 3],
  );
  if (ceilingDb !== null)
    stroke(
      d,
      d.colour('rose'),
      1.2,
      (c) => {
        c.moveTo(0, up(ceilingDb));
        c.lineTo(d.width, up(ceilingDb));
      },
      [5, 3],
    );
  const down = scaleLinear([0, -24], [3, d.height * 0.6]).clamp(true);
  const x = scaleLinear([0, HISTORY - 1], [0, d.width]);
  stroke(d, d.colour('rose'), 1.3, (c) =>
    line<ProcessorReading>()
      .x((_, i) => x(HISTORY - history.length + i))
      .y((r) => down(r.gainDb))
      .context(c)(history as ProcessorReading[]),
  );
  stroke(d, d.colour('text'), 1.8, (c) =>
    line<number>()
      .x((db) => side(db))
      .y((db) => up(outputDb(db)))
      .context(c)(inputs),
  );
  const now = history.at(-1);
  if (!now || now.inputDb < FLOOR_DB) return;
  d.context.beginPath();
  d.context.arc(side(now.inputDb), up(outputDb(now.inputDb)), 4.5, 0, 2 * Math.PI);
  d.context.fillStyle = d.colour('larch');
  d.context.fill();
}

export function drawCompressor(
  d: LiveDrawing,
  { values, autoMakeUp }: ProcessorOf<'compressor'>,
  history: readonly ProcessorReading[],
): void {
  const makeUp = autoMakeUp ? autoMakeUpDb(values) : values.makeUpDb;
  drawCurve(d, (db) => db + compressorGainDb(db, values) + makeUp, history, null);
}

export function drawExpander(
  d: LiveDrawing,
  { values }: ProcessorOf<'expander'>,
  history: readonly ProcessorReading[],
): void {
  drawCurve(d, (db) => db + expanderGainDb(db, values), history, null);
}

export function drawLimiter(
  d: LiveDrawing,
  { values }: ProcessorOf<'limiter'>,
  history: readonly ProcessorReading[],
): void {
  drawCurve(d, (db) => Math.min(db, values.ceilingDb), history, values.ceilingDb);
}

/** Level of the hissing band over time, the threshold, and what is taken away. */
export function drawDeEsser(
  d: LiveDrawing,
  { values }: ProcessorOf<'deesser'>,
  history: readonly ProcessorReading[],
): void {
  const down = scaleLinear([0, -24], [3, d.height * 0.6]).clamp(true);
  const x = scaleLinear([0, HISTORY - 1], [0, d.width]);
  drawThreshold(d, values.thresholdDb, d.colour('larch'), [5, 3]);
  drawLevels(d, history, d.colour('glacier'));
  stroke(d, d.colour('rose'), 1.3, (c) =>
    line<ProcessorReading>()
      .x((_, i) => x(HISTORY - history.length + i))
      .y((r) => down(r.gainDb))
      .context(c)(history as ProcessorReading[]),
  );
}

/** The lines of the hum that are taken out. */
export function drawDeHum(d: LiveDrawing, { values }: ProcessorOf<'dehum'>): void {
  const x = hzScale(d.width);
  for (let h = 1; h <= Math.round(values.harmonics); h++)
    stroke(d, d.colour('larch'), 1.5, (c) => {
      const at = x(values.frequencyHz * h);
      c.moveTo(at, 4);
      c.lineTo(at, d.height * 0.55);
    });
}

/** What all bands do together. */
export function drawEqualiser(d: LiveDrawing, { bands }: ProcessorOf<'equaliser'>): void {
  const x = hzScale(d.width);
  const y = eqScale(d.height);
  stroke(
    d,
    d.colour('line'),
    1,
    (c) => {
      c.moveTo(0, y(0));
      c.lineTo(d.width, y(0));
    },
    [3, 3],
  );
  const points = Array.from({ length: 120 }, (_, i) => 20 * 1000 ** (i / 119));
  stroke(d, d.colour('glacier'), 2, (c) =>
    line<number>()
      .x((hz) => x(hz))
      .y((hz) => y(bandsResponseDb(bands, hz, 48_000)))
      .context(c)(points),
  );
}
