import { adjustedSize, sourcePart, type Adjustment } from '../../../core/geometry/adjust';
import type { Rect } from '../../../core/geometry/rect';
import type { DrawContext, PictureSource } from './picture-source';

/** A source as its input adjusts it: cropped, turned, mirrored. The adjustment can change while it runs. */
export class AdjustedSource implements PictureSource {
  #changes = 0;

  constructor(
    readonly inner: PictureSource,
    private adjustment: Adjustment,
  ) {}

  adjust(adjustment: Adjustment): void {
    this.adjustment = adjustment;
    this.#changes += 1;
  }

  get state() {
    return this.inner.state;
  }

  get message() {
    return this.inner.message;
  }

  get width() {
    return this.inner.width === 0 ? 0 : adjustedSize(this.inner, this.adjustment).width;
  }

  get height() {
    return this.inner.height === 0 ? 0 : adjustedSize(this.inner, this.adjustment).height;
  }

  get hasSound() {
    return this.inner.hasSound;
  }

  get caughtUp() {
    return this.inner.caughtUp ?? true;
  }

  get version() {
    return this.inner.version + this.#changes * 1e9;
  }

  advance(seconds: number): void {
    this.inner.advance(seconds);
  }

  setOnAir(onAir: boolean, seconds: number): void {
    this.inner.setOnAir?.(onAir, seconds);
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    const { turnDeg, mirrored } = this.adjustment;
    const inner = sourcePart(this.inner, this.adjustment, part);
    if (turnDeg === 0 && !mirrored) return this.inner.draw(context, inner, width, height);
    context.save();
    if (mirrored) {
      context.translate(width, 0);
      context.scale(-1, 1);
    }
    if (turnDeg === 90) context.translate(width, 0);
    else if (turnDeg === 180) context.translate(width, height);
    else if (turnDeg === 270) context.translate(0, height);
    context.rotate((turnDeg * Math.PI) / 180);
    const upright = turnDeg % 180 === 0;
    this.inner.draw(context, inner, upright ? width : height, upright ? height : width);
    context.restore();
  }

  frame(): VideoFrame | null {
    const { crop, turnDeg, mirrored } = this.adjustment;
    const asItIs = turnDeg === 0 && !mirrored && Object.values(crop).every((share) => share === 0);
    return asItIs ? (this.inner.frame?.() ?? null) : null;
  }

  close(): void {
    this.inner.close();
  }
}
