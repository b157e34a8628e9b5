import { describe, expect, test } from 'vitest';
import { compileKernel, binaryText, BINARY } from '../../../scripts/lib/kernel.mjs';
import { readFileSync } from 'node:fs';
import { NO_GRADE, START_KEY } from '../../show/colour-records';
import type { ColourSettings } from '../colour-settings';
import type { CubeTable } from '../cube-table';
import { graded } from '../grade';
import { planeMatrix, pointOf, type PlaneLayout } from '../planes';
import { ColourKernel } from './colour-kernel';

const kernelOf = (settings: ColourSettings) => {
  const kernel = new ColourKernel();
  kernel.set(settings);
  return kernel;
};

test('the compiled kernel is the one of its source', async () => {
  expect(binaryText(await compileKernel())).toBe(readFileSync(BINARY, 'utf8'));
}, 60_000);

test('every point of a picture is coloured, whatever their number; the room keeps its place as pictures grow', () => {
  const kernel = kernelOf({
    values: { ...NO_GRADE, brightness: 0.5 },
    table: null,
    strength: 0,
    key: null,
  });
  for (const points of [1, 3, 4, 5, 63, 1280 * 720, 1920 * 1080, 2]) {
    const room = kernel.room(points);
    room.fill(100);
    kernel.colour(points);
    const want = Math.round(
      graded([100 / 255, 100 / 255, 100 / 255], { ...NO_GRADE, brightness: 0.5 })[0] * 255,
    );
    for (const i of [0, points >> 1, points - 1])
      expect([...kernel.room(points).subarray(i * 4, i * 4 + 4)], `${points}`).toEqual([
        want,
        want,
        want,
        100,
      ]);
  }
});

test('a table with values far out of range, with a domain of its own, of the largest size', () => {
  const table = (size: number, value: (i: number) => number, min = 0, max = 1): CubeTable => ({
    title: '',
    dimensions: 3,
    size,
    domain: { min: [min, min, min], max: [max, max, max] },
    values: Float32Array.from({ length: size ** 3 * 3 }, (_, i) => value(i)),
  });
  for (const one of [
    table(2, (i) => (i % 2 ? 8 : -8)),
    table(2, () => -8),
    table(2, () => 8),
    table(5, (i) => (i % 7) / 3 - 0.5, -1, 2),
    table(5, (i) => (i % 7) / 7, 0.25, 0.5),
    table(129, (i) => (i % 11) / 11),
    table(90, (i) => (i % 11) / 11),
    table(91, (i) => (i % 11) / 11),
    table(17, (i) => (i % 5) - 2),
    table(64, (i) => ((i * 7) % 13) / 13),
  ])
    for (const strength of [1, 0.3, 0]) {
      const kernel = kernelOf({ values: NO_GRADE, table: one, strength, key: null });
      const room = kernel.room(256);
      for (let i = 0; i < 256; i++) room.set([i, (i * 7) & 255, (i * 31) & 255, 255], i * 4);
      const before = room.slice();
      kernel.colour(256);
      for (let i = 0; i < 256; i++) {
        const want = graded(
          [0, 1, 2].map((c) => before[i * 4 + c] / 255) as [number, number, number],
          NO_GRADE,
          one,
          strength,
        );
        want.forEach((v, c) =>
          expect(Math.abs(room[i * 4 + c] - v * 255), `${one.size}, ${strength}: ${i}`).toBeLessThanOrEqual(
            2,
          ),
        );
      }
    }
});

test('other settings leave nothing of the ones before', () => {
  const plain: ColourSettings = { values: null, table: null, strength: 0, key: null };
  const table: CubeTable = {
    title: '',
    dimensions: 1,
    size: 2,
    domain: { min: [0, 0, 0], max: [1, 1, 1] },
    values: new Float32Array([1, 1, 1, 0, 0, 0]),
  };
  const one = (kernel: ColourKernel) => {
    kernel.room(1).set([10, 200, 30, 255]);
    kernel.colour(1);
    return [...kernel.room(1)];
  };
  const kernel = kernelOf({
    values: { ...NO_GRADE, saturation: -1, contrast: 1 },
    table,
    strength: 1,
    key: { ...START_KEY, colour: '#00ff00', spill: 1 },
  });
  expect(one(kernel)[3]).toBeLessThan(255);
  kernel.set({ ...plain, table, strength: 1 });
  expect(one(kernel)).toEqual([245, 55, 225, 255]);
  kernel.set(plain);
  expect(one(kernel)).toEqual([10, 200, 30, 255]);
});

