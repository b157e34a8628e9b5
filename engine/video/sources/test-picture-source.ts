import type { Rect } from '../../../core/geometry/rect';
import type { TestPictureInput } from '../../../core/show/inputs/test-picture';
import { paintSweep, paintTestPattern } from '../paint-test-picture';
import { intoPart, type DrawContext, type PictureSource } from './picture-source';

/** Bars, a grid or steps, painted sharp at every size. */
export class TestPictureSource implements PictureSource {
  readonly state = 'ready';
  readonly message = '';
  readonly width = 1920;
  readonly height = 1080;
  readonly hasSound = false;
  version = 0;
  #seconds = 0;

  constructor(readonly input: TestPictureInput) {}

  advance(seconds: number): void {
    if (!this.input.moving || seconds === this.#seconds) return;
    this.#seconds = seconds;
    this.version += 1;
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    intoPart(context, part, this, width, height, (w, h) => {
      paintTestPattern(context, this.input.pattern, w, h);
      if (this.input.moving) paintSweep(context, this.#seconds, w, h);
    });
  }

  close(): void {
    // nothing is held
  }
}
