/** Blurring on a canvas, at the size the blur leaves: a wide blur of a full picture costs no more than a narrow one. */
import type { Glow } from '../../core/show/finish-records';
import type { DrawContext } from './sources/picture-source';

/** A picture made small and blurred; drawn at `scale` times its size from (−margin, −margin) it lies over the original. */
export interface Soft {
  canvas: OffscreenCanvas;
  scale: number;
  /** Room around the picture, in the original's pixels. */
  margin: number;
}

/** Below this deviation a smaller copy would show its own pixels. */
const FINE_PX = 2;
const MAX_SCALE = 16;
/** Beyond this many deviations nothing is left of a blur. */
const REACH = 3;
/** A glow is drawn so often over itself: at the edge it came from a blur alone is half as bright, too dim to glow. */
export const GLOW_TIMES = 2;

function cleared(canvas: OffscreenCanvas, width: number, height: number): DrawContext {
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
  const context = canvas.getContext('2d')!;
  context.reset();
  context.imageSmoothingQuality = 'medium';
  return context;
}

/** How many times smaller a picture may be made for a blur of this deviation, px. */
export const softScale = (softPx: number): number =>
  Math.min(MAX_SCALE, Math.max(1, Math.floor(softPx / FINE_PX)));

const scratch = new OffscreenCanvas(1, 1);

/**
 * @param source its part (0, 0, width, height) is blurred
 * @param softPx standard deviation, in its pixels; 0 copies
 * @param edges `clamp`: beyond its edges the picture goes on in its own colours; `fade`: there is nothing there
 * @param into is painted over and sized
 */
export function soften(
  source: OffscreenCanvas,
  width: number,
  height: number,
  softPx: number,
  edges: 'clamp' | 'fade',
  into: OffscreenCanvas,
): Soft {
  const scale = softScale(softPx);
  const deviation = softPx / scale;
  const pad = Math.ceil(deviation * REACH) + 1;
  const [w, h] = [width / scale, height / scale];
  const [fullWidth, fullHeight] = [Math.ceil(w) + 2 * pad, Math.ceil(h) + 2 * pad];
  const small = cleared(scratch, fullWidth, fullHeight);
  // The picture itself, enlarged a little, stands for what lies beyond its edges.
  if (edges === 'clamp') small.drawImage(source, 0, 0, width, height, 0, 0, fullWidth, fullHeight);
  small.drawImage(source, 0, 0, width, height, pad, pad, w, h);
  const context = cleared(into, fullWidth, fullHeight);
  if (deviation > 0.1) context.filter = `blur(${deviation}px)`;
  context.drawImage(scratch, 0, 0);
  return { canvas: into, scale, margin: pad * scale };
}

/** Draws it where the original's (0, 0) is the context's. */
export function drawSoft(context: DrawContext, { canvas, scale, margin }: Soft): void {
  context.drawImage(canvas, -margin, -margin, canvas.width * scale, canvas.height * scale);
}

/** Makes every point of a canvas this colour, as transparent as it is. */
export function tint(canvas: OffscreenCanvas, colour: string): void {
  const context = canvas.getContext('2d')!;
  context.save();
  context.resetTransform();
  context.filter = 'none';
  context.globalAlpha = 1;
  context.globalCompositeOperation = 'source-in';
  context.fillStyle = colour;
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.restore();
}

/** Light from the edges of an outline inwards, just inside it. @returns a canvas of the outline's size */
export function innerLight(outline: OffscreenCanvas, { colour, sizePx }: Glow): OffscreenCanvas {
  const { width, height } = outline;
  // Beyond the canvas there is nothing of the layer: light comes from there too.
  const room = Math.ceil((sizePx / 2) * REACH) + 1;
  const around = new OffscreenCanvas(width + 2 * room, height + 2 * room);
  const inverse = around.getContext('2d')!;
  inverse.fillStyle = colour;
  inverse.fillRect(0, 0, around.width, around.height);
  inverse.globalCompositeOperation = 'destination-out';
  inverse.drawImage(outline, room, room);
  const soft = soften(around, around.width, around.height, sizePx / 2, 'fade', new OffscreenCanvas(1, 1));
  const light = new OffscreenCanvas(width, height);
  const context = light.getContext('2d')!;
  context.save();
  context.translate(-room, -room);
  for (let i = 0; i < GLOW_TIMES; i++) drawSoft(context, soft);
  context.restore();
  context.globalCompositeOperation = 'destination-in';
  context.drawImage(outline, 0, 0);
  return light;
}
