/** What is drawn around and instead of an item's own picture. */
import type { Size } from '../../core/geometry/rect';
import type { DrawItem } from '../../core/scene/draw-list';
import { DEFAULT_TEXT_STYLE } from '../../core/show/records';
import type { BitmapCache } from './bitmap-cache';
import { shapePath } from './paint-shape';
import { paintText } from './paint-text';
import type { DrawContext } from './sources/picture-source';

/** The shadow under an item, in the shape of its content. */
export function paintShadow(context: DrawContext, bitmaps: BitmapCache, item: DrawItem): void {
  // While it moves a shadow of about the size is stretched: to blur one for every picture would take all the time.
  const step = item.moving ? 32 : 1;
  const width = Math.ceil(item.rect.width / step) * step;
  const height = Math.ceil(item.rect.height / step) * step;
  const blur = item.moving ? Math.max(1, Math.round(item.shadowPx)) : item.shadowPx;
  const margin = Math.ceil(blur * 2);
  const shape = item.content.type === 'shape' ? item.content.shape : 'rectangle';
  const key = `shadow|${shape}|${Math.round(width)}x${Math.round(height)}|${Math.round(item.cornerPx)}|${Math.round(blur)}`;
  const canvas = bitmaps.get(key, Math.ceil(width) + 2 * margin, Math.ceil(height) + 2 * margin, (inner) => {
    inner.filter = `blur(${Math.max(1, blur * 0.6)}px)`;
    inner.fillStyle = '#000000a0';
    inner.translate(margin, margin + blur * 0.35);
    shapePath(inner, shape, width, height, item.cornerPx);
    inner.fill();
  });
  if (!item.moving) return context.drawImage(canvas, -margin, -margin);
  const [sx, sy] = [item.rect.width / width, item.rect.height / height];
  context.drawImage(canvas, -margin * sx, -margin * sy, canvas.width * sx, canvas.height * sy);
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
export function clipWipe(context: DrawContext, { rect, wipe, borderPx, shadowPx }: DrawItem): void {
  if (!wipe) return;
  const margin = borderPx + shadowPx * 2;
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
