/** Short sounds for the effect buttons, made in code, 48 kHz mono. */
import type { SimulatedEffect } from '../../../core/show/records';
import { seededRandom } from '../random';
import { SOUND_RATE } from './generators';

const SECONDS: Record<SimulatedEffect, number> = { bell: 1.6, whistle: 1.4, lever: 0.5, cheer: 2.2 };

/** @returns samples −1…1, at most −6 dBFS */
export function makeEffect(effect: SimulatedEffect): Float32Array<ArrayBuffer> {
  const samples = new Float32Array(Math.round(SECONDS[effect] * SOUND_RATE));
  const random = seededRandom(9);
  let low = 0;
  for (let i = 0; i < samples.length; i++) {
    const t = i / SOUND_RATE;
    const left = SECONDS[effect] - t;
    const edge = Math.min(1, t * 400, left * 60);
    const noise = random() * 2 - 1;
    low += (noise - low) * 0.12;
    samples[i] = 0.5 * edge * SHAPES[effect](t, noise, low);
  }
  return samples;
}

const turn = (hz: number, t: number) => Math.sin(2 * Math.PI * hz * t);

const SHAPES: Record<SimulatedEffect, (t: number, noise: number, low: number) => number> = {
  bell: (t) => {
    const stroke = t % 0.55;
    return Math.exp(-stroke * 5) * (0.6 * turn(1174, t) + 0.3 * turn(2110, t) + 0.1 * turn(3480, t));
  },
  whistle: (t, noise) =>
    Math.min(1, t * 6) * (0.32 * turn(587, t) + 0.28 * turn(740, t) + 0.22 * turn(880, t) + 0.06 * noise),
  lever: (t, noise, low) =>
    Math.exp(-t * 30) * noise * 0.6 +
    (t > 0.14 ? Math.exp(-(t - 0.14) * 22) * (low * 1.6 + 0.4 * turn(92, t)) : 0),
  cheer: (t, noise, low) =>
    Math.min(1, t * 5) * Math.exp(-Math.max(0, t - 1) * 2) * (0.4 * noise * Math.abs(turn(7, t)) + 0.9 * low),
};
