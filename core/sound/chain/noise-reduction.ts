import type { Values } from './chain-settings';
import { RNNOISE_FRAMES, type Denoiser } from './rnnoise';
import { dbOf, peakOf, type SoundProcessor } from './processor';

/** Gathers blocks into the frames the denoiser wants, for one channel. */
class Lane {
  readonly #in = new Float32Array(RNNOISE_FRAMES);
  /** Denoised samples waiting to go out. */
  readonly #out = new Float32Array(RNNOISE_FRAMES * 2);
  #writeAt: number;
  /** The untouched sound, as late as the denoised one. */
  readonly #dry = new Float32Array(RNNOISE_FRAMES * 2);
  #dryAt = 0;
  #readAt = 0;
  #filled: number;

  constructor(
    readonly denoiser: Denoiser,
    stagger: number,
  ) {
    this.#filled = stagger;
    this.#writeAt = RNNOISE_FRAMES - stagger;
  }

  process(x: Float32Array, frames: number, amount: number, amountBefore: number): void {
    const step = (amount - amountBefore) / frames;
    let done = 0;
    while (done < frames) {
      const take = Math.min(frames - done, RNNOISE_FRAMES - this.#filled);
      this.#piece(x, done, take, amountBefore + step * done, step);
      done += take;
      this.#filled += take;
      if (this.#filled === RNNOISE_FRAMES) {
        this.#filled = 0;
        this.#denoise();
      }
    }
  }

  /** Gathers samples up to the end of a frame at most, and gives out as many: plain loops over local values. */
  #piece(x: Float32Array, from: number, take: number, share: number, step: number): void {
    const gathering = this.#in;
    const out = this.#out;
    const dryRing = this.#dry;
    const size = out.length;
    const filled = this.#filled;
    let dryAt = this.#dryAt;
    let readAt = this.#readAt;
    for (let i = 0; i < take; i++) {
      const v = x[from + i];
      const dry = dryRing[dryAt];
      dryRing[dryAt] = v;
      gathering[filled + i] = v;
      x[from + i] = dry + (out[readAt] - dry) * (share + step * (i + 1));
      dryAt = dryAt + 1 === size ? 0 : dryAt + 1;
      readAt = readAt + 1 === size ? 0 : readAt + 1;
    }
    this.#dryAt = dryAt;
    this.#readAt = readAt;
  }

  #denoise(): void {
    this.denoiser.process(this.#in);
    const size = this.#out.length;
    for (let k = 0; k < RNNOISE_FRAMES; k++) {
      this.#out[this.#writeAt] = this.#in[k];
      this.#writeAt = this.#writeAt + 1 === size ? 0 : this.#writeAt + 1;
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
