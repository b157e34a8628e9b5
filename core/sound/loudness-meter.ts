/**
 * Loudness after ITU-R BS.1770-4 and EBU Tech 3341, loudness range after EBU Tech 3342.
 *
 * Momentary (400 ms) and short-term (3 s) loudness move in hops of 10 ms, which the Tech 3341 cases 13 and 14 need;
 * integrated loudness gates overlapping 400 ms blocks every 100 ms (BS.1770-4, annex 1).
 * Nothing is allocated after construction.
 */

const HOP_FRAMES = 480;
const MOMENTARY_HOPS = 40;
const SHORT_TERM_HOPS = 300;
const GATING_HOPS = 10;
/** Blocks below this never count (BS.1770-4 annex 1). */
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;
/** EBU Tech 3342: gate of the loudness range, and which shares of the short-term values it lies between. */
const RANGE_GATE_LU = -20;
const RANGE_LOW = 0.1;
const RANGE_HIGH = 0.95;
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

function binOf(loudness: number): number {
  return Math.min(BINS - 1, Math.max(0, Math.floor((loudness - ABSOLUTE_GATE_LUFS) / BIN_LU)));
}

/** Middle of a bin, LUFS. */
function loudnessOfBin(bin: number): number {
  return ABSOLUTE_GATE_LUFS + (bin + 0.5) * BIN_LU;
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

  /** K-weighted energy of the last finished 10 ms, mean square. */
  hopEnergy = 0;
  /** Hops finished since construction. */
  hops = 0;

  readonly #channels: number;
  /** Four states per channel: two direct form II transposed biquads. */
  readonly #state: Float64Array;
  readonly #ring = new Float64Array(SHORT_TERM_HOPS);
  #hopFrames = 0;
  #hopSum = 0;
  readonly #binEnergy = new Float64Array(BINS);
  readonly #binCount = new Float64Array(BINS);
  readonly #shortTermCount = new Float64Array(BINS);
  readonly #weight: number;

  /**
   * @param channels 1 to 5, in the order L, R, C, Ls, Rs
   * @param weight 2 for one channel that is heard on both sides
   */
  constructor(channels = 2, weight = 1) {
    this.#channels = channels;
    this.#weight = weight;
    this.#state = new Float64Array(channels * 4);
  }

  /**
   * @param blocks one array per channel, samples −1…1 at 48 kHz
   * @param frames how many samples of each to take
   * @param gain linear, counted as if the samples had been multiplied by it
   */
  process(blocks: readonly Float32Array[], frames: number, gain = 1): void {
    let from = 0;
    const square = gain * gain * this.#weight;
    while (from < frames) {
      const take = Math.min(frames - from, HOP_FRAMES - this.#hopFrames);
      for (let c = 0; c < this.#channels; c++)
        this.#hopSum += square * CHANNEL_WEIGHTS[c] * this.#weigh(c, blocks[c], from, from + take);
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
    // Plain local numbers: looked up in the objects they cost twice as much.
    const { b0, b1, b2, a1, a2 } = SHELF;
    const c1 = HIGH_PASS.a1;
    const c2 = HIGH_PASS.a2;
    let sum = 0;
    for (let i = from; i < to; i++) {
      const v = x[i];
      const y = b0 * v + z1;
      z1 = b1 * v + z2 - a1 * y;
      z2 = b2 * v - a2 * y;
      // Its numerator is 1, −2, 1.
      const w = y + z3;
      z3 = z4 - 2 * y - c1 * w;
      z4 = y - c2 * w;
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
    const ring = this.#ring;
    let at = this.hops % SHORT_TERM_HOPS;
    let sum = 0;
    for (let i = 0; i < hops; i++) {
      at = at === 0 ? SHORT_TERM_HOPS - 1 : at - 1;
      sum += ring[at];
    }
    return sum / (hops * HOP_FRAMES);
  }

  #endHop(): void {
    this.#ring[this.hops % SHORT_TERM_HOPS] = this.#hopSum;
    this.hops += 1;
    this.hopEnergy = this.#hopSum / HOP_FRAMES;
    this.#hopSum = 0;
    this.#hopFrames = 0;
    if (this.hops >= MOMENTARY_HOPS) {
      const energy = this.#mean(MOMENTARY_HOPS);
      this.momentary = lufs(energy);
      if (this.momentary > this.maxMomentary) this.maxMomentary = this.momentary;
      if (this.hops % GATING_HOPS === 0 && this.momentary > ABSOLUTE_GATE_LUFS) {
        const bin = binOf(this.momentary);
        this.#binEnergy[bin] += energy;
        this.#binCount[bin] += 1;
      }
    }
    if (this.hops >= SHORT_TERM_HOPS) {
      this.shortTerm = lufs(this.#mean(SHORT_TERM_HOPS));
      if (this.shortTerm > this.maxShortTerm) this.maxShortTerm = this.shortTerm;
      if (this.hops % GATING_HOPS === 0 && this.shortTerm > ABSOLUTE_GATE_LUFS)
        this.#shortTermCount[binOf(this.shortTerm)] += 1;
    }
  }

  /** Blocks that passed the gate when `integrated` was last asked for. */
  gatedBlocks = 0;

  /** LUFS since construction or `resetIntegrated`, gated; −Infinity when nothing passed the gate. */
  integrated(): number {
    let energy = 0;
    let count = 0;
    for (let i = 0; i < BINS; i++) {
      energy += this.#binEnergy[i];
      count += this.#binCount[i];
    }
    this.gatedBlocks = 0;
    if (count === 0) return -Infinity;
    const gate = lufs(energy / count) + RELATIVE_GATE_LU;
    const first = Math.max(0, Math.floor((gate - ABSOLUTE_GATE_LUFS) / BIN_LU));
    energy = 0;
    count = 0;
    for (let i = first; i < BINS; i++) {
      energy += this.#binEnergy[i];
      count += this.#binCount[i];
    }
    this.gatedBlocks = count;
    return lufs(energy / count);
  }

  /** Loudness range since the same moment, LU: between the 10 % and the 95 % quantile of the short-term loudness; 0 without any. */
  range(): number {
    let energy = 0;
    let all = 0;
    for (let i = 0; i < BINS; i++) {
      energy += this.#shortTermCount[i] * 10 ** ((loudnessOfBin(i) - OFFSET_LU) / 10);
      all += this.#shortTermCount[i];
    }
    if (all === 0) return 0;
    const first = binOf(Math.max(ABSOLUTE_GATE_LUFS, lufs(energy / all) + RANGE_GATE_LU));
    let count = 0;
    for (let i = first; i < BINS; i++) count += this.#shortTermCount[i];
    return Math.max(0, this.#quantile(first, count * RANGE_HIGH) - this.#quantile(first, count * RANGE_LOW));
  }

  #quantile(first: number, wanted: number): number {
    let seen = 0;
    for (let i = first; i < BINS; i++) {
      seen += this.#shortTermCount[i];
      if (seen >= wanted) return loudnessOfBin(i);
    }
    return loudnessOfBin(BINS - 1);
  }

  resetIntegrated(): void {
    this.#shortTermCount.fill(0);
    this.#binEnergy.fill(0);
    this.#binCount.fill(0);
    this.maxMomentary = -Infinity;
    this.maxShortTerm = -Infinity;
  }
}
