import { describe, expect, test } from 'vitest';
import { fileAt, slidesAt } from './file-order';

const row = (count: number, length: number, order: 'listed' | 'shuffled', seed = 1) =>
  Array.from({ length }, (_, n) => fileAt(n, count, order, seed));

describe('order of files', () => {
  test('listed goes round and round', () => expect(row(3, 7, 'listed')).toEqual([0, 1, 2, 0, 1, 2, 0]));
  test('one file is always itself', () => expect(row(1, 4, 'shuffled')).toEqual([0, 0, 0, 0]));
  test('shuffled shows each once a round, never one twice running, and is the same again', () => {
    for (const count of [2, 3, 4, 9])
      for (let seed = 0; seed < 40; seed++) {
        const shown = row(count, count * 12, 'shuffled', seed);
        for (let r = 0; r < 12; r++)
          expect(new Set(shown.slice(r * count, (r + 1) * count)).size).toBe(count);
        for (let i = 1; i < shown.length; i++) expect(shown[i]).not.toBe(shown[i - 1]);
        expect(row(count, count * 12, 'shuffled', seed)).toEqual(shown);
      }
  });
  test('rounds differ', () => {
    const shown = row(6, 24, 'shuffled');
    expect(shown.slice(0, 6)).not.toEqual(shown.slice(6, 12));
  });
});

describe('slides', () => {
  test('stand, fade over at the end of their time, and go on', () => {
    expect(slidesAt(0, 3, 5, 1)).toEqual({ place: 0, next: null, progress: 0 });
    expect(slidesAt(4, 3, 5, 1).next).toBeNull();
    expect(slidesAt(4.5, 3, 5, 1)).toEqual({ place: 0, next: 1, progress: 0.5 });
    expect(slidesAt(5, 3, 5, 1)).toEqual({ place: 1, next: null, progress: 0 });
    expect(slidesAt(-2, 3, 5, 1).place).toBe(0);
  });
  test('without a fade they cut; a fade longer than the time is cut to it; one slide never fades', () => {
    expect(slidesAt(4.99, 3, 5, 0).next).toBeNull();
    expect(slidesAt(1, 3, 2, 9)).toMatchObject({ next: 1, progress: 0.5 });
    expect(slidesAt(4.9, 1, 5, 1).next).toBeNull();
  });
  test('how much is seen grows without a jump', () => {
    let before = 0;
    for (let t = 4; t < 5; t += 0.01) {
      const { progress } = slidesAt(t, 3, 5, 1);
      expect(progress - before).toBeLessThan(0.02);
      expect(progress).toBeGreaterThanOrEqual(before);
      before = progress;
    }
  });
});
