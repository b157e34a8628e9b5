import { messageOf } from '../../../core/fault';
import type { Rect } from '../../../core/geometry/rect';
import type { InputState } from '../../../protocol/engine';
import type { InputPart } from '../../../protocol/input-stream';
import { InputStreamClient } from './input-stream-client';
import type { DrawContext, PictureSource } from './picture-source';

/** What a page showed last is shown this long while nothing is heard of it; then its place says why. */
const KEEP_SECONDS = 6;

/** A web page that the server renders: its newest picture, with its transparency. */
export class PageSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'is being loaded';
  width = 0;
  height = 0;
  version = 0;
  readonly hasSound = false;
  /** Places it asked for and is kept away from. */
  blocked: readonly string[] = [];
  readonly #client: InputStreamClient;
  #bitmap: ImageBitmap | null = null;
  /** The newest that came while another was being decoded. */
  #next: Uint8Array | null = null;
  #decoding = false;
  #closed = false;
  #seconds = 0;
  /** Since when it is not running; null while it is. */
  #downSince: number | null = 0;
  #why = 'is being loaded';

  constructor(url: string) {
    this.#client = new InputStreamClient(
      url,
      (part) => this.#take(part),
      (why) => this.#down(why),
    );
  }

  advance(seconds: number): void {
    this.#seconds = seconds;
    if (this.#downSince === null || (this.#bitmap && seconds - this.#downSince < KEEP_SECONDS)) return;
    if (this.state === 'ready' || this.message !== this.#why) {
      this.state = this.state === 'ready' ? 'failed' : this.state;
      this.message = this.#why;
      this.version += 1;
    }
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (this.#bitmap)
      context.drawImage(this.#bitmap, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  close(): void {
    this.#closed = true;
    this.#client.close();
    this.#bitmap?.close();
    this.#bitmap = null;
  }

  #down(why: string): void {
    this.#downSince ??= this.#seconds;
    this.#why = why;
  }

  #take(part: InputPart): void {
    if (part.kind === 'picture') {
      this.#next = part.body;
      if (!this.#decoding) void this.#decode();
    } else if (part.kind === 'status') {
      const { state, message, blocked } = part.status;
      this.blocked = blocked;
      if (state === 'running') {
        this.#downSince = null;
        // The browser's picture of an empty page comes before the page: it counts when the page runs.
        if (this.#bitmap && this.state !== 'ready') {
          this.state = 'ready';
          this.version += 1;
        }
        if (this.state === 'ready')
          this.message = message || (blocked.length > 0 ? `without ${blocked.join(', ')}: not allowed` : '');
      } else {
        this.#down(message);
        if (this.state !== 'ready') this.state = state;
      }
    }
  }

  async #decode(): Promise<void> {
    this.#decoding = true;
    while (this.#next && !this.#closed) {
      const bytes = this.#next;
      this.#next = null;
      try {
        const bitmap = await createImageBitmap(
          new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/png' }),
        );
        if (this.#closed) return bitmap.close();
        this.#bitmap?.close();
        this.#bitmap = bitmap;
        this.width = bitmap.width;
        this.height = bitmap.height;
        this.version += 1;
        if (this.#downSince === null) this.state = 'ready';
      } catch (error) {
        this.#down(`its picture could not be read: ${messageOf(error)}`);
      }
    }
    this.#decoding = false;
  }
}
