import type { Values } from './chain-settings';
import { RNNOISE_FRAMES, type Denoiser } from './rnnoise';
import { dbOf, peakOf, type SoundProcessor } from './processor';

/** Gathers blocks into the frames the denoiser wants, for one channel. */
class Lane {
  readonly #in = new Float32Array(RNNOISE_FRAMES);
  #filled: number;
  /** Denoised samples waiting to go out. */
  readonly #out = new Float32Array(RNNOISE_FRAMES * 2);
  #readAt = 0;
  #writeAt: number;
  /** The untouched sound, as late as the denoised one. */
  readonly #dry = new Float32Array(RNNOISE_FRAMES * 2);
  #dryAt = 0;

  constructor(
    readonly denoiser: Denoiser,
    stagger: number,
  ) {
    this.#filled = stagger;
    this.#writeAt = RNNOISE_FRAMES - stagger;
  }

  process(x: Float32Array, frames: number, amount: number, amountBefore: number): void {
    const step = (amount - amountBefore) / frames;
    const size = this.#out.length;
    let share = amountBefore;
    for (let i = 0; i < frames; i++) {
      share += step;
      const v = x[i];
      const dry = this.#dry[this.#dryAt];
      this.#dry[this.#dryAt] = v;
      this.#dryAt = this.#dryAt + 1 === size ? 0 : this.#dryAt + 1;
      this.#in[this.#filled] = v;
      this.#filled += 1;
      const wet = this.#out[this.#readAt];
      this.#readAt = this.#readAt + 1 === size ? 0 : this.#readAt + 1;
      x[i] = dry + (wet - dry) * share;
      if (this.#filled === RNNOISE_FRAMES) {
        this.#filled = 0;
        this.denoiser.process(this.#in);
        for (let k = 0; k < RNNOISE_FRAMES; k++) {
          this.#out[this.#writeAt] = this.#in[k];
          this.#writeAt = this.#writeAt + 1 === size ? 0 : this.#writeAt + 1;
        }
      }
    }
  }
}

/**
 * Noise reduction by RNNoise. The amount mixes the denoised with the untouched sound, which is kept as late.
 *
 * 20 ms late: 10 ms to gather a frame, 10 ms of the model's own. One frame costs up to half a millisecond, so the lanes of
 * several channels begin at different samples (`stagger`) and never fall into one block together.
 */
export class NoiseReduction implements SoundProcessor {
  readonly latencyFrames = RNNOISE_FRAMES * 2;
  inputDb = -120;
  gainDb = 0;
  readonly #lanes: readonly [Lane, Lane];
  #amount: number;
  #amountNow: number;

  /**
   * @param stagger which of the channels this is; any whole number
   * @param open gives a denoiser for one lane
   */
  constructor(values: Values<'noise'>, stagger: number, open: () => Denoiser) {
    const offset = ((stagger % 4) * 128) % RNNOISE_FRAMES;
    this.#lanes = [new Lane(open(), offset), new Lane(open(), offset)];
    this.#amount = values.amount / 100;
    this.#amountNow = this.#amount;
  }

  set(values: Values<'noise'>): void {
    this.#amount = values.amount / 100;
  }

  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    const before = peakOf(left, right, 0, frames);
    this.#lanes[0].process(left, frames, this.#amount, this.#amountNow);
    if (right !== null) this.#lanes[1].process(right, frames, this.#amount, this.#amountNow);
    this.#amountNow = this.#amount;
    this.inputDb = dbOf(before);
    const change = dbOf(peakOf(left, right, 0, frames)) - this.inputDb;
    // A slow reading: the two sides of it are 20 ms apart.
    this.gainDb += (Math.max(-60, Math.min(0, change)) - this.gainDb) * 0.02;
  }

  close(): void {
    for (const lane of this.#lanes) lane.denoiser.close();
  }
}
