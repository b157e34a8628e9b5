/** The sound path beside ffmpeg's filters and meters, on the same samples. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { newProcessor, type EqualiserBand } from '../../core/sound/chain/chain-settings';
import { VoiceChain } from '../../core/sound/chain/voice-chain';
import { dbOfAmplitude } from '../../core/sound/decibel';
import { LoudnessMeter } from '../../core/sound/loudness-meter';
import { TruePeakDetector } from '../../core/sound/true-peak';
import { waveFile } from '../../core/sound/wave-file';
import { createSound, VoiceSound } from '../../standins/inputs/sounds/generators';
import { seededRandom } from '../../standins/inputs/random';
import { ffmpeg } from '../lib/sound-files';

const RATE = 48_000;
const BLOCK = 128;
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-sound-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function rendered(seconds: number, fill: (frame: number, left: Float32Array, right: Float32Array) => void) {
  const left = new Float32Array(seconds * RATE);
  const right = new Float32Array(seconds * RATE);
  for (let at = 0; at < left.length; at += BLOCK)
    fill(at, left.subarray(at, at + BLOCK), right.subarray(at, at + BLOCK));
  return [left, right] as const;
}

/** Left channel of a file behind ffmpeg's filters, as floats. */
function filtered(samples: Float32Array, filter: string): Float32Array {
  const input = path.join(folder, 'in.wav');
  writeFileSync(input, waveFile([samples], RATE));
  const { stdout, status, stderr } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', input, '-af', filter, '-f', 'f32le', '-'],
    { maxBuffer: 1 << 28 },
  );
  if (status !== 0) throw new Error(String(stderr));
  return new Float32Array(new Uint8Array(stdout).buffer, 0, Math.floor(stdout.length / 4));
}

function throughBands(samples: Float32Array, bands: EqualiserBand[]): Float32Array {
  const chain = new VoiceChain({ denoiser: null, stagger: 0 });
  const equaliser = newProcessor('equaliser', 'e');
  chain.set({ bypassed: false, processors: [{ ...equaliser, bands } as typeof equaliser] });
  const out = samples.slice();
  for (let at = 0; at + BLOCK <= out.length; at += BLOCK)
    chain.process(out.subarray(at, at + BLOCK), null, BLOCK);
  return out;
}

/** How far two signals are apart, dB below the first. */
function differenceDb(a: Float32Array, b: Float32Array): number {
  let error = 0;
  let power = 0;
  for (let i = RATE; i < Math.min(a.length, b.length) - BLOCK; i++) {
    error += (a[i] - b[i]) ** 2;
    power += a[i] ** 2;
  }
  return 10 * Math.log10(error / power);
}

describe('filters', () => {
  const random = seededRandom(6);
  const noise = new Float32Array(3 * RATE).map(() => (random() * 2 - 1) * 0.3);
  const band = (shape: EqualiserBand['shape'], frequencyHz: number, gainDb: number, q: number) => ({
    on: true,
    shape,
    frequencyHz,
    gainDb,
    q,
  });
  test.each([
    ['bell', band('bell', 1000, -6, 1.4), 'equalizer=f=1000:t=q:w=1.4:g=-6'],
    ['narrow bell', band('bell', 3150, 9, 8), 'equalizer=f=3150:t=q:w=8:g=9'],
    ['high-pass', band('high-pass', 90, 0, 0.707), 'highpass=f=90:t=q:w=0.707'],
    ['low-pass', band('low-pass', 5000, 0, 0.707), 'lowpass=f=5000:t=q:w=0.707'],
    ['notch', band('notch', 50, 0, 10), 'bandreject=f=50:t=q:w=10'],
  ])('%s gives what ffmpeg gives', (_name, ours, theirs) => {
    expect(differenceDb(throughBands(noise, [ours]), filtered(noise, theirs))).toBeLessThan(-80);
  });
});

describe('meters', () => {
  // A generator carries states from block to block: one for the whole file.
  const voice = new VoiceSound();
  const music = createSound('night-music');
  const game = createSound('switchback');
  const signals = {
    talk: rendered(30, (at, l, r) => voice.render(at, l, r, l.length)),
    music: rendered(30, (at, l, r) => music.render(at, l, r, l.length)),
    game: rendered(30, (at, l, r) => game.render(at, l, r, l.length)),
  };
  test.each(Object.keys(signals) as (keyof typeof signals)[])(
    'loudness, range and true peak of %s are those of ebur128',
    (name) => {
      const [left, right] = signals[name];
      const file = path.join(folder, `${name}.wav`);
      writeFileSync(file, waveFile([left, right], RATE));
      const said = ffmpeg(['-i', file, '-af', 'ebur128=peak=true', '-f', 'null', '-']).split('Summary:')[1];
      const found = (what: RegExp) => Number(what.exec(said)![1]);
      const meter = new LoudnessMeter(2);
      const peaks = [new TruePeakDetector(), new TruePeakDetector()];
      let peak = 0;
      for (let at = 0; at < left.length; at += BLOCK) {
        const blocks = [left.subarray(at, at + BLOCK), right.subarray(at, at + BLOCK)];
        meter.process(blocks, BLOCK);
        blocks.forEach((b, i) => (peak = peaks[i].maxOver(b, BLOCK, peak)));
      }
      expect(Math.abs(meter.integrated() - found(/I:\s+(-?[\d.]+) LUFS/))).toBeLessThan(0.1);
      expect(Math.abs(meter.range() - found(/LRA:\s+([\d.]+) LU/))).toBeLessThan(0.5);
      expect(Math.abs(dbOfAmplitude(peak) - found(/Peak:\s+(-?[\d.]+) dBFS/))).toBeLessThan(0.4);
    },
  );
});
