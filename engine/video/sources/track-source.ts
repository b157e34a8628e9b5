import type { Rect } from '../../../core/geometry/rect';
import type { InputState } from '../../../protocol/engine';
import { Deinterlacer } from './deinterlacer';
import type { DrawContext, PictureSource } from './picture-source';

/** A camera, screen or window: frames arrive as a stream, the newest is shown. */
export class TrackSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'waiting for the device';
  width = 0;
  height = 0;
  version = 0;
  readonly hasSound = false;
  /** Its pictures have two fields each. */
  interlaced = false;
  readonly #deinterlacer = new Deinterlacer();
  #frame: VideoFrame | null = null;
  #reader: ReadableStreamDefaultReader<VideoFrame> | null = null;

  attach(frames: ReadableStream<VideoFrame>): void {
    void this.#reader?.cancel();
    const reader = frames.getReader();
    this.#reader = reader;
    void this.#read(reader);
  }

  problem(message: string | null): void {
    this.version += 1;
    if (message === null) {
      this.state = this.#frame ? 'ready' : 'waiting';
      this.message = this.#frame ? '' : 'waiting for the device';
      return;
    }
    this.state = 'failed';
    this.message = message;
    this.#frame?.close();
    this.#frame = null;
  }

  /** Nothing comes, and nothing is wrong with that. */
  empty(words: string): void {
    void this.#reader?.cancel();
    this.#reader = null;
    this.#frame?.close();
    this.#frame = null;
    this.version += 1;
    this.state = 'waiting';
    this.message = words;
  }

  async #read(reader: ReadableStreamDefaultReader<VideoFrame>): Promise<void> {
    for (;;) {
      const { done, value } = await reader.read();
      if (done || this.#reader !== reader) {
        value?.close();
        return;
      }
      const frame = this.interlaced ? await this.#deinterlacer.run(value) : value;
      if (this.#reader !== reader) {
        frame.close();
        return;
      }
      this.#frame?.close();
      this.#frame = frame;
      this.version += 1;
      this.width = frame.displayWidth;
      this.height = frame.displayHeight;
      this.state = 'ready';
      this.message = '';
    }
  }

  advance(): void {
    // the newest frame is always the right one
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (this.#frame)
      context.drawImage(this.#frame, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  frame(): VideoFrame | null {
    return this.#frame;
  }

  close(): void {
    void this.#reader?.cancel();
    this.#reader = null;
    this.#frame?.close();
    this.#frame = null;
  }
}
