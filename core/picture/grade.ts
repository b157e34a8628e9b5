/**
 * What a grade and a colour key make of a colour: the reference that every path of drawing is held against. Colours are
 * 0…1 in sRGB, not multiplied by their opacity.
 */
import type { ColourKey, GradeValues } from '../show/colour-records';
import { lookUp, type CubeTable } from './cube-table';

/** Brightness of a colour by ITU-R BT.709, section 3.2. */
export const LUMA = [0.2126, 0.7152, 0.0722] as const;

const clamp = (v: number) => (v <= 0 ? 0 : v >= 1 ? 1 : v);

/** IEC 61966-2-1, section 5.2. */
export const toLinear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
export const fromLinear = (v: number) => (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055);

/** What is done to each channel by itself: temperature and tint in light, then contrast, brightness and gamma. */
export function channelCurve(values: GradeValues, channel: 0 | 1 | 2): (v: number) => number {
  const { brightness, contrast, temperature, tint, gamma } = values;
  const gain = 2 ** [temperature, -tint, -temperature][channel];
  const slope = 4 ** contrast;
  return (v) => {
    const balanced = gain === 1 ? v : fromLinear(toLinear(v) * gain);
    const shaped = clamp((balanced - 0.5) * slope + 0.5 + brightness / 2);
    return gamma === 1 ? shaped : shaped ** (1 / gamma);
  };
}

/** A graded colour. @param strength of the table, 0…1 */
export function graded(
  [r, g, b]: readonly [number, number, number],
  values: GradeValues,
  table: CubeTable | null = null,
  strength = 1,
): [number, number, number] {
  const one = [channelCurve(values, 0)(r), channelCurve(values, 1)(g), channelCurve(values, 2)(b)];
  const grey = one[0] * LUMA[0] + one[1] * LUMA[1] + one[2] * LUMA[2];
  const [x, y, z] = one.map((v) => clamp(grey + (v - grey) * (1 + values.saturation)));
  if (!table) return [x, y, z];
  const looked = new Float32Array(3);
  lookUp(table, x, y, z, looked, 0);
  const mix = (v: number, t: number) => clamp(v + (t - v) * strength);
  return [mix(x, looked[0]), mix(y, looked[1]), mix(z, looked[2])];
}

/** Blue- and red-difference of a colour, each −0.5…0.5 (ITU-R BT.709, section 3.4). */
function chroma(r: number, g: number, b: number): [number, number] {
  const y = r * LUMA[0] + g * LUMA[1] + b * LUMA[2];
  return [(b - y) / (2 * (1 - LUMA[2])), (r - y) / (2 * (1 - LUMA[0]))];
}

export interface KeyNumbers {
  /** Chroma of the keyed colour, and its direction and length. */
  cb: number;
  cr: number;
  ub: number;
  ur: number;
  length: number;
  /** Distances in chroma at which all goes, and from which nothing goes. */
  gone: number;
  kept: number;
}

/** What a key comes down to. A colour that is nearly grey keys by a fixed distance. */
export function keyNumbers({ colour, tolerance, softness }: ColourKey): KeyNumbers {
  const [r, g, b] = [1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16) / 255);
  const [cb, cr] = chroma(r, g, b);
  const length = Math.hypot(cb, cr);
  const reach = Math.max(0.08, length);
  const gone = tolerance * reach;
  return {
    cb,
    cr,
    ub: length > 0 ? cb / length : 0,
    ur: length > 0 ? cr / length : 0,
    length,
    gone,
    kept: gone + Math.max(0.004, softness * reach),
  };
}

/** What the key leaves of a colour: how opaque it is, and the colour without the cast. */
export function keyed(
  [r, g, b]: readonly [number, number, number],
  key: ColourKey,
): { alpha: number; colour: [number, number, number] } {
  const k = keyNumbers(key);
  const y = r * LUMA[0] + g * LUMA[1] + b * LUMA[2];
  const [cb, cr] = chroma(r, g, b);
  const distance = Math.hypot(cb - k.cb, cr - k.cr);
  const t = clamp((distance - k.gone) / (k.kept - k.gone));
  const alpha = t * t * (3 - 2 * t);
  // Only what points more along the keyed colour than across it is its cast: other colours keep theirs.
  const along = cb * k.ub + cr * k.ur;
  const across = Math.abs(cb * k.ur - cr * k.ub);
  const cast = key.spill * Math.max(0, along - across);
  const [b2, r2] = [cb - cast * k.ub, cr - cast * k.ur];
  const red = y + 2 * (1 - LUMA[0]) * r2;
  const blue = y + 2 * (1 - LUMA[2]) * b2;
  const green = (y - LUMA[0] * red - LUMA[2] * blue) / LUMA[1];
  return { alpha, colour: [clamp(red), clamp(green), clamp(blue)] };
}

/** How opaque a picture's point is after its edge was drawn in, from the mean of the 3×3 points around it. */
export const drawnIn = (mean: number, edge: number): number =>
  edge <= 0 ? mean : clamp((mean - edge * 0.9) / (1 - edge * 0.9));

/**
 * Temperature and tint that make a colour grey, found from what should have been grey.
 * @returns null when it is too dark or too bright to tell
 */
export function greyBalance([r, g, b]: readonly [number, number, number]): Pick<
  GradeValues,
  'temperature' | 'tint'
> | null {
  if (Math.max(r, g, b) > 0.99 || Math.min(r, g, b) < 0.02) return null;
  const [x, y, z] = [toLinear(r), toLinear(g), toLinear(b)];
  const within = (v: number) => Math.min(1, Math.max(-1, v));
  // With gains 2^t and 2^−t red and blue meet at √(r·b); green goes there too.
  return {
    temperature: within(Math.log2(z / x) / 2),
    tint: within(Math.log2(y / Math.sqrt(x * z))),
  };
}
