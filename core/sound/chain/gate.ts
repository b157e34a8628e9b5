import { Biquad, designBand } from '../biquad';
import { amplitudeOfDb } from '../decibel';
import { BLOCK_FRAMES } from '../format';
import type { Values } from './chain-settings';
import { applyGain, dbOf, HOLD_STEPS, peakOf, PeakHold, STEP_FRAMES, type SoundProcessor } from './processor';

/** What a gate listens to: the louder side's middle, without the lows. */
export class KeyFilter {
  readonly #filters = [new Biquad(), new Biquad()];
  readonly #block = new Float32Array(BLOCK_FRAMES);
  readonly #rate: number;

  constructor(rate: number) {
    this.#rate = rate;
  }

  set(hz: number): void {
    // Butterworth of fourth order: two sections of these qualities.
    this.#filters[0].set(designBand('high-pass', hz, 0, 0.541, this.#rate));
    this.#filters[1].set(designBand('high-pass', hz, 0, 1.307, this.#rate));
  }

  /** @returns the filtered block, overwritten by the next call; at most `BLOCK_FRAMES` */
  process(left: Float32Array, right: Float32Array | null, frames: number): Float32Array {
    const block = this.#block;
    if (right === null) for (let i = 0; i < frames; i++) block[i] = left[i];
    else for (let i = 0; i < frames; i++) block[i] = (left[i] + right[i]) * 0.5;
    Biquad.cascade(this.#filters, block, frames);
    return block;
  }
}

/**
 * Gate with separate thresholds to open and to close.
 *
 * The level is the largest sample of the last 10 ms, behind a high-pass of 24 dB an octave at `keyHz`: knocks on the desk
 * and hum do not open it, and are still heard when a voice does. From `openDb` on the gate opens: its gain rises in a straight line
 * from closed to 1 within `attackMs`. Once the level has been below `closeDb` for `holdMs`, it falls by so many dB a second
 * that the whole way to `−rangeDb` takes `releaseMs`.
 */
export class Gate implements SoundProcessor {
  readonly latencyFrames = 0;
  inputDb = -120;
  gainDb = 0;
  open = false;
  /** Samples it was open, and all samples, for "open n % of the time". */
  openFrames = 0;
  frames = 0;
  readonly #level = new PeakHold(HOLD_STEPS);
  #openAt = 0;
  #closeAt = 0;
  #rise = 0;
  #holdSteps = 0;
  /** Factor for each step on the way down. */
  #fall = 1;
  #floor = 0;
  #heldFor = 0;
  #gain = 1;
  readonly #key: KeyFilter;
  readonly #rate: number;

  constructor(values: Values<'gate'>, rate: number) {
    this.#rate = rate;
    this.#key = new KeyFilter(rate);
    this.set(values);
    this.#gain = this.#floor;
  }

  set(values: Values<'gate'>): void {
    const stepSeconds = STEP_FRAMES / this.#rate;
    this.#key.set(values.keyHz);
    this.#openAt = amplitudeOfDb(values.openDb);
    // A gate that closes above where it opens would flutter.
    this.#closeAt = amplitudeOfDb(Math.min(values.closeDb, values.openDb));
    this.#floor = values.rangeDb >= 80 ? 0 : amplitudeOfDb(-values.rangeDb);
    this.#rise = ((1 - this.#floor) * stepSeconds * 1000) / Math.max(values.attackMs, 0.1);
    this.#holdSteps = values.holdMs / 1000 / stepSeconds;
    this.#fall = amplitudeOfDb((-Math.max(values.rangeDb, 0.001) * stepSeconds * 1000) / values.releaseMs);
  }

  /** Halves the counts now and then, so that the share is of the last minute or so. */
  forgetSlowly(): void {
    if (this.frames < this.#rate * 60) return;
    this.frames /= 2;
    this.openFrames /= 2;
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    const key = this.#key.process(left, right, frames);
    let gain = this.#gain;
    let level = 0;
    for (let from = 0; from < frames; from += STEP_FRAMES) {
      const take = Math.min(STEP_FRAMES, frames - from);
      level = this.#level.take(peakOf(key, null, from, take));
      if (level >= this.#openAt) {
        this.open = true;
        this.#heldFor = 0;
      } else if (this.open) {
        if (level >= this.#closeAt) this.#heldFor = 0;
        else if (++this.#heldFor > this.#holdSteps) this.open = false;
      }
      const before = gain;
      if (this.open) gain = Math.min(1, Math.max(gain, this.#floor) + this.#rise);
      else {
        gain *= this.#fall;
        if (gain < this.#floor) gain = this.#floor;
        if (gain < 1e-5) gain = 0;
      }
      applyGain(left, right, from, take, before, gain);
      if (this.open) this.openFrames += take;
    }
    this.frames += frames;
    this.#gain = gain;
    this.inputDb = dbOf(level);
    this.gainDb = dbOf(gain);
  }
}
