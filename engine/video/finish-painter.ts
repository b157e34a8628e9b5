/** Draws items with glow, blur, mask, blend, and shadows in the shape of their content. */
import type { DrawItem } from '../../core/scene/draw-list';
import type { LayerMask } from '../../core/show/finish-records';
import type { BitmapCache } from './bitmap-cache';
import { halosOf, paintHalo, paintInnerGlow, type Halo } from './paint-item';
import { shapePath } from './paint-shape';
import { drawSoft, innerLight, soften, tint, type Soft } from './soften';
import type { DrawContext } from './sources/picture-source';

/** Where masks come from. */
export interface Masks {
  /** Its transparency is the mask; null while it is not there. */
  get(mask: LayerMask): OffscreenCanvas | null;
  /** Differs whenever there is another one. */
  readonly version: number;
}

/** Pixels of finished items that are kept: about 100 MB. */
const MAX_PIXELS = 24_000_000;

/** What one place last showed. */
interface Slot {
  canvas: OffscreenCanvas;
  /** Room around the box, for a blur that reaches over it. */
  margin: number;
  halos: { soft: Soft; halo: Halo }[];
  item: DrawItem;
  stamp: string;
}

const BLENDING = { normal: 'source-over', add: 'lighter', multiply: 'multiply', screen: 'screen' } as const;

/** Whether its edges are those of its box or shape, whatever its picture is. */
const outlined = (item: DrawItem): boolean => item.solid && !item.finish?.mask;

const alike = (a: DrawItem, b: DrawItem): boolean => JSON.stringify(a) === JSON.stringify(b);

export class FinishPainter {
  readonly #slots = new Map<string, Slot>();
  #pixels = 0;
  readonly #soft = new OffscreenCanvas(1, 1);
  /** Contents that were painted and finished, for measuring: what has not changed is not. */
  finished = 0;

  constructor(
    readonly bitmaps: BitmapCache,
    readonly masks: Masks,
  ) {}

  /** Whether an item needs more than its content drawn in its place. */
  static concerns(item: DrawItem): boolean {
    return item.finish !== null || item.shadow !== null;
  }

  /**
   * @param place names where this item is drawn: what was finished there is kept
   * @param stamp differs whenever the item's content does
   * @param content paints it at (0, 0)
   */
  paint(
    context: DrawContext,
    item: DrawItem,
    place: string,
    stamp: string,
    content: (context: DrawContext, item: DrawItem) => void,
  ): void {
    const { finish } = item;
    const glow = finish?.innerGlow;
    if (outlined(item)) {
      for (const halo of halosOf(item)) paintHalo(context, this.bitmaps, item, halo);
      // What only has light around or inside its outline need not be drawn apart.
      if (!finish?.blur && (!finish || finish.blend === 'normal')) {
        content(context, item);
        if (glow) paintInnerGlow(context, this.bitmaps, item, glow);
        return;
      }
    }
    const slot = this.#slot(item, place, finish?.mask ? `${stamp}|${this.masks.version}` : stamp, content);
    const alpha = context.globalAlpha;
    for (const { soft, halo } of slot.halos) {
      context.save();
      context.translate(halo.dxPx, halo.dyPx);
      context.globalAlpha = alpha * halo.strength;
      for (let i = 0; i < halo.times; i++) drawSoft(context, soft);
      context.restore();
    }
    context.save();
    if (finish) context.globalCompositeOperation = BLENDING[finish.blend];
    context.drawImage(slot.canvas, -slot.margin, -slot.margin);
    context.restore();
  }

