import { BLOCK_FRAMES } from './format';
import { LoudnessMeter } from './loudness-meter';

/** The gain follows the difference of the two loudnesses within about a second. */
const SHARE = 0.01;
const MAX_DB = 36;

/** What it needs of the strip it sits in. */
interface Tapped {
  readonly left: Float32Array;
  readonly outLeft: Float32Array;
  readonly outRight: Float32Array;
  readonly right: Float32Array;
}

/**
 * Lets the host hear a channel as it was before its voice chain, made as loud as behind it: what is louder always seems
 * better. Only the monitor hears it; the programme goes on with the chain.
 */
export class CompareTap {
  readonly #left = new Float32Array(BLOCK_FRAMES);
  readonly #right = new Float32Array(BLOCK_FRAMES);
  readonly #kept: readonly Float32Array[] = [this.#left, this.#right];
  readonly #processed: Float32Array[] = [];
  readonly #before = new LoudnessMeter(2);
  readonly #after = new LoudnessMeter(2);
  #gainDb = 0;

  /** Keeps the block in front of the chain. */
  keep(left: Float32Array, right: Float32Array, single: boolean, frames: number): void {
    for (let i = 0; i < frames; i++) {
      this.#left[i] = left[i];
      this.#right[i] = single ? left[i] : right[i];
    }
    this.#before.process(this.#kept, frames);
  }

  take(strip: Tapped, frames: number): void {
    this.#processed[0] = strip.left;
    this.#processed[1] = strip.right;
    this.#after.process(this.#processed, frames);
    const wanted = this.#after.shortTerm - this.#before.shortTerm;
    if (Number.isFinite(wanted))
      this.#gainDb += (Math.min(MAX_DB, Math.max(-MAX_DB, wanted)) - this.#gainDb) * SHARE;
  }

  /** Puts the kept sound where the monitor takes its own from. */
  replace(strip: Tapped, frames: number): void {
    const gain = 10 ** (this.#gainDb / 20);
    for (let i = 0; i < frames; i++) {
      strip.outLeft[i] = this.#left[i] * gain;
      strip.outRight[i] = this.#right[i] * gain;
    }
  }
}
