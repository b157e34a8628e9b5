import { expect, test } from 'vitest';
import { planeMatrix, pointOf } from './planes';

const screen = { primaries: 'bt709', transfer: 'bt709' };

test('grey, white, black and full colours as the Recommendations code them', () => {
  // ITU-R BT.709-6, table 3: black at 16, white at 235; its 100 % colour bars.
  const hd = planeMatrix({ ...screen, matrix: 'bt709', fullRange: false })!;
  expect(pointOf(16, 128, 128, hd)).toEqual([0, 0, 0]);
  for (const value of pointOf(235, 128, 128, hd)) expect(value).toBeCloseTo(255, 6);
  for (const [y, u, v, colour] of [
    [219, 16, 138, [255, 255, 0]],
    [188, 154, 16, [0, 255, 255]],
    [173, 42, 26, [0, 255, 0]],
    [78, 214, 230, [255, 0, 255]],
    [63, 102, 240, [255, 0, 0]],
    [32, 240, 118, [0, 0, 255]],
  ] as const)
    pointOf(y, u, v, hd).forEach((part, c) => expect(Math.abs(part - colour[c])).toBeLessThan(1.5));
  // JFIF 1.02: the matrix of BT.601 over all 256 values.
  const jpeg = planeMatrix({ ...screen, matrix: 'smpte170m', fullRange: true })!;
  expect(jpeg.rv).toBeCloseTo(1.402, 6);
  expect(jpeg.gu).toBeCloseTo(-0.344136, 5);
  expect(jpeg.gv).toBeCloseTo(-0.714136, 5);
  expect(jpeg.bu).toBeCloseTo(1.772, 6);
  expect([jpeg.off, jpeg.y]).toEqual([0, 1]);
});

test.each([
  ['no word of its matrix', { ...screen, matrix: null, fullRange: false }],
  ['a matrix of a wide range', { ...screen, matrix: 'bt2020-ncl', fullRange: false }],
  ['red, green and blue', { ...screen, matrix: 'rgb', fullRange: true }],
  ['other primaries', { ...screen, matrix: 'smpte170m', primaries: 'smpte170m', fullRange: false }],
  ['a wide transfer', { ...screen, matrix: 'bt709', transfer: 'pq', fullRange: false }],
  ['no word of its range', { ...screen, matrix: 'bt709', fullRange: null }],
])('%s: more than a matrix is needed', (_name, colours) => {
  expect(planeMatrix(colours)).toBeNull();
});