describe('from planes', () => {
  /** Planes whose rows are longer than the picture, of values that take all there are. */
  const planesOf = (width: number, height: number, together: boolean) => {
    const [strideY, half] = [width + 3, Math.ceil(width / 2)];
    const strideUV = together ? half * 2 + 5 : half + 5;
    const rows = Math.ceil(height / 2);
    const u = strideY * height;
    const layout: PlaneLayout = {
      y: 0,
      u,
      v: together ? u + 1 : u + strideUV * rows,
      together,
      strideY,
      strideUV,
    };
    const bytes = new Uint8Array(u + strideUV * rows * (together ? 1 : 2));
    for (let i = 0; i < bytes.length; i++) bytes[i] = (i * 167 + (i >> 8) * 31 + (i % 3) * 90) & 255;
    return { layout, bytes };
  };
  const plain: ColourSettings = { values: null, table: null, strength: 0, key: null };
  const colours = { primaries: 'bt709', transfer: 'bt709' };

  test.each([
    [256, 64, false, 'bt709', false],
    [256, 64, true, 'bt709', false],
    [256, 64, false, 'smpte170m', false],
    [256, 64, true, 'smpte170m', true],
    [1280, 720, false, 'bt709', true],
    [37, 21, false, 'smpte170m', false],
    [37, 21, true, 'bt709', false],
    [1, 1, false, 'bt709', false],
    [2, 3, true, 'bt470bg', true],
    [9000, 2, false, 'bt709', false],
  ] as const)(
    '%i×%i, together %s, %s, full range %s: within 1 of 255',
    (w, h, together, matrix, fullRange) => {
      const kernel = kernelOf(plain);
      const { layout, bytes } = planesOf(w, h, together);
      kernel.planes(w * h, bytes.length).set(bytes);
      const numbers = planeMatrix({ ...colours, matrix, fullRange })!;
      kernel.colourPlanes(layout, w, h, numbers);
      const room = kernel.room(w * h);
      let furthest = 0;
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          const chroma = (y >> 1) * layout.strideUV + (x >> 1) * (together ? 2 : 1);
          const want = pointOf(
            bytes[y * layout.strideY + x],
            bytes[layout.u + chroma],
            bytes[layout.v + chroma],
            numbers,
          );
          const at = (y * w + x) * 4;
          want.forEach((value, c) => (furthest = Math.max(furthest, Math.abs(room[at + c] - value))));
          if (room[at + 3] !== 255) throw new Error(`not opaque at ${x}, ${y}`);
        }
      expect(furthest).toBeLessThanOrEqual(1);
    },
  );

  test('and coloured, it is what colouring the picture makes of it', () => {
    const [w, h] = [67, 35];
    const { layout, bytes } = planesOf(w, h, false);
    const numbers = planeMatrix({ ...colours, matrix: 'bt709', fullRange: false })!;
    const settings: ColourSettings = {
      ...plain,
      values: { ...NO_GRADE, contrast: 0.4, saturation: -0.5 },
      key: { ...START_KEY, colour: '#20c040' },
    };
    const once = kernelOf(settings);
    once.planes(w * h, bytes.length).set(bytes);
    once.colourPlanes(layout, w, h, numbers);
    const made = kernelOf(plain);
    made.planes(w * h, bytes.length).set(bytes);
    made.colourPlanes(layout, w, h, numbers);
    const twice = kernelOf(settings);
    twice.room(w * h).set(made.room(w * h));
    twice.colour(w * h);
    expect(Buffer.compare(Buffer.from(once.room(w * h)), Buffer.from(twice.room(w * h)))).toBe(0);
    expect(new Set(once.room(w * h)).size).toBeGreaterThan(100);
  });
});
