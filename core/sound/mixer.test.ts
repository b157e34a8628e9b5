import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { amplitudeOfDb, dbOfAmplitude, faderGain } from './decibel';
import { Limiter } from './limiter';
import { newProcessor, PROCESSOR_TYPES } from './chain/chain-settings';
import { ALIGN_FRAMES } from './format';
import { Mixer } from './mixer';
import { PLAIN_STRIP, type StripSettings } from './strip';
import { balanceVerdict } from './voice-balance';
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
    const limiter = new Limiter(-1);
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
    const limiter = new Limiter(-1);
    const tone = new Float32Array(4096).map((_, i) => 0.5 * Math.sin(i / 9));
    const left = tone.slice();
    limiter.process(left, tone.slice(), 4096);
    for (let i = 240; i < 4096; i++) expect(left[i]).toBeCloseTo(tone[i - 240], 6);
  });
});

/** Plays blocks made by `wave` (sample number → left, right) through strip 0 and the programme. */
function run(
  mixer: Mixer,
  seconds: number,
  wave: (frame: number) => [number, number],
  from = 0,
): { left: Float32Array; right: Float32Array; monitor: Float32Array; track: (n: number) => Float32Array } {
  const blocks = Math.ceil((seconds * RATE) / 128);
  const out = Array.from({ length: 8 }, () => new Float32Array(blocks * 128));
  const left = new Float32Array(128);
  const right = new Float32Array(128);
  for (let b = 0; b < blocks; b++) {
    for (let i = 0; i < 128; i++) [left[i], right[i]] = wave(from + b * 128 + i);
    mixer.strips.forEach((strip, s) => strip && mixer.take(s, left, right, 128));
    mixer.finish(128);
    out[6].set(mixer.tracks[0].right, b * 128);
    out[7].set(mixer.monitor.left, b * 128);
    for (let t = 0; t < 6; t++) out[t].set(mixer.tracks[t].left, b * 128);
  }
  return { left: out[0], right: out[6], monitor: out[7], track: (n) => out[n - 1] };
}
const tone = (amplitude: number) => (frame: number) => {
  const v = amplitude * Math.sin((2 * Math.PI * 1000 * frame) / RATE);
  return [v, v] as [number, number];
};
const peak = (x: Float32Array) => x.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
const tail = (x: Float32Array) => x.subarray(x.length - 9600);
const mixerOf = (...strips: Partial<StripSettings>[]) => {
  const mixer = new Mixer(4);
  strips.forEach((settings, i) => mixer.setStrip(i, { ...PLAIN_STRIP, ...settings }));
  return mixer;
};
const LATE = ALIGN_FRAMES + Limiter.latencyFrames;

