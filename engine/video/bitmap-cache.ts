import type { DrawContext } from './sources/picture-source';

/** Pixels kept in all: about 60 MB; beyond this the ones not used for longest go. */
const MAX_PIXELS = 16_000_000;
/** A show of forty scenes has hardly more panels and widgets in view. */
const MAX_SLOTS = 80;

/** Bitmaps painted once and copied from then on: texts, panels, shadows. */
export class BitmapCache {
  readonly #painted = new Map<string, OffscreenCanvas>();
  #pixels = 0;

  readonly #latest = new Map<string, { canvas: OffscreenCanvas; what: string }>();

  /**
   * For what changes often and is never shown again as it was: one bitmap for each slot, painted over when `what` is new.
   * @param slot names the place; the size belongs to it
   */
  latest(
    slot: string,
    what: string,
    width: number,
    height: number,
    paint: (context: DrawContext) => void,
  ): OffscreenCanvas {
    const key = `${slot}|${width}x${height}`;
    let kept = this.#latest.get(key);
    if (kept?.what === what) return kept.canvas;
    if (!kept) {
      kept = { canvas: new OffscreenCanvas(width, height), what };
      if (this.#latest.size >= MAX_SLOTS) this.#latest.delete(this.#latest.keys().next().value!);
      this.#latest.set(key, kept);
    }
    kept.what = what;
    const context = kept.canvas.getContext('2d')!;
    context.reset();
    paint(context);
    return kept.canvas;
  }

  /** What is painted comes out otherwise from now on. */
  clear(): void {
    this.#painted.clear();
    this.#latest.clear();
    this.#pixels = 0;
  }

  /** The bitmap for `key`, painted now if it is not there. Sizes are whole pixels. */
  get(key: string, width: number, height: number, paint: (context: DrawContext) => void): OffscreenCanvas {
    let canvas = this.#painted.get(key);
    if (canvas) {
      // A map keeps the order of insertion: what was used last stands last.
      this.#painted.delete(key);
      this.#painted.set(key, canvas);
      return canvas;
    }
    canvas = new OffscreenCanvas(width, height);
    paint(canvas.getContext('2d')!);
    this.#painted.set(key, canvas);
    this.#pixels += width * height;
    for (const [old, bitmap] of this.#painted) {
      if (this.#pixels <= MAX_PIXELS || old === key) break;
      this.#painted.delete(old);
      this.#pixels -= bitmap.width * bitmap.height;
    }
    return canvas;
  }
}
