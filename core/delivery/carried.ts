/** What a computer carries, from a short trial of its encoder and what composing costs it now. */

export interface TrialAtSize {
  width: number;
  height: number;
  /** Milliseconds of one video frame, from handing it over to the finished packet. */
  msPerPicture: number;
}

/**
 * Of one processor core so much is planned for composing and encoding: the rest is for sound, page, browser and what else
 * the computer is there for.
 */
const SHARE = 0.5;

export interface Carried {
  /** Over all frames; for `proposePlan`. */
  pixelsPerSecond: number;
  /** Milliseconds that composing and encoding a million pixels take. */
  msPerMegapixel: number;
}

/**
 * @param trials at several sizes; the middle one counts, since small sizes pay for what each frame costs at least
 * @param compose what composing one video frame takes now, milliseconds, and how many pixels that has over all frames
 * @returns null when nothing was measured
 */
export function carriedBy(
  trials: readonly TrialAtSize[],
  compose: { ms: number; pixels: number },
): Carried | null {
  const each = trials
    .filter(({ msPerPicture }) => msPerPicture > 0)
    .map(({ width, height, msPerPicture }) => (msPerPicture / (width * height)) * 1e6)
    .sort((a, b) => a - b);
  if (each.length === 0 || compose.pixels <= 0) return null;
  const msPerMegapixel = each[Math.floor(each.length / 2)] + (compose.ms / compose.pixels) * 1e6;
  return { msPerMegapixel, pixelsPerSecond: (SHARE * 1000 * 1e6) / msPerMegapixel };
}

/** Share of one processor core that composing and encoding so many pixels a second take. */
export function coreShare({ msPerMegapixel }: Carried, pixelsPerSecond: number): number {
  return (pixelsPerSecond / 1e6) * (msPerMegapixel / 1000);
}
