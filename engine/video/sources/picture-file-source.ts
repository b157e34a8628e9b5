import type { Rect } from '../../../core/geometry/rect';
import type { InputState } from '../../../protocol/engine';
import {
  boundedBitmap,
  explainFileFailure,
  fetchAsset,
  MAX_PICTURE_PX,
  type DrawContext,
  type PictureSource,
} from './picture-source';
import { ScaledPicture } from './scaled-picture';

/** Animated pictures decode this many frames ahead; each holds its pixels. */
const AHEAD_FRAMES = 3;
/** Files with frames of no length (there are some) run at ten a second, as browsers do. */
const DEFAULT_FRAME_SECONDS = 0.1;

interface AnimatedFrame {
  frame: VideoFrame;
  seconds: number;
}

/**
 * A picture file: a still is decoded once; GIF, APNG, WebP and AVIF with several frames run by programme time, decoded
 * frame by frame so that a long one does not fill the memory.
 */
export class PictureFileSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'loading';
  width = 0;
  height = 0;
  version = 0;
  readonly hasSound = false;
  #still: ScaledPicture | null = null;
  #decoder: ImageDecoder | null = null;
  #ahead: AnimatedFrame[] = [];
  #shown: VideoFrame | null = null;
  #shownUntil = 0;
  #decoding = false;
  #next = 0;
  /** Nothing is seen before this; programme seconds. */
  #startsAt = -Infinity;
  /** Which run the frame that is being decoded belongs to. */
  #run = 0;
  #ended = false;
  #closed = false;

  constructor(
    url: string,
    readonly loop: boolean,
  ) {
    this.#load(url).catch((error: unknown) => this.#fail(error));
  }

  get caughtUp(): boolean {
    if (this.state !== 'ready' || !this.#decoder) return this.state !== 'waiting';
    return this.#ended || this.#ahead.length >= AHEAD_FRAMES;
  }

  async #load(url: string): Promise<void> {
    const response = await fetchAsset(url);
    const mime = response.headers.get('content-type')?.split(';')[0] ?? '';
    // An APNG is a PNG to everyone who does not look inside.
    const type = mime === 'image/apng' ? 'image/png' : mime;
    const blob = await response.blob();
    if (await ImageDecoder.isTypeSupported(type)) {
      const decoder = new ImageDecoder({ type, data: await blob.arrayBuffer() });
      await decoder.tracks.ready;
      await decoder.completed;
      const count = decoder.tracks.selectedTrack?.frameCount ?? 1;
      if (this.#closed) return decoder.close();
      if (count > 1) return this.#animate(decoder);
      decoder.close();
    }
    const bitmap = await boundedBitmap(await createImageBitmap(blob));
    if (this.#closed) return bitmap.close();
    this.#still = new ScaledPicture(bitmap);
    this.#ready(bitmap.width, bitmap.height);
  }

  async #animate(decoder: ImageDecoder): Promise<void> {
    this.#decoder = decoder;
    await this.#decodeNext();
    const first = this.#ahead[0]?.frame;
    if (!first) return;
    if (Math.max(first.displayWidth, first.displayHeight) > MAX_PICTURE_PX)
      throw new Error(`an animated picture may be ${MAX_PICTURE_PX} px at most`);
    this.#ready(first.displayWidth, first.displayHeight);
  }

  #ready(width: number, height: number): void {
    this.width = width;
    this.height = height;
    this.state = 'ready';
    this.message = '';
    this.version += 1;
  }

  #fail(error: unknown): void {
    if (this.#closed) return;
    this.state = 'failed';
    this.message = explainFileFailure(error);
    this.version += 1;
  }

  async #decodeNext(): Promise<void> {
    const decoder = this.#decoder;
    if (!decoder || this.#decoding || this.#ended || this.#ahead.length >= AHEAD_FRAMES) return;
    this.#decoding = true;
    try {
      const count = decoder.tracks.selectedTrack?.frameCount ?? 1;
      const run = this.#run;
      const { image } = await decoder.decode({ frameIndex: this.#next });
      if (this.#closed || run !== this.#run) return image.close();
      this.#next += 1;
      if (this.#next >= count) {
        this.#next = 0;
        this.#ended = !this.loop;
      }
      const seconds = (image.duration ?? 0) / 1e6;
      this.#ahead.push({ frame: image, seconds: seconds > 0.005 ? seconds : DEFAULT_FRAME_SECONDS });
    } finally {
      this.#decoding = false;
    }
    // Short frames are several to a picture of the programme: one decoded for each of those would make it run slow.
    await this.#decodeNext();
  }

  advance(seconds: number): void {
    if (!this.#decoder || this.state !== 'ready') return;
    if (seconds < this.#startsAt) return void this.#decodeNext().catch((error: unknown) => this.#fail(error));
    // After a pause (a window that slept) it goes on from now instead of racing through what was missed.
    if (this.#shown === null || seconds - this.#shownUntil > 1) this.#shownUntil = seconds;
    while (seconds >= this.#shownUntil && this.#ahead.length > 0) {
      const { frame, seconds: length } = this.#ahead.shift()!;
      this.#shown?.close();
      this.#shown = frame;
      this.#shownUntil += length;
      this.version += 1;
    }
    this.#decodeNext().catch((error: unknown) => this.#fail(error));
  }

  restart(atSeconds: number): void {
    if (!this.#decoder) return;
    this.#run += 1;
    this.#next = 0;
    this.#ended = false;
    this.#startsAt = atSeconds;
    this.#shownUntil = atSeconds;
    this.#shown?.close();
    this.#shown = null;
    for (const { frame } of this.#ahead) frame.close();
    this.#ahead = [];
    this.version += 1;
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (this.#still) this.#still.draw(context, part, width, height);
    else if (this.#shown)
      context.drawImage(this.#shown, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  close(): void {
    this.#closed = true;
    this.#still?.close();
    this.#still = null;
    this.#decoder?.close();
    this.#decoder = null;
    this.#shown?.close();
    this.#shown = null;
    for (const { frame } of this.#ahead) frame.close();
    this.#ahead = [];
  }
}
