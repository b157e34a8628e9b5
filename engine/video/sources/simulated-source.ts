import type { Rect } from '../../../core/geometry/rect';
import type { SimulatedPicture } from '../../../core/show/records';
import { createPainter } from '../../../standins/inputs/pictures';
import type { Painter } from '../../../standins/inputs/pictures/painter';
import { intoPart, type DrawContext, type PictureSource } from './picture-source';

/**
 * A picture that ships with the studio, painted anew wherever it is shown. Painting it once and copying it scaled was
 * tried: in software the scaled copy costs more than painting.
 */
export class SimulatedSource implements PictureSource {
  readonly state = 'ready';
  readonly message = '';
  readonly hasSound = false;
  version = 0;
  readonly #painter: Painter;
  #seconds = 0;

  constructor(picture: SimulatedPicture) {
    this.#painter = createPainter(picture);
  }

  get width(): number {
    return this.#painter.width;
  }

  get height(): number {
    return this.#painter.height;
  }

  advance(seconds: number): void {
    if (seconds === this.#seconds) return;
    this.#seconds = seconds;
    this.version += 1;
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    intoPart(context, part, this.#painter, width, height, (w, h) =>
      this.#painter.paint(context, this.#seconds, w, h),
    );
  }

  close(): void {
    // nothing is held
  }
}
