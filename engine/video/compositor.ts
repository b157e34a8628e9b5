import { readOutShare } from '../../core/audience/widgets/chat-panel';
import { widgetStamp } from '../../core/audience/widgets/widgets';
import type { OnAir, Stop } from '../../core/motion/programme';
import {
  buildDrawList,
  buildMovingList,
  insetSize,
  type DrawItem,
  type DrawList,
} from '../../core/scene/draw-list';
import { fieldsInTexts } from '../../core/scene/field-uses';
import { findRecord, type ShowDocument } from '../../core/show/document';
import type { FrameName } from '../../core/show/records';
import { BitmapCache } from './bitmap-cache';
import { chatStamp, ContentPainter, isReady, MAX_INSET_DEPTH } from './content-painter';
import { FinishPainter, type Masks } from './finish-painter';
import type { LiveAudience } from './live-audience';
import { clipWipe } from './paint-item';
import { shapePath } from './paint-shape';
import type { DrawContext, PictureSource } from './sources/picture-source';
import type { OwnFonts } from './own-fonts';
import { StandingPart } from './standing-part';
import type { Stingers } from './stingers';

type PictureOf = Pick<DrawList, 'frame' | 'clean'>;

/** What the compositor needs to know beside the document. */
export interface LiveState {
  sources: ReadonlyMap<string, PictureSource>;
  /** The source coloured by a layer's own grade. */
  gradedFor(inputId: string, source: PictureSource, gradeId: string): PictureSource;
  audience: LiveAudience;
  stingers: Pick<Stingers, 'draw'>;
  masks: Masks;
  fonts: Pick<OwnFonts, 'version'>;
}

/** Draws scenes on a canvas from draw lists; what has not changed since the last picture is not drawn again. */
export class Compositor {
  #document: ShowDocument = new Map();
  #lists = new Map<string, DrawList>();
  #liveFields: Record<string, string> = {};
  /** Fields that stand in any text. */
  #usedFields: readonly string[] = [];
  readonly bitmaps = new BitmapCache();
  readonly #standing = new WeakMap<DrawContext, StandingPart>();
  readonly #finishes: FinishPainter;
  readonly #contents: ContentPainter;
  #fontsVersion = 0;
  /** Draw calls for items, for measuring. */
  drawn = 0;

  constructor(readonly live: LiveState) {
    this.#finishes = new FinishPainter(this.bitmaps, live.masks);
    this.#contents = new ContentPainter(
      {
        audience: live.audience,
        document: () => this.#document,
        sourceFor: (inputId, gradeId) => this.#sourceFor(inputId, gradeId),
        insetList: (sceneId, { frame, clean }, width, height) =>
          this.listOf({ sceneId, poseId: null }, { frame, clean }, width, height, true),
        paintScene: (context, list, now, depth) =>
          this.#paint(context, list, 0, list.items.length, now, depth),
      },
      this.bitmaps,
    );
  }

  /** Contents that were finished with glow, blur or mask, for measuring. */
  get finished(): number {
    return this.#finishes.finished;
  }

  setDocument(document: ShowDocument): void {
    this.#document = document;
    this.#usedFields = fieldsInTexts(document);
    this.#lists.clear();
    this.#contents.forget(document);
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
    this.#followFonts();
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
    this.#followFonts();
    const live = this.#liveFields;
    const list = buildMovingList(this.#document, onAir, frame, { width, height }, now, { clean, live });
    this.forget(context);
    this.#paint(context, list, 0, list.items.length, now, 0);
  }

  /** Words look otherwise once a font has come. */
  #followFonts(): void {
    const { version } = this.live.fonts;
    if (version === this.#fontsVersion) return;
    this.#fontsVersion = version;
    this.#lists.clear();
    this.bitmaps.clear();
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
    const stamp = this.#contentStamp(item, of, now, depth);
    return item.finish?.mask ? `${stamp}|m${this.live.masks.version}` : stamp;
  }

  #contentStamp(item: DrawItem, of: DrawList, now: number, depth: number): string {
    const { content } = item;
    const { sceneId } = of;
    switch (content.type) {
      case 'input': {
        const source = this.#sourceFor(content.inputId, content.gradeId);
        const share = content.gradeFrom ? `/${content.gradeFrom.share}` : '';
        return source
          ? `${source.state}${source.version}${share}${source.state === 'ready' ? '' : source.message}`
          : '-';
      }
      case 'text':
        return content.style.tickerPxPerSecond > 0 ? `t${now}` : '';
      case 'shape':
        return '';
      case 'chatPanel':
        return chatStamp(this.live.audience, sceneId, content.keepSeconds, now);
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
    const { rect, content } = item;
    const { width, height } = rect;
    if (content.type === 'alert' && !this.live.audience.alertAt(now)) return;
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
    if (FinishPainter.concerns(item))
      this.#finishes.paint(
        context,
        item,
        `${item.layerId}|${of.sceneId}|${of.frame}|${of.clean}`,
        this.#stampOf(item, of, now, depth),
        (inner, bare) => this.#contents.paint(inner, bare, of, now, depth),
      );
    else this.#contents.paint(context, item, of, now, depth);
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

  /** The input's own source, or the one that stands in while it has no picture. */
  #sourceFor(inputId: string, gradeId: string | null): PictureSource | undefined {
    const source = this.live.sources.get(inputId);
    if (source && isReady(source))
      return gradeId === null ? source : this.live.gradedFor(inputId, source, gradeId);
    const standIn = this.live.sources.get(findRecord(this.#document, 'input', inputId)?.standInId ?? '');
    return isReady(standIn) ? standIn : source;
  }
}
