import type { DrawList } from '../../core/scene/draw-list';
import type { DrawContext } from './sources/picture-source';

/** The lowest items must have stood still for so many pictures before they are kept as one bitmap. */
const STILL_PICTURES = 6;
/** Fewer items than this are drawn as quickly as a copy of them. */
const MIN_ITEMS = 2;

/**
 * What stays the same from one picture to the next on one canvas: when nothing changes nothing is drawn, and when only
 * upper items change the still ones below are copied as one bitmap.
 */
export class StandingPart {
  #list: DrawList | null = null;
  #stamps: readonly string[] = [];
  #size = '';
  /** How many of the lowest items have not changed, and for how many pictures. */
  #still = 0;
  #pictures = 0;
  #kept: { canvas: OffscreenCanvas; items: number } | null = null;

  forget(): void {
    this.#list = null;
    this.#kept = null;
  }

  /**
   * @param stamps one for each item, differing whenever the item looks different
   * @param paint paints the lowest `until` items, background included, on another canvas
   * @returns the first item that is still to be drawn, or null when the canvas already shows everything
   */
  begin(
    context: DrawContext,
    list: DrawList,
    stamps: readonly string[],
    paint: (context: DrawContext, until: number) => void,
  ): number | null {
    const { width, height } = context.canvas;
    const size = `${width}x${height}`;
    const same = this.#list === list && this.#size === size;
    let still = 0;
    if (same) while (still < stamps.length && stamps[still] === this.#stamps[still]) still += 1;
    this.#list = list;
    this.#stamps = stamps;
    this.#size = size;
    if (!same) {
      this.#kept = null;
      this.#still = stamps.length;
      this.#pictures = 0;
      return 0;
    }
    if (still === stamps.length) return null;
    if (still < this.#still) {
      this.#still = still;
      this.#pictures = 0;
      if (this.#kept && this.#kept.items > still) this.#kept = null;
    } else this.#pictures += 1;
    if (this.#kept) {
      context.globalAlpha = 1;
      context.drawImage(this.#kept.canvas, 0, 0);
      return this.#kept.items;
    }
    if (this.#still < MIN_ITEMS || this.#pictures < STILL_PICTURES) return 0;
    const canvas = new OffscreenCanvas(width, height);
    paint(canvas.getContext('2d', { alpha: false })!, this.#still);
    this.#kept = { canvas, items: this.#still };
    context.drawImage(canvas, 0, 0);
    return this.#still;
  }
}
