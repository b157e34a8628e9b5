import { describe, expect, test } from 'vitest';
import { StampedMix, type StampedSound } from './stamped-mix';

const RATE = 48_000;
const piece = (seconds: number, frames: number, left: number, right = left): StampedSound => ({
  seconds,
  left: new Float32Array(frames).fill(left),
  right: new Float32Array(frames).fill(right),
});
const plain = (pieces: StampedSound[]) =>
  pieces.map(({ seconds, left, right }) => ({
    from: Math.round(seconds * RATE),
    left: [...left],
    right: [...right],
  }));

describe('sounds mixed at their times', () => {
  test('of one source everything comes out at once; stamps that tremble do not tear it', () => {
    const mix = new StampedMix();
    expect(plain(mix.add('a', piece(10, 4, 0.5, 0.25)))).toEqual([
      { from: 480_000, left: [0.5, 0.5, 0.5, 0.5], right: [0.25, 0.25, 0.25, 0.25] },
    ]);
    // 40 ms late by its stamp: it goes on from where it was.
    const [next] = mix.add('a', piece(10.04, 4, 0.5));
    expect(Math.round(next.seconds * RATE)).toBe(480_004);
    // Half a second later it has paused in between.
    const [later] = mix.add('a', piece(10.5, 4, 0.5));
    expect(Math.round(later.seconds * RATE)).toBe(504_000);
  });

  test('two sources lie over each other where they sound together', () => {
    const mix = new StampedMix();
    mix.add('a', piece(1, 100, 0.5));
    expect(mix.add('b', piece(1, 100, 0.25))).toEqual([]);
    // One is ahead: it waits for the other.
    expect(mix.add('a', piece(1 + 100 / RATE, 100, 0.5))).toEqual([]);
    const [both] = mix.add('b', piece(1 + 100 / RATE, 100, 0.25));
    expect(Math.round(both.seconds * RATE)).toBe(RATE + 100);
    expect([...both.left]).toEqual(new Array(100).fill(0.75));
  });

  test('who has fallen silent is not waited for', () => {
    const mix = new StampedMix();
    mix.add('b', piece(1, 480, 0.25));
    let heard = 0;
    for (let n = 0; n < 50; n++)
      for (const { left } of mix.add('a', piece(1 + n / 100, 480, 0.5))) heard += left.length;
    // All but what was given out before the second one was there.
    expect(heard).toBe(49 * 480);
  });

  test('a clock that jumps either way begins anew, and nothing is kept for ever', () => {
    const mix = new StampedMix();
    mix.add('a', piece(100, 10, 0.5));
    mix.add('b', piece(100, 10, 0.5));
    const ahead = plain(mix.add('a', piece(5000, 2, 0.5)));
    expect(ahead.at(-1)).toEqual({ from: 5000 * RATE, left: [0.5, 0.5], right: [0.5, 0.5] });
    const back = plain(mix.add('a', piece(7, 2, 0.125)));
    expect(back).toEqual([{ from: 7 * RATE, left: [0.125, 0.125], right: [0.125, 0.125] }]);
  });

  test('what comes after its time is left out', () => {
    const mix = new StampedMix();
    mix.add('a', piece(1, 1000, 0.5));
    expect(mix.add('b', piece(1, 900, 0.25))).toEqual([]);
    expect(mix.add('b', piece(1 + 900 / RATE, 200, 0.25))).toEqual([]);
    const [both] = mix.add('a', piece(1 + 1000 / RATE, 100, 0.5));
    expect(Math.round(both.seconds * RATE)).toBe(RATE + 1000);
    expect([...both.left]).toEqual(new Array(100).fill(0.75));
  });
});
