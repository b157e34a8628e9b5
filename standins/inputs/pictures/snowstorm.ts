import { DESIGN_HEIGHT, DESIGN_WIDTH, type Context, type Painter } from './painter';
import { SwitchbackPainter } from './switchback';

/** Side of the noise tile, pixels of the output. */
const TILE = 256;
const TILES = 8;

/** The game in a snowstorm: nearly noise, the hardest thing an encoder can get. For trying the rate governor. */
export class SnowstormPainter implements Painter {
  readonly width = DESIGN_WIDTH;
  readonly height = DESIGN_HEIGHT;
  readonly #game = new SwitchbackPainter();
  #tiles: OffscreenCanvas[] | null = null;

  paint(context: Context, seconds: number, width: number, height: number): void {
    this.#game.paint(context, seconds, width, height);
    this.#tiles ??= Array.from({ length: TILES }, (_, i) => noiseTile(i + 1));
    const picture = Math.floor(seconds * 60);
    const matrix = context.getTransform();
    context.save();
    context.globalAlpha = 0.55;
    // Device pixels: scaled noise would be easier to encode.
    const w = width * matrix.a;
    const h = height * matrix.d;
    context.beginPath();
    context.rect(0, 0, width, height);
    context.clip();
    context.setTransform(1, 0, 0, 1, Math.floor(matrix.e), Math.floor(matrix.f));
    let n = picture * 31;
    for (let y = -((picture * 57) % TILE); y < h; y += TILE)
      for (let x = -((picture * 91) % TILE); x < w; x += TILE)
        context.drawImage(this.#tiles[(n += 7) % TILES], x, y);
    context.restore();
  }
}

function noiseTile(seed: number): OffscreenCanvas {
  const canvas = new OffscreenCanvas(TILE, TILE);
  const context = canvas.getContext('2d')!;
  const image = context.createImageData(TILE, TILE);
  let state = seed * 2654435761;
  for (let i = 0; i < image.data.length; i += 4) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const v = state >>> 24;
    image.data[i] = v;
    image.data[i + 1] = v;
    image.data[i + 2] = (v * 0.8 + 51) | 0;
    image.data[i + 3] = 255;
  }
  context.putImageData(image, 0, 0);
  return canvas;
}
