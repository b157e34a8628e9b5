import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { GRADE_RANGES, NO_GRADE, START_KEY, type ColourKey, type GradeValues } from '../show/colour-records';
import { ColourProcess } from './colour-process';
import { readCube, type CubeTable } from './cube-table';
import { drawnIn, graded, greyBalance, keyed } from './grade';

const share = fc.double({ min: 0, max: 1, noNaN: true });
const values: fc.Arbitrary<GradeValues> = fc.record(
  Object.fromEntries(
    Object.entries(GRADE_RANGES).map(([name, { min, max }]) => [name, fc.double({ min, max, noNaN: true })]),
  ),
) as never;
const tableOf = (size: number, seed: number): CubeTable => ({
  title: '',
  dimensions: 3,
  size,
  domain: { min: [0, 0, 0], max: [1, 1, 1] },
  values: Float32Array.from(
    { length: size ** 3 * 3 },
    (_, i) => (Math.sin(i * 12.9898 + seed) * 43758.5453) % 1,
  ).map(Math.abs),
});
const pixels = fc.uint8Array({ minLength: 64, maxLength: 64 }).map((a) => Uint8ClampedArray.from(a));
const unit = (data: Uint8ClampedArray, at: number) =>
  [data[at] / 255, data[at + 1] / 255, data[at + 2] / 255] as [number, number, number];

