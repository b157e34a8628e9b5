/**
 * Ties the sample count of the sound thread to a wall clock that others can read.
 *
 * The sound thread works in bursts and can only be late, so the smallest `wall − samples` seen over a window is the
 * true offset. Windows follow each other, so a lasting slip (the sound thread lost time) is taken over within two of them.
 */
export class ClockAnchor {
  /** Slips larger than `slipSeconds` since the start: the sound thread lost or was given time. */
  slips = 0;
  #offset: number | null = null;
  #current = Infinity;
  #previous = Infinity;
  #windowEnds = -Infinity;
  #settled: number | null = null;

  constructor(
    readonly sampleRate: number,
    readonly windowSeconds = 1,
    readonly slipSeconds = 0.02,
  ) {}

  get ready(): boolean {
    return this.#offset !== null;
  }

  /**
   * @param wallSeconds when the count was read
   * @param frames samples rendered by then
   */
  observe(wallSeconds: number, frames: number): void {
    const offset = wallSeconds - frames / this.sampleRate;
    if (wallSeconds >= this.#windowEnds) {
      const settled = Math.min(this.#previous, this.#current);
      if (Number.isFinite(settled)) {
        if (this.#settled !== null && Math.abs(settled - this.#settled) > this.slipSeconds) this.slips += 1;
        this.#settled = settled;
      }
      this.#previous = this.#current;
      this.#current = Infinity;
      this.#windowEnds = wallSeconds + this.windowSeconds;
    }
    this.#current = Math.min(this.#current, offset);
    this.#offset = Math.min(this.#previous, this.#current);
  }

  /** Programme time in seconds at a wall time; 0 before the first observation. */
  programmeTime(wallSeconds: number): number {
    return this.#offset === null ? 0 : wallSeconds - this.#offset;
  }
}
