export type Context = OffscreenCanvasRenderingContext2D;

/** A simulated picture: paints itself at any size and time. All coordinates inside are those of 1920 × 1080. */
export interface Painter {
  readonly width: number;
  readonly height: number;
  /**
   * Paints the rectangle (0, 0, width, height) of `context` wholly.
   * @param seconds programme time
   */
  paint(context: Context, seconds: number, width: number, height: number): void;
}

export const DESIGN_WIDTH = 1920;
export const DESIGN_HEIGHT = 1080;

/** A part of a picture that never changes, painted once for each size that it is needed in again. */
export class StillPart {
  readonly #made = new Map<string, OffscreenCanvas>();
  /** Sizes that were asked for once: in a glide none comes back, and a canvas for each would cost more than painting. */
  readonly #once = new Set<string>();

  constructor(readonly draw: (context: Context) => void) {}

  paint(context: Context, width: number, height: number): void {
    // Whole device pixels, so that the copy is a plain one and not a scaling.
    const matrix = context.getTransform();
    const w = Math.max(1, Math.round(width * matrix.a));
    const h = Math.max(1, Math.round(height * matrix.d));
    const key = `${w}x${h}`;
    let canvas = this.#made.get(key);
    if (!canvas && context.globalAlpha === 1 && !this.#once.has(key)) {
      if (this.#once.size >= 48) this.#once.delete(this.#once.values().next().value!);
      this.#once.add(key);
      context.save();
      context.beginPath();
      context.rect(0, 0, width, height);
      context.clip();
      context.scale(width / DESIGN_WIDTH, height / DESIGN_HEIGHT);
      this.draw(context);
      context.restore();
      return;
    }
    if (!canvas) {
      this.#once.delete(key);
      canvas = new OffscreenCanvas(w, h);
      const inner = canvas.getContext('2d', { alpha: false })!;
      inner.scale(w / DESIGN_WIDTH, h / DESIGN_HEIGHT);
      this.draw(inner);
      // Two frames on air and in the editor, and each scene's small pictures: so many sizes are asked for in turn.
      if (this.#made.size >= 24) this.#made.delete(this.#made.keys().next().value!);
    } else this.#made.delete(key);
    // What was used last stands last, so that a layer being resized drives out its own old sizes.
    this.#made.set(key, canvas);
    context.drawImage(canvas, 0, 0, width, height);
  }
}

export function disc(context: Context, x: number, y: number, radius: number, fill: string): void {
  context.fillStyle = fill;
  context.beginPath();
  context.arc(x, y, radius, 0, Math.PI * 2);
  context.fill();
}

export function box(
  context: Context,
  x: number,
  y: number,
  width: number,
  height: number,
  radius: number,
  fill: string,
): void {
  context.fillStyle = fill;
  context.beginPath();
  context.roundRect(x, y, width, height, radius);
  context.fill();
}

export function shape(context: Context, points: readonly (readonly [number, number])[], fill: string): void {
  context.fillStyle = fill;
  context.beginPath();
  for (const [x, y] of points) context.lineTo(x, y);
  context.closePath();
  context.fill();
}
