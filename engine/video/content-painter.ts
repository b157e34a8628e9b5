/** Draws what items show, at (0, 0), without their edges. */
import { messagesAt } from '../../core/audience/chat-filter';
import { layoutChat, readOutShare } from '../../core/audience/widgets/chat-panel';
import type { Room } from '../../core/audience/widgets/drawing';
import { layoutWidget, widgetStamp } from '../../core/audience/widgets/widgets';
import { croppedPart } from '../../core/geometry/adjust';
import { coverCrop, containRect, type Rect, type Size } from '../../core/geometry/rect';
import { insetSize, type DrawItem, type DrawList } from '../../core/scene/draw-list';
import { findRecord, type ShowDocument } from '../../core/show/document';
import type { Fit, FrameName } from '../../core/show/records';
import type { BitmapCache } from './bitmap-cache';
import type { LiveAudience } from './live-audience';
import { paintAlert } from './paint-alert';
import { bitmapSize, copyInto, paintPlaceholder } from './paint-item';
import { measureIn, paintMarks } from './paint-marks';
import { shapePath } from './paint-shape';
import { paintBox, paintText, paintTicker } from './paint-text';
import { drawSoft, soften, softScale } from './soften';
import type { DrawContext, PictureSource } from './sources/picture-source';

/** Insets in insets beyond this are not drawn; edits refuse cycles, so nobody gets here by accident. */
export const MAX_INSET_DEPTH = 6;

type PictureOf = Pick<DrawList, 'frame' | 'clean'>;
type ContentWithStyle = Extract<DrawItem['content'], { accent: string }>;

/** What it asks the compositor for. */
export interface ContentSources {
  readonly audience: LiveAudience;
  document(): ShowDocument;
  sourceFor(inputId: string, gradeId: string | null): PictureSource | undefined;
  /** The list of a scene in a box. */
  insetList(sceneId: string, of: PictureOf, width: number, height: number): DrawList;
  paintScene(context: DrawContext, list: DrawList, now: number, depth: number): void;
}

/** Deviation of the blur around a fitted picture, of the shorter side of its box. */
const SURROUND_SOFT_SHARE = 0.04;

export class ContentPainter {
  readonly #insets = new Map<string, OffscreenCanvas>();
  /** Made small before it is blurred: the blur costs what its own size costs. */
  readonly #surround = new OffscreenCanvas(1, 1);
  readonly #surroundSoft = new OffscreenCanvas(1, 1);

  constructor(
    readonly from: ContentSources,
    readonly bitmaps: BitmapCache,
  ) {}

