import { expect, test } from 'vitest';
import { dbOfAmplitude } from './decibel';
import { Mixer } from './mixer';
import type { ReturnSend } from './return-mix';
import { PLAIN_STRIP, type StripSettings } from './strip';

const RATE = 48_000;
const HZ = [440, 1000, 1500];

/** A mixer with a tone of its own on each strip, and what is heard in the first return. */
function mixerOf(...strips: Partial<StripSettings>[]) {
  const mixer = new Mixer(4, { denoiser: null }, 2);
  const set = (i: number, settings: Partial<StripSettings>) =>
    mixer.setStrip(i, { ...PLAIN_STRIP, ...settings });
  strips.forEach((settings, i) => set(i, settings));
  let block = 0;
  const heard = (seconds: number, place = 0) => {
    const out: number[] = [];
    for (let n = 0; n < (seconds * RATE) / 128; n++, block++) {
      strips.forEach((_, s) => {
        const tone = new Float32Array(128).map(
          (_, i) => 0.2 * Math.sin((2 * Math.PI * HZ[s] * (block * 128 + i)) / RATE),
        );
        mixer.take(s, tone, tone, 128);
      });
      mixer.finish(128);
      if (mixer.returns[place]) out.push(...mixer.returns[place].out);
    }
    return out;
  };
  return { mixer, set, heard };
}

/** Level of one tone, dB of full scale. */
function level(of: readonly number[], hz: number): number {
  const [re, im] = [Math.cos, Math.sin].map((f) =>
    of.reduce((sum, v, i) => sum + v * f((2 * Math.PI * hz * i) / RATE), 0),
  );
  return dbOfAmplitude((2 * Math.hypot(re, im)) / of.length);
}

/** Each tone after a moment, dB. */
function levels(heard: (seconds: number) => number[]): number[] {
  heard(0.3);
  const last = heard(0.5).slice(-RATE / 4);
  return HZ.map((hz) => level(last, hz));
}

const SENT = dbOfAmplitude(0.2);
const NOTHING = -90;

test('a guest hears everybody but themselves, as loud as viewers do', () => {
  const { mixer, heard } = mixerOf({ role: 'voice' }, { role: 'voice' }, { gainDb: -6 });
  mixer.setReturn(0, ['programme', 'none', 'programme']);
  const [host, self, music] = levels(heard);
  expect(host).toBeCloseTo(SENT, 1);
  expect(music).toBeCloseTo(SENT - 6, 1);
  expect(self).toBeLessThan(NOTHING);
});

test('mutes, scenes and headphone-only channels are not heard in the programme’s share; talking is, whatever they say', () => {
  const { mixer, heard, set } = mixerOf({ muted: true }, { present: false }, { monitor: 'only' });
  mixer.setReturn(0, ['programme', 'programme', 'programme']);
  expect(levels(heard).every((db) => db < NOTHING)).toBe(true);
  mixer.setReturn(0, ['talk', 'talk', 'none']);
  const [host, other] = levels(heard);
  expect(host).toBeCloseTo(SENT, 1);
  expect(other).toBeCloseTo(SENT, 1);
  // …and its fader counts.
  set(0, { muted: true, gainDb: -12 });
  expect(levels(heard)[0]).toBeCloseTo(SENT - 12, 1);
});

test('who waits in the wings is heard in the headphones by their fader, and by viewers and the other guests not', () => {
  const { mixer, heard, set } = mixerOf(
    { present: false, monitor: 'with', gainDb: -6 },
    { monitor: 'with' },
    {},
  );
  mixer.setReturn(0, ['programme', 'none', 'none']);
  const levelsIn = (bus: Float32Array) => {
    const out: number[] = [];
    for (let n = 0; n < 200; n++) {
      heard(128 / RATE);
      out.push(...bus);
    }
    return HZ.map((hz) => level(out.slice(-RATE / 4), hz));
  };
  const inHeadphones = () => levelsIn(mixer.monitor.left);
  expect(inHeadphones()[0]).toBeLessThan(NOTHING);
  mixer.setWings(1);
  const [waiting, other] = inHeadphones();
  expect(waiting).toBeCloseTo(SENT - 6, 1);
  expect(other).toBeCloseTo(SENT, 1);
  expect(levels(heard)[0]).toBeLessThan(NOTHING);
  expect(levelsIn(mixer.tracks[0].left)[0]).toBeLessThan(NOTHING);
  // Brought on they are heard once, not twice.
  mixer.setWings(0);
  set(0, { monitor: 'with', gainDb: -6 });
  heard(0.3);
  expect(inHeadphones()[0]).toBeCloseTo(SENT - 6, 1);
});

test('nobody listens: nothing is worked out; places do not hear each other', () => {
  const { mixer, heard } = mixerOf({}, {}, {});
  expect(heard(0.1)).toEqual([]);
  mixer.setReturn(1, ['programme', 'none', 'none']);
  mixer.setReturn(0, ['none', 'programme', 'none']);
  const [first, second] = levels(heard);
  expect(first).toBeLessThan(NOTHING);
  expect(second).toBeCloseTo(SENT, 1);
  mixer.setReturn(0, null);
  expect(mixer.returns[0]).toBeNull();
});

test('switched without a click, and never over full scale', () => {
  const { mixer, heard } = mixerOf({}, {}, {});
  mixer.setReturn(0, ['none', 'none', 'none']);
  heard(0.1);
  mixer.setReturn(0, ['programme', 'none', 'none'] satisfies ReturnSend[]);
  const came = heard(0.2);
  const steepest = came.reduce((most, v, i) => Math.max(most, Math.abs(v - (came[i - 1] ?? 0))), 0);
  // A sine of this height and pitch is never steeper than this; a step would be.
  expect(steepest).toBeLessThan(((0.2 * 2 * Math.PI * HZ[0]) / RATE) * 1.2);
  const loud = mixerOf({ gainDb: 12 }, { gainDb: 12 }, { gainDb: 12 });
  loud.mixer.setReturn(0, ['programme', 'talk', 'programme']);
  expect(Math.max(...loud.heard(0.5).map(Math.abs))).toBeLessThanOrEqual(0.92);
});
