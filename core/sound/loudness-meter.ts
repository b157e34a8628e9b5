/**
 * Programme loudness after ITU-R BS.1770-4 and EBU Tech 3341.
 *
 * Momentary (400 ms) and short-term (3 s) loudness move in hops of 10 ms, which the Tech 3341 cases 13 and 14 need;
 * integrated loudness gates overlapping 400 ms blocks every 100 ms (BS.1770-4, annex 1).
 * Nothing is allocated after construction.
 */

export const LOUDNESS_SAMPLE_RATE = 48_000;

const HOP_FRAMES = 480;
const MOMENTARY_HOPS = 40;
const SHORT_TERM_HOPS = 300;
const GATING_HOPS = 10;
/** Blocks below this never count (BS.1770-4 annex 1). */
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;
/** Loudness of a full-scale mean square of 1 (BS.1770-4 equation 2). */
const OFFSET_LU = -0.691;
/** Histogram from −70 to +10 LUFS; the mean energy of a bin is kept, so the bin width does not round the result. */
const BIN_LU = 0.1;
const BINS = 800;

/** BS.1770-4 tables 1 and 2, for 48 kHz. */
const SHELF = {
  b0: 1.53512485958697,
  b1: -2.69169618940638,
  b2: 1.19839281085285,
  a1: -1.69065929318241,
  a2: 0.73248077421585,
};
const HIGH_PASS = { b0: 1, b1: -2, b2: 1, a1: -1.99004745483398, a2: 0.99007225036621 };

/** Weights of L, R, C, Ls, Rs (BS.1770-4 table 3). */
const CHANNEL_WEIGHTS = [1, 1, 1, 1.41, 1.41];

function lufs(meanSquare: number): number {
  return meanSquare > 0 ? OFFSET_LU + 10 * Math.log10(meanSquare) : -Infinity;
}

/** Far below anything audible (−600 dB) counts as nothing. */
function settled(state: number): number {
  return state < 1e-30 && state > -1e-30 ? 0 : state;
}

export class LoudnessMeter {
  /** LUFS over the last 400 ms; −Infinity before any sound. */
  momentary = -Infinity;
  /** LUFS over the last 3 s. */
  shortTerm = -Infinity;
  maxMomentary = -Infinity;
  maxShortTerm = -Infinity;

  readonly #channels: number;
  /** Four states per channel: two direct form II transposed biquads. */
  readonly #state: Float64Array;
  readonly #hops = new Float64Array(SHORT_TERM_HOPS);
  #hopCount = 0;
  #hopFrames = 0;
  #hopSum = 0;
  readonly #binEnergy = new Float64Array(BINS);
  readonly #binCount = new Float64Array(BINS);

  /** @param channels 1 to 5, in the order L, R, C, Ls, Rs */
  constructor(channels = 2) {
    this.#channels = channels;
    this.#state = new Float64Array(channels * 4);
  }

  /**
   * @param blocks one array per channel, samples −1…1 at 48 kHz
   * @param frames how many samples of each to take
   */
  process(blocks: readonly Float32Array[], frames: number): void {
    let from = 0;
    while (from < frames) {
      const take = Math.min(frames - from, HOP_FRAMES - this.#hopFrames);
      for (let c = 0; c < this.#channels; c++)
        this.#hopSum += CHANNEL_WEIGHTS[c] * this.#weigh(c, blocks[c], from, from + take);
      from += take;
      this.#hopFrames += take;
      if (this.#hopFrames === HOP_FRAMES) this.#endHop();
    }
  }

  /** Sum of squares of the K-weighted samples. */
  #weigh(channel: number, x: Float32Array, from: number, to: number): number {
    const state = this.#state;
    const s = channel * 4;
    let z1 = state[s];
    let z2 = state[s + 1];
    let z3 = state[s + 2];
    let z4 = state[s + 3];
    let sum = 0;
    for (let i = from; i < to; i++) {
      const v = x[i];
      const y = SHELF.b0 * v + z1;
      z1 = SHELF.b1 * v - SHELF.a1 * y + z2;
      z2 = SHELF.b2 * v - SHELF.a2 * y;
      const w = HIGH_PASS.b0 * y + z3;
      z3 = HIGH_PASS.b1 * y - HIGH_PASS.a1 * w + z4;
      z4 = HIGH_PASS.b2 * y - HIGH_PASS.a2 * w;
      sum += w * w;
    }
    // In silence the filter rings down into subnormal numbers, which cost a hundred times as much.
    state[s] = settled(z1);
    state[s + 1] = settled(z2);
    state[s + 2] = settled(z3);
    state[s + 3] = settled(z4);
    return sum;
  }

  #mean(hops: number): number {
    let sum = 0;
    for (let i = 1; i <= hops; i++) sum += this.#hops[(this.#hopCount - i) % SHORT_TERM_HOPS];
    return sum / (hops * HOP_FRAMES);
  }

  #endHop(): void {
    this.#hops[this.#hopCount % SHORT_TERM_HOPS] = this.#hopSum;
    this.#hopCount += 1;
    this.#hopSum = 0;
    this.#hopFrames = 0;
    if (this.#hopCount >= MOMENTARY_HOPS) {
      const energy = this.#mean(MOMENTARY_HOPS);
      this.momentary = lufs(energy);
      if (this.momentary > this.maxMomentary) this.maxMomentary = this.momentary;
      if (this.#hopCount % GATING_HOPS === 0 && this.momentary > ABSOLUTE_GATE_LUFS) {
        const bin = Math.min(BINS - 1, Math.floor((this.momentary - ABSOLUTE_GATE_LUFS) / BIN_LU));
        this.#binEnergy[bin] += energy;
        this.#binCount[bin] += 1;
      }
    }
    if (this.#hopCount >= SHORT_TERM_HOPS) {
      this.shortTerm = lufs(this.#mean(SHORT_TERM_HOPS));
      if (this.shortTerm > this.maxShortTerm) this.maxShortTerm = this.shortTerm;
    }
  }

  /** LUFS since construction or `resetIntegrated`, gated; −Infinity when nothing passed the gate. */
  integrated(): number {
    let energy = 0;
    let count = 0;
    for (let i = 0; i < BINS; i++) {
      energy += this.#binEnergy[i];
      count += this.#binCount[i];
    }
    if (count === 0) return -Infinity;
    const gate = lufs(energy / count) + RELATIVE_GATE_LU;
    const first = Math.max(0, Math.floor((gate - ABSOLUTE_GATE_LUFS) / BIN_LU));
    energy = 0;
    count = 0;
    for (let i = first; i < BINS; i++) {
      energy += this.#binEnergy[i];
      count += this.#binCount[i];
    }
    return lufs(energy / count);
  }

  resetIntegrated(): void {
    this.#binEnergy.fill(0);
    this.#binCount.fill(0);
    this.maxMomentary = -Infinity;
    this.maxShortTerm = -Infinity;
  }
}
