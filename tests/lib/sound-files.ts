/** Sound files for tests, and what ffmpeg hears in a file. */
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { waveFile } from '../../core/sound/wave-file';
import { HOST_VOICE, VoiceSound } from '../../standins/inputs/sounds/generators';
import { seededRandom } from '../../standins/inputs/random';

const RATE = 48_000;

/** Seconds of the made-up voice's script. */
function voice(from: number, seconds: number): Float32Array {
  const generator = new VoiceSound({ ...HOST_VOICE, seed: 23, noise: 0.002 });
  const out = new Float32Array(seconds * RATE);
  const left = new Float32Array(128);
  const right = new Float32Array(128);
  for (let at = 0; at + 128 <= out.length; at += 128) {
    generator.render(Math.round(from * RATE) + at, left, right, 128);
    out.set(left, at);
  }
  return out;
}

/** Fake capture takes 16 bits only: ffmpeg turns it into that. */
function write(file: string, samples: Float32Array): void {
  writeFileSync(`${file}.float.wav`, waveFile([samples], RATE));
  ffmpeg(['-i', `${file}.float.wav`, '-c:a', 'pcm_s16le', file]);
}

/** What a guest of the soundcheck does: silent, talks, shouts, each longer than it is listened to. */
export function soundcheckVoice(file: string): void {
  const parts: Float32Array[] = [];
  const add = (from: number, seconds: number, times: number) => {
    for (let i = 0; i < times; i++) parts.push(voice(from, seconds));
  };
  add(11.2, 1.6, 9);
  add(0.2, 10, 1);
  add(80.2, 2, 1);
  add(29.1, 2.3, 4);
  const all = new Float32Array(parts.reduce((sum, p) => sum + p.length, 0));
  parts.reduce((at, p) => (all.set(p, at), at + p.length), 0);
  write(file, all);
}

/** Noise that comes round every `period` seconds: heard twice, its lag is known but for whole rounds. */
export function roundNoise(file: string, period: number): void {
  const random = seededRandom(8);
  const round = new Float32Array(Math.round(period * RATE));
  let low = 0;
  for (let i = 0; i < round.length; i++) {
    low += (random() * 2 - 1 - low) * 0.3;
    round[i] = low * 0.3;
  }
  const all = new Float32Array(round.length * 10);
  for (let n = 0; n < 10; n++) all.set(round, n * round.length);
  write(file, all);
}

export function ffmpeg(args: string[]): string {
  const { status, stderr } = spawnSync('ffmpeg', ['-hide_banner', '-nostats', '-y', ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  });
  if (status !== 0) throw new Error(stderr.slice(-600));
  return stderr;
}

/** Mean level of one sound track in dBFS, of a band of it when asked for. */
export function meanDb(file: string, { track = 0, filter = '' } = {}): number {
  const filters = [filter, 'volumedetect'].filter(Boolean).join(',');
  const said = ffmpeg(['-i', file, '-map', `0:a:${track}`, '-af', filters, '-f', 'null', '-']);
  return Number(/mean_volume: (-?[\d.]+|-inf) dB/.exec(said)![1]);
}

/** Integrated loudness by ffmpeg's own meter, LUFS. */
export function integratedLufs(file: string): number {
  const said = ffmpeg(['-i', file, '-af', 'ebur128', '-f', 'null', '-']);
  return Number(/I:\s+(-?[\d.]+) LUFS(?![\s\S]*I:)/.exec(said)![1]);
}

/** Stretches below −70 dBFS that last at least `seconds`: where they begin and how long they are. */
export function silences(file: string, seconds: number): { from: number; length: number }[] {
  const said = ffmpeg(['-i', file, '-af', `silencedetect=n=-70dB:d=${seconds}`, '-f', 'null', '-']);
  return [...said.matchAll(/silence_end: ([\d.]+) \| silence_duration: ([\d.]+)/g)].map(
    ([, end, length]) => ({
      from: Number(end) - Number(length),
      length: Number(length),
    }),
  );
}

/**
 * Quietest half second of a file that was rendered whole, dBFS RMS: −Infinity for one of nothing but zeros, which a closed
 * gate leaves. Of a live stream this says nothing: there zeros may be sound that was lost.
 */
export function floorDb(file: string): number {
  const said = ffmpeg([
    '-i',
    file,
    '-af',
    'asetnsamples=n=24000,astats=reset=1:metadata=1,ametadata=print:key=lavfi.astats.Overall.RMS_level',
    '-f',
    'null',
    '-',
  ]);
  const found = [...said.matchAll(/RMS_level=(-?[\d.]+|-inf)/g)].map(([, v]) =>
    v === '-inf' ? -Infinity : Number(v),
  );
  return Math.min(...found.slice(1, -1));
}
