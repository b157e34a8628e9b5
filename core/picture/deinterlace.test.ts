import { describe, expect, test } from 'vitest';
import { deinterlacePlane, type Plane } from './deinterlace';

const SIDE = 8;
const PLANE: Plane = { offset: 0, stride: SIDE, rowBytes: SIDE, height: SIDE };
/** A bright bar, two points wide, that begins at `x`. */
const bar = (x: number) =>
  Uint8Array.from({ length: SIDE * SIDE }, (_, i) => (i % SIDE >= x && i % SIDE < x + 2 ? 200 : 20));
/** Even lines of one picture, odd lines of the next. */
const woven = (even: Uint8Array, odd: Uint8Array) =>
  even.map((v, i) => (Math.floor(i / SIDE) % 2 === 0 ? v : odd[i]));

function run(picture: Uint8Array, before: Uint8Array | null, plane = PLANE): Uint8Array {
  const out = new Uint8Array(picture.length);
  deinterlacePlane(picture, before, out, plane);
  return out;
}

describe('a picture of two fields', () => {
  test('what moved between them becomes what the first of them saw', () => {
    const picture = woven(bar(2), bar(4));
    expect([...run(picture, woven(bar(0), bar(1)))]).toEqual([...bar(2)]);
    // The first picture has none before it.
    expect([...run(picture, null)]).toEqual([...bar(2)]);
  });

  test('what stands still is not touched, thin lines neither', () => {
    const thin = Uint8Array.from({ length: SIDE * SIDE }, (_, i) =>
      Math.floor(i / SIDE) % 2 === 1 ? 250 : 10,
    );
    const noisy = thin.map((v, i) => v + (i % 3));
    expect([...run(noisy, thin)]).toEqual([...noisy]);
    // Of something that just came it cannot be known.
    expect([...run(thin, new Uint8Array(SIDE * SIDE).fill(128))].every((v) => v === 10)).toBe(true);
  });

  test('slopes and soft changes from line to line stay', () => {
    const slope = Uint8Array.from({ length: SIDE * SIDE }, (_, i) => 20 * Math.floor(i / SIDE));
    const soft = Uint8Array.from({ length: SIDE * SIDE }, (_, i) => 100 + (Math.floor(i / SIDE) % 2) * 9);
    for (const picture of [slope, soft]) expect([...run(picture, bar(1))]).toEqual([...picture]);
  });

  test('the last line, and a plane within other bytes', () => {
    // Three columns at the end of rows of ten bytes, five lines from byte 7 on; the rest is not written.
    const plane: Plane = { offset: 7, stride: 10, rowBytes: 3, height: 4 };
    const picture = new Uint8Array(60).fill(99);
    for (let y = 0; y < 4; y++) picture.fill(y % 2 === 0 ? 50 : 150, 7 + 10 * y, 10 + 10 * y);
    const out = run(picture, null, plane);
    for (let i = 0; i < 60; i++) {
      const inside = i >= 7 && i < 47 && (i - 7) % 10 < 3;
      expect(out[i], `byte ${i}`).toBe(inside ? 50 : 0);
    }
  });
});
