import { describe, expect, test } from 'vitest';
import { LeadKeeper, stretched } from './lead-keeper';

const TARGET = 7200;
const PACKET = 960;

/** Plays for so many seconds with clocks that differ; the mixer takes its sound in bursts. @returns leads seen, and how often it was placed anew */
function play(
  seconds: number,
  ppm: number,
  burstFrames = 4800,
): { leads: number[]; anew: number; frames: number } {
  const keeper = new LeadKeeper(TARGET);
  let [heard, owed, anew, frames] = [0, 0, 0, 0];
  let written: number | null = null;
  const leads: number[] = [];
  for (let packet = 0; packet < (seconds * 48_000) / PACKET; packet++) {
    owed += PACKET * (1 + ppm / 1e6);
    if (owed >= burstFrames) {
      heard += burstFrames;
      owed -= burstFrames;
    }
    let made = keeper.take(written === null ? -1 : written - heard, PACKET);
    if (written === null || made === null) {
      if (written !== null) anew += 1;
      keeper.reset();
      written = heard + TARGET;
      made = PACKET;
    } else leads.push(written - heard);
    written += made;
    frames += made;
  }
  return { leads, anew, frames };
}

describe('sound that comes live', () => {
  test.each([0, 100, -100, 300])(
    'never runs out nor falls behind in an hour with clocks %i ppm apart',
    (ppm) => {
      const { leads, anew } = play(3600, ppm);
      expect(anew).toBe(0);
      // Bursts of 100 ms, and five milliseconds that are left alone.
      expect(leads.reduce((a, b) => Math.min(a, b))).toBeGreaterThan(1500);
      expect(leads.reduce((a, b) => Math.max(a, b))).toBeLessThan(TARGET + 4800 + 1500);
    },
  );

  test('with clocks alike nothing is stretched at all', () => {
    expect(play(60, 0, PACKET).frames).toBe(60 * 48_000);
  });

  test('what has run out, or is far too late, is placed anew', () => {
    const keeper = new LeadKeeper(TARGET);
    expect(keeper.take(-1, PACKET)).toBeNull();
    expect(keeper.take(0, PACKET)).toBe(PACKET);
    expect(keeper.take(TARGET + 9600, PACKET)).not.toBeNull();
    expect(keeper.take(TARGET + 9601, PACKET)).toBeNull();
  });
});

describe('stretched', () => {
  test('a straight line stays one, and keeps its ends', () => {
    const line = Float32Array.from({ length: 960 }, (_, i) => i / 959);
    for (const frames of [959, 960, 961, 2]) {
      const out = stretched(line, frames);
      expect(out).toHaveLength(frames);
      expect(out[0]).toBe(0);
      expect(out[frames - 1]).toBeCloseTo(1, 6);
      out.forEach((value, i) => expect(value).toBeCloseTo(i / (frames - 1), 6));
    }
    expect(stretched(line, 960)).toBe(line);
  });
});
