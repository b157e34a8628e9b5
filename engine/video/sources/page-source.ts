import { messageOf } from '../../../core/fault';
import type { Rect } from '../../../core/geometry/rect';
import { DueQueue } from '../../../core/media/due-queue';
import { FeedPlayout } from '../../../core/media/feed-playout';
import { sidesOf } from '../../../core/sound/downmix';
import { MIXER_SAMPLE_RATE } from '../../../core/sound/format';
import type { InputState } from '../../../protocol/engine';
import type { InputPart } from '../../../protocol/input-stream';
import { systemClock } from '../../system-clock';
import { InputStreamClient } from './input-stream-client';
import type { DrawContext, PictureSource } from './picture-source';
import { PlacedSound } from './placed-sound';

/** What a page showed last is shown this long while nothing is heard of it; then its place says why. */
const KEEP_SECONDS = 6;
/** Pictures that wait for their sound: at 30 a second for as long as sound may be held. */
const MAX_WAITING = 48;
/** No picture waits longer. */
const MOST_SECONDS = 1.5;

/**
 * A web page that the server renders: its newest picture, with its transparency, and what it plays. Once it is heard in the
 * mixer its pictures wait for their sound, which takes longer; before that they are shown as they come.
 */
export class PageSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'is being loaded';
  width = 0;
  height = 0;
  version = 0;
  hasSound = false;
  /** Places it asked for and is kept away from. */
  blocked: readonly string[] = [];
  readonly #client: InputStreamClient;
  #bitmap: ImageBitmap | null = null;
  /** The newest that is due and came while another was being decoded. */
  #next: Uint8Array | null = null;
  readonly #waiting = new DueQueue<Uint8Array>(MAX_WAITING);
  readonly #playout = new FeedPlayout();
  readonly #sound = new PlacedSound();
  #decoding = false;
  #closed = false;
  #seconds = 0;
  #advancedAt = systemClock.nowMs();
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

  attachSound(buffer: SharedArrayBuffer): void {
    this.#sound.attach(buffer);
  }

  advance(seconds: number): void {
    this.#seconds = seconds;
    this.#advancedAt = systemClock.nowMs();
    this.#showDue();
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
    this.#sound.stop();
    this.#bitmap?.close();
    this.#bitmap = null;
  }

  /** The programme's time now, also between two pictures. */
  #now(): number {
    return this.#seconds + (systemClock.nowMs() - this.#advancedAt) / 1000;
  }

  /** The newest picture whose time has come; at once where no sound is waited for. */
  #showDue(): void {
    const offset = this.#sound.wanted ? this.#playout.offset : null;
    const due = this.#waiting.newest(offset, this.#seconds);
    if (!due) return;
    this.#next = due;
    if (!this.#decoding) void this.#decode();
  }

  #hear(seconds: number, samples: Uint8Array): void {
    this.hasSound = true;
    if (!this.#sound.wanted) return;
    const now = this.#now();
    if (this.#playout.arrived(seconds, now)) this.#sound.renew();
    const [left, right] = sidesOf(samples);
    this.#sound.put(left, right, MIXER_SAMPLE_RATE, seconds + this.#playout.offset!, now);
  }

  #down(why: string): void {
    this.#downSince ??= this.#seconds;
    this.#why = why;
  }

  #take(part: InputPart): void {
    if (part.kind === 'picture') {
      const seconds = part.timestampMs / 1000;
      // The programme has stood still meanwhile: the next sound says anew what is due when.
      if (seconds + (this.#playout.offset ?? -Infinity) > this.#now() + MOST_SECONDS) this.#playout.reset();
      this.#waiting.push(seconds, part.body);
      this.#showDue();
    } else if (part.kind === 'audio') this.#hear(part.timestampMs / 1000, part.body);
    else if (part.kind === 'status') {
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
