import type { Size } from '../../core/geometry/rect';
import { pictureChange } from '../../core/motion/picture-change';
import { movesLayers, passageShare, type OnAir } from '../../core/motion/programme';
import { isSecond, type EncodeId } from '../../core/delivery/encodes';
import type { FrameName } from '../../core/show/records';
import type { EncodePlan, EncodeReport } from '../../protocol/engine';
import type { Compositor } from './compositor';
import { paintCoverCard } from './cover-card';
import { encodeCover, PictureEncoder, type AddResult } from './picture-encoder';
import type { DrawContext } from './sources/picture-source';

const NOTHING = '#14181D';

function makeCanvas({ width, height }: Size): { canvas: OffscreenCanvas; context: DrawContext } {
  const canvas = new OffscreenCanvas(width, height);
  return { canvas, context: canvas.getContext('2d', { alpha: false })! };
}

interface Sender {
  encoder: PictureEncoder;
  /** For a size of its own. */
  scaled: ReturnType<typeof makeCanvas> | null;
}

/** A running encode that is to become another one. */
export interface EncodeChange {
  takeOver: () => void;
  letBe: () => void;
}

/** One of the frames that are made: its canvas, and its encoders while it is sent. */
export class FrameOutput {
  /** What is sent. */
  #size: Size;
  /** What is drawn of it, in parts of each side. */
  #scale = 1;
  #own: ReturnType<typeof makeCanvas>;
  /** For pictures that come on, one for each change that is going on at once. */
  #incoming: ReturnType<typeof makeCanvas>[] = [];
  /** One, or two for destinations that want something else of the same picture. */
  readonly #encoders = new Map<EncodeId, Sender>();

  /** Those who get its pictures as they are; `left` of them, more when more are asked for. */
  readonly #taps = new Set<{ port: MessagePort; left: number; goesOn: boolean }>();

  constructor(
    readonly frame: FrameName,
    size: Size,
    readonly compositor: Compositor,
    /** Without what viewers cause. */
    readonly clean = false,
  ) {
    this.#size = size;
    this.#own = makeCanvas(size);
  }

  get canvas(): OffscreenCanvas {
    return this.#own.canvas;
  }

