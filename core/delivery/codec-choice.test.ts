import { expect, test } from 'vitest';
import { avcCandidates } from './codec-choice';

test.each([
  [640, 360, 30, 'avc1.64001e'],
  [1280, 720, 30, 'avc1.64001f'],
  [1280, 720, 60, 'avc1.640020'],
  [1920, 1080, 30, 'avc1.640028'],
  [1920, 1080, 60, 'avc1.64002a'],
])('%d × %d at %d', (width, height, fps, first) => {
  expect(avcCandidates(width, height, fps)[0]).toBe(first);
});

test('says so when nothing fits', () => {
  expect(avcCandidates(8192, 8192, 60)).toEqual([]);
});
