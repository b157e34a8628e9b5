import { describe, expect, test } from 'vitest';
import { SkinSmoothing, skinShare } from './skin-smoothing';

const [W, H] = [160, 120];
type Rgb = readonly [number, number, number];
const SKIN: Rgb = [205, 150, 120];

function picture(colour: (x: number, y: number) => Rgb, width = W, height = H): Uint8ClampedArray {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data.set([...colour(x, y), 255], (y * width + x) * 4);
  return data;
}
/** The same noise each time (a linear congruential generator, Numerical Recipes). */
function noise(seed = 1): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32 - 0.5;
  };
}
const lit = (by: number): Rgb => [SKIN[0] + by, SKIN[1] + by, SKIN[2] + by];
const smooth = (data: Uint8ClampedArray, strength = 1, width = W, height = H) => {
  const out = data.slice();
  new SkinSmoothing().run(out, width, height, strength);
  return out;
};
function deviation(data: Uint8ClampedArray): number {
  const values = Array.from({ length: data.length / 4 }, (_, i) => data[i * 4]);
  const mean = values.reduce((a, b) => a + b) / values.length;
  return Math.sqrt(values.reduce((a, v) => a + (v - mean) ** 2, 0) / values.length);
}

describe('skin', () => {
  test.each([
    [205, 150, 120],
    [150, 100, 75],
    [90, 58, 44],
    [240, 200, 180],
  ] as Rgb[])('%i %i %i is', (r, g, b) => expect(skinShare(r, g, b)).toBe(1));
  test.each([
    [47, 158, 91],
    [128, 128, 128],
    [40, 60, 160],
    [255, 255, 255],
    [230, 30, 30],
  ] as Rgb[])('%i %i %i is not', (r, g, b) => expect(skinShare(r, g, b)).toBe(0));
});

describe('smoothing', () => {
  test('takes fine noise from skin, the more the stronger', () => {
    const random = noise();
    const rough = picture(() => lit(Math.round(random() * 24)));
    const before = deviation(rough);
    const half = deviation(smooth(rough, 0.5));
    const full = deviation(smooth(rough, 1));
    expect(full).toBeLessThan(before * 0.5);
    expect(half).toBeGreaterThan(full);
    expect(half).toBeLessThan(before * 0.8);
  });
  test('keeps edges: a shadow’s border is as steep as before', () => {
    const edge = picture((x) => lit(x < W / 2 ? -70 : 20));
    const out = smooth(edge);
    const at = (data: Uint8ClampedArray, x: number) => data[((H / 2) * W + x) * 4];
    const step = (data: Uint8ClampedArray) => at(data, W / 2 + 2) - at(data, W / 2 - 3);
    expect(step(out)).toBeGreaterThan(step(edge) * 0.85);
  });
  test('leaves everything else as it is, point for point', () => {
    const random = noise();
    const wall = picture(() => {
      const n = Math.round(random() * 30);
      return [47 + n, 158 + n, 91 + n];
    });
    expect(smooth(wall)).toEqual(wall);
  });
  test('of nothing, of an even face, and of tiny pictures changes nothing', () => {
    const random = noise();
    const rough = picture(() => lit(Math.round(random() * 24)));
    expect(smooth(rough, 0)).toEqual(rough);
    const even = picture(() => SKIN);
    for (const [i, v] of smooth(even).entries()) expect(Math.abs(v - even[i])).toBeLessThanOrEqual(1);
    for (const [w, h] of [
      [1, 1],
      [3, 200],
      [4, 4],
      [5, 7],
    ])
      expect(
        smooth(
          picture(() => SKIN, w, h),
          1,
          w,
          h,
        ),
      ).toHaveLength(w * h * 4);
  });
  test('is the filter of the paper, worked out slowly', () => {
    const random = noise(7);
    const [w, h] = [40, 30];
    const rough = picture((x) => lit(Math.round(random() * 30) + (x > 20 ? -40 : 0)), w, h);
    // Radius 1 on a grid of every second point; epsilon 0.08².
    const [gw, gh] = [w / 2, h / 2];
    const grey = (x: number, y: number) => {
      const at = (y * 2 * w + x * 2) * 4;
      return (0.299 * rough[at] + 0.587 * rough[at + 1] + 0.114 * rough[at + 2]) / 255;
    };
    const box = (of: (x: number, y: number) => number, x: number, y: number) => {
      let [sum, count] = [0, 0];
      for (let v = Math.max(0, y - 1); v <= Math.min(gh - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(gw - 1, x + 1); u++, count++) sum += of(u, v);
      return sum / count;
    };
    const a = (x: number, y: number) => {
      const mean = box(grey, x, y);
      const variance = box((u, v) => grey(u, v) ** 2, x, y) - mean ** 2;
      return variance / (variance + 0.0064);
    };
    const b = (x: number, y: number) => box(grey, x, y) * (1 - a(x, y));
    const out = smooth(rough, 1, w, h);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const at = (y * w + x) * 4;
        const v = 0.299 * rough[at] + 0.587 * rough[at + 1] + 0.114 * rough[at + 2];
        const q = box(a, x >> 1, y >> 1) * v + box(b, x >> 1, y >> 1) * 255;
        const wanted = rough[at] + (q - v) * skinShare(rough[at], rough[at + 1], rough[at + 2]);
        expect(Math.abs(out[at] - wanted)).toBeLessThanOrEqual(1);
      }
  });
});
