import { describe, expect, test } from 'vitest';
import { LINE_UP, type ToneChannel } from '../show/channels/tone';
import { dbOfAmplitude } from './decibel';
import { LoudnessMeter } from './loudness-meter';
import { TestTone } from './test-tone';

const RATE = 48_000;

/** Both sides, in blocks as the sound thread asks for them. */
function render(tone: Partial<ToneChannel>, seconds: number) {
  const generator = new TestTone({ ...LINE_UP, ...tone });
  const left = new Float32Array(seconds * RATE);
  const right = new Float32Array(seconds * RATE);
  for (let at = 0; at < left.length; at += 128)
    generator.render(at, left.subarray(at, at + 128), right.subarray(at, at + 128), 128);
  return { left, right };
}

const peakDb = (samples: Float32Array) =>
  dbOfAmplitude(samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0));
const meanDb = (samples: Float32Array) =>
  dbOfAmplitude(Math.sqrt(samples.reduce((sum, value) => sum + value * value, 0) / samples.length));

/** Level of one frequency (Goertzel), dB of its amplitude. */
function levelAt(samples: Float32Array, hz: number): number {
  const step = 2 * Math.cos((2 * Math.PI * hz) / RATE);
  let [a, b] = [0, 0];
  for (const value of samples) [a, b] = [value + step * a - b, a];
  return dbOfAmplitude((2 * Math.sqrt(a * a + b * b - step * a * b)) / samples.length);
}

describe('test tone', () => {
  test('line-up is 1 kHz at −18 dBFS on both sides, with next to nothing beside it', () => {
    const { left, right } = render({}, 2);
    expect(left).toEqual(right);
    expect(peakDb(left)).toBeCloseTo(-18, 2);
    expect(levelAt(left, 1000)).toBeCloseTo(-18, 2);
    for (const hz of [500, 2000, 3000]) expect(levelAt(left, hz)).toBeLessThan(-90);
  });

  test('a stereo tone at −23 dBFS reads −23 LUFS (EBU Tech 3341, test signal 1)', () => {
    const { left, right } = render({ levelDb: -23 }, 10);
    const meter = new LoudnessMeter();
    for (let at = 0; at < left.length; at += 128)
      meter.process([left.subarray(at, at + 128), right.subarray(at, at + 128)], 128);
    expect(meter.integrated()).toBeCloseTo(-23, 1);
  });

  test('interrupted, the left side is silent for a quarter of every three seconds; the right never', () => {
    const { left, right } = render({ ident: true }, 7);
    const silent = (samples: Float32Array) => {
      let count = 0;
      for (let at = 0; at < samples.length; at += 48)
        if (peakDb(samples.subarray(at, at + 48)) < -90) count += 1;
      return count / 1000;
    };
    // Three gaps have begun in seven seconds, less their ramps.
    expect(silent(left)).toBeGreaterThan(0.7);
    expect(silent(left)).toBeLessThanOrEqual(0.75);
    expect(silent(right)).toBe(0);
    // Nothing jumps: a step would click.
    const most = left.reduce(
      (step, value, i) => (i === 0 ? 0 : Math.max(step, Math.abs(value - left[i - 1]))),
      0,
    );
    expect(most).toBeLessThan(0.02);
  });

  test('pink noise has the level asked for as its mean, and 3 dB less an octave', () => {
    const { left } = render({ signal: 'pink', levelDb: -20 }, 60);
    expect(Math.abs(meanDb(left) + 20)).toBeLessThan(0.3);
    expect(peakDb(left)).toBeLessThan(0);
    /** Mean power around a frequency, from many short stretches and a few places of the band. */
    const around = (hz: number) => {
      let power = 0;
      for (let i = 0; i < 600; i++)
        for (const part of [0.8, 0.9, 1, 1.1, 1.2])
          power += 10 ** (levelAt(left.subarray(i * 4800, (i + 1) * 4800), hz * part) / 10);
      return 10 * Math.log10(power);
    };
    const levels = [100, 200, 400, 800, 1600, 3200, 6400].map(around);
    levels.slice(1).forEach((level, i) => expect(Math.abs(level - levels[i] + 3.01)).toBeLessThan(0.5));
  });

  test('a sweep goes from low to high and begins again, as loud all the way', () => {
    const { left } = render({ signal: 'sweep' }, 21);
    const crossings = (fromSeconds: number) => {
      const part = left.subarray(fromSeconds * RATE, (fromSeconds + 0.5) * RATE);
      return (
        part.reduce((count, value, i) => (i > 0 && part[i - 1] < 0 && value >= 0 ? count + 1 : count), 0) * 2
      );
    };
    // Half way in octaves is the geometric mean.
    expect(crossings(10)).toBeGreaterThan(600);
    expect(crossings(10)).toBeLessThan(800);
    expect(crossings(19)).toBeGreaterThan(13_000);
    expect(crossings(20)).toBeLessThan(40);
    for (const second of [5, 12, 19])
      expect(peakDb(left.subarray(second * RATE, (second + 1) * RATE))).toBeCloseTo(-18, 0);
  });
});
