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
    const ceiling = this.#ceiling;
    const queueGain = this.#queueGain;
    const queueFrame = this.#queueFrame;
    const minima = this.#minima;
    const pastLeft = this.#left;
    const pastRight = this.#right;
    let { lowestGain } = this;
    let released = this.#released;
    let head = this.#head;
    let size = this.#size;
    let frame = this.#frame;
    let ones = this.#ones;
    let sum = this.#minimaSum;
    let minimaAt = this.#minimaAt;
    let at = this.#at;
    for (let k = 0; k < take; k++) {
      const i = from + k;
      let peak = Math.max(peaksLeft[k], Math.abs(left[i]));
      if (right !== null) peak = Math.max(peak, peaksRight[k], Math.abs(right[i]));
      const needed = peak > ceiling ? ceiling / peak : 1;
      released = 1 - (1 - released) * keep;
      // A millionth below 1 (−120 dB of a difference) is 1, so that it comes to rest.
      if (released > 1 - 1e-6) released = 1;
      if (needed < released) released = needed;

      // The newest candidate is at head + size − 1; no division, which would cost as much as all the rest.
      let tail = head + size;
      if (tail >= capacity) tail -= capacity;
      while (size > 0) {
        const before = tail === 0 ? capacity - 1 : tail - 1;
        if (queueGain[before] < released) break;
        tail = before;
        size -= 1;
      }
      queueGain[tail] = released;
      queueFrame[tail] = frame;
      size += 1;
      if (queueFrame[head] <= frame - WINDOW) {
        head = head + 1 === capacity ? 0 : head + 1;
        size -= 1;
      }
      frame += 1;

      const lowest = queueGain[head];
      ones = lowest === 1 ? ones + 1 : 0;
      sum += lowest - minima[minimaAt];
      minima[minimaAt] = lowest;
      minimaAt = minimaAt + 1 === WINDOW ? 0 : minimaAt + 1;
      // The running sum drifts by rounding; a full turn of ones sets it right.
      if (minimaAt === 0 && lowest === 1 && sum > WINDOW - 1e-6) sum = WINDOW;
      const gain = sum < WINDOW ? sum * (1 / WINDOW) : 1;
      if (gain < lowestGain) lowestGain = gain;

      const l = pastLeft[at];
      pastLeft[at] = left[i];
      left[i] = l * gain;
      if (right !== null) {
        const r = pastRight[at];
        pastRight[at] = right[i];
        right[i] = r * gain;
      }
      at = at + 1 === LOOK_AHEAD_FRAMES ? 0 : at + 1;
    }
    this.lowestGain = lowestGain;
    this.#released = released;
    this.#head = head;
    this.#size = size;
    this.#frame = frame;
    this.#ones = ones;
    this.#minimaSum = sum;
    this.#minimaAt = minimaAt;
    this.#at = at;
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
