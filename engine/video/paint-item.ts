/** What is drawn around and instead of an item's own picture. */
import type { Size } from '../../core/geometry/rect';
import type { DrawItem } from '../../core/scene/draw-list';
import type { Glow } from '../../core/show/finish-records';
import { DEFAULT_TEXT_STYLE } from '../../core/show/records';
import type { BitmapCache } from './bitmap-cache';
import { shapePath } from './paint-shape';
import { paintText } from './paint-text';
import { GLOW_TIMES, innerLight, softScale } from './soften';
import type { DrawContext } from './sources/picture-source';

/** What lies around an item in the shape of its content: a shadow, or a glow. Sizes in output pixels. */
export interface Halo {
  dxPx: number;
  dyPx: number;
  softPx: number;
  colour: string;
  strength: number;
  /** Drawn so often over itself. */
  times: number;
}

/** Lowest first. */
export function halosOf({ shadow, finish }: DrawItem): Halo[] {
  const glow = finish?.outerGlow;
  return [
    ...(shadow ? [{ ...shadow, strength: 1, times: 1 }] : []),
    ...(glow
      ? [
          {
            dxPx: 0,
            dyPx: 0,
            softPx: glow.sizePx / 2,
            colour: glow.colour,
            strength: glow.strength,
            times: GLOW_TIMES,
          },
        ]
      : []),
  ];
}

const shapeOf = ({ content }: DrawItem) => (content.type === 'shape' ? content.shape : 'rectangle');

/** The halo of an item that fills its box or shape. */
export function paintHalo(context: DrawContext, bitmaps: BitmapCache, item: DrawItem, halo: Halo): void {
  // While it moves a halo of about the size is stretched: to blur one for every picture would take all the time.
  const step = item.moving ? 32 : 1;
  const width = Math.ceil(item.rect.width / step) * step;
  const height = Math.ceil(item.rect.height / step) * step;
  const softPx = item.moving ? Math.round(halo.softPx) : halo.softPx;
  const scale = softScale(softPx);
  const deviation = softPx / scale;
  const pad = Math.ceil(deviation * 3) + 1;
  const shape = shapeOf(item);
  const key = `halo|${shape}|${Math.round(width)}x${Math.round(height)}|${Math.round(item.cornerPx)}|${softPx.toFixed(1)}|${halo.colour}`;
  const bitmap = bitmaps.get(
    key,
    Math.ceil(width / scale) + 2 * pad,
    Math.ceil(height / scale) + 2 * pad,
    (inner) => {
      if (deviation > 0.1) inner.filter = `blur(${deviation}px)`;
      inner.fillStyle = halo.colour;
      inner.translate(pad, pad);
      inner.scale(1 / scale, 1 / scale);
      shapePath(inner, shape, width, height, item.cornerPx);
      inner.fill();
    },
  );
  const [sx, sy] = [item.rect.width / width, item.rect.height / height];
  const margin = pad * scale;
  context.save();
  context.globalAlpha *= halo.strength;
  context.translate(halo.dxPx, halo.dyPx);
  for (let i = 0; i < halo.times; i++)
    context.drawImage(
      bitmap,
      -margin * sx,
      -margin * sy,
      bitmap.width * scale * sx,
      bitmap.height * scale * sy,
    );
  context.restore();
}

/** Light from the edges inwards, over an item that fills its box or shape. */
export function paintInnerGlow(context: DrawContext, bitmaps: BitmapCache, item: DrawItem, glow: Glow): void {
  const step = item.moving ? 32 : 1;
  const width = Math.ceil(item.rect.width / step) * step;
  const height = Math.ceil(item.rect.height / step) * step;
  const shape = shapeOf(item);
  const key = `inner|${shape}|${width}x${height}|${Math.round(item.cornerPx)}|${glow.sizePx.toFixed(1)}|${glow.colour}`;
  const bitmap = bitmaps.get(key, width, height, (inner) => {
    const outline = new OffscreenCanvas(width, height);
    const drawn = outline.getContext('2d')!;
    shapePath(drawn, shape, width, height, item.cornerPx);
    drawn.fill();
    inner.drawImage(innerLight(outline, glow), 0, 0);
  });
  context.save();
  context.globalAlpha *= glow.strength;
  context.drawImage(bitmap, 0, 0, item.rect.width, item.rect.height);
  context.restore();
}

/** Never black without a word: what should be here and why it is not. */
export function paintPlaceholder(c: DrawContext, words: string, w: number, h: number): void {
  c.fillStyle = '#252C35';
  c.fillRect(0, 0, w, h);
  const sizePx = Math.min(w, h) / 9;
  const style = {
    ...DEFAULT_TEXT_STYLE,
    sizePx,
    colour: '#A7AFB7',
    align: 'center',
    box: '#252C3500',
  } as const;
  paintText(c, words, style, w, h, 1, 0);
}

/** Hides what a wipe has not come to yet; border and shadow at the other edges stay. */
export function clipWipe(context: DrawContext, { rect, wipe, borderPx, reachPx }: DrawItem): void {
  if (!wipe) return;
  const margin = borderPx + reachPx;
  const edge = (part: number, length: number) => (part > 0 ? part * length : -margin);
  const left = edge(wipe.left, rect.width);
  const top = edge(wipe.top, rect.height);
  context.beginPath();
  context.rect(
    left,
    top,
    rect.width - edge(wipe.right, rect.width) - left,
    rect.height - edge(wipe.bottom, rect.height) - top,
  );
  context.clip();
}

/** Whole pixels that the item's words are painted in. */
export function bitmapSize({ rect, layout }: DrawItem): Size {
  const { width, height } = layout ?? rect;
  return { width: Math.max(1, Math.ceil(width)), height: Math.max(1, Math.ceil(height)) };
}

/** Draws what was painted in `bitmapSize` into the item's box. */
export function copyInto(context: DrawContext, { rect, layout }: DrawItem, bitmap: OffscreenCanvas): void {
  if (layout) context.drawImage(bitmap, 0, 0, rect.width, rect.height);
  else context.drawImage(bitmap, 0, 0);
}
