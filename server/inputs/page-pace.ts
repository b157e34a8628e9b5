/** How much less often web pages are looked at while the programme's pictures come late: pages share the machine with it. */

/** What the desk has said of the programme's pictures, counted since it went live. */
export interface PictureCounts {
  due: number;
  composed: number;
  late: number;
}

/** Beyond this part of pictures that were late or missing, pages give way; below the other the machine has room. */
const TOO_MANY = 0.04;
const FEW = 0.01;
const SLOWEST = 4;
/** So many looks without late pictures before pages may be quicker again; longer each time that was too early. */
const CALM_LOOKS = 6;
const MOST_CALM_LOOKS = 96;
/** Fewer pictures say nothing; so many looks without even that, and nobody is live any more. */
const LEAST_DUE = 10;
const STILL_LOOKS = 5;

export class PagePace {
  #factor = 1;
  #before: PictureCounts | null = null;
  #calm = 0;
  #patience = CALM_LOOKS;
  #still = 0;

  /** A page's pictures are so many times as far from each other as its settings say: 1, 2 or 4. */
  get factor(): number {
    return this.#factor;
  }

  /** Looks at what the desk says, about once a second. @param counts null or standing still when nobody is live */
  look(counts: PictureCounts | null): void {
    const before = this.#before;
    if (!counts || !before || counts.due < before.due) {
      this.#before = counts;
      if (!counts) this.#factor = 1;
      return;
    }
    const due = counts.due - before.due;
    this.#still = due < LEAST_DUE ? this.#still + 1 : 0;
    if (this.#still >= STILL_LOOKS) this.#factor = 1;
    if (this.#still > 0) return;
    this.#before = counts;
    const missing = due - (counts.composed - before.composed);
    const share = Math.max(0, counts.late - before.late + missing) / due;
    if (share > TOO_MANY) {
      // Quicker for less than its patience: it was too early.
      if (this.#factor === 1) this.#patience = Math.min(MOST_CALM_LOOKS, this.#patience * 2);
      this.#factor = Math.min(SLOWEST, this.#factor * 2);
      this.#calm = 0;
    } else if (share < FEW) {
      this.#calm += 1;
      if (this.#factor > 1 && this.#calm >= this.#patience) {
        this.#factor /= 2;
        this.#calm = 0;
      } else if (this.#factor === 1 && this.#calm >= 4 * this.#patience) {
        this.#patience = Math.max(CALM_LOOKS, this.#patience / 2);
        this.#calm = 0;
      }
    }
  }
}