  /** Lets go of what belongs to layers that are gone. */
  forget(document: ShowDocument): void {
    for (const key of this.#insets.keys())
      if (!document.has(key.slice(0, key.indexOf('|')))) this.#insets.delete(key);
  }

  paint(context: DrawContext, item: DrawItem, of: DrawList, now: number, depth: number): void {
    if (!item.flipX && !item.flipY) return this.#content(context, item, of, now, depth);
    const { width, height } = item.rect;
    context.save();
    context.translate(item.flipX ? width : 0, item.flipY ? height : 0);
    context.scale(item.flipX ? -1 : 1, item.flipY ? -1 : 1);
    this.#content(context, item, of, now, depth);
    context.restore();
  }

  #content(context: DrawContext, item: DrawItem, of: DrawList, now: number, depth: number): void {
    const { sceneId, frame } = of;
    const { content } = item;
    const { width, height } = item.rect;
    switch (content.type) {
      case 'input':
        // From one grade to another both are seen, the new one over the old.
        if (content.gradeFrom) this.#input(context, item, { ...content, ...content.gradeFrom });
        context.globalAlpha *= content.gradeFrom?.share ?? 1;
        this.#input(context, item, content);
        break;
      case 'inset':
        if (depth < MAX_INSET_DEPTH) this.#inset(context, item, content, of, now, depth);
        break;
      case 'shape':
        context.fillStyle = content.colour;
        shapePath(context, content.shape, width, height, item.cornerPx);
        context.fill();
        break;
      case 'text':
        if (content.style.tickerPxPerSecond > 0)
          paintTicker(
            context,
            this.bitmaps,
            content.text,
            content.style,
            width,
            height,
            item.scale,
            item.cornerPx,
            now,
          );
        else
          this.#cached(context, item, `${content.text}|${JSON.stringify(content.style)}`, (c, w, h) =>
            paintText(c, content.text, content.style, w, h, item.scale, item.cornerPx),
          );
        break;
      case 'chatPanel': {
        const stamp = chatStamp(this.from.audience, sceneId, content.keepSeconds, now);
        this.#latest(
          context,
          item,
          `${frame}|${sceneId}`,
          `${stamp}|${JSON.stringify(content)}`,
          (c, w, h) => {
            const audience = this.from.audience.now(sceneId, now);
            paintBox(c, content.style, w, h, item.cornerPx);
            const room = this.#room(c, item, content, w, h);
            const messages = messagesAt(audience.messages, content.keepSeconds, audience.nowMs);
            paintMarks(
              c,
              layoutChat(messages, content.panel, room),
              content.style,
              w,
              h,
              item.scale,
              this.from.audience.emotes,
            );
          },
        );
        break;
      }
      case 'widget':
        this.#widget(context, item, content, sceneId, frame, now);
        break;
      case 'alert': {
        const alert = this.from.audience.alertAt(now);
        if (!alert) return;
        paintAlert(
          context,
          this.bitmaps,
          alert.alert,
          alert.words,
          this.from.audience.pictures.of(alert.alert.rule.id),
          now,
          content.style,
          width,
          height,
          item.scale,
          item.cornerPx,
        );
        break;
      }
    }
  }

  #room(
    context: DrawContext,
    item: DrawItem,
    content: ContentWithStyle,
    width: number,
    height: number,
  ): Room {
    const { style, accent } = content;
    return { width, height, style, accent, scale: item.scale, measure: measureIn(context, style) };
  }

  #widget(
    context: DrawContext,
    item: DrawItem,
    content: Extract<DrawItem['content'], { type: 'widget' }>,
    sceneId: string,
    frame: FrameName,
    now: number,
  ): void {
    const { emotes } = this.from.audience;
    const audience = this.from.audience.now(sceneId, now);
    const { widget, style } = content;
    const paint = (c: DrawContext, w: number, h: number) => {
      const marks = layoutWidget(widget, audience, this.#room(c, item, content, w, h));
      // What has nothing to show has no box either.
      if (marks.length > 0) paintBox(c, style, w, h, item.cornerPx);
      paintMarks(c, marks, style, w, h, item.scale, emotes);
    };
    const share =
      widget.of === 'readOut' && audience.readOut
        ? readOutShare(audience.readOut.sinceMs, audience.nowMs)
        : 1;
    if (widget.of === 'credits') {
      // Rolls on with every picture: a bitmap of each would only fill the memory.
      paint(context, item.rect.width, item.rect.height);
      return;
    }
    context.save();
    context.globalAlpha *= share;
    context.translate((share - 1) * item.rect.width * 0.15, 0);
    const moving = widget.of === 'readOut' ? `|${emotes.version}` : '';
    const what = `${widgetStamp(widget, audience)}${moving}|${JSON.stringify(content)}`;
    this.#latest(context, item, `${frame}|${sceneId}`, what, paint);
    context.restore();
  }

  #input(
    context: DrawContext,
    item: DrawItem,
    { inputId, fit, gradeId }: Extract<DrawItem['content'], { type: 'input' }>,
  ): void {
    const source = this.from.sourceFor(inputId, gradeId);
    if (source && isReady(source)) {
      const draw = (part: Rect, w: number, h: number) => source.draw(context, part, w, h);
      if (fit === 'surround') {
        const key = `${inputId}|${gradeId}|${source.version}`;
        this.#surroundWith(context, item, source, key, (inner, part, w, h) => source.draw(inner, part, w, h));
      }
      this.#boxed(context, item, source, fit, draw);
    } else {
      context.save();
      this.#clipCorner(context, item);
      this.#placeholder(context, item, inputId, source);
      context.restore();
    }
  }

  /** The room that a fitted picture leaves, filled with the picture itself: enlarged and blurred. */
  #surroundWith(
    context: DrawContext,
    item: DrawItem,
    size: Size,
    what: string,
    draw: (context: DrawContext, part: Rect, width: number, height: number) => void,
  ): void {
    const { width, height } = item.rect;
    const cropped = croppedPart(size, item.crop);
    const to = containRect(cropped, { x: 0, y: 0, width, height });
    // Where it fills the box anyway there is no room.
    if (to.width > width - 1 && to.height > height - 1) return;
    const cut = coverCrop(cropped, { width, height });
    const part = { ...cut, x: cropped.x + cut.x, y: cropped.y + cut.y };
    const soft = Math.max(1, Math.min(width, height) * SURROUND_SOFT_SHARE);
    // Nobody sees more of it: the whole of it is made at the size that is left by the blur.
    const scale = softScale(soft);
    const step = item.moving ? 16 : 1;
    const small = (px: number) => Math.max(1, Math.ceil(px / scale / step) * step);
    const [w, h] = [small(width), small(height)];
    const bitmap = this.bitmaps.latest(
      `${item.layerId}|surround`,
      `${what}|${JSON.stringify(part)}`,
      w,
      h,
      (inner) => {
        const sharp = sized(this.#surround, w, h);
        draw(sharp, part, w, h);
        drawSoft(inner, soften(this.#surround, w, h, soft / scale, 'clamp', this.#surroundSoft));
      },
    );
    context.save();
    this.#clipCorner(context, item);
    context.drawImage(bitmap, 0, 0, width, height);
    context.restore();
  }

  /** Draws a picture into the item's box: cropped, fitted, with round corners. */
  #boxed(
    context: DrawContext,
    item: DrawItem,
    size: Size,
    fit: Fit,
    draw: (part: Rect, width: number, height: number) => void,
  ): void {
    const { width, height } = item.rect;
    const cropped = croppedPart(size, item.crop);
    context.save();
    this.#clipCorner(context, item);
    if (fit === 'fit' || fit === 'surround') {
      const to = containRect(cropped, { x: 0, y: 0, width, height });
      context.translate(to.x, to.y);
      draw(cropped, to.width, to.height);
    } else if (fit === 'stretch') draw(cropped, width, height);
    else {
      const cut = coverCrop(cropped, { width, height });
      draw({ ...cut, x: cropped.x + cut.x, y: cropped.y + cut.y }, width, height);
    }
    context.restore();
  }

  #clipCorner(context: DrawContext, { cornerPx, rect }: DrawItem): void {
    if (cornerPx <= 0) return;
    context.beginPath();
    context.roundRect(0, 0, rect.width, rect.height, cornerPx);
    context.clip();
  }

  #inset(
    context: DrawContext,
    item: DrawItem,
    content: Extract<DrawItem['content'], { type: 'inset' }>,
    of: PictureOf,
    now: number,
    depth: number,
  ): void {
    const { width, height } = insetSize(item, content.size);
    const key = `${item.layerId}|${of.frame}|${of.clean}|${width}x${height}`;
    let canvas = this.#insets.get(key);
    if (!canvas) {
      canvas = new OffscreenCanvas(width, height);
      if (this.#insets.size >= 24) this.#insets.delete(this.#insets.keys().next().value!);
      this.#insets.set(key, canvas);
    }
    const inner = canvas.getContext('2d', { alpha: false })!;
    const list = this.from.insetList(content.sceneId, of, width, height);
    this.from.paintScene(inner, list, now, depth + 1);
    const scene = canvas;
    if (content.fit === 'surround')
      this.#surroundWith(context, item, canvas, `${now}`, (c, part, w, h) =>
        c.drawImage(scene, part.x, part.y, part.width, part.height, 0, 0, w, h),
      );
    this.#boxed(context, item, canvas, content.fit, (part, w, h) =>
      context.drawImage(scene, part.x, part.y, part.width, part.height, 0, 0, w, h),
    );
  }

  /** Never black without a word: what should be here and why it is not. */
  #placeholder(
    context: DrawContext,
    item: DrawItem,
    inputId: string,
    source: PictureSource | undefined,
  ): void {
    const input = findRecord(this.from.document(), 'input', inputId);
    // A page lies over other layers: with a card in its place there would be nothing else to be seen.
    if (input?.source.type === 'page') return;
    const why = source ? source.message || 'waiting' : 'asleep until its scene is shown';
    // An empty seat is no trouble that viewers should read of.
    const words =
      input?.source.type === 'seat' ? source?.message || input.name : `${input?.name ?? 'Input'}\n${why}`;
    this.#cached(context, item, `placeholder|${words}`, (c, w, h) => paintPlaceholder(c, words, w, h));
  }

  #cached(
    context: DrawContext,
    item: DrawItem,
    what: string,
    paint: (context: DrawContext, width: number, height: number) => void,
  ): void {
    const { width, height } = bitmapSize(item);
    const key = `${width}x${height}|${item.cornerPx}|${item.scale}|${what}`;
    copyInto(
      context,
      item,
      this.bitmaps.get(key, width, height, (c) => paint(c, width, height)),
    );
  }

  /** For what changes often: one bitmap for each place. */
  #latest(
    context: DrawContext,
    item: DrawItem,
    where: string,
    what: string,
    paint: (context: DrawContext, width: number, height: number) => void,
  ): void {
    const { width, height } = bitmapSize(item);
    const slot = `${item.layerId}|${where}|${item.cornerPx}|${item.scale}`;
    copyInto(
      context,
      item,
      this.bitmaps.latest(slot, what, width, height, (c) => paint(c, width, height)),
    );
  }
}

function sized(canvas: OffscreenCanvas, width: number, height: number): DrawContext {
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
  const context = canvas.getContext('2d')!;
  context.reset();
  return context;
}

/** Differs whenever a chat panel does. */
export function chatStamp(audience: LiveAudience, sceneId: string, keepSeconds: number, now: number): string {
  const { messages, messagesVersion, nowMs } = audience.now(sceneId, now);
  const shown = messagesAt(messages, keepSeconds, nowMs);
  const emotes = shown.some((m) => m.tokens.some((t) => 'emote' in t)) ? audience.emotes.version : 0;
  return `${messagesVersion}/${shown.length}/${shown[0]?.key}/${emotes}`;
}

export function isReady(source: PictureSource | undefined): boolean {
  return source?.state === 'ready' && source.width > 0;
}
