import { describe, expect, test } from 'vitest';
import { amplitudeOfDb } from './decibel';
import { LoudnessMeter } from './loudness-meter';

const RATE = 48_000;

/** Feeds 1 kHz stereo tones, [dBFS, seconds] each, in 128-frame blocks. */
function play(meter: LoudnessMeter, parts: readonly (readonly [number, number])[], seen?: () => void): void {
  const block = new Float32Array(128);
  let frame = 0;
  for (const [db, seconds] of parts) {
    const amplitude = amplitudeOfDb(db);
    let left = Math.round(seconds * RATE);
    while (left > 0) {
      const take = Math.min(128, left);
      for (let i = 0; i < take; i++)
        block[i] = amplitude * Math.sin((2 * Math.PI * 1000 * (frame + i)) / RATE);
      meter.process([block, block], take);
      frame += take;
      left -= take;
      seen?.();
    }
  }
}

describe('EBU Tech 3341', () => {
  test.each([-23, -33])('cases 1 and 2: a steady tone at %d', (level) => {
    const meter = new LoudnessMeter();
    play(meter, [[level, 20]]);
    expect(meter.momentary).toBeCloseTo(level, 1);
    expect(meter.shortTerm).toBeCloseTo(level, 1);
    expect(Math.abs(meter.integrated() - level)).toBeLessThan(0.1);
  });

  test.each([
    [
      '3',
      [
        [-36, 10],
        [-23, 60],
        [-36, 10],
      ],
    ],
    [
      '4',
      [
        [-72, 10],
        [-36, 10],
        [-23, 60],
        [-36, 10],
        [-72, 10],
      ],
    ],
    [
      '5',
      [
        [-26, 20],
        [-20, 20.1],
        [-26, 20],
      ],
    ],
  ] as const)('case %s: the gate', (_case, parts) => {
    const meter = new LoudnessMeter();
    play(meter, parts);
    expect(Math.abs(meter.integrated() + 23)).toBeLessThan(0.1);
  });

  test('case 6: five channels', () => {
    const meter = new LoudnessMeter(5);
    const levels = [-28, -28, -24, -30, -30].map(amplitudeOfDb);
    const blocks = levels.map(() => new Float32Array(480));
    for (let frame = 0; frame < 20 * RATE; frame += 480) {
      for (let i = 0; i < 480; i++) {
        const s = Math.sin((2 * Math.PI * 1000 * (frame + i)) / RATE);
        for (let c = 0; c < 5; c++) blocks[c][i] = levels[c] * s;
      }
      meter.process(blocks, 480);
    }
    expect(Math.abs(meter.integrated() + 23)).toBeLessThan(0.1);
  });

  test('case 9: short-term stays at −23', () => {
    const meter = new LoudnessMeter();
    let time = 0;
    let low = Infinity;
    let high = -Infinity;
    const parts = Array.from(
      { length: 5 },
      () =>
        [
          [-20, 1.34],
          [-30, 1.66],
        ] as const,
    ).flat();
    play(meter, parts, () => {
      time += 128 / RATE;
      if (time < 3.05) return;
      low = Math.min(low, meter.shortTerm);
      high = Math.max(high, meter.shortTerm);
    });
    expect(low).toBeGreaterThan(-23.1);
    expect(high).toBeLessThan(-22.9);
  });

  test('case 12: momentary stays at −23', () => {
    const meter = new LoudnessMeter();
    let blocks = 0;
    let low = Infinity;
    let high = -Infinity;
    play(
      meter,
      Array.from(
        { length: 25 },
        () =>
          [
            [-20, 0.18],
            [-30, 0.22],
          ] as const,
      ).flat(),
      () => {
        blocks += 1;
        if (blocks * 128 < RATE * 1.05) return;
        low = Math.min(low, meter.momentary);
        high = Math.max(high, meter.momentary);
      },
    );
    expect(low).toBeGreaterThan(-23.1);
    expect(high).toBeLessThan(-22.9);
  });

  test.each([0, 3, 7, 13, 19])('case 13: a short tone behind %d × 20 ms of silence', (i) => {
    const meter = new LoudnessMeter();
    play(meter, [
      [-Infinity, i * 0.02],
      [-23, 0.4],
      [-Infinity, 1],
    ]);
    expect(Math.abs(meter.maxMomentary + 23)).toBeLessThan(0.1);
  });
});

test('BS.1770: 997 Hz at full scale in one channel reads −3.01', () => {
  const meter = new LoudnessMeter();
  const left = new Float32Array(RATE).map((_, i) => Math.sin((2 * Math.PI * 997 * i) / RATE));
  meter.process([left, new Float32Array(RATE)], RATE);
  expect(meter.momentary).toBeCloseTo(-3.01, 1);
});

test('silence is −Infinity, not a number made up', () => {
  const meter = new LoudnessMeter();
  play(meter, [[-Infinity, 1]]);
  expect(meter.momentary).toBe(-Infinity);
  expect(meter.integrated()).toBe(-Infinity);
});
