import { amplitudeOfDb } from '../decibel';
import type { Values } from './chain-settings';
import {
  applyGain,
  dbOf,
  HOLD_STEPS,
  peakOf,
  PeakHold,
  STEP_FRAMES,
  stepShare,
  type SoundProcessor,
} from './processor';

/** Gain of a downward expander for a level, dB: below the threshold each dB becomes `ratio` dB, down to `−rangeDb`. */
export function expanderGainDb(levelDb: number, values: Values<'expander'>): number {
  const below = values.thresholdDb - levelDb;
  return below <= 0 ? 0 : -Math.min(values.rangeDb, below * (values.ratio - 1));
}

/** Downward expander: a gate that fades instead of closing. Attack and release are time constants (63 %) in dB. */
export class Expander implements SoundProcessor {
  readonly latencyFrames = 0;
  inputDb = -120;
  gainDb = 0;
  readonly #level = new PeakHold(HOLD_STEPS);
  #values: Values<'expander'>;
  #attack = 0;
  #release = 0;
  #now = 0;
  #gain = 1;
  readonly #rate: number;

  constructor(values: Values<'expander'>, rate: number) {
    this.#rate = rate;
    this.#values = values;
    this.set(values);
  }

  set(values: Values<'expander'>): void {
    this.#values = values;
    this.#attack = stepShare(values.attackMs, this.#rate);
    this.#release = stepShare(values.releaseMs, this.#rate);
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    let level = 0;
    for (let from = 0; from < frames; from += STEP_FRAMES) {
      const take = Math.min(STEP_FRAMES, frames - from);
      level = this.#level.take(peakOf(left, right, from, take));
      const wanted = expanderGainDb(dbOf(level), this.#values);
      // Up is the attack: the voice has come.
      this.#now += (wanted - this.#now) * (wanted > this.#now ? this.#attack : this.#release);
      if (this.#now > -1e-4) this.#now = 0;
      const before = this.#gain;
      this.#gain = this.#now === 0 ? 1 : amplitudeOfDb(this.#now);
      applyGain(left, right, from, take, before, this.#gain);
    }
    this.inputDb = dbOf(level);
    this.gainDb = this.#now;
  }
}