  #slot(
    item: DrawItem,
    place: string,
    stamp: string,
    content: (context: DrawContext, item: DrawItem) => void,
  ): Slot {
    const width = Math.max(1, Math.ceil(item.rect.width));
    const height = Math.max(1, Math.ceil(item.rect.height));
    const { finish } = item;
    const margin = finish?.blur?.part === 'whole' && !item.solid ? Math.ceil(finish.blur.px * 3) : 0;
    // While it moves its size is another in every picture: one canvas for all of them.
    const key = item.moving ? `${place}|moving` : `${place}|${width}x${height}`;
    let slot = this.#slots.get(key);
    if (slot) {
      this.#slots.delete(key);
      this.#slots.set(key, slot);
      // A list that was made anew has other items that look the same: then nothing is finished again either.
      if (slot.stamp === stamp && (slot.item === item || (!item.moving && alike(slot.item, item)))) {
        slot.item = item;
        return slot;
      }
    } else {
      slot = { canvas: new OffscreenCanvas(1, 1), margin, halos: [], item, stamp };
      this.#slots.set(key, slot);
    }
    this.#resize(slot, width + 2 * margin, height + 2 * margin);
    slot.item = item;
    slot.stamp = stamp;
    slot.margin = margin;
    this.#finish(slot, width, height, content);
    this.finished += 1;
    return slot;
  }

  #resize(slot: Slot, width: number, height: number): void {
    const { canvas } = slot;
    if (canvas.width === width && canvas.height === height) return;
    this.#pixels += width * height - canvas.width * canvas.height;
    canvas.width = width;
    canvas.height = height;
    for (const [key, old] of this.#slots) {
      if (this.#pixels <= MAX_PIXELS || old === slot) break;
      this.#slots.delete(key);
      this.#pixels -= old.canvas.width * old.canvas.height;
    }
  }

  #finish(
    slot: Slot,
    width: number,
    height: number,
    content: (context: DrawContext, item: DrawItem) => void,
  ): void {
    const { item, canvas, margin } = slot;
    const { finish } = item;
    const context = canvas.getContext('2d')!;
    context.reset();
    context.translate(margin, margin);
    context.save();
    // Round corners are cut after a blur, or it would smear what is not there into them.
    content(context, finish?.blur && item.solid ? { ...item, cornerPx: 0 } : item);
    context.restore();
    if (finish?.blur) this.#blur(slot, context, width, height);
    if (finish?.blur && item.solid && item.cornerPx > 0)
      this.#keepOnly(context, () => {
        shapePath(context, 'rectangle', width, height, item.cornerPx);
        context.fill();
      });
    const mask = finish?.mask && this.masks.get(finish.mask);
    if (mask) this.#keepOnly(context, () => context.drawImage(mask, 0, 0, width, height));
    if (finish?.innerGlow) {
      if (outlined(item)) paintInnerGlow(context, this.bitmaps, item, finish.innerGlow);
      else {
        context.save();
        context.globalAlpha = finish.innerGlow.strength;
        context.drawImage(innerLight(canvas, finish.innerGlow), -margin, -margin);
        context.restore();
      }
    }
    slot.halos = outlined(item)
      ? []
      : halosOf(item).map((halo) => {
          const soft = soften(
            canvas,
            canvas.width,
            canvas.height,
            halo.softPx,
            'fade',
            new OffscreenCanvas(1, 1),
          );
          tint(soft.canvas, halo.colour);
          return { soft: { ...soft, margin: soft.margin + margin }, halo };
        });
  }

  #blur({ item, canvas, margin }: Slot, context: DrawContext, width: number, height: number): void {
    const { px, part, areas } = item.finish!.blur!;
    const edges = item.solid ? 'clamp' : 'fade';
    const soft = soften(canvas, canvas.width, canvas.height, px, edges, this.#soft);
    const over = { ...soft, margin: soft.margin + margin };
    const rects = () => {
      context.beginPath();
      for (const a of areas) {
        const left = Math.round(a.left * width);
        const top = Math.round(a.top * height);
        context.rect(left, top, Math.round(a.width * width), Math.round(a.height * height));
      }
      context.clip();
    };
    context.save();
    if (part === 'inside') {
      rects();
      context.clearRect(0, 0, width, height);
      drawSoft(context, over);
    } else {
      const sharp =
        part === 'outside' && areas.length > 0 ? new OffscreenCanvas(canvas.width, canvas.height) : null;
      sharp?.getContext('2d')!.drawImage(canvas, 0, 0);
      context.clearRect(-margin, -margin, canvas.width, canvas.height);
      drawSoft(context, over);
      if (sharp) {
        rects();
        context.clearRect(0, 0, width, height);
        context.drawImage(sharp, -margin, -margin);
      }
    }
    context.restore();
  }

  #keepOnly(context: DrawContext, paint: () => void): void {
    context.save();
    context.globalCompositeOperation = 'destination-in';
    paint();
    context.restore();
  }
}
