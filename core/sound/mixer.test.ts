import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { amplitudeOfDb, dbOfAmplitude, faderGain } from './decibel';
import { StereoLimiter } from './limiter';
import { Mixer } from './mixer';
import { TruePeakDetector } from './true-peak';

const RATE = 48_000;

describe('true peak, EBU Tech 3341 cases 15 to 19', () => {
  test.each([
    ['15', 0.5, 4, 0, -6],
    ['16', 0.5, 4, 45, -6],
    ['17', 0.5, 6, 60, -6],
    ['18', 0.5, 8, 67.5, -6],
    ['19', 1.41, 4, 45, 3],
  ])('case %s', (_case, amplitude, divider, degrees, expected) => {
    const detector = new TruePeakDetector();
    const tone = new Float32Array(RATE).map((_, i) => {
      const fade = Math.min(1, i / 480, (RATE - i) / 480); // 10 ms: an edge would ring above the tone
      return fade * amplitude * Math.sin((2 * Math.PI * i) / divider + (degrees * Math.PI) / 180);
    });
    const peak = dbOfAmplitude(detector.maxOver(tone, tone.length, 0));
    expect(peak).toBeLessThan(expected + 0.2);
    expect(peak).toBeGreaterThan(expected - 0.4);
  });

  test('skipping blocks that cannot exceed the maximum gives the same maximum', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { minLength: 300, maxLength: 900 }),
        (values) => {
          const plain = new TruePeakDetector();
          const skipping = new TruePeakDetector();
          let expected = 0;
          for (const value of values)
            expected = Math.max(expected, plain.maxOver(new Float32Array([value]), 1, 0));
          let found = 0;
          for (let at = 0; at < values.length; at += 128) {
            const block = new Float32Array(values.slice(at, at + 128));
            found = skipping.maxOver(block, block.length, found);
          }
          expect(found).toBeCloseTo(expected, 9);
        },
      ),
      { seed: 7, numRuns: 50 },
    );
  });
});

describe('limiter', () => {
  test('keeps any input below −1 dBTP', () => {
    const limiter = new StereoLimiter(-1);
    const meter = new TruePeakDetector();
    let seed = 1;
    let peak = 0;
    for (let block = 0; block < 400; block++) {
      const left = new Float32Array(128).map(() => {
        seed = (seed * 1103515245 + 12345) % 2147483648;
        return (seed / 1073741824 - 1) * (block % 40 < 3 ? 6 : 0.3);
      });
      const right = left.map((v) => -v);
      limiter.process(left, right, 128);
      peak = meter.maxOver(left, 128, peak);
    }
    expect(dbOfAmplitude(peak)).toBeLessThan(-0.8);
    expect(dbOfAmplitude(peak)).toBeGreaterThan(-4);
  });

  test('leaves what is below the ceiling alone, 240 samples later', () => {
    const limiter = new StereoLimiter(-1);
    const tone = new Float32Array(4096).map((_, i) => 0.5 * Math.sin(i / 9));
    const left = tone.slice();
    limiter.process(left, tone.slice(), 4096);
    for (let i = 240; i < 4096; i++) expect(left[i]).toBeCloseTo(tone[i - 240], 6);
  });
});

describe('mixer', () => {
  function run(mixer: Mixer, seconds: number, amplitude: number): { left: Float32Array } {
    const blocks = Math.ceil((seconds * RATE) / 128);
    const left = new Float32Array(128);
    const right = new Float32Array(128);
    const tone = new Float32Array(128);
    let frame = 0;
    for (let b = 0; b < blocks; b++) {
      for (let i = 0; i < 128; i++) tone[i] = amplitude * Math.sin((2 * Math.PI * 1000 * frame++) / RATE);
      left.fill(0);
      right.fill(0);
      mixer.add(0, tone, tone, left, right, 128);
      mixer.finish(left, right, 128);
    }
    return { left };
  }

  test('a fader moves the programme and its own meter by its decibels', () => {
    const loud = new Mixer(2);
    loud.setStrip(0, 0, false);
    run(loud, 1, 0.1);
    const quiet = new Mixer(2);
    quiet.setStrip(0, -12, false);
    run(quiet, 1, 0.1);
    expect(loud.loudness.momentary - quiet.loudness.momentary).toBeCloseTo(12, 1);
    expect(quiet.meterOf(0).level).toBeCloseTo(amplitudeOfDb(-12) * 0.1, 3);
  });

  test('a muted channel is silent and its meter still moves', () => {
    const mixer = new Mixer(1);
    mixer.setStrip(0, 0, true);
    const { left } = run(mixer, 0.5, 0.5);
    expect(Math.max(...left.map(Math.abs))).toBe(0);
    expect(mixer.meterOf(0).level).toBeCloseTo(0.5, 2);
  });

  test('clipped samples are counted and peaks held', () => {
    const mixer = new Mixer(1);
    mixer.setStrip(0, 0, false);
    run(mixer, 0.1, 1.2);
    expect(mixer.meterOf(0).clipped).toBeGreaterThan(100);
    const held = mixer.meterOf(0).held;
    run(mixer, 0.5, 0.01);
    expect(mixer.meterOf(0).held).toBe(held);
    expect(mixer.meterOf(0).level).toBeLessThan(held);
  });

  test('the bottom of a fader is silence', () => {
    expect(faderGain(-60)).toBe(0);
    expect(faderGain(0)).toBe(1);
    expect(faderGain(99)).toBeCloseTo(amplitudeOfDb(10));
  });
});
