/** The colours that make up a picture, such as a logo. */
import { distanceOf, oklabOf } from './oklab';

/** Colours nearer to each other than this are one, in its shades. */
const ONE_COLOUR = 0.1;
/** Less of the picture than this is an edge between two colours. */
const LEAST_SHARE = 0.01;
/** Points that can be seen through more than this are none. */
const LEAST_ALPHA = 128;

export interface MainColour {
  /** `#RRGGBB`, upper case: the one of its shades that is found most. */
  colour: string;
  /** Of all points that are there, 0…1. */
  share: number;
}

/**
 * @param rgba four bytes a point; a small copy of the picture will do
 * @returns the largest first, as many as there are up to `most`; none of a picture that is empty
 */
export function mainColours(rgba: Uint8ClampedArray, most: number): MainColour[] {
  const counts = new Map<number, number>();
  let all = 0;
  for (let i = 0; i < rgba.length; i += 4) {
    if (rgba[i + 3] < LEAST_ALPHA) continue;
    // Sixteen steps each: what differs by less is the same colour with a little noise.
    const key = ((rgba[i] >> 4) << 8) | ((rgba[i + 1] >> 4) << 4) | (rgba[i + 2] >> 4);
    counts.set(key, (counts.get(key) ?? 0) + 1);
    all += 1;
  }
  const found: { colour: string; lab: ReturnType<typeof oklabOf>; count: number }[] = [];
  for (const [key, count] of [...counts].sort((a, b) => b[1] - a[1])) {
    // Black and white are the ends of their steps, not the middle.
    const hex = [key >> 8, (key >> 4) & 15, key & 15].map((step) =>
      (step * 17).toString(16).padStart(2, '0'),
    );
    const colour = `#${hex.join('')}`.toUpperCase();
    const lab = oklabOf(colour);
    const near = found.find((one) => distanceOf(one.lab, lab) < ONE_COLOUR);
    if (near) near.count += count;
    else found.push({ colour, lab, count });
  }
  return found
    .map(({ colour, count }) => ({ colour, share: count / all }))
    .filter(({ share }) => share >= LEAST_SHARE)
    .sort((a, b) => b.share - a.share)
    .slice(0, most);
}
