/**
 * True peak by four times oversampling, ITU-R BS.1770-4 annex 2: 48 taps in four phases of twelve.
 * Phases 2 and 3 are phases 1 and 0 backwards. So two phases share their work: with the sum and the difference of each two
 * samples that lie alike around the middle, one is even + odd and the other even − odd, and the larger of the two is
 * |even| + |odd|. The taps below are half the sum and half the difference of the annex's, exact in binary.
 * The filter is written out: a loop over arrays of taps takes seven times as long.
 */
const TAPS = 12;
/** Longest piece filtered at once; longer blocks are cut. */
const PIECE = 128;
/**
 * Largest gain the filter can have at any phase, the sum of the absolute taps of phase 1: what a quiet block cannot exceed.
 */
const MAX_GAIN = 2.0228271484375;

export class TruePeakDetector {
  /** The last eleven samples, then the present piece, then one that is read but not counted. */
  readonly #x = new Float64Array(TAPS + PIECE);

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
    // Two samples at once: their pairs have a sample in common each, and loading costs as much as multiplying. Of an odd
    // number of samples the last second one is what lies behind the piece, and is not counted.
    for (let i = 0; i < take; i += 2) {
      let a = x[i + 11];
      let b = x[i];
      let c = x[i + 12];
      let d = x[i + 1];
      let plus = a + b;
      let minus = a - b;
      let even0a = -0.0032958984375 * plus;
      let odd0a = 0.0050048828125 * minus;
      let even1a = -0.0240478515625 * plus;
      let odd1a = -0.005126953125 * minus;
      plus = c + d;
      minus = c - d;
      let even0b = -0.0032958984375 * plus;
      let odd0b = 0.0050048828125 * minus;
      let even1b = -0.0240478515625 * plus;
      let odd1b = -0.005126953125 * minus;
      c = a;
      a = x[i + 10];
      b = d;
      d = x[i + 2];
      plus = a + b;
      minus = a - b;
      even0a += 0.012939453125 * plus;
      odd0a += -0.001953125 * minus;
      even1a += 0.03118896484375 * plus;
      odd1a += -0.00189208984375 * minus;
      plus = c + d;
      minus = c - d;
      even0b += 0.012939453125 * plus;
      odd0b += -0.001953125 * minus;
      even1b += 0.03118896484375 * plus;
      odd1b += -0.00189208984375 * minus;
      c = a;
      a = x[i + 9];
      b = d;
      d = x[i + 3];
      plus = a + b;
      minus = a - b;
      even0a += -0.02313232421875 * plus;
      odd0a += 0.00347900390625 * minus;
      even1a += -0.05499267578125 * plus;
      odd1a += 0.00323486328125 * minus;
      plus = c + d;
      minus = c - d;
      even0b += -0.02313232421875 * plus;
      odd0b += 0.00347900390625 * minus;
      even1b += -0.05499267578125 * plus;
      odd1b += 0.00323486328125 * minus;
      c = a;
      a = x[i + 8];
      b = d;
      d = x[i + 4];
      plus = a + b;
      minus = a - b;
      even0a += 0.0404052734375 * plus;
      odd0a += -0.0072021484375 * minus;
      even1a += 0.0953369140625 * plus;
      odd1a += -0.0062255859375 * minus;
      plus = c + d;
      minus = c - d;
      even0b += 0.0404052734375 * plus;
      odd0b += -0.0072021484375 * minus;
      even1b += 0.0953369140625 * plus;
      odd1b += -0.0062255859375 * minus;
      c = a;
      a = x[i + 7];
      b = d;
      d = x[i + 5];
      plus = a + b;
      minus = a - b;
      even0a += -0.08087158203125 * plus;
      odd0a += 0.02142333984375 * minus;
      even1a += -0.18341064453125 * plus;
      odd1a += 0.01690673828125 * minus;
      plus = c + d;
      minus = c - d;
      even0b += -0.08087158203125 * plus;
      odd0b += 0.02142333984375 * minus;
      even1b += -0.18341064453125 * plus;
      odd1b += 0.01690673828125 * minus;
      c = a;
      a = x[i + 6];
      b = d;
      d = x[i + 6];
      plus = a + b;
      minus = a - b;
      even0a += 0.55474853515625 * plus;
      odd0a += -0.41741943359375 * minus;
      even1a += 0.6224365234375 * plus;
      odd1a += -0.1573486328125 * minus;
      plus = c + d;
      minus = c - d;
      even0b += 0.55474853515625 * plus;
      odd0b += -0.41741943359375 * minus;
      even1b += 0.6224365234375 * plus;
      odd1b += -0.1573486328125 * minus;
      const first = Math.max(Math.abs(even0a) + Math.abs(odd0a), Math.abs(even1a) + Math.abs(odd1a));
      if (first > max) max = first;
      if (peaks !== null) peaks[at + i] = first;
      if (i + 1 === take) break;
      const second = Math.max(Math.abs(even0b) + Math.abs(odd0b), Math.abs(even1b) + Math.abs(odd1b));
      if (second > max) max = second;
      if (peaks !== null) peaks[at + i + 1] = second;
    }
    return max;
  }
}
