/** Soundcheck, spectrum match and echo finder on made-up voices that they were not tuned on. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import {
  Correlator,
  decimate,
  ECHO_RATE,
  ECHO_WINDOW,
  EchoFinder,
} from '../../../core/sound/analysis/echo-finder';
import { soundcheck, throughChain, type SoundcheckTakes } from '../../../core/sound/analysis/soundcheck';
import { matchSpectra, voiceSpectrum } from '../../../core/sound/analysis/spectrum-match';
import { RnnoiseModule } from '../../../core/sound/chain/rnnoise';
import { amplitudeOfDb } from '../../../core/sound/decibel';
import { LoudnessMeter } from '../../../core/sound/loudness-meter';
import type { SimulatedSound } from '../../../core/show/records';
import { createSound, HOST_VOICE, VoiceSound, type SoundGenerator, type VoiceKind } from './generators';
import { seededRandom } from '../random';

const RATE = 48_000;
const module = new RnnoiseModule(
  readFileSync(path.resolve('node_modules/@shiguredo/rnnoise-wasm/dist/rnnoise_simd.wasm')),
);
const denoiser = () => module.open();

/** One side of a sound from `from` to `to` seconds. */
function play(generator: SoundGenerator, from: number, to: number): Float32Array {
  const frames = Math.round((to - from) * RATE);
  const out = new Float32Array(frames);
  const left = new Float32Array(128);
  const right = new Float32Array(128);
  for (let at = 0; at < frames; at += 128) {
    generator.render(Math.round(from * RATE) + at, left, right, 128);
    out.set(left.subarray(0, Math.min(128, frames - at)), at);
  }
  return out;
}
const sound = (name: SimulatedSound, from: number, to: number) => play(createSound(name), from, to);

/** The script of the voice: talk from 0, silence from 11 to 13 and 31.5 to 34 (with a thump), a shout from 29. */
function takesOf(kind: VoiceKind): SoundcheckTakes & { unseen: Float32Array } {
  const voice = () => new VoiceSound(kind);
  // The thumps come in the second pause.
  const pauses = [play(voice(), 11.2, 13), play(voice(), 51.2, 53)];
  if (kind.thump > 0.5) pauses.push(play(voice(), 31.7, 33.9));
  const quiet = new Float32Array(pauses.reduce((sum, p) => sum + p.length, 0));
  pauses.reduce((at, p) => (quiet.set(p, at), at + p.length), 0);
  return {
    quiet,
    talk: play(voice(), 0, 10),
    shout: play(voice(), 29, 31.4),
    unseen: play(voice(), 80.3, 90.5),
  };
}

function medianLoudness(samples: Float32Array): number {
  const meter = new LoudnessMeter(1, 2);
  const found: number[] = [];
  for (let from = 0; from + 480 <= samples.length; from += 480) {
    meter.process([samples.subarray(from, from + 480)], 480);
    if (Number.isFinite(meter.shortTerm)) found.push(meter.shortTerm);
  }
  found.sort((a, b) => a - b);
  return found[Math.floor(found.length / 2)];
}

describe('soundcheck', () => {
  const kinds: [string, Partial<VoiceKind>][] = [
    ['an ordinary voice', {}],
    ['a quiet one', { level: HOST_VOICE.level * 0.08, noise: 0.0005, hum: 0.0003 }],
    ['a loud, high one', { level: HOST_VOICE.level * 1.05, pitchHz: 205 }],
    ['a hissing room', { noise: 0.006, hum: 0 }],
    ['a humming cable', { hum: 0.006, humHz: 60 }],
    ['thumps on the desk', { thump: 0.6, pitchHz: 96 }],
  ];
  test.each(kinds)('%s: talk is as loud as aimed at, the gate neither cuts nor opens', (_name, part) => {
    const kind = { ...HOST_VOICE, seed: 5, ...part };
    const { unseen, ...takes } = takesOf(kind);
    const ids = (
      (n) => () =>
        `p${n++}`
    )(0);
    const result = soundcheck(takes, -16, ids, denoiser);
    expect(result.notes.filter((n) => n.kind === 'fault')).toEqual([]);
    expect(Math.abs(result.resultLufs + 16)).toBeLessThan(0.5);
    const heard = medianLoudness(throughChain(unseen, result.trimDb, result.chain, denoiser));
    expect(Math.abs(heard + 16)).toBeLessThan(1);
    expect(result.openInQuiet).toBeLessThan(0.05);
    expect(result.openInTalk).toBeGreaterThan(0.93);
    expect(result.shoutPeakDb + result.trimDb).toBeLessThan(-3);
    if (part.humHz) expect(result.hum?.frequencyHz).toBe(part.humHz);
  });

  test('a clipped input, silence, and no talk are named and what to do about them', () => {
    const takes = takesOf(HOST_VOICE);
    const say = (changed: Partial<SoundcheckTakes>) =>
      soundcheck({ ...takes, ...changed }, -16, () => 'x', denoiser)
        .notes.filter((n) => n.kind === 'fault')
        .map((n) => n.title);
    const clipped = takes.shout.map((v) => Math.min(0.3, Math.max(-0.3, v * 3)));
    expect(say({ shout: clipped })).toEqual(['Clipping in front of this program']);
    expect(say({ talk: new Float32Array(RATE * 5), shout: new Float32Array(RATE) })).toContain('No sound');
    expect(say({ talk: takes.quiet })).toContain('Nothing above the room');
  });
});

