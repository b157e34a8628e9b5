import { messagesAt } from '../../core/audience/chat-filter';
import { layoutChat, readOutShare } from '../../core/audience/widgets/chat-panel';
import type { Room } from '../../core/audience/widgets/drawing';
import { layoutWidget, widgetStamp } from '../../core/audience/widgets/widget';
import { croppedPart } from '../../core/geometry/adjust';
import { coverCrop, containRect, type Rect, type Size } from '../../core/geometry/rect';
import type { OnAir, Stop } from '../../core/motion/programme';
import {
  buildDrawList,
  buildMovingList,
  insetSize,
  type DrawItem,
  type DrawList,
} from '../../core/scene/draw-list';
import { fieldsInTexts } from '../../core/scene/fields';
import { findRecord, type ShowDocument } from '../../core/show/document';
import type { Fit, FrameName } from '../../core/show/records';
import { BitmapCache } from './bitmap-cache';
import { shapePath } from './paint-shape';
import type { LiveAudience } from './live-audience';
import { paintAlert } from './paint-alert';
import { bitmapSize, clipWipe, copyInto, paintPlaceholder, paintShadow } from './paint-item';
import { measureIn, paintMarks } from './paint-marks';
import { paintBox, paintText, paintTicker } from './paint-text';
import type { DrawContext, PictureSource } from './sources/picture-source';
import type { Stingers } from './stingers';
import { StandingPart } from './standing-part';

/** Insets in insets beyond this are not drawn; edits refuse cycles, so nobody gets here by accident. */
const MAX_INSET_DEPTH = 6;

type PictureOf = Pick<DrawList, 'frame' | 'clean'>;
type ContentWithStyle = Extract<DrawItem['content'], { accent: string }>;

/** What the compositor needs to know beside the document. */
export interface LiveState {
  sources: ReadonlyMap<string, PictureSource>;
  /** The source coloured by a layer's own grade. */
  gradedFor(inputId: string, source: PictureSource, gradeId: string): PictureSource;
  audience: LiveAudience;
  stingers: Pick<Stingers, 'draw'>;
}

/** Draws scenes on a canvas from draw lists; what has not changed since the last picture is not drawn again. */
export class Compositor {
  #document: ShowDocument = new Map();
  #lists = new Map<string, DrawList>();
  #liveFields: Record<string, string> = {};
  /** Fields that stand in any text. */
  #usedFields: readonly string[] = [];
  readonly #bitmaps = new BitmapCache();
  readonly #standing = new WeakMap<DrawContext, StandingPart>();
  readonly #insets = new Map<string, OffscreenCanvas>();
  /** Draw calls for items, for measuring. */
  drawn = 0;

  constructor(readonly live: LiveState) {}

