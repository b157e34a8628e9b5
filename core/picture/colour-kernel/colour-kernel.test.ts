import { expect, test } from 'vitest';
import { compileKernel, binaryText, BINARY } from '../../../scripts/lib/kernel.mjs';
import { readFileSync } from 'node:fs';
import { NO_GRADE, START_KEY } from '../../show/colour-records';
import type { ColourSettings } from '../colour-process';
import type { CubeTable } from '../cube-table';
import { graded } from '../grade';
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
    table(2, (i) => (i % 2 ? 65_536 : -65_536)),
    table(2, () => -65_536),
    table(2, () => 65_536),
    table(5, (i) => (i % 7) / 3 - 0.5, -1, 2),
    table(5, (i) => (i % 7) / 7, 0.25, 0.5),
    table(129, (i) => (i % 11) / 11),
  ])
    for (const strength of [1, 0.3]) {
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
        want.forEach((v, c) => expect(Math.abs(room[i * 4 + c] - v * 255)).toBeLessThanOrEqual(2));
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
