/** What practice says about the values of a delivery plan. */
import { uploadKbps, type Encode } from './encodes';
import type { FramePlan, PlanSettings } from './settings';

/**
 * Bits a pixel that H.264 needs at 30 pictures a second, by content: below the first the picture breaks up, from the
 * second on more is hardly seen. Rules of thumb of the trade; at 60 a second pictures differ less, hence `perPixelAt`.
 */
const BITS: Record<PlanSettings['content'], { least: number; good: number }> = {
  talk: { least: 0.05, good: 0.08 },
  game: { least: 0.08, good: 0.12 },
};

/**
 * Share of viewers' lines that carry a rate without stalling, in kbps → of 100. Made for this product from the
 * common steps of access lines (mobile, copper, cable, fibre), with a third of a line kept for the rest of the home.
 */
const LINES: readonly (readonly [kbps: number, of100: number])[] = [
  [0, 100],
  [1000, 99],
  [2500, 95],
  [4000, 90],
  [6000, 84],
  [9000, 74],
  [16_000, 58],
  [30_000, 38],
  [60_000, 20],
];

export function bitsPerPixel({ width, height, videoKbps }: FramePlan, fps: number): number {
  return (videoKbps * 1000) / (width * height * fps);
}

/** Bits a pixel wanted at this rate of pictures: neighbours in time become more alike the more there are. */
export function perPixelAt(fps: number, content: PlanSettings['content']): { least: number; good: number } {
  const { least, good } = BITS[content];
  const factor = (30 / fps) ** 0.25;
  return { least: least * factor, good: good * factor };
}

/** How it will look, in a few words. */
export function judgePicture(plan: FramePlan, fps: number, content: PlanSettings['content']): string {
  const bits = bitsPerPixel(plan, fps);
  const wanted = perPixelAt(fps, content);
  if (bits < wanted.least * 0.7) return 'breaks into blocks when it moves';
  if (bits < wanted.least) return content === 'game' ? 'thin for fast game' : 'thin even for talk';
  if (bits < wanted.good) return content === 'game' ? 'fair for fast game' : 'fine for talk';
  return bits < wanted.good * 3 ? 'good' : 'more than is seen';
}

/** Of 100 common lines of viewers, how many carry this rate. */
export function viewersOf100(kbps: number): number {
  const over = LINES.findIndex(([at]) => at > kbps);
  if (over === -1) return LINES[LINES.length - 1][1];
  const [a, b] = [LINES[over - 1], LINES[over]];
  return Math.round(a[1] + ((b[1] - a[1]) * (kbps - a[0])) / (b[0] - a[0]));
}

export interface PlanWarning {
  /** `stop`: will not work; `warn`: against practice. */
  level: 'stop' | 'warn';
  /** What it means for viewers, and what to do. */
  text: string;
}

/**
 * Where the plan goes against practice or the line.
 * @param encodes from `shareEncodes`
 */
export function planWarnings(plan: PlanSettings, encodes: readonly Encode[]): PlanWarning[] {
  const warnings: PlanWarning[] = [];
  const warn = (text: string, level: PlanWarning['level'] = 'warn') => warnings.push({ level, text });
  const upload = uploadKbps(encodes, plan.audioKbps);
  if (plan.lineKbps !== null && upload > plan.lineKbps)
    warn(
      `${mbps(upload)} Mbps is more than the connection carries (${mbps(plan.lineKbps)}): everyone would stall. Lower the rates or switch a destination off.`,
      'stop',
    );
  else if (plan.lineKbps !== null && upload > plan.lineKbps * (1 - plan.headroom) * 1.001)
    warn(
      `${mbps(upload)} Mbps leaves less than ${Math.round(plan.headroom * 100)}% of the connection free: it may stall when anything else uses it.`,
    );
  if (Math.abs(plan.keyframeSeconds - 2) > 0.01)
    warn(
      plan.keyframeSeconds > 2
        ? `A keyframe every ${plan.keyframeSeconds} s: platforms ask for 2 s; viewers wait longer to see a picture.`
        : `A keyframe every ${plan.keyframeSeconds} s costs sharpness; platforms ask for 2 s.`,
    );
  const reencoded = encodes.flatMap((e) => e.reencoded);
  if (reencoded.length > 1)
    warn(
      `The server encodes for ${reencoded.length} destinations: each takes about as much work as the desk’s encoder. Let some share a rate.`,
    );
  // What is recorded clean is as the wide one.
  for (const encode of encodes.filter((e) => e.id !== 'clean')) {
    const name = encode.frame === 'wide' ? 'Wide' : 'Tall';
    const wanted = perPixelAt(plan.fps, plan.content);
    if (bitsPerPixel(encode, plan.fps) < wanted.least)
      warn(
        `${name}: ${encode.videoKbps} kbps is thin for ${encode.width} × ${encode.height} at ${plan.fps}. Fewer pixels look better than starved ones.`,
      );
    if (plan.audioKbps > encode.videoKbps * 0.25)
      warn(
        `${name}: ${plan.audioKbps} kbps of sound starve ${encode.videoKbps} kbps of picture: take 96 or 64.`,
      );
  }
  if (plan.audioKbps < 96) warn('Below 96 kbps music sounds hollow.');
  return warnings;
}

export const mbps = (kbps: number): string => (kbps / 1000).toFixed(1);
