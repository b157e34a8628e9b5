import { expect, it } from 'vitest';
import { carriedBy, coreShare } from './carried';

const at = (width: number, height: number, msPerPicture: number) => ({ width, height, msPerPicture });

it('takes what the middle size costs a pixel, with what composing costs, and plans half a core', () => {
  const trials = [at(1000, 1000, 10), at(500, 500, 4), at(2000, 1000, 18)];
  // 9, 10 and 16 ms a megapixel; 2 more for composing.
  const carried = carriedBy(trials, { ms: 1, pixels: 500_000 })!;
  expect(carried.msPerMegapixel).toBeCloseTo(12);
  expect(carried.pixelsPerSecond).toBeCloseTo((500 / 12) * 1e6, -3);
  expect(coreShare(carried, carried.pixelsPerSecond)).toBeCloseTo(0.5);
  expect(coreShare(carried, 1e6)).toBeCloseTo(0.012);
});

it('says nothing without a trial, and leaves out ways that this computer does not have', () => {
  expect(carriedBy([], { ms: 1, pixels: 1 })).toBeNull();
  expect(carriedBy([at(10, 10, 0)], { ms: 1, pixels: 1 })).toBeNull();
  expect(carriedBy([at(10, 10, 1)], { ms: 1, pixels: 0 })).toBeNull();
});
