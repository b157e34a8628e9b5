/**
 * True peak by four times oversampling, ITU-R BS.1770-4 annex 2: 48 taps in four phases of twelve.
 * Phases 2 and 3 are phases 1 and 0 backwards.
 */
const PHASE_0 = [
  0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625,
  0.97216796875, -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
];
const PHASE_1 = [
  -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
  -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
];
const TAPS = 12;
const A = new Float64Array(PHASE_0);
const B = new Float64Array(PHASE_1);

/** Largest gain the filter can have at any phase: the sum of absolute taps, so a quiet block cannot exceed `peak × this`. */
const MAX_GAIN = Math.max(
  PHASE_0.reduce((sum, tap) => sum + Math.abs(tap), 0),
  PHASE_1.reduce((sum, tap) => sum + Math.abs(tap), 0),
);

export class TruePeakDetector {
  /** Twelve past samples, twice in a row so that a window is always in one piece. */
  readonly #history = new Float64Array(TAPS * 2);
  #at = 0;

  /** Largest absolute value of the signal between this sample and the last, about 6 samples late. */
  next(sample: number): number {
    const history = this.#history;
    this.#at = this.#at === 0 ? TAPS - 1 : this.#at - 1;
    const at = this.#at;
    history[at] = sample;
    history[at + TAPS] = sample;
    let p0 = 0;
    let p1 = 0;
    let p2 = 0;
    let p3 = 0;
    for (let i = 0; i < TAPS; i++) {
      const v = history[at + i];
      const a = A[i];
      const b = B[i];
      p0 += a * v;
      p1 += b * v;
      const w = history[at + TAPS - 1 - i];
      p2 += b * w;
      p3 += a * w;
    }
    return Math.max(Math.abs(p0), Math.abs(p1), Math.abs(p2), Math.abs(p3));
  }

  /**
   * Maximum true peak of a block, or `known` when the block cannot exceed it (the filter still takes the samples in).
   * @param known the maximum so far, linear
   */
  maxOver(block: Float32Array, frames: number, known: number): number {
    let peak = 0;
    for (let i = 0; i < frames; i++) {
      const v = Math.abs(block[i]);
      if (v > peak) peak = v;
    }
    for (let i = 0; i < TAPS; i++) {
      const v = Math.abs(this.#history[this.#at + i]);
      if (v > peak) peak = v;
    }
    if (peak * MAX_GAIN <= known) {
      for (let i = Math.max(0, frames - TAPS); i < frames; i++) {
        this.#at = this.#at === 0 ? TAPS - 1 : this.#at - 1;
        this.#history[this.#at] = block[i];
        this.#history[this.#at + TAPS] = block[i];
      }
      return known;
    }
    let max = known;
    for (let i = 0; i < frames; i++) {
      const v = this.next(block[i]);
      if (v > max) max = v;
    }
    return max;
  }
}
