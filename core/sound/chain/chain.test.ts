import { readFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { amplitudeOfDb, dbOfAmplitude } from '../decibel';
import { BLOCK_FRAMES } from '../format';
import { designBand, responseDb } from '../biquad';
import {
  BAND_RANGES,
  BAND_SHAPES,
  newProcessor,
  PARAMETERS,
  PROCESSOR_TYPES,
  voiceChain,
  type ChainSettings,
  type EqualiserBand,
  type Processor,
  type ProcessorOf,
  type ProcessorType,
} from './chain-settings';
import { SHIPPED_CHAINS } from './chain-presets';
import { compressorGainDb } from './compressor';
import { Gate } from './gate';
import { Limiter } from '../limiter';
import { RnnoiseModule } from './rnnoise';
import { VoiceChain } from './voice-chain';

const RATE = 48_000;
const noiseModule = new RnnoiseModule(
  readFileSync(path.resolve('node_modules/@shiguredo/rnnoise-wasm/dist/rnnoise_simd.wasm')),
);
const parts = { denoiser: () => noiseModule.open(), stagger: 0 };

function processorOf<T extends ProcessorType>(type: T, values: Record<string, number>): ProcessorOf<T> {
  const processor = newProcessor(type, type);
  return { ...processor, values: { ...processor.values, ...values } } as ProcessorOf<T>;
}
const chainOf = (...processors: Processor[]): ChainSettings => ({ bypassed: false, processors });

/** Runs samples through a chain in blocks, as the sound thread does; `seen` is told of every block. */
function through(
  settings: ChainSettings,
  samples: Float32Array,
  seen?: (chain: VoiceChain, block: number) => void,
): Float32Array {
  const chain = new VoiceChain(parts);
  chain.set(settings);
  const out = samples.slice();
  for (let at = 0; at + BLOCK_FRAMES <= out.length; at += BLOCK_FRAMES) {
    chain.process(out.subarray(at, at + BLOCK_FRAMES), null, BLOCK_FRAMES);
    seen?.(chain, at / BLOCK_FRAMES);
  }
  return out;
}
const tone = (hz: number, db: number, seconds: number) =>
  new Float32Array(Math.round((seconds * RATE) / BLOCK_FRAMES) * BLOCK_FRAMES).map(
    (_, i) => amplitudeOfDb(db) * Math.sin((2 * Math.PI * hz * i) / RATE),
  );
/** Tone whose level steps at `at` seconds. */
const stepped = (before: number, after: number, at: number, seconds: number) => {
  const wave = tone(1000, 0, seconds);
  return wave.map((v, i) => v * amplitudeOfDb(i < at * RATE ? before : after));
};
const peakDb = (x: Float32Array, from: number, to: number) =>
  dbOfAmplitude(x.subarray(from * RATE, to * RATE).reduce((m, v) => Math.max(m, Math.abs(v)), 0));
const rmsDb = (x: Float32Array) => 10 * Math.log10(x.reduce((s, v) => s + v * v, 0) / x.length);

test('without a denoiser the others keep their places, and their readings', () => {
  const chain = new VoiceChain({ ...parts, denoiser: null });
  const [noise, gate, limiter] = [
    newProcessor('noise', 'n'),
    newProcessor('gate', 'g'),
    newProcessor('limiter', 'l'),
  ];
  chain.set({ bypassed: false, processors: [noise, gate, limiter] });
  const block = new Float32Array(BLOCK_FRAMES).fill(0.5);
  chain.process(block, null, BLOCK_FRAMES);
  expect(chain.processorAt(0)).toMatchObject({ latencyFrames: 0, gainDb: 0 });
  expect(chain.processorAt(0)!.inputDb).toBeCloseTo(-6.02, 1);
  expect(chain.processorAt(1)).toBeInstanceOf(Gate);
  expect(chain.processorAt(2)!.latencyFrames).toBe(Limiter.latencyFrames);
  expect(chain.processorAt(3)).toBeNull();
  // The sound passes it untouched.
  const alone = new VoiceChain({ ...parts, denoiser: null });
  alone.set({ bypassed: false, processors: [noise] });
  const sound = Float32Array.from({ length: BLOCK_FRAMES }, (_, i) => Math.sin(i / 9) / 3);
  const before = sound.slice();
  alone.process(sound, null, BLOCK_FRAMES);
  alone.set({ bypassed: false, processors: [{ ...noise, on: false }] });
  alone.process(sound, null, BLOCK_FRAMES);
  expect(sound).toEqual(before);
});

describe('filters', () => {
  test.each(BAND_SHAPES)(
    '%s: a tone is changed by what the transfer function says, within 0.1 dB',
    (shape) => {
      for (const hz of [60, 200, 900, 1100, 4000, 12_000]) {
        const band: EqualiserBand = { on: true, shape, frequencyHz: 1000, gainDb: 6, q: 1.4 };
        const expected = responseDb(designBand(shape, 1000, 6, 1.4, RATE), hz, RATE);
        if (expected < -60) continue;
        const equaliser = { ...processorOf('equaliser', {}), bands: [band] };
        const out = through(chainOf(equaliser), tone(hz, -12, 1));
        expect(Math.abs(rmsDb(out.subarray(RATE / 2)) + 12 + 3.0103 - expected)).toBeLessThan(0.1);
      }
    },
  );

  test('known points: −3 dB at a Butterworth corner, the gain at a bell’s middle, nothing at a notch', () => {
    expect(responseDb(designBand('high-pass', 80, 0, Math.SQRT1_2, RATE), 80, RATE)).toBeCloseTo(-3.01, 2);
    expect(responseDb(designBand('bell', 3000, -4.5, 2, RATE), 3000, RATE)).toBeCloseTo(-4.5, 6);
    expect(responseDb(designBand('low-shelf', 200, 5, 0.7, RATE), 1, RATE)).toBeCloseTo(5, 2);
    expect(responseDb(designBand('notch', 50, 0, 10, RATE), 50, RATE)).toBeLessThan(-100);
  });

  test('de-hum takes the lines and leaves what is between them', () => {
    const dehum = processorOf('dehum', { frequencyHz: 50, harmonics: 4, q: 25 });
    expect(rmsDb(through(chainOf(dehum), tone(100, -20, 4)).subarray(3 * RATE))).toBeLessThan(-80);
    expect(rmsDb(through(chainOf(dehum), tone(125, -20, 2)).subarray(RATE))).toBeCloseTo(-23.01, 0);
  });

  test('de-esser turns hiss down by what it is over, at most by its range, and leaves the rest alone', () => {
    const deesser = processorOf('deesser', { frequencyHz: 6500, thresholdDb: -30, rangeDb: 8 });
    const cut = (db: number) => peakDb(through(chainOf(deesser), tone(6500, db, 1)), 0.5, 1) - db;
    expect(cut(-40)).toBeCloseTo(0, 1);
    expect(cut(-25)).toBeCloseTo(-5, 0);
    expect(cut(-6)).toBeCloseTo(-8, 0);
    expect(peakDb(through(chainOf(deesser), tone(400, -6, 1)), 0.5, 1)).toBeCloseTo(-6, 1);
  });
});

describe('compressor', () => {
  test('worked example: threshold −18, 4:1, −6 in gives −15 out', () => {
    expect(-6 + compressorGainDb(-6, { thresholdDb: -18, ratio: 4, kneeDb: 0 })).toBeCloseTo(-15, 9);
  });

  test.each([-40, -24, -20, -18, -15, -12, -6, -1])('static curve at %d dB within 0.1 dB', (db) => {
    const compressor = processorOf('compressor', { thresholdDb: -18, ratio: 4, kneeDb: 6, makeUpDb: 3 });
    const out = through(chainOf(compressor), tone(1000, db, 1));
    const expected = db + 3 + compressorGainDb(db, compressor.values);
    expect(Math.abs(peakDb(out, 0.6, 1) - expected)).toBeLessThan(0.1);
  });

  /** Seconds after the step until the reduction has gone 63 % of its way. */
  function timeConstant(
    values: Record<string, number>,
    before: number,
    after: number,
    holdMs: number,
  ): number {
    const compressor = processorOf('compressor', { thresholdDb: -30, ratio: 4, kneeDb: 0, ...values });
    const seen: number[] = [];
    through(chainOf(compressor), stepped(before, after, 1, 3), (chain) =>
      seen.push(chain.processorAt(0)!.gainDb),
    );
    const at = Math.round(RATE / BLOCK_FRAMES);
    const from = seen[at - 1];
    const to = seen.at(-1)!;
    const goal = from + (to - from) * (1 - 1 / Math.E);
    const crossed = seen.findIndex((g, i) => i >= at && (to < from ? g <= goal : g >= goal));
    // Between two blocks in a straight line.
    const share = (goal - seen[crossed - 1]) / (seen[crossed] - seen[crossed - 1]);
    return ((crossed - 1 + share + 1) * BLOCK_FRAMES) / RATE - 1 - holdMs / 1000;
  }

  test.each([40, 100])('an attack of %d ms reaches 63 %% in that time, within 5 %%', (attackMs) => {
    const seconds = timeConstant({ attackMs, releaseMs: 100 }, -40, -6, 0);
    expect(Math.abs(seconds * 1000 - attackMs)).toBeLessThan(attackMs * 0.05);
  });

  test.each([60, 300])('a release of %d ms likewise, after the 10 ms the level is held', (releaseMs) => {
    const seconds = timeConstant({ attackMs: 1, releaseMs }, -6, -60, 10);
    expect(Math.abs(seconds * 1000 - releaseMs)).toBeLessThan(releaseMs * 0.05);
  });
});

describe('gate and expander', () => {
  const gate = processorOf('gate', {
    openDb: -30,
    closeDb: -36,
    attackMs: 20,
    holdMs: 100,
    releaseMs: 200,
    rangeDb: 40,
  });

  test('opens at one threshold, closes at the lower, and stays as it is between them', () => {
    const rising = through(chainOf(gate), stepped(-33, -28, 1, 3));
    expect(peakDb(rising, 0.5, 0.95)).toBeCloseTo(-33 - 40, 0);
    expect(peakDb(rising, 1.5, 3)).toBeCloseTo(-28, 1);
    const between = through(chainOf(gate), stepped(-28, -33, 1, 3));
    expect(peakDb(between, 2, 3)).toBeCloseTo(-33, 1);
    const closed = through(chainOf(gate), stepped(-28, -38, 1, 3));
    expect(peakDb(closed, 2, 3)).toBeCloseTo(-38 - 40, 0);
  });

  test('attack, hold and release take what their definitions say, within 5 %', () => {
    const gains: number[] = [];
    through(chainOf(gate), stepped(-50, -20, 1, 2), (c) =>
      gains.push(amplitudeOfDb(c.processorAt(0)!.gainDb)),
    );
    const first = gains.findIndex((g) => g > 0.5);
    const attack =
      ((first + (0.5 - gains[first - 1]) / (gains[first] - gains[first - 1])) * BLOCK_FRAMES) / RATE;
    // Half of the way up a straight line.
    expect(Math.abs(attack - 1 - 0.01)).toBeLessThan(0.003);
    const down: number[] = [];
    through(chainOf(gate), stepped(-20, -90, 1, 3), (c) => down.push(c.processorAt(0)!.gainDb));
    const begins = (down.findIndex((g, i) => i > 375 && g < -0.2) * BLOCK_FRAMES) / RATE - 1;
    const ends = (down.findIndex((g, i) => i > 375 && g <= -39.9) * BLOCK_FRAMES) / RATE - 1;
    expect(begins).toBeGreaterThan(0.1);
    expect(begins).toBeLessThan(0.12);
    expect(Math.abs(ends - begins - 0.2)).toBeLessThan(0.01);
  });

  test('knocks below its key filter do not open it', () => {
    const out = through(chainOf(gate), tone(45, -8, 1));
    expect(peakDb(out, 0.5, 1)).toBeLessThan(-40);
  });

  test('the expander doubles what is below its threshold, down to its range', () => {
    const expander = processorOf('expander', { thresholdDb: -40, ratio: 3, rangeDb: 24 });
    const level = (db: number) => peakDb(through(chainOf(expander), tone(1000, db, 1.5)), 1, 1.5);
    expect(level(-35)).toBeCloseTo(-35, 1);
    expect(level(-45)).toBeCloseTo(-55, 1);
    expect(level(-70)).toBeCloseTo(-94, 0);
  });
});

describe('noise reduction', () => {
  test('takes more than 20 dB of steady noise at full amount, nothing at none, 20 ms late', () => {
    let state = 5;
    const noise = new Float32Array(4 * RATE).map(() => {
      state = (Math.imul(state, 1664525) + 1013904223) | 0;
      return (state / 2147483648) * 0.002;
    });
    const wet = through(chainOf(processorOf('noise', { amount: 100 })), noise);
    expect(rmsDb(wet.subarray(3 * RATE)) - rmsDb(noise.subarray(3 * RATE))).toBeLessThan(-20);
    const dry = through(chainOf(processorOf('noise', { amount: 0 })), noise);
    for (let i = 10_000; i < 11_000; i++) expect(dry[i]).toBe(noise[i - 960]);
  });

  test('gives the same bits every time', () => {
    const settings = chainOf(...voiceChain(() => 'x').processors.map((p, i) => ({ ...p, id: String(i) })));
    const once = through(settings, tone(300, -20, 1));
    expect(through(settings, tone(300, -20, 1))).toEqual(once);
  });

  test('works beside a chain that was staggered differently, with the same delay', () => {
    const impulse = new Float32Array(40 * BLOCK_FRAMES);
    impulse[1280] = 0.5;
    for (const stagger of [0, 1, 2, 3, 7]) {
      const chain = new VoiceChain({ ...parts, stagger });
      chain.set(chainOf(processorOf('noise', { amount: 0 })));
      const out = impulse.slice();
      for (let at = 0; at < out.length; at += BLOCK_FRAMES)
        chain.process(out.subarray(at, at + BLOCK_FRAMES), null, BLOCK_FRAMES);
      expect(out.indexOf(0.5)).toBe(1280 + 960);
    }
  });
});

describe('the chain', () => {
  const anyChain = fc
    .array(fc.constantFrom(...PROCESSOR_TYPES), { maxLength: 5 })
    .map((types) => types.map((type, i) => ({ ...newProcessor(type, String(i)) })));

  test('passed by it is the identity, only later', () => {
    fc.assert(
      fc.property(anyChain, fc.boolean(), (processors, whole) => {
        const settings: ChainSettings = whole
          ? { bypassed: true, processors }
          : { bypassed: false, processors: processors.map((p) => ({ ...p, on: false })) };
        const chain = new VoiceChain(parts);
        chain.set(settings);
        const wave = tone(440, -10, 0.3);
        const out = wave.slice();
        for (let at = 0; at < out.length; at += BLOCK_FRAMES)
          chain.process(out.subarray(at, at + BLOCK_FRAMES), null, BLOCK_FRAMES);
        const late = chain.latencyFrames;
        for (let i = late + 2 * BLOCK_FRAMES; i < out.length; i++)
          if (out[i] !== wave[i - late]) throw new Error(`sample ${i} differs`);
      }),
      { seed: 3, numRuns: 30 },
    );
  });

  test('absurd values, in range or not, never give anything but numbers', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...PROCESSOR_TYPES),
        fc.array(fc.oneof(fc.double(), fc.constantFrom(NaN, 1e9, -1e9, 0)), { minLength: 6, maxLength: 6 }),
        (type, values) => {
          const ranges = Object.entries(PARAMETERS[type]) as [string, { min: number; max: number }][];
          const kept = Object.fromEntries(
            ranges.map(([name, { min, max }], i) => [
              name,
              Number.isFinite(values[i]) ? Math.min(max, Math.max(min, values[i])) : min,
            ]),
          );
          const processor = processorOf(type, kept) as Processor;
          if (processor.type === 'equaliser')
            processor.bands = BAND_SHAPES.map((shape, i) => ({
              on: true,
              shape,
              frequencyHz: [BAND_RANGES.frequencyHz.min, BAND_RANGES.frequencyHz.max][i % 2],
              gainDb: [BAND_RANGES.gainDb.min, BAND_RANGES.gainDb.max][i % 2],
              q: [BAND_RANGES.q.min, BAND_RANGES.q.max][(i >> 1) % 2],
            }));
          const out = through(chainOf(processor), tone(997, 6, 0.2));
          if (!out.every(Number.isFinite)) throw new Error(`${type} gave no number`);
        },
      ),
      { seed: 5, numRuns: 60 },
    );
  });

  test.each(PROCESSOR_TYPES)('switching %s on and off while it runs does not click', (type) => {
    const chain = new VoiceChain(parts);
    const processor = newProcessor(type, 'p');
    const wave = tone(150, -8, 1.2);
    const out = wave.slice();
    for (let at = 0, block = 0; at < out.length; at += BLOCK_FRAMES, block++) {
      if (block % 60 === 0) chain.set(chainOf({ ...processor, on: block % 120 === 0 }));
      chain.process(out.subarray(at, at + BLOCK_FRAMES), null, BLOCK_FRAMES);
    }
    let step = 0;
    for (let i = RATE / 10; i < out.length; i++) step = Math.max(step, Math.abs(out[i] - out[i - 1]));
    // 150 Hz at −8 dB moves by 0.008 a sample; a cut would be up to 0.4.
    expect(step).toBeLessThan(0.035);
  });

  test('a processor that stays keeps its state while others come and go', () => {
    const chain = new VoiceChain(parts);
    const gate = processorOf('gate', { openDb: -40 });
    chain.set(chainOf(gate));
    const block = tone(1000, -20, 0.01).slice(0, BLOCK_FRAMES);
    for (let i = 0; i < 50; i++) chain.process(block.slice(), null, BLOCK_FRAMES);
    const kept = chain.processorAt(0);
    chain.set(chainOf(processorOf('limiter', {}), gate));
    chain.process(block.slice(), null, BLOCK_FRAMES);
    expect(chain.processorAt(1)).toBe(kept);
    expect(chain.latencyFrames).toBe(240);
  });

  test('every shipped chain runs and keeps talk below full scale', () => {
    for (const { make } of SHIPPED_CHAINS) {
      let n = 0;
      const out = through(
        make(() => String(n++)),
        tone(220, -6, 0.5),
      );
      expect(out.every((v) => Math.abs(v) <= 1)).toBe(true);
    }
  });
});
