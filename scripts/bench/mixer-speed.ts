/** Speed of the mixer: twelve stereo channels, limiter, true peak and loudness, against ffmpeg doing the like. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Mixer } from '../../core/sound/mixer';
import { PLAIN_STRIP } from '../../core/sound/strip';
import { seededRandom } from '../../standins/inputs/random';

const CHANNELS = 12;
const SECONDS = 60;
const ROUNDS = 3;
const BLOCK = 128;

function ours(): number {
  const random = seededRandom(1);
  const tones = Array.from({ length: CHANNELS }, () =>
    new Float32Array(BLOCK).map(() => (random() - 0.5) * 0.15),
  );
  const mixer = new Mixer(CHANNELS);
  for (let i = 0; i < CHANNELS; i++) mixer.setStrip(i, { ...PLAIN_STRIP, gainDb: -3 });
  const start = process.cpuUsage();
  for (let block = 0; block < (SECONDS * 48_000) / BLOCK; block++) {
    for (let i = 0; i < CHANNELS; i++) mixer.take(i, tones[i], tones[(i + block) % CHANNELS], BLOCK);
    mixer.finish(BLOCK);
  }
  const { user, system } = process.cpuUsage(start);
  return SECONDS / ((user + system) / 1e6);
}

/** @param file a minute of stereo noise, read once for each channel: decoding PCM costs next to nothing */
function ffmpegs(file: string): number {
  const inputs = Array.from({ length: CHANNELS }, () => ['-i', file]).flat();
  const all = Array.from({ length: CHANNELS }, (_, i) => `[${i}]`).join('');
  const filter = `${all}amix=inputs=${CHANNELS}:normalize=0,alimiter=limit=0.89:level=disabled,ebur128=peak=true:framelog=verbose[out]`;
  const { stderr } = spawnSync(
    'ffmpeg',
    ['-hide_banner', '-benchmark', ...inputs, '-filter_complex', filter, '-map', '[out]', '-f', 'null', '-'],
    { encoding: 'utf8' },
  );
  const found = /utime=([\d.]+)s stime=([\d.]+)s/.exec(stderr);
  if (!found) throw new Error(`ffmpeg said nothing about its time: ${stderr.slice(-300)}`);
  return SECONDS / (Number(found[1]) + Number(found[2]));
}

export function mixerSpeed(say: (line: object) => void): void {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const file = path.join(folder, 'noise.wav');
  spawnSync('ffmpeg', [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    `anoisesrc=r=48000:a=0.07:seed=1:d=${SECONDS}`,
    '-ac',
    '2',
    file,
  ]);
  let best = 0;
  let reference = 0;
  for (let i = 0; i < ROUNDS; i++) {
    best = Math.max(best, ours());
    reference = Math.max(reference, ffmpegs(file));
  }
  rmSync(folder, { recursive: true, force: true });
  say({
    name: 'mixer: 12 channels, limiter, true peak, loudness',
    value: best,
    unit: 'times real time',
    reference,
    ratio: best / reference,
    against: 'ffmpeg amix + alimiter + ebur128=peak=true',
  });
}
