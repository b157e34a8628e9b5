import { expect, test } from 'vitest';
import { PictureGrid } from './picture-grid';
import { TimelineSplice } from './splice';

test('sources follow each other without a gap in time or a step back', () => {
  const splice = new TimelineSplice();
  const wall = 5_000_000;
  expect(splice.place('desk', 70_000_000, 33_333, wall)).toBe(0);
  expect(splice.place('desk', 70_033_333, 33_333, wall + 33_333)).toBe(33_333);
  // the desk is gone for two seconds, the cover comes
  expect(splice.behindUs(wall + 2_066_666)).toBe(2_000_000);
  expect(splice.place('cover', 0, 33_333, wall + 2_066_666)).toBe(2_066_666);
  // a new desk starts at zero; what it made before its first packet here is dropped
  expect(splice.place('desk-2', 1_000_000, 33_333, wall + 3_000_000)).toBe(3_000_000);
  expect(splice.place('desk-2', 990_000, 21_333, wall + 3_000_000)).toBeNull();
  expect(splice.place('desk-2', 1_033_333, 33_333, wall + 3_100_000)).toBe(3_033_333);
});

test('a source that takes over early does not overlap what was sent', () => {
  const splice = new TimelineSplice();
  splice.place('a', 0, 100_000, 0);
  expect(splice.place('b', 0, 33_333, 50_000)).toBe(100_000);
});

test('pictures stay on one grid, whoever makes them', () => {
  const splice = new TimelineSplice();
  const fps = 29.97;
  const grid = new PictureGrid(fps);
  const index = (us: number) => (us * grid.numerator) / grid.denominator / 1e6;
  const stamps: number[] = [];
  for (const [source, fromUs, wallUs] of [
    ['desk', 70_000_000, 5_000_000],
    ['cover', 0, 8_123_456],
    ['desk-2', 900_000, 11_777_777],
    ['desk-3', 12_345, 11_800_000],
  ] as const)
    for (let i = 0; i < 60; i++) {
      const at = splice.place(source, fromUs + grid.timeUs(i), 33_367, wallUs + grid.timeUs(i), fps);
      // Sound has its own steps, and moves nothing.
      splice.place(source, fromUs + grid.timeUs(i) + 5000, 21_333, wallUs);
      stamps.push(at!);
    }
  for (const us of stamps) expect(Math.abs(index(us) - Math.round(index(us)))).toBeLessThan(1e-3);
  const steps = stamps.slice(1).map((us, i) => Math.round(index(us) - index(stamps[i])));
  // Never two in one place, and never later than the next place after the wall clock.
  expect(Math.min(...steps)).toBe(1);
  expect(steps.filter((step) => step > 1)).toEqual([35, 51]);
});
