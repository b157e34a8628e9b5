import { expect, test } from 'vitest';
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
