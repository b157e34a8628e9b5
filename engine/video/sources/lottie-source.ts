import { DotLottie } from '@lottiefiles/dotlottie-web';
import playerUrl from '@lottiefiles/dotlottie-web/dotlottie-player.wasm?url';
import { messageOf } from '../../../core/fault';
import type { Rect } from '../../../core/geometry/rect';
import { lottieFrame, readLottie, type LottieFacts } from '../../../core/picture/lottie';
import type { InputState } from '../../../protocol/engine';
import { fetchAsset, type DrawContext, type PictureSource } from './picture-source';

/** Vector animations are painted at their own size up to this; larger ones are brought down. */
const MAX_SIDE_PX = 1280;

DotLottie.setWasmUrl(new URL(playerUrl, location.origin).href);

/** A Lottie animation, run by programme time: the player paints the frame it is told to, and nothing by itself. */
export class LottieSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'loading';
  width = 0;
  height = 0;
  version = 0;
  readonly hasSound = false;
  #facts: LottieFacts | null = null;
  #player: DotLottie | null = null;
  #canvas: OffscreenCanvas | null = null;
  #startedAt: number | null = null;
  #frame = -1;
  #closed = false;

  constructor(
    url: string,
    readonly loop: boolean,
    readonly speed: number,
  ) {
    this.#load(url).catch((error: unknown) => this.#fail(messageOf(error)));
  }

  /** Length of one run; 0 until it is loaded. */
  get seconds(): number {
    return this.#facts?.seconds ?? 0;
  }

  advance(seconds: number): void {
    if (!this.#facts || !this.#player || this.state !== 'ready') return;
    this.#startedAt ??= seconds;
    if (seconds < this.#startedAt) return;
    const frame = lottieFrame(this.#facts, seconds - this.#startedAt, this.loop, this.speed);
    // A tenth of a frame is nothing that anyone sees.
    if (Math.abs(frame - this.#frame) < 0.1) return;
    this.#frame = frame;
    this.#player.setFrame(frame);
    this.version += 1;
  }

  restart(atSeconds: number): void {
    this.#startedAt = atSeconds;
    this.#frame = 0;
    this.#player?.setFrame(0);
    this.version += 1;
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (this.#canvas)
      context.drawImage(this.#canvas, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  close(): void {
    this.#closed = true;
    this.#player?.destroy();
    this.#player = null;
    this.#canvas = null;
  }

  async #load(url: string): Promise<void> {
    const text = await (await fetchAsset(url)).text();
    const facts = readLottie(text);
    if (this.#closed) return;
    const scale = Math.min(1, MAX_SIDE_PX / Math.max(facts.width, facts.height));
    const canvas = new OffscreenCanvas(
      Math.max(1, Math.round(facts.width * scale)),
      Math.max(1, Math.round(facts.height * scale)),
    );
    const player = new DotLottie({ canvas, data: text, autoplay: false, loop: false });
    this.#player = player;
    await new Promise<void>((resolve, reject) => {
      player.addEventListener('load', () => resolve());
      player.addEventListener('loadError', ({ error }) => reject(error));
    });
    if (this.#closed) return;
    this.#facts = facts;
    this.#canvas = canvas;
    this.width = canvas.width;
    this.height = canvas.height;
    this.state = 'ready';
    this.message = '';
    this.version += 1;
  }

  #fail(why: string): void {
    if (this.#closed) return;
    this.state = 'failed';
    this.message = `cannot be shown: ${why}`;
    this.version += 1;
  }
}
