/** Changes of a plan that help when something is short, each of them fit to be made while a broadcast runs. */
import { uploadKbps, type Encode } from './encodes';
import { mbps } from './plan-advice';
import { FRAME_NAMES, type FrameName, type FramePlan, type PlanSettings } from './settings';

export const PLAN_STEPS = ['smaller', 'fewerFrames', 'quick', 'lowerRate', 'higherRate'] as const;
export type PlanStep = (typeof PLAN_STEPS)[number];

/** Shorter sides of the sizes that are stepped through. */
const SHORT_SIDES = [1080, 720, 540, 360, 270, 180] as const;
/** Halves of the usual rates: each second picture stays where it was. */
const HALF_RATES: readonly (readonly [fps: number, half: number])[] = [
  [60, 30],
  [59.94, 29.97],
  [50, 25],
];
const LOWER = 0.75;
const HIGHER = 1.25;
const LEAST_KBPS = 150;
/** Smaller pictures need more bits a pixel: rates follow their area by this power. */
const AREA_POWER = 0.75;
const ROUND_KBPS = 50;

const rounded = (kbps: number) => Math.max(LEAST_KBPS, Math.round(kbps / ROUND_KBPS) * ROUND_KBPS);

function smaller({ width, height, videoKbps }: FramePlan): FramePlan | null {
  const now = Math.min(width, height);
  const short = SHORT_SIDES.find((side) => side < now);
  if (short === undefined) return null;
  const even = (side: number) => Math.round((side * short) / now / 2) * 2;
  const size = { width: even(width), height: even(height) };
  const area = (size.width * size.height) / (width * height);
  return { ...size, videoKbps: rounded(videoKbps * area ** AREA_POWER) };
}

const rate =
  (by: number) =>
  (frame: FramePlan): FramePlan | null => {
    const videoKbps = rounded(frame.videoKbps * by);
    return videoKbps === frame.videoKbps ? null : { ...frame, videoKbps };
  };

function eachFrame(
  plan: PlanSettings,
  of: (frame: FramePlan) => FramePlan | null,
): Partial<PlanSettings> | null {
  const frames: Partial<Record<FrameName, FramePlan>> = { ...plan.frames };
  let any = false;
  for (const name of FRAME_NAMES) {
    const changed = frames[name] && of(frames[name]);
    if (!changed) continue;
    frames[name] = changed;
    any = true;
  }
  return any ? { frames } : null;
}

/**
 * The plan one step further.
 * @param encodes what is sent now: a higher rate must fit the line and the destinations
 * @returns what changes of it, or null when it cannot go there
 */
export function planStep(
  plan: PlanSettings,
  step: PlanStep,
  encodes: readonly Encode[],
): Partial<PlanSettings> | null {
  switch (step) {
    case 'smaller':
      return eachFrame(plan, smaller);
    case 'fewerFrames': {
      const half = HALF_RATES.find(([fps]) => fps === plan.fps);
      return half ? { fps: half[1] } : null;
    }
    case 'quick':
      return plan.effort === 'quick' ? null : { effort: 'quick' };
    case 'lowerRate':
      return eachFrame(plan, rate(LOWER));
    case 'higherRate': {
      const upload = (uploadKbps(encodes, plan.audioKbps) - plan.audioKbps) * HIGHER + plan.audioKbps;
      if (plan.lineKbps !== null && upload > plan.lineKbps * (1 - plan.headroom)) return null;
      return eachFrame(plan, rate(HIGHER));
    }
  }
}

/** What a button says that makes this change. */
export function stepWords(change: Partial<PlanSettings>): string {
  const frame = change.frames?.wide ?? change.frames?.tall;
  if (change.fps !== undefined) return `Send ${change.fps} a second`;
  if (change.effort !== undefined) return 'Use the Fast preset';
  return frame ? `Send ${frame.width} × ${frame.height}, ${mbps(frame.videoKbps)} Mbps` : '';
}

/** What all encodes of a broadcast have in common. */
export type Encoding = Pick<PlanSettings, 'fps' | 'keyframeSeconds' | 'effort' | 'encoder'>;

export function encodingOf({ fps, keyframeSeconds, effort, encoder }: Encoding): Encoding {
  return { fps, keyframeSeconds, effort, encoder };
}

/** What is encoded of one picture: the part of a plan that a running encoder has. */
export interface EncodeValues extends Encoding {
  width: number;
  height: number;
  kbps: number;
}

/** Whether one is encoded otherwise than the other. */
export function encodeDiffers(a: EncodeValues, b: EncodeValues): boolean {
  return (
    a.width !== b.width ||
    a.height !== b.height ||
    a.fps !== b.fps ||
    a.kbps !== b.kbps ||
    a.keyframeSeconds !== b.keyframeSeconds ||
    a.effort !== b.effort ||
    a.encoder !== b.encoder
  );
}

/** What an encoder is told. */
export function encodeValues(encoding: Encoding, { width, height, videoKbps }: Encode): EncodeValues {
  return { width, height, kbps: videoKbps, ...encodingOf(encoding) };
}

/** The running encodes with the sizes and rates of those of another plan: who gets which stays as it is. */
export function followPlan(running: readonly Encode[], planned: readonly Encode[]): Encode[] {
  return running.map((encode) => {
    const now = planned.find(({ id }) => id === encode.id);
    if (!now) return encode;
    const { width, height, videoKbps } = now;
    return { ...encode, width, height, videoKbps };
  });
}
