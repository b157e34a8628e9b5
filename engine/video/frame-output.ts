import type { Size } from '../../core/geometry/rect';
import { fadeProgress, type OnAir } from '../../core/scene/programme';
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

/** One of the frames that are made: its canvas, and its encoder while it is sent. */
export class FrameOutput {
  #own: ReturnType<typeof makeCanvas>;
  #incoming: ReturnType<typeof makeCanvas> | null = null;
  #encoder: PictureEncoder | null = null;

  constructor(
    readonly frame: FrameName,
    size: Size,
    readonly compositor: Compositor,
  ) {
    this.#own = makeCanvas(size);
  }

  get canvas(): OffscreenCanvas {
    return this.#own.canvas;
  }

  resize(size: Size): void {
    if (this.canvas.width === size.width && this.canvas.height === size.height) return;
    this.#own = makeCanvas(size);
    this.#incoming = null;
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
    const progress = fadeProgress(onAir, seconds);
    if (!onAir.from || progress >= 1) {
      this.compositor.draw(context, onAir.sceneId, this.frame, width, height, seconds);
      return;
    }
    this.compositor.draw(context, onAir.from.sceneId, this.frame, width, height, seconds);
    if (progress <= 0) return;
    this.#incoming ??= makeCanvas(canvas);
    this.compositor.draw(this.#incoming.context, onAir.sceneId, this.frame, width, height, seconds);
    context.globalAlpha = progress;
    context.drawImage(this.#incoming.canvas, 0, 0);
    context.globalAlpha = 1;
    this.compositor.forget(context);
  }

  /** Starts sending this frame; the cover for it goes ahead. */
  encode(plan: EncodePlan, port: MessagePort, title: string, onFailure: (message: string) => void): void {
    this.#encoder?.close();
    this.resize(plan);
    const card = makeCanvas(plan);
    encodeCover(plan, port, (n, of) => {
      paintCoverCard(card.context, title, n, of);
      return card.canvas;
    }).catch((error: unknown) => onFailure(error instanceof Error ? error.message : String(error)));
    this.#encoder = new PictureEncoder(plan, port, onFailure);
  }

  stopEncode(): void {
    this.#encoder?.close();
    this.#encoder = null;
  }

  /** A scene has come on by a cut. */
  cut(): void {
    this.#encoder?.cut();
  }

  /** Gives what is on the canvas to the encoder as picture `index`; null while nothing is sent. */
  hand(index: number): AddResult | null {
    return this.#encoder?.add(this.canvas, index) ?? null;
  }

  report(): EncodeReport | null {
    if (!this.#encoder) return null;
    const { codec, width, height } = this.#encoder.plan;
    return { frame: this.frame, codec, width, height, governor: this.#encoder.report() };
  }
}
