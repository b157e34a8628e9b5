import type { AlertQueue } from '../../core/audience/alert-queue';
import type { ChatMessage } from '../../core/audience/events';
import { coverCrop, containRect } from '../../core/geometry/rect';
import { buildDrawList, type DrawItem, type DrawList } from '../../core/scene/draw-list';
import { findRecord, type ShowDocument } from '../../core/show/document';
import { paintAlert, paintChat, paintText } from './paint-text';
import type { DrawContext, PartRect, PictureSource } from './picture-source';

/** Bitmaps of texts, chat panels and shadows that are kept; beyond this the oldest go. */
const MAX_CACHED = 80;

/** What the compositor needs to know beside the document. */
export interface LiveState {
  sources: ReadonlyMap<string, PictureSource>;
  alerts: AlertQueue;
  chat: { messages: readonly ChatMessage[]; version: number };
}

/** Draws scenes on a canvas from draw lists; keeps lists and painted words until something changes. */
export class Compositor {
  #document: ShowDocument = new Map();
  readonly #lists = new Map<string, DrawList>();
  readonly #painted = new Map<string, OffscreenCanvas>();

  constructor(readonly live: LiveState) {}

  setDocument(document: ShowDocument): void {
    this.#document = document;
    this.#lists.clear();
  }

  listOf(sceneId: string, width: number, height: number): DrawList {
    const key = `${sceneId}/${width}x${height}`;
    let list = this.#lists.get(key);
    if (!list) {
      list = buildDrawList(this.#document, sceneId, 'wide', { width, height });
      this.#lists.set(key, list);
    }
    return list;
  }

  /** Draws a whole scene over (0, 0, width, height). */
  draw(context: DrawContext, sceneId: string, width: number, height: number, now: number): void {
    const list = this.listOf(sceneId, width, height);
    context.globalAlpha = 1;
    // A picture that fills everything makes the background pointless.
    context.fillStyle = list.background;
    context.fillRect(0, 0, width, height);
    for (const item of list.items) this.#item(context, item, now);
    context.globalAlpha = 1;
  }

  #item(context: DrawContext, item: DrawItem, now: number): void {
    const { rect, content } = item;
    const { width, height } = rect;
    const alert = content.type === 'alert' ? this.live.alerts.at(now) : null;
    if (content.type === 'alert' && !alert) return;
    context.save();
    context.globalAlpha = item.opacity;
    if (item.rotationDeg !== 0) {
      context.translate(rect.x + width / 2, rect.y + height / 2);
      context.rotate((item.rotationDeg * Math.PI) / 180);
      context.translate(-width / 2, -height / 2);
    } else {
      // Whole pixels where nothing is turned: edges stay sharp and copies are plain ones.
      context.translate(Math.round(rect.x), Math.round(rect.y));
    }
    if (item.shadowPx > 0) this.#shadow(context, item);
    switch (content.type) {
      case 'input':
        this.#input(context, item, content.inputId, content.fit);
        break;
      case 'fill':
        context.fillStyle = content.colour;
        context.beginPath();
        context.roundRect(0, 0, width, height, item.cornerPx);
        context.fill();
        break;
      case 'text':
        this.#cached(context, item, `${content.text}|${JSON.stringify(content.style)}`, (c, w, h) =>
          paintText(c, content.text, content.style, w, h, item.scale, item.cornerPx),
        );
        break;
      case 'chatPanel': {
        const { messages, version } = this.live.chat;
        const newest = messages.filter((m) => now - m.atMs / 1000 < content.keepSeconds);
        this.#cached(
          context,
          item,
          `${version}|${newest.length}|${JSON.stringify(content.style)}`,
          (c, w, h) => paintChat(c, newest, content.style, w, h, item.scale, item.cornerPx),
        );
        break;
      }
      case 'alert':
        paintAlert(context, alert!, now, content.style, width, height, item.scale, item.cornerPx);
        break;
    }
    if (item.borderPx > 0) {
      context.lineWidth = item.borderPx;
      context.strokeStyle = item.borderColour;
      context.beginPath();
      context.roundRect(0, 0, width, height, item.cornerPx);
      context.stroke();
    }
    context.restore();
  }

  #input(context: DrawContext, item: DrawItem, inputId: string, fit: 'fill' | 'fit' | 'stretch'): void {
    const { width, height } = item.rect;
    const source = this.live.sources.get(inputId);
    const ready = source?.state === 'ready' && source.width > 0;
    context.save();
    if (item.cornerPx > 0) {
      context.beginPath();
      context.roundRect(0, 0, width, height, item.cornerPx);
      context.clip();
    }
    if (!source || !ready) {
      this.#placeholder(context, item, inputId, source);
      context.restore();
      return;
    }
    const { crop } = item;
    const cropped: PartRect = {
      x: source.width * crop.left,
      y: source.height * crop.top,
      width: Math.max(1, source.width * (1 - crop.left - crop.right)),
      height: Math.max(1, source.height * (1 - crop.top - crop.bottom)),
    };
    if (fit === 'fit') {
      const to = containRect(cropped, { x: 0, y: 0, width, height });
      context.translate(to.x, to.y);
      source.draw(context, cropped, to.width, to.height);
    } else if (fit === 'stretch') source.draw(context, cropped, width, height);
    else {
      const cut = coverCrop(cropped, { width, height });
      source.draw(
        context,
        { x: cropped.x + cut.x, y: cropped.y + cut.y, width: cut.width, height: cut.height },
        width,
        height,
      );
    }
    context.restore();
  }

  /** Never black without a word: what should be here and why it is not. */
  #placeholder(
    context: DrawContext,
    item: DrawItem,
    inputId: string,
    source: PictureSource | undefined,
  ): void {
    const input = findRecord(this.#document, 'input', inputId);
    const words = `${input?.name ?? 'Input'}\n${source?.message || 'waiting'}`;
    this.#cached(context, item, `placeholder|${words}`, (c, w, h) => {
      c.fillStyle = '#252C35';
      c.fillRect(0, 0, w, h);
      paintText(
        c,
        words,
        {
          font: 'Hanken Grotesk Variable',
          sizePx: Math.min(w, h) / 9,
          weight: 600,
          colour: '#A7AFB7',
          align: 'center',
          box: '#252C3500',
        },
        w,
        h,
        1,
        0,
      );
    });
  }

  #cached(
    context: DrawContext,
    item: DrawItem,
    what: string,
    paint: (context: DrawContext, width: number, height: number) => void,
  ): void {
    const width = Math.max(1, Math.ceil(item.rect.width));
    const height = Math.max(1, Math.ceil(item.rect.height));
    const key = `${width}x${height}|${item.cornerPx}|${item.scale}|${what}`;
    let canvas = this.#painted.get(key);
    if (!canvas) {
      canvas = new OffscreenCanvas(width, height);
      paint(canvas.getContext('2d')!, width, height);
      if (this.#painted.size >= MAX_CACHED) this.#painted.delete(this.#painted.keys().next().value!);
      this.#painted.set(key, canvas);
    }
    context.drawImage(canvas, 0, 0);
  }

  #shadow(context: DrawContext, item: DrawItem): void {
    const { width, height } = item.rect;
    const blur = item.shadowPx;
    const margin = Math.ceil(blur * 2);
    const key = `shadow|${Math.round(width)}x${Math.round(height)}|${Math.round(item.cornerPx)}|${Math.round(blur)}`;
    let canvas = this.#painted.get(key);
    if (!canvas) {
      canvas = new OffscreenCanvas(Math.ceil(width) + 2 * margin, Math.ceil(height) + 2 * margin);
      const inner = canvas.getContext('2d')!;
      inner.filter = `blur(${Math.max(1, blur * 0.6)}px)`;
      inner.fillStyle = '#000000a0';
      inner.beginPath();
      inner.roundRect(margin, margin + blur * 0.35, width, height, item.cornerPx);
      inner.fill();
      if (this.#painted.size >= MAX_CACHED) this.#painted.delete(this.#painted.keys().next().value!);
      this.#painted.set(key, canvas);
    }
    context.drawImage(canvas, -margin, -margin);
  }
}