  /** Pictures that its encoders have not given out yet. */
  get encoding(): number {
    let pictures = 0;
    for (const { encoder } of this.#encoders.values()) pictures += encoder.pending;
    return pictures;
  }

  /** Whether it is encoded. */
  get encodes(): boolean {
    return this.#encoders.size > 0;
  }

  /** Whether anything leaves this page of it. */
  get sends(): boolean {
    return this.encodes || this.#taps.size > 0;
  }

  resize(size: Size): void {
    this.#size = { width: size.width, height: size.height };
    this.#remake();
  }

  /** Draws smaller than what is sent: the encoder enlarges it. @param scale 0…1, of each side */
  scaleTo(scale: number): void {
    this.#scale = scale;
    this.#remake();
  }

  #remake(): void {
    const even = (side: number) => Math.max(2, Math.round((side * this.#scale) / 2) * 2);
    const [width, height] = [even(this.#size.width), even(this.#size.height)];
    const last = this.canvas;
    if (last.width === width && last.height === height) return;
    this.#own = makeCanvas({ width, height });
    // Until the next one is drawn it stands in for a picture that is missing.
    this.#own.context.drawImage(last, 0, 0, width, height);
    this.#incoming = [];
    this.#fit();
  }

  /** Draws what is on air at `seconds` of the programme. */
  compose(onAir: OnAir | null, seconds: number): void {
    const { canvas, context } = this.#own;
    const { width, height } = canvas;
    if (!onAir) {
      context.fillStyle = NOTHING;
      context.fillRect(0, 0, width, height);
      return;
    }
    this.#draw(onAir, this.#own, seconds, 0);
  }

  #draw(onAir: OnAir, into: ReturnType<typeof makeCanvas>, seconds: number, depth: number): void {
    const { context } = into;
    const { width, height } = into.canvas;
    const { from } = onAir;
    if (!from) return this.compositor.draw(context, onAir, this.frame, width, height, seconds, this.clean);
    if (movesLayers(from))
      return this.compositor.drawMoving(context, onAir, this.frame, width, height, seconds, this.clean);
    this.#draw(from.before, into, seconds, depth + 1);
    const change = pictureChange(from.transition!, passageShare(onAir, seconds), into.canvas);
    this.compositor.forget(context);
    if (change.outgoing) {
      const { x, y } = change.outgoing;
      context.drawImage(into.canvas, x, y);
    }
    if (change.incoming) {
      const { rect, opacity, clip } = change.incoming;
      const incoming = (this.#incoming[depth] ??= makeCanvas(into.canvas));
      this.compositor.draw(incoming.context, onAir, this.frame, width, height, seconds, this.clean);
      context.save();
      if (clip) {
        context.beginPath();
        context.rect(clip.x, clip.y, clip.width, clip.height);
        context.clip();
      }
      context.globalAlpha = opacity;
      context.drawImage(incoming.canvas, rect.x, rect.y, rect.width, rect.height);
      context.restore();
    }
    const { stinger } = from.transition!;
    if (stinger && from.transition!.type === 'stinger' && seconds >= from.startedAt)
      this.compositor.live.stingers.draw(context, stinger.assetId, width, height);
    if (change.veil) {
      context.globalAlpha = change.veil.opacity;
      context.fillStyle = change.veil.colour;
      context.fillRect(0, 0, width, height);
      context.globalAlpha = 1;
    }
  }

  /** Starts sending this frame; the cover for it goes ahead. */
  encode(
    encode: EncodeId,
    plan: EncodePlan,
    port: MessagePort,
    title: string,
    onFailure: (message: string) => void,
  ): void {
    this.#encoders.get(encode)?.encoder.close();
    this.#prepare(plan, port, title, onFailure).takeOver(encode, null);
  }

  /**
   * Gets ready to send a running encode otherwise; its cover goes ahead.
   * @returns what changes over, at a keyframe, or lets it be
   */
  change(
    encode: EncodeId,
    plan: EncodePlan,
    port: MessagePort,
    title: string,
    onFailure: (message: string) => void,
  ): EncodeChange {
    const { encoder, takeOver } = this.#prepare(plan, port, title, onFailure);
    return {
      takeOver: () => takeOver(encode, this.#encoders.get(encode)?.encoder ?? null),
      letBe: () => encoder.close(),
    };
  }

  #prepare(plan: EncodePlan, port: MessagePort, title: string, onFailure: (message: string) => void) {
    const card = makeCanvas(plan);
    encodeCover(plan, port, (n, of) => {
      paintCoverCard(card.context, title, n, of);
      return card.canvas;
    }).catch((error: unknown) => onFailure(error instanceof Error ? error.message : String(error)));
    const encoder = new PictureEncoder(plan, port, onFailure);
    const takeOver = (encode: EncodeId, before: PictureEncoder | null) => {
      if (!isSecond(encode)) this.resize(plan);
      if (before) encoder.holdUntil(before.retire());
      this.#encoders.set(encode, { encoder, scaled: null });
      this.#fit();
    };
    return { encoder, takeOver };
  }

  /** Those that want another size than the canvas get a canvas of their own. */
  #fit(): void {
    for (const sender of this.#encoders.values()) {
      const { width, height } = sender.encoder.plan;
      const same = width === this.#size.width && height === this.#size.height;
      if (same) sender.scaled = null;
      else if (sender.scaled?.canvas.width !== width || sender.scaled.canvas.height !== height)
        sender.scaled = makeCanvas({ width, height });
    }
  }

  /** Number of the first picture of its first encoder, from which keyframes are counted; null before it. */
  get firstIndex(): number | null {
    for (const { encoder } of this.#encoders.values()) return encoder.firstIndex;
    return null;
  }

  /** Whether picture `index` is a keyframe of one of its encoders. */
  keyframeDue(index: number): boolean {
    for (const { encoder } of this.#encoders.values()) if (encoder.keyframeDue(index)) return true;
    return false;
  }

  /** Gives the next pictures away as they are, through a port. @param goesOn it may ask for more, until it says null */
  tap(port: MessagePort, count: number, goesOn: boolean): void {
    const tap = { port, left: count, goesOn };
    this.#taps.add(tap);
    port.onmessage = ({ data }: MessageEvent<number | null>) => {
      if (data === null) this.#taps.delete(tap);
      else tap.left += data;
    };
  }

  #feedTaps(timestamp: number): void {
    for (const tap of this.#taps) {
      if (tap.left === 0) continue;
      const frame = new VideoFrame(this.canvas, { timestamp });
      tap.port.postMessage(frame, [frame]);
      tap.left -= 1;
      if (tap.left > 0 || tap.goesOn) continue;
      tap.port.postMessage(null);
      this.#taps.delete(tap);
    }
  }

  stopEncode(): void {
    for (const { encoder } of this.#encoders.values()) encoder.close();
    this.#encoders.clear();
  }

  /** A scene has come on by a cut. */
  cut(): void {
    for (const { encoder } of this.#encoders.values()) encoder.cut();
  }

  /**
   * Gives what is on the canvas to the encoders as picture `index`.
   * @param keyframesOnly to those alone that need a keyframe now
   */
  hand(index: number, keyframesOnly = false): AddResult[] {
    if (!keyframesOnly) this.#feedTaps(index * 33_333);
    return [...this.#encoders.values()].flatMap(({ encoder, scaled }) => {
      if (keyframesOnly && !encoder.keyframeDue(index)) return [];
      if (!scaled) return encoder.add(this.canvas, index);
      const { width, height } = scaled.canvas;
      scaled.context.imageSmoothingQuality = 'medium';
      scaled.context.drawImage(this.canvas, 0, 0, width, height);
      return encoder.add(scaled.canvas, index);
    });
  }

  report(): EncodeReport[] {
    return [...this.#encoders].map(([encode, { encoder }]) => {
      const { codec, width, height } = encoder.plan;
      return { encode, codec, width, height, governor: encoder.report() };
    });
  }
}