describe('mixer', () => {
  test('clean windows hear the programme as it is now, without the call it goes to, and the emergency too', () => {
    const mixer = mixerOf({ role: 'voice' }, { role: 'background' }, { muted: true });
    const wave = (hz: number) =>
      new Float32Array(RATE).map((_, i) => 0.2 * Math.sin((2 * Math.PI * hz * i) / RATE));
    const [host, call] = [wave(440), wave(1000)];
    const heard = (seconds: number) => {
      const out: number[] = [];
      for (let at = 0; at + 128 <= seconds * RATE; at += 128) {
        const part = (of: Float32Array) => of.subarray(at, at + 128);
        mixer.take(0, part(host), part(host), 128);
        mixer.take(1, part(call), part(call), 128);
        mixer.take(2, part(host), part(host), 128);
        mixer.finish(128);
        out.push(...mixer.windows.left);
      }
      return out;
    };
    const level = (of: number[], hz: number) => {
      const [re, im] = [Math.cos, Math.sin].map((f) =>
        of.reduce((sum, v, i) => sum + v * f((2 * Math.PI * hz * i) / RATE), 0),
      );
      return dbOfAmplitude((2 * Math.hypot(re, im)) / of.length);
    };
    expect(heard(0.2).every((v) => v === 0)).toBe(true);
    mixer.windowsHear = true;
    heard(0.2);
    const all = heard(0.5).slice(-RATE / 4);
    expect([level(all, 440), level(all, 1000)].every((db) => db > -20)).toBe(true);
    mixer.windowsWithout = 1;
    heard(0.2);
    const minus = heard(0.5).slice(-RATE / 4);
    expect(level(minus, 440)).toBeCloseTo(level(all, 440), 0);
    expect(level(minus, 1000)).toBeLessThan(-60);
    mixer.allMuted = true;
    heard(0.2);
    expect(Math.max(...heard(0.2).map(Math.abs))).toBeLessThan(1e-4);
  });
  test('a fader moves the programme and its own meter by its decibels', () => {
    const loud = mixerOf({});
    run(loud, 1, tone(0.1));
    const quiet = mixerOf({ gainDb: -12 });
    run(quiet, 1, tone(0.1));
    expect(loud.loudness.momentary - quiet.loudness.momentary).toBeCloseTo(12, 1);
    expect(quiet.strips[0]!.meter.level).toBeCloseTo(amplitudeOfDb(-12) * 0.1, 3);
    expect(dbOfAmplitude(quiet.strips[0]!.meter.rms)).toBeCloseTo(-12 - 20 - 3.01, 0);
    expect(loud.strips[0]!.loudness.momentary).toBeCloseTo(loud.loudness.momentary, 1);
  });

  test('a muted channel is silent and its meter still moves', () => {
    const mixer = mixerOf({ muted: true });
    const { left } = run(mixer, 0.5, tone(0.5));
    expect(peak(left)).toBe(0);
    expect(mixer.strips[0]!.meter.level).toBeCloseTo(0.5, 2);
  });

  test('clipped samples are counted and peaks held', () => {
    const mixer = mixerOf({});
    run(mixer, 0.1, tone(1.2));
    const { meter } = mixer.strips[0]!;
    expect(meter.clipped).toBeGreaterThan(100);
    const { held } = meter;
    run(mixer, 0.5, tone(0.01));
    expect(meter.held).toBe(held);
    expect(meter.level).toBeLessThan(held);
  });

  test('the bottom of a fader is silence', () => {
    expect(faderGain(-60)).toBe(0);
    expect(faderGain(0)).toBe(1);
    expect(faderGain(99)).toBeCloseTo(amplitudeOfDb(10));
  });

  test('pan, mono and phase do what they say', () => {
    const stereo = (f: number): [number, number] => [tone(0.2)(f)[0], 0];
    const side = run(mixerOf({ pan: -1 }), 1, tone(0.2));
    expect(peak(tail(side.right))).toBeLessThan(1e-6);
    expect(peak(tail(side.left))).toBeCloseTo(0.2 * Math.SQRT2, 2);
    const mono = run(mixerOf({ mono: true }), 1, stereo);
    expect(peak(tail(mono.left))).toBeCloseTo(0.1, 3);
    expect(tail(mono.left)).toEqual(tail(mono.right));
    const both = run(mixerOf({}, { inverted: true }), 1, tone(0.3));
    expect(peak(tail(both.left))).toBe(0);
  });

  test.each([-200, 0, 35, 2000])('an offset of %d ms moves the sound by just that', (offsetMs) => {
    const impulse = (f: number): [number, number] => (f === 480 ? [0.5, 0.5] : [0, 0]);
    const { left } = run(mixerOf({ offsetMs }), 2.6, impulse);
    expect(left.indexOf(peak(left))).toBe(480 + LATE + (offsetMs * RATE) / 1000);
  });

  test('chains of different delay stay together', () => {
    const limiter = newProcessor('limiter', 'l');
    const impulse = (f: number): [number, number] => (f === 9600 ? [0.4, 0.4] : [0, 0]);
    const { left } = run(mixerOf({ chain: { bypassed: false, processors: [limiter] } }, {}), 0.6, impulse);
    expect(left[9600 + LATE]).toBeCloseTo(0.8, 4);
  });

  test('a scene brings a channel with its fade, at equal power', () => {
    const mixer = mixerOf({ present: false, fadeSeconds: 0.5 });
    run(mixer, 0.3, tone(0.4));
    mixer.setStrip(0, { ...PLAIN_STRIP, present: true, fadeSeconds: 0.5 });
    const { left } = run(mixer, 1.2, tone(0.4));
    const level = (at: number) => peak(left.subarray(LATE + at * RATE, LATE + at * RATE + 480));
    expect(level(0.25)).toBeCloseTo(0.4 * Math.SQRT1_2, 1);
    expect(level(0.6)).toBeCloseTo(0.4, 3);
  });

  test('tracks, monitor and solo: who is heard where', () => {
    const mixer = mixerOf({ tracks: [1, 3] }, { tracks: [2], monitor: 'with' }, { monitor: 'only' });
    const first = run(mixer, 0.6, tone(0.1));
    expect(peak(tail(first.left))).toBeCloseTo(0.1, 3);
    expect(peak(tail(first.track(2)))).toBeCloseTo(0.1, 3);
    expect(peak(tail(first.track(3)))).toBeCloseTo(0.1, 3);
    expect(peak(tail(first.track(4)))).toBe(0);
    expect(peak(tail(first.monitor))).toBeCloseTo(0.2, 3);
    mixer.solo = 0b001;
    const second = run(mixer, 0.6, tone(0.1));
    expect(peak(tail(second.monitor))).toBeCloseTo(0.1, 3);
    expect(peak(tail(second.left))).toBeCloseTo(0.1, 3);
    mixer.allMuted = true;
    const third = run(mixer, 0.6, tone(0.1));
    expect(peak(tail(third.left)) + peak(tail(third.track(3)))).toBe(0);
    // Down and up again without a step in any of them: a cut would be a click in the recording of that track.
    mixer.allMuted = false;
    const steps = (x: Float32Array) =>
      x.reduce((most, v, i) => (i === 0 ? 0 : Math.max(most, Math.abs(v - x[i - 1]))), 0);
    const calm = steps(first.track(3).subarray(first.left.length / 2));
    for (const back of [
      run(mixer, 0.2, tone(0.1)),
      (mixer.allMuted = true) && run(mixer, 0.2, tone(0.1)),
    ] as const)
      for (const track of [2, 3]) expect(steps(back.track(track))).toBeLessThan(calm * 1.2);
  });

  test('compare: the headphones hear it before the chain, as loud as behind it; the programme does not notice', () => {
    const equaliser = newProcessor('equaliser', 'e');
    const bands = [{ on: true, shape: 'low-pass' as const, frequencyHz: 800, gainDb: 0, q: 0.7 }];
    const chain = { bypassed: false, processors: [{ ...equaliser, bands } as typeof equaliser] };
    const mixer = mixerOf({ monitor: 'with', chain });
    const wave = (f: number): [number, number] => {
      const v = 0.05 * (Math.sin((2 * Math.PI * 200 * f) / RATE) + Math.sin((2 * Math.PI * 6000 * f) / RATE));
      return [v, v];
    };
    const high = (x: Float32Array) => {
      const [sine, cosine] = [Math.sin, Math.cos].map((wing) =>
        tail(x).reduce((sum, v, i) => sum + v * wing((2 * Math.PI * 6000 * i) / RATE), 0),
      );
      return (2 * Math.hypot(sine, cosine)) / tail(x).length;
    };
    const rms = (x: Float32Array) => Math.sqrt(tail(x).reduce((sum, v) => sum + v * v, 0) / tail(x).length);
    const before = run(mixer, 4, wave);
    expect(high(before.monitor)).toBeLessThan(0.002);
    mixer.setCompare(0);
    const comparing = run(mixer, 8, wave);
    expect(high(comparing.left)).toBeLessThan(0.002);
    // What the chain takes away is there again, and the whole is not louder for it.
    expect(high(comparing.monitor)).toBeGreaterThan(0.01);
    expect(rms(comparing.monitor)).toBeLessThan(rms(before.monitor) * 1.3);
    mixer.setCompare(-1);
    expect(high(run(mixer, 1, wave).monitor)).toBeLessThan(0.002);
  });

  test('the order of channels does not matter', () => {
    const ducking = { ...DUCK, key: 1 };
    const one = mixerOf({ gainDb: -6, ducking }, { role: 'voice' }, { pan: 0.5 });
    const other = mixerOf({ pan: 0.5 }, { role: 'voice' }, { gainDb: -6, ducking });
    const a = run(one, 0.5, tone(0.2)).left;
    const b = run(other, 0.5, tone(0.2)).left;
    for (let i = 0; i < a.length; i++) expect(Math.abs(a[i] - b[i])).toBeLessThan(1e-6);
  });

  test('ducking goes down by its depth within the attack and comes back after the hold', () => {
    const mixer = mixerOf({ ducking: { ...DUCK, key: 1 } }, { tracks: [] });
    const speaking =
      (from: number, to: number) =>
      (f: number): [number, number] => {
        const v = f / RATE >= from && f / RATE < to ? 0.5 : 0;
        return [v, v];
      };
    const left = new Float32Array(128).fill(0.1);
    const seen: number[] = [];
    for (let b = 0; b < 2 * 375; b++) {
      const key = new Float32Array(128).map((_, i) => speaking(0.5, 1)(b * 128 + i)[0]);
      mixer.take(0, left, left, 128);
      mixer.take(1, key, key, 128);
      mixer.finish(128);
      seen.push(mixer.strips[0]!.ducker.gainDb);
    }
    const at = (seconds: number) => seen[Math.round(seconds * 375)];
    expect(at(0.45)).toBe(0);
    expect(at(0.5 + 0.05)).toBeCloseTo(-6, 0);
    expect(at(0.62)).toBe(-12);
    expect(at(1.15)).toBe(-12);
    expect(at(1.2 + 0.2)).toBeCloseTo(-6, 0);
    expect(at(1.7)).toBe(0);
  });

  test('what voices stand above the rest is measured, to a decibel', () => {
    const mixer = mixerOf({ role: 'voice' }, { gainDb: -14 });
    run(mixer, 3, tone(0.2));
    expect(mixer.balance.ratioLu()).toBeCloseTo(14, 0);
    expect(balanceVerdict(mixer.balance.ratioLu())).toEqual({
      text: 'voice 14 dB above the rest: clear',
      fine: true,
    });
    expect(mixerOf({ role: 'voice' }).balance.ratioLu()).toBeNaN();
  });

  test('nothing that comes in can make the programme no number or louder than its ceiling', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.double(), fc.constantFrom(NaN, Infinity, -Infinity, 1e30, 8)), {
          minLength: 8,
          maxLength: 40,
        }),
        fc.constantFrom(...PROCESSOR_TYPES),
        fc.float({ min: -60, max: 10, noNaN: true }),
        (values, type, gainDb) => {
          const processor = newProcessor(type, 'p');
          const mixer = mixerOf({ gainDb, chain: { bypassed: false, processors: [processor] } });
          const { left, right } = run(mixer, 0.4, (f) => [
            values[f % values.length],
            values[(f * 7) % values.length],
          ]);
          const ceiling = amplitudeOfDb(-1);
          const held = (x: Float32Array) => x.every((v) => Math.abs(v) <= ceiling);
          expect(held(left) && held(right)).toBe(true);
        },
      ),
      { seed: 11, numRuns: 40 },
    );
  });

  test.each([
    ['fader', { gainDb: -20 }],
    ['pan', { pan: 1 }],
    ['phase', { inverted: true }],
    ['mono', { mono: true }],
    ['trim', { trimDb: -12 }],
    ['mute', { muted: true }],
    ['offset', { offsetMs: 13 }],
    ['track', { tracks: [2] }],
    ['a processor that comes', { chain: { bypassed: false, processors: [newProcessor('compressor', 'c')] } }],
    ['an equaliser that comes', { chain: { bypassed: false, processors: [newProcessor('equaliser', 'e')] } }],
  ] as [string, Partial<StripSettings>][])('moving the %s while it runs does not click', (_name, change) => {
    const wave = (f: number): [number, number] => [
      0.5 * Math.sin((2 * Math.PI * 200 * f) / RATE),
      0.3 * Math.sin((2 * Math.PI * 200 * f) / RATE + 1),
    ];
    const mixer = mixerOf({});
    const start = run(mixer, 0.5, wave);
    mixer.setStrip(0, { ...PLAIN_STRIP, ...change });
    const after = run(mixer, 0.6, wave, start.left.length);
    let step = 0;
    let last = start.left.at(-1)!;
    for (const v of after.left) {
      step = Math.max(step, Math.abs(v - last));
      last = v;
    }
    // 200 Hz at 0.5 moves by 0.013 a sample; a cut to zero would be 0.5.
    expect(step).toBeLessThan(0.04);
  });
});

const DUCK = { depthDb: 12, thresholdDb: -30, attackMs: 100, holdMs: 200, releaseMs: 400 };
