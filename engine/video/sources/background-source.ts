import type { Rect } from '../../../core/geometry/rect';
import type { BackgroundLook } from '../../../core/show/records';
import { paintBackground } from '../paint-background';
import { intoPart, type DrawContext, type PictureSource } from './picture-source';

/** A plain, gradient or textured background, painted once for each size. */
export class BackgroundSource implements PictureSource {
  readonly state = 'ready';
  readonly message = '';
  readonly width = 1920;
  readonly height = 1080;
  readonly hasSound = false;
  readonly version = 0;
  readonly #painted = new Map<string, OffscreenCanvas>();

  constructor(readonly look: BackgroundLook) {}

  advance(): void {
    // it stands still
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    intoPart(context, part, this, width, height, (w, h) => {
      const key = `${Math.round(w)}x${Math.round(h)}`;
      let canvas = this.#painted.get(key);
      if (!canvas) {
        canvas = new OffscreenCanvas(Math.max(1, Math.round(w)), Math.max(1, Math.round(h)));
        paintBackground(canvas.getContext('2d')!, this.look, canvas.width, canvas.height);
        if (this.#painted.size >= 4) this.#painted.delete(this.#painted.keys().next().value!);
        this.#painted.set(key, canvas);
      }
      context.drawImage(canvas, 0, 0, w, h);
    });
  }

  close(): void {
    this.#painted.clear();
  }
}
