import { amplitudeOfDb } from './decibel';
import { TruePeakDetector } from './true-peak';

/** 5 ms at 48 kHz: short enough to stay in step with the picture, long enough not to click. */
const LOOK_AHEAD_FRAMES = 240;
/** The true-peak filter reports this much late; the gain must be down before the peak is out. */
const DETECTOR_DELAY_FRAMES = 12;
const WINDOW = LOOK_AHEAD_FRAMES - DETECTOR_DELAY_FRAMES;
/** Samples worked on at once; a sound thread's block is one piece and makes no view of an array. */
const PIECE = 128;
/** Time constant of the way back up: 80 ms does not pump on speech. */
const RELEASE_MS = 80;
const RATE = 48_000;

/**
 * Limiter for one or two channels: look-ahead, linked channels, true-peak detection, no saturation.
 *
 * Needed gain → release → sliding minimum over the look-ahead → average over the same window: the result is smooth
 * and never above what any sample in the window needs. Nothing is allocated after construction.
 */
export class Limiter {
  /** Samples by which the output is late. */
  static readonly latencyFrames = LOOK_AHEAD_FRAMES;
  /** Lowest gain since it was last read and reset by the owner, linear. */
  lowestGain = 1;

  #ceiling = 1;
  #keep = 0;
  readonly #left = new Float32Array(LOOK_AHEAD_FRAMES);
  readonly #right = new Float32Array(LOOK_AHEAD_FRAMES);
  readonly #detectLeft = new TruePeakDetector();
  readonly #detectRight = new TruePeakDetector();
  readonly #peaksLeft = new Float32Array(PIECE);
  readonly #peaksRight = new Float32Array(PIECE);
  #at = 0;
  #released = 1;
  /** Monotonic queue of candidates for the sliding minimum: values and the sample they belong to. */
  readonly #queueGain = new Float64Array(WINDOW + 1);
  readonly #queueFrame = new Float64Array(WINDOW + 1);
  #head = 0;
  #size = 0;
  #frame = 0;
  readonly #minima = new Float64Array(WINDOW).fill(1);
  #minimaAt = 0;
  /** Samples since the gain was last below 1 anywhere in the window. */
  #ones = 0;
  #minimaSum = WINDOW;

  /**
   * @param ceilingDb dBTP, not above 0
   * @param releaseMs time constant of the way back up
   */
  constructor(ceilingDb = -1, releaseMs = RELEASE_MS) {
    this.set(ceilingDb, releaseMs);
  }

  /** A lower ceiling is kept for all that comes in from now on; what waits in the look-ahead has the old one. */
  set(ceilingDb: number, releaseMs = RELEASE_MS): void {
    // 0.1 dB under: BS.1770's own filter may read 0.1…0.4 dB low between its four points.
    this.#ceiling = amplitudeOfDb(ceilingDb - 0.1);
    this.#keep = Math.exp(-1000 / (releaseMs * RATE));
  }

  /** Limits in place; `right` is null for one channel. */
  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    if (frames <= PIECE && this.#rests(left, right, frames)) return;
    for (let from = 0; from < frames; from += PIECE)
      this.#piece(left, right, from, Math.min(PIECE, frames - from));
  }

  /** Most of the time nothing is loud and the gain has come back to 1: then all there is to do is to delay. */
  #rests(left: Float32Array, right: Float32Array | null, frames: number): boolean {
    if (this.#ones < WINDOW || !this.#detectLeft.cannotExceed(left, frames, this.#ceiling)) return false;
    if (right !== null) {
      if (!this.#detectRight.cannotExceed(right, frames, this.#ceiling)) return false;
      this.#detectRight.skip(frames);
    }
    this.#detectLeft.skip(frames);
    this.#frame += frames;
    this.#queueGain[this.#head] = 1;
    this.#queueFrame[this.#head] = this.#frame - 1;
    this.#size = 1;
    this.#minimaSum = WINDOW;
    const at = this.#at;
    delay(this.#left, left, at, frames);
    if (right !== null) delay(this.#right, right, at, frames);
    this.#at = (at + frames) % LOOK_AHEAD_FRAMES;
    return true;
  }

  #piece(left: Float32Array, right: Float32Array | null, from: number, take: number): void {
    const capacity = WINDOW + 1;
    const peaksLeft = this.#peaksLeft;
    const peaksRight = this.#peaksRight;
    this.#detectLeft.scan(
      from === 0 ? left : left.subarray(from, from + take),
      take,
      peaksLeft,
      this.#ceiling,
    );
    if (right !== null)
      this.#detectRight.scan(
        from === 0 ? right : right.subarray(from, from + take),
        take,
        peaksRight,
        this.#ceiling,
      );
    const keep = this.#keep;
    for (let k = 0; k < take; k++) {
      const i = from + k;
      let peak = Math.max(peaksLeft[k], Math.abs(left[i]));
      if (right !== null) peak = Math.max(peak, peaksRight[k], Math.abs(right[i]));
      const needed = peak > this.#ceiling ? this.#ceiling / peak : 1;
      let released = 1 - (1 - this.#released) * keep;
      // A millionth below 1 (−120 dB of a difference) is 1, so that it comes to rest.
      if (released > 1 - 1e-6) released = 1;
      this.#released = needed < released ? needed : released;

      while (this.#size > 0 && this.#queueGain[(this.#head + this.#size - 1) % capacity] >= this.#released)
        this.#size -= 1;
      const tail = (this.#head + this.#size) % capacity;
      this.#queueGain[tail] = this.#released;
      this.#queueFrame[tail] = this.#frame;
      this.#size += 1;
      if (this.#queueFrame[this.#head] <= this.#frame - WINDOW) {
        this.#head = (this.#head + 1) % capacity;
        this.#size -= 1;
      }
      this.#frame += 1;

      const lowest = this.#queueGain[this.#head];
      this.#ones = lowest === 1 ? this.#ones + 1 : 0;
      this.#minimaSum += lowest - this.#minima[this.#minimaAt];
      this.#minima[this.#minimaAt] = lowest;
      this.#minimaAt = (this.#minimaAt + 1) % WINDOW;
      // The running sum drifts by rounding; a full turn of ones sets it right.
      if (this.#minimaAt === 0 && lowest === 1 && this.#minimaSum > WINDOW - 1e-6) this.#minimaSum = WINDOW;
      const gain = Math.min(1, this.#minimaSum / WINDOW);
      if (gain < this.lowestGain) this.lowestGain = gain;

      const at = this.#at;
      const l = this.#left[at];
      this.#left[at] = left[i];
      left[i] = l * gain;
      if (right !== null) {
        const r = this.#right[at];
        this.#right[at] = right[i];
        right[i] = r * gain;
      }
      this.#at = at + 1 === LOOK_AHEAD_FRAMES ? 0 : at + 1;
    }
  }
}

/** Puts a block into a ring and takes out what was there. */
function delay(ring: Float32Array, block: Float32Array, from: number, frames: number): void {
  let at = from;
  for (let i = 0; i < frames; i++) {
    const out = ring[at];
    ring[at] = block[i];
    block[i] = out;
    at = at + 1 === LOOK_AHEAD_FRAMES ? 0 : at + 1;
  }
}