describe('a grade', () => {
  test('of nothing changes nothing; black and white stay under contrast about the middle', () => {
    expect(graded([0.2, 0.5, 0.9], NO_GRADE)).toEqual([0.2, 0.5, 0.9]);
    expect(graded([0, 0.5, 1], { ...NO_GRADE, contrast: 0.5 })).toEqual([0, 0.5, 1]);
    expect(graded([0.4, 0.4, 0.4], { ...NO_GRADE, brightness: 0.2 })[0]).toBeCloseTo(0.5);
    expect(graded([0.25, 0.25, 0.25], { ...NO_GRADE, gamma: 2 })[0]).toBeCloseTo(0.5);
  });

  test('saturation −1 is grey of the same brightness; warmer is more red and less blue', () => {
    const [r, g, b] = graded([1, 0, 0], { ...NO_GRADE, saturation: -1 });
    expect([r, g, b]).toEqual([0.2126, 0.2126, 0.2126]);
    const warm = graded([0.5, 0.5, 0.5], { ...NO_GRADE, temperature: 0.5 });
    expect(warm[0]).toBeGreaterThan(0.5);
    expect(warm[1]).toBe(0.5);
    expect(warm[2]).toBeLessThan(0.5);
  });

  test('a clicked grey becomes grey', () => {
    fc.assert(
      fc.property(
        fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0.35, max: 0.65, noNaN: true }))),
        (colour) => {
          const found = greyBalance(colour as never)!;
          const [r, g, b] = graded(colour as never, { ...NO_GRADE, ...found });
          if (Math.abs(found.temperature) < 1 && Math.abs(found.tint) < 1) {
            expect(Math.abs(r - g)).toBeLessThan(0.004);
            expect(Math.abs(b - g)).toBeLessThan(0.004);
          }
        },
      ),
    );
    expect(greyBalance([1, 1, 1])).toBeNull();
    expect(greyBalance([0, 0.1, 0.1])).toBeNull();
  });

  test('over a picture it is within 2 of 255 of the reference, at any values, with a table and without', () => {
    fc.assert(
      fc.property(
        values,
        pixels,
        fc.constantFrom(
          null,
          tableOf(2, 1),
          tableOf(17, 3),
          readCube('LUT_1D_SIZE 3\n0 0.2 1\n0.3 0.9 0.4\n1 1 0'),
        ),
        share,
        (grade, data, table, strength) => {
          const out = data.slice();
          new ColourProcess({ values: grade, table, strength, key: null }).colour(out, 4, 4);
          for (let at = 0; at < 64; at += 4) {
            if (data[at + 3] === 0) continue;
            const want = graded(unit(data, at), grade, table, strength);
            want.forEach((v, c) => expect(Math.abs(out[at + c] - v * 255)).toBeLessThanOrEqual(2));
            expect(out[at + 3]).toBe(data[at + 3]);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('a key', () => {
  const green = '#2f9e5b';
  const rgb = (hex: string) =>
    [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255) as [number, number, number];

  test('takes the colour and its shades, leaves skin, black, white and other colours', () => {
    const key: ColourKey = { ...START_KEY, colour: green };
    for (const gone of [green, '#2c9256', '#33a860']) expect(keyed(rgb(gone), key).alpha).toBeLessThan(0.02);
    for (const kept of ['#e0ac69', '#000000', '#ffffff', '#b0513c', '#3a6ea5', '#e2ae45'])
      expect(keyed(rgb(kept), key).alpha).toBe(1);
  });

  test('takes the cast from what stays and leaves colours across it', () => {
    const key: ColourKey = { ...START_KEY, colour: '#00ff00', spill: 1 };
    const cast = keyed([0.55, 0.7, 0.5], key).colour;
    expect(cast[1] - Math.max(cast[0], cast[2])).toBeLessThan(0.1);
    const red = keyed([0.8, 0.2, 0.2], key).colour;
    red.forEach((v, i) => expect(v).toBeCloseTo([0.8, 0.2, 0.2][i], 5));
  });

  test('wider tolerance never keeps more, and the edge only draws in', () => {
    fc.assert(
      fc.property(fc.tuple(share, share, share), share, share, (colour, a, b) => {
        const [low, high] = [Math.min(a, b), Math.max(a, b)];
        const alpha = (tolerance: number) => keyed(colour, { ...START_KEY, tolerance }).alpha;
        expect(alpha(high)).toBeLessThanOrEqual(alpha(low) + 1e-9);
        expect(drawnIn(a, b)).toBeLessThanOrEqual(a + 1e-9);
        expect(drawnIn(1, b)).toBeCloseTo(1);
      }),
    );
  });

  test.each([
    [1, 1],
    [1, 9],
    [2, 2],
    [3, 40],
    [7, 5],
    [8, 8],
    [17, 6],
    [64, 3],
  ])('the edge of a picture of %i×%i is drawn in as the mean of what is there says', (w, h) => {
    const data = Uint8ClampedArray.from({ length: w * h * 4 }, (_, i) => (i * 167 + (i >> 3) * 59) & 255);
    const key = { ...START_KEY, edge: 0.4 };
    const whole = data.slice();
    new ColourProcess({ values: null, table: null, strength: 0, key: { ...key, edge: 0 } }).colour(
      whole,
      w,
      h,
    );
    const out = data.slice();
    new ColourProcess({ values: null, table: null, strength: 0, key }).colour(out, w, h);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const around = [-1, 0, 1]
          .flatMap((dy) => [-1, 0, 1].map((dx) => [x + dx, y + dy]))
          .filter(([a, b]) => a >= 0 && b >= 0 && a < w && b < h)
          .map(([a, b]) => whole[(b * w + a) * 4 + 3]);
        const want = drawnIn(around.reduce((a, b) => a + b) / around.length / 255, 0.4) * 255;
        const at = (y * w + x) * 4;
        expect(Math.abs(out[at + 3] - want), `${x}, ${y}`).toBeLessThanOrEqual(1);
        expect([...out.subarray(at, at + 3)]).toEqual([...whole.subarray(at, at + 3)]);
      }
  });

  test('over a picture it is within 2 of 255 of the reference, at any values', () => {
    fc.assert(
      fc.property(
        pixels,
        fc.record({
          tolerance: share,
          softness: fc.double({ min: 0.02, max: 1, noNaN: true }),
          spill: share,
          edge: fc.double({ min: 0, max: 0.5, noNaN: true }),
        }),
        fc.constantFrom(green, '#00ff00', '#0000ff', '#808080'),
        (data, numbers, colour) => {
          for (let at = 3; at < 64; at += 4) data[at] = 255;
          const key: ColourKey = { ...numbers, colour };
          const out = data.slice();
          new ColourProcess({ values: null, table: null, strength: 0, key }).colour(out, 4, 4);
          const points = Array.from({ length: 16 }, (_, i) => keyed(unit(data, i * 4), key));
          points.forEach((point, i) => {
            const [x, y] = [i % 4, Math.floor(i / 4)];
            const around = points.filter(
              (_, j) => Math.abs((j % 4) - x) <= 1 && Math.abs(Math.floor(j / 4) - y) <= 1,
            );
            const mean = around.reduce((sum, p) => sum + p.alpha, 0) / around.length;
            const alpha = key.edge > 0 ? drawnIn(mean, key.edge) : point.alpha;
            expect(Math.abs(out[i * 4 + 3] - alpha * 255)).toBeLessThanOrEqual(2);
            point.colour.forEach((v, c) => expect(Math.abs(out[i * 4 + c] - v * 255)).toBeLessThanOrEqual(2));
          });
        },
      ),
      { numRuns: 300 },
    );
  });
});
