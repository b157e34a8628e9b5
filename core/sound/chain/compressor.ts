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

/**
 * Static curve with a soft knee, dB of reduction (0 or negative), without make-up.
 * Giannoulis, Massberg, Reiss: "Digital Dynamic Range Compressor Design", J. Audio Eng. Soc. 60(6), 2012, equation 4.
 */
export function compressorGainDb(
  levelDb: number,
  { thresholdDb, ratio, kneeDb }: Pick<Values<'compressor'>, 'thresholdDb' | 'ratio' | 'kneeDb'>,
): number {
  const over = levelDb - thresholdDb;
  const slope = 1 / ratio - 1;
  if (2 * over <= -kneeDb) return 0;
  if (2 * over >= kneeDb) return slope * over;
  return (slope * (over + kneeDb / 2) ** 2) / (2 * kneeDb);
}

/** Make-up chosen by itself: half of what a full-scale signal is reduced by, so that loudness stays about the same. */
export function autoMakeUpDb(values: Values<'compressor'>): number {
  return -compressorGainDb(0, values) / 2;
}

/**
 * Compressor with linked channels.
 *
 * The level is the largest sample of the last 10 ms. The reduction in dB follows the static curve through a one-pole
 * smoother: after a step it has gone 63 % (1 − 1/e) of the way within `attackMs` when it grows, within `releaseMs` when it
 * shrinks (counted from when the level of the last 10 ms has fallen).
 */
export class Compressor implements SoundProcessor {
  readonly latencyFrames = 0;
  inputDb = -120;
  /** Reduction alone, without make-up. */
  gainDb = 0;
  readonly #level = new PeakHold(HOLD_STEPS);
  #values: Values<'compressor'>;
  #attack = 0;
  #release = 0;
  #makeUp = 0;
  #makeUpNow: number | null = null;
  #reduction = 0;
  #gain = 1;
  /** The dB `#gain` was worked out from. */
  #gainIsOf = 0;
  /** Amplitude up to which nothing is reduced. */
  #kneeFrom = 0;
  readonly #rate: number;

  constructor(values: Values<'compressor'>, autoMakeUp: boolean, rate: number) {
    this.#rate = rate;
    this.#values = values;
    this.set(values, autoMakeUp);
    this.#makeUpNow = this.#makeUp;
    this.#gainIsOf = this.#makeUp;
    this.#gain = amplitudeOfDb(this.#makeUp);
  }

  set(values: Values<'compressor'>, autoMakeUp: boolean): void {
    this.#values = values;
    this.#attack = stepShare(values.attackMs, this.#rate);
    this.#release = stepShare(values.releaseMs, this.#rate);
    this.#kneeFrom = amplitudeOfDb(values.thresholdDb - values.kneeDb / 2);
    this.#makeUp = autoMakeUp ? autoMakeUpDb(values) : values.makeUpDb;
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    let level = 0;
    let makeUp = this.#makeUpNow ?? this.#makeUp;
    for (let from = 0; from < frames; from += STEP_FRAMES) {
      const take = Math.min(STEP_FRAMES, frames - from);
      level = this.#level.take(peakOf(left, right, from, take));
      // Below the knee there is nothing to work out: a logarithm costs as much as ten samples.
      const wanted = level <= this.#kneeFrom ? 0 : compressorGainDb(dbOf(level), this.#values);
      this.#reduction +=
        (wanted - this.#reduction) * (wanted < this.#reduction ? this.#attack : this.#release);
      if (this.#reduction > -1e-4) this.#reduction = 0;
      // A turned knob arrives within a few milliseconds.
      makeUp += (this.#makeUp - makeUp) * 0.1;
      if (Math.abs(this.#makeUp - makeUp) < 1e-4) makeUp = this.#makeUp;
      const before = this.#gain;
      const total = this.#reduction + makeUp;
      if (total !== this.#gainIsOf) {
        this.#gainIsOf = total;
        this.#gain = amplitudeOfDb(total);
      }
      applyGain(left, right, from, take, before, this.#gain);
    }
    this.#makeUpNow = makeUp;
    this.inputDb = dbOf(level);
    this.gainDb = this.#reduction;
  }
}
