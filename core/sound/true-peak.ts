/**
 * True peak by four times oversampling, ITU-R BS.1770-4 annex 2: 48 taps in four phases of twelve.
 * Phases 2 and 3 are phases 1 and 0 backwards. The filter is written out: a loop over arrays of taps takes seven times as long.
 */
const TAPS = 12;
/** Longest piece filtered at once; longer blocks are cut. */
const PIECE = 128;
/**
 * Largest gain the filter can have at any phase, the sum of the absolute taps of phase 1: what a quiet block cannot exceed.
 */
const MAX_GAIN = 2.0228271484375;

export class TruePeakDetector {
  /** The last eleven samples, then the present piece. */
  readonly #x = new Float64Array(TAPS - 1 + PIECE);

  /**
   * True peaks around every sample of a block, about 6 samples late.
   * @param peaks takes one value for each sample
   * @param enough peaks up to this do not matter: where none can be larger, the samples' own peaks are given
   */
  scan(block: Float32Array, frames: number, peaks: Float32Array, enough: number): void {
    for (let from = 0; from < frames; from += PIECE) {
      const take = Math.min(PIECE, frames - from);
      if (this.#load(block, from, take) * MAX_GAIN <= enough) {
        for (let i = 0; i < take; i++) peaks[from + i] = Math.abs(block[from + i]);
      } else this.#filter(take, peaks, from);
      this.#x.copyWithin(0, take, take + TAPS - 1);
    }
  }

  /**
   * Maximum true peak of a block, or `known` when the block cannot exceed it.
   * @param known the maximum so far, linear
   */
  maxOver(block: Float32Array, frames: number, known: number): number {
    let max = known;
    for (let from = 0; from < frames; from += PIECE) {
      const take = Math.min(PIECE, frames - from);
      if (this.#load(block, from, take) * MAX_GAIN > max) max = Math.max(max, this.#filter(take, null, 0));
      this.#x.copyWithin(0, take, take + TAPS - 1);
    }
    return max;
  }

  /** Whether no true peak around a block of at most 128 samples can exceed `enough`. Takes nothing in: `skip` or `scan` does. */
  cannotExceed(block: Float32Array, frames: number, enough: number): boolean {
    return this.#load(block, 0, frames) * MAX_GAIN <= enough;
  }

  /** Takes in the block that `cannotExceed` was just asked about. */
  skip(frames: number): void {
    this.#x.copyWithin(0, frames, frames + TAPS - 1);
  }

  /** Puts a piece behind the past samples; gives the largest absolute sample among all of them. */
  #load(block: Float32Array, from: number, take: number): number {
    const x = this.#x;
    let peak = 0;
    for (let i = 0; i < TAPS - 1; i++) {
      const a = Math.abs(x[i]);
      if (a > peak) peak = a;
    }
    for (let i = 0; i < take; i++) {
      const v = block[from + i];
      x[TAPS - 1 + i] = v;
      const a = v < 0 ? -v : v;
      if (a > peak) peak = a;
    }
    return peak;
  }

  #filter(take: number, peaks: Float32Array | null, at: number): number {
    const x = this.#x;
    let max = 0;
    for (let i = 0; i < take; i++) {
      let v: number;
      let p0: number;
      let p1: number;
      let p2: number;
      let p3: number;
      v = x[i + 11];
      p0 = 0.001708984375 * v;
      p1 = -0.0291748046875 * v;
      p2 = -0.0189208984375 * v;
      p3 = -0.00830078125 * v;
      v = x[i + 10];
      p0 += 0.010986328125 * v;
      p1 += 0.029296875 * v;
      p2 += 0.0330810546875 * v;
      p3 += 0.014892578125 * v;
      v = x[i + 9];
      p0 += -0.0196533203125 * v;
      p1 += -0.0517578125 * v;
      p2 += -0.0582275390625 * v;
      p3 += -0.026611328125 * v;
      v = x[i + 8];
      p0 += 0.033203125 * v;
      p1 += 0.089111328125 * v;
      p2 += 0.1015625 * v;
      p3 += 0.047607421875 * v;
      v = x[i + 7];
      p0 += -0.0594482421875 * v;
      p1 += -0.16650390625 * v;
      p2 += -0.2003173828125 * v;
      p3 += -0.102294921875 * v;
      v = x[i + 6];
      p0 += 0.1373291015625 * v;
      p1 += 0.465087890625 * v;
      p2 += 0.77978515625 * v;
      p3 += 0.97216796875 * v;
      v = x[i + 5];
      p0 += 0.97216796875 * v;
      p1 += 0.77978515625 * v;
      p2 += 0.465087890625 * v;
      p3 += 0.1373291015625 * v;
      v = x[i + 4];
      p0 += -0.102294921875 * v;
      p1 += -0.2003173828125 * v;
      p2 += -0.16650390625 * v;
      p3 += -0.0594482421875 * v;
      v = x[i + 3];
      p0 += 0.047607421875 * v;
      p1 += 0.1015625 * v;
      p2 += 0.089111328125 * v;
      p3 += 0.033203125 * v;
      v = x[i + 2];
      p0 += -0.026611328125 * v;
      p1 += -0.0582275390625 * v;
      p2 += -0.0517578125 * v;
      p3 += -0.0196533203125 * v;
      v = x[i + 1];
      p0 += 0.014892578125 * v;
      p1 += 0.0330810546875 * v;
      p2 += 0.029296875 * v;
      p3 += 0.010986328125 * v;
      v = x[i + 0];
      p0 += -0.00830078125 * v;
      p1 += -0.0189208984375 * v;
      p2 += -0.0291748046875 * v;
      p3 += 0.001708984375 * v;
      p0 = Math.abs(p0);
      p1 = Math.abs(p1);
      p2 = Math.abs(p2);
      p3 = Math.abs(p3);
      if (p1 > p0) p0 = p1;
      if (p3 > p2) p2 = p3;
      if (p2 > p0) p0 = p2;
      if (p0 > max) max = p0;
      if (peaks !== null) peaks[at + i] = p0;
    }
    return max;
  }
}
