/** What a computer carries, from a trial of its encoders and what composing its scenes costs. */
import type { FramePlan, PlanSettings } from './settings';

/** What was measured, as it is kept and written into a file. */
export interface ComputerMeasure {
  version: 1;
  /** Milliseconds since 1970. */
  atMs: number;
  /** Processor cores, as the browser tells them. */
  cores: number;
  /** Composing a million pixels of the scene that was on air, milliseconds. */
  composeMsPerMegapixel: number;
  /** Only ways that are offered here. */
  trials: readonly EncoderTrial[];
}

export interface EncoderTrial {
  width: number;
  height: number;
  encoder: 'cpu' | 'gpu';
  /** Milliseconds of one video frame, from handing it over to the finished packet; above 0. */
  msPerPicture: number;
}

/** Sizes of Wide that are tried; Tall is reckoned as the smallest of them, turned. */
export const MEASURED_SIZES = [
  { width: 1920, height: 1080 },
  { width: 1280, height: 720 },
  { width: 960, height: 540 },
  { width: 640, height: 360 },
] as const;
export const MEASURED_RATES = [30, 60] as const;
const TALL_PIXELS = 360 * 640;

/**
 * Of one core so much is planned for composing and encoding: the rest is for what else goes on in the browser. Up to the
 * second it can be done when nothing else is.
 */
const PLANNED_SHARE = 0.5;
const MOST_SHARE = 0.85;
/** What sound, page, browser and server take beside them, of a core (docs/measured.md, "What a broadcast costs"). */
const BESIDE_CORES = 0.8;

/** `room`: with something to spare; `tight`: as long as nothing else is asked of it; `no`: frames would be dropped. */
export type Verdict = 'room' | 'tight' | 'no';

export interface Carried {
  /** Of one core, for composing and encoding. */
  share: number;
  verdict: Verdict;
  /** Of the whole computer, 0…1: for a game and everything else. */
  left: number;
}

/**
 * @param composeMsPerMegapixel null when nothing was composed
 * @returns null then, or when no way of encoding is offered
 */
export function computerMeasure(
  trials: readonly EncoderTrial[],
  composeMsPerMegapixel: number | null,
  cores: number,
  atMs: number,
): ComputerMeasure | null {
  const offered = trials.filter(({ msPerPicture }) => msPerPicture > 0);
  if (offered.length === 0 || composeMsPerMegapixel === null) return null;
  return { version: 1, atMs, cores: Math.max(1, cores), composeMsPerMegapixel, trials: offered };
}

/** Encoders that were tried, the processor first. */
export function encodersOf({ trials }: ComputerMeasure): ('cpu' | 'gpu')[] {
  return (['cpu', 'gpu'] as const).filter((encoder) => trials.some((trial) => trial.encoder === encoder));
}

/**
 * What a million pixels take to be encoded, milliseconds: the middle of what the sizes took, since small ones pay for what
 * each frame costs at least. One that was not tried counts as the one that was.
 */
function encodeMsPerMegapixel(measure: ComputerMeasure, encoder: PlanSettings['encoder']): number {
  const wanted = encoder === 'gpu' && encodersOf(measure).includes('gpu') ? 'gpu' : encodersOf(measure)[0];
  const each = measure.trials
    .filter((trial) => trial.encoder === wanted)
    .map(({ width, height, msPerPicture }) => (msPerPicture / (width * height)) * 1e6)
    .sort((a, b) => a - b);
  return each[Math.floor(each.length / 2)];
}

/** The most pixels a second, over all frames, that it composes and encodes with room; for `proposePlan`. */
export function pixelsCarried(measure: ComputerMeasure, encoder: PlanSettings['encoder'] = 'any'): number {
  const ms = encodeMsPerMegapixel(measure, encoder) + measure.composeMsPerMegapixel;
  return (PLANNED_SHARE * 1000 * 1e6) / ms;
}

function judged(share: number, cores: number): Carried {
  return {
    share,
    verdict: share <= PLANNED_SHARE ? 'room' : share <= MOST_SHARE ? 'tight' : 'no',
    left: Math.max(0, 1 - (share + BESIDE_CORES) / cores),
  };
}

/** Whether it carries a plan. */
export function carriesPlan(
  measure: ComputerMeasure,
  plan: { frames: Partial<Record<string, FramePlan>>; fps: number; encoder: PlanSettings['encoder'] },
): Carried {
  const pixels = Object.values(plan.frames).reduce((sum, f) => sum + (f ? f.width * f.height : 0), 0);
  const ms = encodeMsPerMegapixel(measure, plan.encoder) + measure.composeMsPerMegapixel;
  return judged((pixels / 1e6) * (ms / 1000) * plan.fps, measure.cores);
}

export interface MeasuredRow {
  width: number;
  height: number;
  /** By rate and encoder, in the order of `MEASURED_RATES` and `encodersOf`. */
  cells: { fps: number; encoder: 'cpu' | 'gpu'; carried: Carried }[];
}

/** What it carries at each size that was tried. @param withTall with a Tall of 360 × 640 beside it */
export function measuredRows(measure: ComputerMeasure, withTall: boolean): MeasuredRow[] {
  const msOf = (encoder: 'cpu' | 'gpu', pixels: number) =>
    measure.trials.find((t) => t.encoder === encoder && t.width * t.height === pixels)?.msPerPicture ?? null;
  const composeMs = (pixels: number) => (pixels / 1e6) * measure.composeMsPerMegapixel;
  return MEASURED_SIZES.flatMap(({ width, height }) => {
    const pixels = width * height;
    const cells = MEASURED_RATES.flatMap((fps) =>
      encodersOf(measure).flatMap((encoder) => {
        const [wide, tall] = [msOf(encoder, pixels), withTall ? msOf(encoder, TALL_PIXELS) : 0];
        if (wide === null || tall === null) return [];
        const ms = wide + tall + composeMs(pixels + (withTall ? TALL_PIXELS : 0));
        return [{ fps, encoder, carried: judged((ms * fps) / 1000, measure.cores) }];
      }),
    );
    return cells.length > 0 ? [{ width, height, cells }] : [];
  });
}

/** What was kept as text; null when it is not a measure. */
export function readMeasure(text: string): ComputerMeasure | null {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return null;
  }
  const { version, atMs, cores, composeMsPerMegapixel, trials } = (value ?? {}) as Partial<ComputerMeasure>;
  const number = (n: unknown, least: number) => typeof n === 'number' && Number.isFinite(n) && n >= least;
  const good =
    version === 1 &&
    number(atMs, 0) &&
    number(cores, 1) &&
    number(composeMsPerMegapixel, 0) &&
    Array.isArray(trials) &&
    trials.length > 0 &&
    (trials as unknown[]).every((trial) => {
      const { width, height, encoder, msPerPicture } = (trial ?? {}) as Partial<EncoderTrial>;
      const sizes = [width, height].every((side) => number(side, 1));
      return (
        sizes && (encoder === 'cpu' || encoder === 'gpu') && number(msPerPicture, 0) && msPerPicture! > 0
      );
    });
  return good ? (value as ComputerMeasure) : null;
}
