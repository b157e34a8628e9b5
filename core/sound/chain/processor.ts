/** What every processor of a voice chain is to the chain. */
export interface SoundProcessor {
  /** Samples by which the output is late; constant as long as the processor lives. */
  readonly latencyFrames: number;
  /** Level at the input, dBFS peak, and what the processor does to it now, dB (negative: quieter). For meters. */
  inputDb: number;
  gainDb: number;
  /** Processes in place. `right` is null for a channel with one voice. */
  process(left: Float32Array, right: Float32Array | null, frames: number): void;
}

/** Gains are worked out once for so many samples and reached in a straight line: a third of a millisecond at 48 kHz. */
export const STEP_FRAMES = 16;
export const SILENCE_DB = -120;

export function dbOf(amplitude: number): number {
  return amplitude > 1e-6 ? 20 * Math.log10(amplitude) : SILENCE_DB;
}

/** Part of the way to the goal in one step of a one-pole smoother with this time constant. */
export function stepShare(milliseconds: number, rate: number): number {
  return 1 - Math.exp(-STEP_FRAMES / ((Math.max(milliseconds, 0.01) / 1000) * rate));
}

/** Largest absolute sample of both channels from `from` on. */
export function peakOf(left: Float32Array, right: Float32Array | null, from: number, frames: number): number {
  let peak = 0;
  for (let i = from; i < from + frames; i++) {
    const a = Math.abs(left[i]);
    if (a > peak) peak = a;
  }
  if (right !== null)
    for (let i = from; i < from + frames; i++) {
      const a = Math.abs(right[i]);
      if (a > peak) peak = a;
    }
  return peak;
}

/** Multiplies both channels by a gain that goes in a straight line from one value to another. */
export function applyGain(
  left: Float32Array,
  right: Float32Array | null,
  from: number,
  frames: number,
  before: number,
  after: number,
): void {
  if (before === after) {
    if (after === 1) return;
    for (let i = from; i < from + frames; i++) left[i] *= after;
    if (right !== null) for (let i = from; i < from + frames; i++) right[i] *= after;
    return;
  }
  const step = (after - before) / frames;
  // Not by adding up: each sum would wait for the last one.
  for (let i = 0; i < frames; i++) left[from + i] *= before + step * (i + 1);
  if (right !== null) for (let i = 0; i < frames; i++) right[from + i] *= before + step * (i + 1);
}

/**
 * Largest value of the last `steps` steps: holds the level of a tone between its crests, so that gains worked out from it
 * do not tremble. A ring of plain values with a running maximum; nothing is allocated while running.
 */
export class PeakHold {
  readonly #ring: Float64Array;
  #at = 0;
  #max = 0;

  /** @param steps how long a crest is held, in steps of `STEP_FRAMES` */
  constructor(steps: number) {
    this.#ring = new Float64Array(steps);
  }

  take(peak: number): number {
    const ring = this.#ring;
    const leaving = ring[this.#at];
    ring[this.#at] = peak;
    this.#at = this.#at + 1 === ring.length ? 0 : this.#at + 1;
    if (peak >= this.#max) this.#max = peak;
    else if (leaving >= this.#max) {
      let max = 0;
      for (let i = 0; i < ring.length; i++) if (ring[i] > max) max = ring[i];
      this.#max = max;
    }
    return this.#max;
  }
}

/** 10 ms: half a period of 50 Hz, the lowest that matters in a voice. */
export const HOLD_STEPS = 30;
