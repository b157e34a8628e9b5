/**
 * One unbroken timeline for destinations and the recording, whatever feeds it: the desk, the cover, the desk again.
 *
 * Each source counts its own time. When another source takes over, its first packet is put where wall time has got to,
 * but never before what was already sent.
 */
export class TimelineSplice {
  #source: string | null = null;
  #shiftUs = 0;
  /** End of the last packet that went out, microseconds on the common timeline. */
  #endUs = 0;
  #startedWallUs: number | null = null;

  get endUs(): number {
    return this.#endUs;
  }

  /** How far the timeline is behind the wall clock: what a cover would have to fill. */
  behindUs(wallUs: number): number {
    return this.#startedWallUs === null ? 0 : wallUs - this.#startedWallUs - this.#endUs;
  }

  /**
   * @param source who made the packet; a change of source starts a new splice
   * @returns the stamp on the common timeline, or null when it would lie before the splice and must be dropped
   */
  place(source: string, timestampUs: number, durationUs: number, wallUs: number): number | null {
    this.#startedWallUs ??= wallUs;
    if (source !== this.#source) {
      const at = this.#source === null ? 0 : Math.max(this.#endUs, wallUs - this.#startedWallUs);
      this.#source = source;
      this.#shiftUs = at - timestampUs;
      this.#spliceAtUs = at;
    }
    const placed = timestampUs + this.#shiftUs;
    if (placed < this.#spliceAtUs) return null;
    this.#endUs = Math.max(this.#endUs, placed + durationUs);
    return placed;
  }

  #spliceAtUs = 0;
}