describe('match', () => {
  test('a dull voice comes within 3 dB of the reference in every band', () => {
    const reference = play(new VoiceSound({ ...HOST_VOICE, seed: 3, noise: 0.002 }), 0, 10);
    // Another passage, through a dark and boomy microphone: two one-pole filters of the test's own.
    const voice = play(new VoiceSound({ ...HOST_VOICE, seed: 9, noise: 0.002, from: 80 }), 0, 10);
    let low = 0;
    const dull = voice.map((v) => {
      low += (v - low) * 0.12;
      return 0.9 * low + 0.12 * v;
    });
    const match = matchSpectra(voiceSpectrum(reference), voiceSpectrum(dull));
    const before = Math.max(
      ...match.before.map((l, i) => (match.used[i] ? Math.abs(l - match.reference[i]) : 0)),
    );
    expect(before).toBeGreaterThan(5);
    expect(match.worstDb).toBeLessThan(3);
    const chain = {
      bypassed: false,
      processors: [{ id: 'm', type: 'equaliser' as const, on: true, values: {}, bands: match.bands }],
    };
    const heard = voiceSpectrum(throughChain(dull, 0, chain, null));
    const again = matchSpectra(voiceSpectrum(reference), heard);
    const left = again.before.map((l, i) => (again.used[i] ? Math.abs(l - again.reference[i]) : 0));
    expect(Math.max(...left)).toBeLessThan(3);
  });
});

/** What the microphone hears of the reference, `delayMs` later and `db` quieter, through a small room. */
function echoed(reference: Float32Array, delayMs: number, db: number): Float32Array {
  const lag = Math.round((delayMs * ECHO_RATE) / 1000);
  const gain = amplitudeOfDb(db);
  return reference.map((_, i) => gain * ((reference[i - lag] ?? 0) + 0.4 * (reference[i - lag - 37] ?? 0)));
}
function at16k(samples: Float32Array): Float32Array {
  const out = new Float32Array(Math.floor(samples.length / 3));
  decimate(samples, out);
  return out;
}
function mixed(...parts: readonly Float32Array[]): Float32Array {
  return parts[0].map((_, i) => parts.reduce((sum, p) => sum + p[i], 0));
}

describe('echo finder', () => {
  const seconds = 16;
  const programme = at16k(
    mixed(
      sound('switchback', 0, seconds).map((v) => v * 0.4),
      sound('night-music', 0, seconds).map((v) => v * 0.3),
      sound('voice-call', 0, seconds).map((v) => v * 0.8),
    ),
  );
  const random = seededRandom(4);
  const noise = (db: number) => programme.map(() => (random() * 2 - 1) * amplitudeOfDb(db));
  const talker = at16k(play(new VoiceSound({ ...HOST_VOICE, seed: 77, from: 204 }), 0, seconds));
  const rms = (x: Float32Array) => Math.sqrt(x.reduce((s, v) => s + v * v, 0) / x.length);
  const watch = (microphone: Float32Array, reference: Float32Array) => {
    const finder = new EchoFinder();
    let found = null;
    for (let end = ECHO_WINDOW; end <= 12 * ECHO_RATE; end += 2 * ECHO_RATE)
      found ??= finder.look(
        microphone.slice(end - ECHO_WINDOW, end),
        reference.slice(end - ECHO_WINDOW, end),
      );
    return found;
  };

  test.each([20, 90, 240, 480, 900, 1490])('%d ms is found in noise as loud as the echo', (delayMs) => {
    const back = echoed(programme, delayMs, -30);
    const found = watch(mixed(back, noise(20 * Math.log10(rms(back)))), programme);
    expect(Math.abs(found!.delayMs - delayMs)).toBeLessThan(2);
  });

  test.each([35, 300, 1200])('%d ms is found 24 dB below someone talking', (delayMs) => {
    const back = echoed(programme, delayMs, 0);
    const level = (rms(talker) / rms(back)) * amplitudeOfDb(-24);
    const found = watch(
      mixed(
        back.map((v) => v * level),
        talker,
      ),
      programme,
    );
    expect(Math.abs(found!.delayMs - delayMs)).toBeLessThan(2);
  });

  test('loudspeakers, the monitor and a tab are told apart', () => {
    const all = mixed(programme, talker);
    expect(watch(mixed(echoed(programme, 60, -12), talker), programme)!.kind).toBe('speakers');
    expect(watch(mixed(echoed(all, 110, -6), talker), programme)!.kind).toBe('monitor');
    expect(watch(mixed(echoed(all, 800, -10), talker), programme)!.kind).toBe('tab');
  });

  test('talk over music gives no alarm', () => {
    const finder = new EchoFinder();
    for (let piece = 0; piece < 12; piece++) {
      const voice = at16k(play(new VoiceSound({ ...HOST_VOICE, seed: 60 + piece, from: piece * 31 }), 0, 8));
      const music = at16k(
        mixed(sound('night-music', piece * 8, piece * 8 + 8), sound('switchback', piece * 8, piece * 8 + 8)),
      );
      expect(finder.look(voice, music)).toBeNull();
    }
  });

  test('a lag is measured to the sample', () => {
    const white = programme.slice(0, ECHO_WINDOW).map(() => random() - 0.5);
    const peak = new Correlator().peak(echoed(white, 321, -20), white);
    expect(peak.delayMs).toBeCloseTo(321, 0);
  });
});