  setDocument(document: ShowDocument): void {
    this.#document = document;
    this.#usedFields = fieldsInTexts(document);
    this.#lists.clear();
    for (const key of this.#insets.keys())
      if (!document.has(key.slice(0, key.indexOf('|')))) this.#insets.delete(key);
  }

  /** Fields that events keep up; lists that were made with others are made anew. */
  setLiveFields(fields: Record<string, string>): void {
    const before = this.#liveFields;
    if (fields === before) return;
    this.#liveFields = fields;
    // Most of them stand in no text; what nobody sees changes nothing.
    for (const name of this.#usedFields)
      if (fields[name] !== before[name]) {
        this.#lists.clear();
        return;
      }
  }

  listOf(
    { sceneId, poseId }: Stop,
    { frame, clean }: PictureOf,
    width: number,
    height: number,
    inside = false,
  ): DrawList {
    const key = `${sceneId}/${poseId}/${frame}/${clean}/${width}x${height}${inside ? '/inside' : ''}`;
    let list = this.#lists.get(key);
    if (!list) {
      const live = this.#liveFields;
      const of = { poseId, inside, clean, live };
      list = buildDrawList(this.#document, sceneId, frame, { width, height }, of);
      this.#lists.set(key, list);
    }
    return list;
  }

  /**
   * Draws a whole scene over (0, 0, width, height) of a context that nothing else draws on: when it holds just this
   * picture already, nothing is done.
   */
  draw(
    context: DrawContext,
    stop: Stop,
    frame: FrameName,
    width: number,
    height: number,
    now: number,
    clean = false,
  ): void {
    const list = this.listOf(stop, { frame, clean }, width, height);
    let standing = this.#standing.get(context);
    if (!standing) this.#standing.set(context, (standing = new StandingPart()));
    const first = standing.begin(
      context,
      list,
      list.items.map((item) => this.#stampOf(item, list, now, 0)),
      (inner, until) => this.#paint(inner, list, 0, until, now, 0),
    );
    if (first === null) return;
    this.#paint(context, list, first, list.items.length, now, 0);
  }

  /** Draws the layers on air while they move, over (0, 0, width, height). */
  drawMoving(
    context: DrawContext,
    onAir: OnAir,
    frame: FrameName,
    width: number,
    height: number,
    now: number,
    clean = false,
  ): void {
    const live = this.#liveFields;
    const list = buildMovingList(this.#document, onAir, frame, { width, height }, now, { clean, live });
    this.forget(context);
    this.#paint(context, list, 0, list.items.length, now, 0);
  }

  /** To be told when something else has drawn on the context. */
  forget(context: DrawContext): void {
    this.#standing.get(context)?.forget();
  }

  #paint(
    context: DrawContext,
    list: DrawList,
    from: number,
    until: number,
    now: number,
    depth: number,
  ): void {
    context.globalAlpha = 1;
    if (from === 0) {
      context.fillStyle = list.background;
      context.fillRect(0, 0, context.canvas.width, context.canvas.height);
    }
    for (let i = from; i < until; i++) this.#item(context, list.items[i], list, now, depth);
    context.globalAlpha = 1;
  }

  /** A text that differs whenever the item's picture does. */
  #stampOf(item: DrawItem, of: DrawList, now: number, depth: number): string {
    const { content } = item;
    const { sceneId } = of;
    switch (content.type) {
      case 'input': {
        const source = this.#sourceFor(content.inputId, content.gradeId);
        return source
          ? `${source.state}${source.version}${source.state === 'ready' ? '' : source.message}`
          : '-';
      }
      case 'text':
        return content.style.tickerPxPerSecond > 0 ? `t${now}` : '';
      case 'shape':
        return '';
      case 'chatPanel':
        return this.#chatStamp(sceneId, content.keepSeconds, now);
      case 'widget': {
        const audience = this.live.audience.now(sceneId, now);
        const moves =
          content.widget.of === 'readOut' && audience.readOut
            ? readOutShare(audience.readOut.sinceMs, audience.nowMs)
            : 1;
        return `${widgetStamp(content.widget, audience)}${moves < 1 ? now : ''}`;
      }
      case 'alert':
        return this.live.audience.alertAt(now) ? `a${now}` : '';
      case 'inset': {
        if (depth >= MAX_INSET_DEPTH) return '';
        const { width, height } = insetSize(item, content.size);
        const list = this.listOf({ sceneId: content.sceneId, poseId: null }, of, width, height, true);
        return list.items.map((inner) => this.#stampOf(inner, list, now, depth + 1)).join();
      }
    }
  }

  #item(context: DrawContext, item: DrawItem, of: DrawList, now: number, depth: number): void {
    const { sceneId, frame } = of;
    const { rect, content } = item;
    const { width, height } = rect;
    const alert = content.type === 'alert' ? this.live.audience.alertAt(now) : null;
    if (content.type === 'alert' && !alert) return;
    this.drawn += 1;
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
    if (item.wipe) clipWipe(context, item);
    if (item.shadowPx > 0) paintShadow(context, this.#bitmaps, item);
    if (item.flipX || item.flipY) {
      context.save();
      context.translate(item.flipX ? width : 0, item.flipY ? height : 0);
      context.scale(item.flipX ? -1 : 1, item.flipY ? -1 : 1);
    }
    switch (content.type) {
      case 'input':
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
            this.#bitmaps,
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
        const stamp = this.#chatStamp(sceneId, content.keepSeconds, now);
        this.#latest(
          context,
          item,
          `${frame}|${sceneId}`,
          `${stamp}|${JSON.stringify(content)}`,
          (c, w, h) => {
            const audience = this.live.audience.now(sceneId, now);
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
              this.live.audience.emotes,
            );
          },
        );
        break;
      }
      case 'widget':
        this.#widget(context, item, content, sceneId, frame, now);
        break;
      case 'alert':
        paintAlert(
          context,
          alert!.alert,
          alert!.words,
          this.live.audience.pictures.of(alert!.alert.rule.id),
          now,
          content.style,
          width,
          height,
          item.scale,
          item.cornerPx,
        );
        break;
    }
    if (item.flipX || item.flipY) context.restore();
    if (item.borderPx > 0) {
      context.lineWidth = item.borderPx;
      context.strokeStyle = item.borderColour;
      shapePath(
        context,
        content.type === 'shape' ? content.shape : 'rectangle',
        width,
        height,
        item.cornerPx,
      );
      context.stroke();
    }
    context.restore();
  }

  #chatStamp(sceneId: string, keepSeconds: number, now: number): string {
    const { messages, messagesVersion, nowMs } = this.live.audience.now(sceneId, now);
    const shown = messagesAt(messages, keepSeconds, nowMs);
    const emotes = shown.some((m) => m.tokens.some((t) => 'emote' in t))
      ? this.live.audience.emotes.version
      : 0;
    return `${messagesVersion}/${shown.length}/${shown[0]?.key}/${emotes}`;
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
    const { emotes } = this.live.audience;
    const audience = this.live.audience.now(sceneId, now);
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

  /** The input's own source, or the one that stands in while it has no picture. */
  #sourceFor(inputId: string, gradeId: string | null): PictureSource | undefined {
    const source = this.live.sources.get(inputId);
    if (source && isReady(source))
      return gradeId === null ? source : this.live.gradedFor(inputId, source, gradeId);
    const standIn = this.live.sources.get(findRecord(this.#document, 'input', inputId)?.standInId ?? '');
    return isReady(standIn) ? standIn : source;
  }

  #input(
    context: DrawContext,
    item: DrawItem,
    { inputId, fit, gradeId }: Extract<DrawItem['content'], { type: 'input' }>,
  ): void {
    const source = this.#sourceFor(inputId, gradeId);
    if (source && isReady(source))
      this.#boxed(context, item, source, fit, (part, w, h) => source.draw(context, part, w, h));
    else {
      context.save();
      this.#clipCorner(context, item);
      this.#placeholder(context, item, inputId, source);
      context.restore();
    }
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
    if (fit === 'fit') {
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
    const list = this.listOf({ sceneId: content.sceneId, poseId: null }, of, width, height, true);
    this.#paint(inner, list, 0, list.items.length, now, depth + 1);
    const scene = canvas;
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
    const input = findRecord(this.#document, 'input', inputId);
    const why = source ? source.message || 'waiting' : 'asleep until its scene is shown';
    const words = `${input?.name ?? 'Input'}\n${why}`;
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
      this.#bitmaps.get(key, width, height, (c) => paint(c, width, height)),
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
      this.#bitmaps.latest(slot, what, width, height, (c) => paint(c, width, height)),
    );
  }
}

function isReady(source: PictureSource | undefined): boolean {
  return source?.state === 'ready' && source.width > 0;
}
