/** Processors made of second-order sections: equaliser, de-hum, de-esser. */
import { Biquad, designBand, IDENTITY } from '../biquad';
import { amplitudeOfDb } from '../decibel';
import { MAX_BANDS, type EqualiserBand, type Values } from './chain-settings';
import { dbOf, HOLD_STEPS, peakOf, PeakHold, STEP_FRAMES, stepShare, type SoundProcessor } from './processor';

/** A row of sections for each of two channels. */
class FilterBank {
  readonly left: readonly Biquad[];
  readonly right: readonly Biquad[];

  constructor(
    sections: number,
    readonly rate: number,
  ) {
    this.left = Array.from({ length: sections }, () => new Biquad());
    this.right = Array.from({ length: sections }, () => new Biquad());
  }

  set(index: number, coefficients: Parameters<Biquad['set']>[0], atOnce: boolean): void {
    this.left[index].set(coefficients, atOnce);
    this.right[index].set(coefficients, atOnce);
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    Biquad.cascade(this.left, left, frames);
    if (right !== null) Biquad.cascade(this.right, right, frames);
  }
}

/** Parametric equaliser of up to `MAX_BANDS` bands in a row. */
export class Equaliser implements SoundProcessor {
  readonly latencyFrames = 0;
  inputDb = -120;
  gainDb = 0;
  readonly #bank: FilterBank;

  constructor(bands: readonly EqualiserBand[], rate: number) {
    this.#bank = new FilterBank(MAX_BANDS, rate);
    this.#put(bands, true);
  }

  set(bands: readonly EqualiserBand[]): void {
    this.#put(bands, false);
  }

  #put(bands: readonly EqualiserBand[], atOnce: boolean): void {
    const { rate } = this.#bank;
    for (let i = 0; i < MAX_BANDS; i++) {
      const band = bands[i];
      const flat =
        !band?.on || (band.gainDb === 0 && ['bell', 'low-shelf', 'high-shelf'].includes(band.shape));
      this.#bank.set(
        i,
        flat ? IDENTITY : designBand(band.shape, band.frequencyHz, band.gainDb, band.q, rate),
        atOnce,
      );
    }
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    this.#bank.process(left, right, frames);
  }
}

/** Notches at a hum and its harmonics. */
export class DeHum implements SoundProcessor {
  readonly latencyFrames = 0;
  inputDb = -120;
  gainDb = 0;
  readonly #bank: FilterBank;

  constructor(values: Values<'dehum'>, rate: number) {
    this.#bank = new FilterBank(10, rate);
    this.#put(values, true);
  }

  set(values: Values<'dehum'>): void {
    this.#put(values, false);
  }

  #put({ frequencyHz, harmonics, q }: Values<'dehum'>, atOnce: boolean): void {
    const { rate } = this.#bank;
    for (let i = 0; i < 10; i++) {
      const hz = frequencyHz * (i + 1);
      // As wide in Hz at each harmonic: a hum drifts with the mains, all of it by the same share of a low frequency.
      const used = i < Math.round(harmonics) && hz < rate * 0.45;
      this.#bank.set(i, used ? designBand('notch', hz, 0, q * (i + 1), rate) : IDENTITY, atOnce);
    }
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    this.#bank.process(left, right, frames);
  }
}

/** 1 ms to catch an s, 60 ms to let it go: time constants of the reduction in dB. */
const ESS_ATTACK_MS = 1;
const ESS_RELEASE_MS = 60;

/**
 * De-esser: where the band around `frequencyHz` (an octave) is louder than `thresholdDb`, that band alone is turned down by
 * what it is over, at most by `rangeDb`. The reduced band is taken away from the whole, so that at rest nothing changes.
 */
export class DeEsser implements SoundProcessor {
  readonly latencyFrames = 0;
  inputDb = -120;
  gainDb = 0;
  readonly #bands = [new Biquad(), new Biquad()];
  readonly #part = [new Float32Array(STEP_FRAMES), new Float32Array(STEP_FRAMES)];
  readonly #level = new PeakHold(HOLD_STEPS / 4);
  #values: Values<'deesser'>;
  #reduction = 0;
  #share = 0;
  readonly #attack: number;
  readonly #release: number;
  readonly #rate: number;

  constructor(values: Values<'deesser'>, rate: number) {
    this.#rate = rate;
    this.#values = values;
    this.#attack = stepShare(ESS_ATTACK_MS, rate);
    this.#release = stepShare(ESS_RELEASE_MS, rate);
    this.#tune(true);
  }

  set(values: Values<'deesser'>): void {
    this.#values = values;
    this.#tune(false);
  }

  #tune(atOnce: boolean): void {
    const band = designBand('band-pass', this.#values.frequencyHz, 0, 1.4, this.#rate);
    for (const filter of this.#bands) filter.set(band, atOnce);
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    const [partLeft, partRight] = this.#part;
    let level = 0;
    for (let from = 0; from < frames; from += STEP_FRAMES) {
      const take = Math.min(STEP_FRAMES, frames - from);
      for (let i = 0; i < take; i++) partLeft[i] = left[from + i];
      this.#bands[0].process(partLeft, take);
      if (right !== null) {
        for (let i = 0; i < take; i++) partRight[i] = right[from + i];
        this.#bands[1].process(partRight, take);
      }
      level = this.#level.take(peakOf(partLeft, right === null ? null : partRight, 0, take));
      const over = dbOf(level) - this.#values.thresholdDb;
      const wanted = over > 0 ? -Math.min(over, this.#values.rangeDb) : 0;
      this.#reduction +=
        (wanted - this.#reduction) * (wanted < this.#reduction ? this.#attack : this.#release);
      if (this.#reduction > -1e-4) this.#reduction = 0;
      const before = this.#share;
      this.#share = this.#reduction === 0 ? 0 : 1 - amplitudeOfDb(this.#reduction);
      if (before === 0 && this.#share === 0) continue;
      const step = (this.#share - before) / take;
      for (let i = 0; i < take; i++) {
        const share = before + step * (i + 1);
        left[from + i] -= share * partLeft[i];
        if (right !== null) right[from + i] -= share * partRight[i];
      }
    }
    this.inputDb = dbOf(level);
    this.gainDb = this.#reduction;
  }
}
