import type { Rect } from '../../../core/geometry/rect';
import type { DrawContext } from './picture-source';

/** Sizes kept of one picture: two frames, a view and a thumbnail. */
const MAX_SIZES = 4;

/** A bitmap that is scaled once for each size it is shown at; every picture after that is a plain copy. */
export class ScaledPicture {
  readonly #scaled = new Map<string, OffscreenCanvas>();
  /** Sizes that were asked for once. A size that comes back is worth keeping; while a layer moves none does. */
  readonly #once = new Set<string>();

  constructor(readonly bitmap: ImageBitmap) {}

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    const matrix = context.getTransform();
    const w = Math.max(1, Math.round(width * Math.hypot(matrix.a, matrix.b)));
    const h = Math.max(1, Math.round(height * Math.hypot(matrix.c, matrix.d)));
    // Pixel work in a magnified view: enlarging is cheap, and copies of it would be large.
    if (w > this.bitmap.width * 2 || h > this.bitmap.height * 2) {
      context.drawImage(this.bitmap, part.x, part.y, part.width, part.height, 0, 0, width, height);
      return;
    }
    const key = [w, h, part.x, part.y, part.width, part.height].map((v) => v.toFixed(2)).join();
    let scaled = this.#scaled.get(key);
    if (!scaled && !this.#once.has(key)) {
      if (this.#once.size >= MAX_SIZES * 2) this.#once.delete(this.#once.values().next().value!);
      this.#once.add(key);
      context.drawImage(this.bitmap, part.x, part.y, part.width, part.height, 0, 0, width, height);
      return;
    }
    if (!scaled) {
      this.#once.delete(key);
      scaled = new OffscreenCanvas(w, h);
      const inner = scaled.getContext('2d')!;
      inner.imageSmoothingQuality = 'high';
      inner.drawImage(this.bitmap, part.x, part.y, part.width, part.height, 0, 0, w, h);
      if (this.#scaled.size >= MAX_SIZES) this.#scaled.delete(this.#scaled.keys().next().value!);
      this.#scaled.set(key, scaled);
    }
    context.drawImage(scaled, 0, 0, width, height);
  }

  close(): void {
    this.bitmap.close();
    this.#scaled.clear();
  }
}
