import { rateOf } from './picture-grid';

/**
 * One unbroken timeline for destinations and the recording, whatever feeds it: the desk, the cover, the desk again.
 *
 * Each source counts its own time. When another source takes over, its first packet is put where wall time has got to,
 * but never before what was already sent. Pictures stay on one grid through it: whoever reads the recording as so many
 * pictures a second, as editors do, finds each in its place.
 */
export class TimelineSplice {
  #source: string | null = null;
  /** Stamp of the last picture on the common timeline. */
  #pictureUs: number | null = null;
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
   * @param fps of pictures, for a picture; null for sound
   * @returns the stamp on the common timeline, or null when it would lie before the splice and must be dropped
   */
  place(
    source: string,
    timestampUs: number,
    durationUs: number,
    wallUs: number,
    fps: number | null = null,
  ): number | null {
    this.#startedWallUs ??= wallUs;
    if (source !== this.#source) {
      const free = this.#source === null ? 0 : Math.max(this.#endUs, wallUs - this.#startedWallUs);
      const at = fps === null || this.#pictureUs === null ? free : onGrid(this.#pictureUs, free, fps);
      this.#source = source;
      this.#shiftUs = at - timestampUs;
      this.#spliceAtUs = at;
    }
    const placed = timestampUs + this.#shiftUs;
    if (placed < this.#spliceAtUs) return null;
    this.#endUs = Math.max(this.#endUs, placed + durationUs);
    if (fps !== null) this.#pictureUs = placed;
    return placed;
  }

  #spliceAtUs = 0;
}

/** The first place of a grid through `fromUs` that is not before `atUs`. */
function onGrid(fromUs: number, atUs: number, fps: number): number {
  const stepUs = 1e6 / rateOf(fps);
  // A microsecond is what stamps are rounded to.
  return Math.round(fromUs + Math.ceil((atUs - fromUs - 1) / stepUs) * stepUs);
}
