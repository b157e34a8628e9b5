/**
 * A grade and a key over whole pictures: same results as `grade.ts`, point by point.
 *
 * What becomes of a point depends on its colour alone, and a picture has the colours of the one before: each colour is
 * computed once and remembered.
 */
import type { ColourKey, GradeValues } from '../show/colour-records';
import { lookUp, type CubeTable } from './cube-table';
import { channelCurve, drawnIn, keyNumbers, LUMA, type KeyNumbers } from './grade';

export interface ColourSettings {
  values: GradeValues | null;
  table: CubeTable | null;
  /** Of the table, 0…1. */
  strength: number;
  key: ColourKey | null;
}

/** Colours remembered, a power of two: more than a picture of a camera has. */
const REMEMBERED_BITS = 18;
const [LR, LG, LB] = LUMA;
const TO_B = 1 / (2 * (1 - LB));
const TO_R = 1 / (2 * (1 - LR));

/** Colours whole pictures. One is made for each setting. */
export class ColourProcess {
  readonly #curves: Float32Array[] | null;
  readonly #saturation: number;
  readonly #table: CubeTable | null;
  readonly #key: KeyNumbers | null;
  readonly #colours = new Int32Array(1 << REMEMBERED_BITS).fill(-1);
  readonly #results = new Int32Array(1 << REMEMBERED_BITS);
  readonly #looked = new Float64Array(3);
  #across = new Uint16Array(0);
  /** Colours computed so far, for measuring. */
  computed = 0;

  constructor(readonly settings: ColourSettings) {
    const { values, table, strength, key } = settings;
    this.#curves =
      values &&
      ([0, 1, 2] as const).map((channel) => {
        const curve = channelCurve(values, channel);
        // One entry more, so that a colour between two bytes can be looked up too.
        return Float32Array.from({ length: 257 }, (_, v) => curve(Math.min(255, v) / 255));
      });
    this.#saturation = 1 + (values?.saturation ?? 0);
    this.#table = table && strength > 0 ? table : null;
    this.#key = key && keyNumbers(key);
  }

  /**
   * Colours a picture in place.
   * @param data red, green, blue, opacity for each point, not multiplied; its buffer begins with the picture
   */
  run(data: Uint8ClampedArray, width: number, height: number): void {
    const count = width * height;
    // With a sign: numbers above 2³¹ would be kept as fractions, which takes four times as long.
    const points = new Int32Array(data.buffer, data.byteOffset, count);
    const colours = this.#colours;
    const results = this.#results;
    let last = -1;
    let result = 0;
    for (let i = 0; i < count; i++) {
      const point = points[i];
      const opacity = point >>> 24;
      if (opacity === 0) continue;
      const colour = point & 0xffffff;
      if (colour !== last) {
        last = colour;
        const slot = Math.imul(colour, 0x9e3779b1) >>> (32 - REMEMBERED_BITS);
        if (colours[slot] === colour) result = results[slot];
        else {
          result = this.#point(colour & 255, (colour >> 8) & 255, colour >> 16);
          colours[slot] = colour;
          results[slot] = result;
        }
      }
      points[i] =
        opacity === 255
          ? result
          : (result & 0xffffff) | (Math.round(((result >>> 24) * opacity) / 255) << 24);
    }
    const edge = this.settings.key?.edge ?? 0;
    if (edge > 0) this.#drawIn(data, width, height, edge);
  }

  /** What becomes of one opaque colour, packed as a point of the picture. */
  #point(red: number, green: number, blue: number): number {
    this.computed += 1;
    let [r, g, b] = [red / 255, green / 255, blue / 255];
    let alpha = 1;
    const key = this.#key;
    if (key) {
      const y = r * LR + g * LG + b * LB;
      const cb = (b - y) * TO_B;
      const cr = (r - y) * TO_R;
      const far = (Math.hypot(cb - key.cb, cr - key.cr) - key.gone) / (key.kept - key.gone);
      const t = far <= 0 ? 0 : far >= 1 ? 1 : far;
      alpha = t * t * (3 - 2 * t);
      const over = cb * key.ub + cr * key.ur - Math.abs(cb * key.ur - cr * key.ub);
      if (over > 0) {
        const cast = this.settings.key!.spill * over;
        r = y + (cr - cast * key.ur) / TO_R;
        b = y + (cb - cast * key.ub) / TO_B;
        g = (y - LR * r - LB * b) / LG;
      }
    }
    if (this.#curves) {
      r = this.#curve(this.#curves[0], r);
      g = this.#curve(this.#curves[1], g);
      b = this.#curve(this.#curves[2], b);
      const s = this.#saturation;
      if (s !== 1) {
        const y = r * LR + g * LG + b * LB;
        r = y + (r - y) * s;
        g = y + (g - y) * s;
        b = y + (b - y) * s;
      }
    }
    const table = this.#table;
    if (table) {
      const out = this.#looked;
      lookUp(table, clamp(r), clamp(g), clamp(b), out, 0);
      const { strength } = this.settings;
      r = clamp(r) + (out[0] - clamp(r)) * strength;
      g = clamp(g) + (out[1] - clamp(g)) * strength;
      b = clamp(b) + (out[2] - clamp(b)) * strength;
    }
    return byte(r) | (byte(g) << 8) | (byte(b) << 16) | (byte(alpha) << 24);
  }

  #curve(curve: Float32Array, v: number): number {
    const x = clamp(v) * 255;
    const low = x | 0;
    return curve[low] + (curve[low + 1] - curve[low]) * (x - low);
  }

  /** Opacity from the means of 3×3 points; at the picture's edge of those there are. */
  #drawIn(data: Uint8ClampedArray, width: number, height: number, edge: number): void {
    const count = width * height;
    // Sums of three beside each other first, then of three such sums above each other.
    if (this.#across.length !== count) this.#across = new Uint16Array(count);
    const across = this.#across;
    for (let y = 0; y < height; y++) {
      const row = y * width;
      let left = 0;
      let middle = data[row * 4 + 3];
      for (let x = 0; x < width; x++) {
        const right = x < width - 1 ? data[(row + x) * 4 + 7] : 0;
        across[row + x] = left + middle + right;
        left = middle;
        middle = right;
      }
    }
    for (let y = 0; y < height; y++) {
      const rows = (y > 0 ? 1 : 0) + 1 + (y < height - 1 ? 1 : 0);
      const above = y > 0 ? -width : 0;
      const below = y < height - 1 ? width : 0;
      for (let x = 0, i = y * width; x < width; x++, i++) {
        const sum = across[i] + (above ? across[i + above] : 0) + (below ? across[i + below] : 0);
        if (sum === 0) continue;
        const all = rows * (x > 0 && x < width - 1 ? 3 : width > 1 ? 2 : 1) * 255;
        if (sum !== all) data[i * 4 + 3] = drawnIn(sum / all, edge) * 255;
      }
    }
  }
}

const clamp = (v: number) => (v <= 0 ? 0 : v >= 1 ? 1 : v);
const byte = (v: number) => (clamp(v) * 255 + 0.5) | 0;
