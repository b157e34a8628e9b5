import type { Clock } from '../../core/time/clock';
import type net from 'node:net';
import { LineController, type LineVerdict } from '../../core/delivery/line-controller';
import { OutQueue } from '../../core/delivery/out-queue';
import { RateWindow } from './rate-window';

interface Message {
  kind: 'audio' | 'video' | 'data';
  keyframe: boolean;
  bytes: number;
  data: Uint8Array;
}

/** Handed to the kernel and not arrived: at least this much is let through, */
const LEAST_WINDOW_BYTES = 48 * 1024;
/** and what is sent in this time, beside the line's own delay. */
const WINDOW_MS = 350;
/** What is older than this at a look is more than what is always on its way: the next look comes sooner. */
const PRESSED_MS = 80;

/**
 * The way out through one socket. Only as much is handed to the kernel as is on its way; the rest waits here, where
 * it can still be dropped by whole groups. What has arrived is known from the kernel's send queue.
 */
export class Outgoing {
  framesSent = 0;
  readonly #queue = new OutQueue<Message>();
  #handed: { total: number; atMs: number }[] = [];
  #handedBytes = 0;
  #deliveredBytes = 0;
  #lastDropMs = -Infinity;
  /** At the last look. */
  #lagSeenMs = 0;
  readonly #rate = new RateWindow();
  readonly #controller: LineController;

  constructor(
    readonly socket: net.Socket,
    public planKbps: number,
    readonly clock: Clock,
  ) {
    this.#controller = new LineController(planKbps);
    socket.on('drain', () => this.#pump());
  }

  /** Another rate is sent from now on. */
  plan(kbps: number): void {
    this.planKbps = kbps;
    this.#controller.plan(kbps);
  }

  get verdict(): LineVerdict {
    return this.#controller.verdict;
  }

  get framesDropped(): number {
    return this.#queue.droppedPictures;
  }

  /** Whether pictures were dropped in the last two seconds. */
  get dropping(): boolean {
    return this.clock.nowMs() - this.#lastDropMs < 2000;
  }

  kbps(): number {
    return this.#rate.kbps(this.clock.nowMs());
  }

  send(kind: Message['kind'], keyframe: boolean, data: Uint8Array): void {
    this.#queue.push({ kind, keyframe, bytes: data.length, data }, this.clock.nowMs());
    this.#pump();
  }

  /** How old the oldest byte is that has not arrived, ms. */
  lagMs(): number {
    const now = this.clock.nowMs();
    return Math.max(this.#queue.ageMs(now), this.#handed.length === 0 ? 0 : now - this.#handed[0].atMs);
  }

  /** Whether it is to be looked at soon: something waits here, or did not arrive at once. */
  get pressed(): boolean {
    return this.#queue.bytes > 0 || this.#lagSeenMs > PRESSED_MS;
  }

  /** Looks at the way out, with what the kernel holds for this connection; ten times a second while it is pressed. */
  check(kernelBytes: number): LineVerdict {
    const delivered = this.#handedBytes - this.socket.writableLength - kernelBytes;
    this.#deliveredBytes = Math.max(this.#deliveredBytes, delivered);
    let first = 0;
    while (first < this.#handed.length && this.#handed[first].total <= this.#deliveredBytes) first += 1;
    if (first > 0) this.#handed.splice(0, first);
    this.#pump();
    const now = this.clock.nowMs();
    if (this.#queue.dropStale(now) > 0) this.#lastDropMs = now;
    this.#lagSeenMs = this.lagMs();
    return this.#controller.sample({
      atMs: now,
      deliveredBytes: this.#deliveredBytes,
      waitingMs: this.#lagSeenMs,
      waitingBytes: this.#handedBytes - this.#deliveredBytes + this.#queue.bytes,
    });
  }

  #pump(): void {
    const window = Math.max(
      LEAST_WINDOW_BYTES,
      (this.planKbps * (WINDOW_MS + 1.5 * this.#controller.floorMs)) / 8,
    );
    for (;;) {
      const message = this.#queue.take(window - (this.#handedBytes - this.#deliveredBytes));
      if (!message) return;
      const now = this.clock.nowMs();
      this.#handedBytes += message.bytes;
      const last = this.#handed.at(-1);
      // A twentieth of a second is fine enough to see a stall, and keeps the list short.
      if (last && now - last.atMs < 50) last.total = this.#handedBytes;
      else this.#handed.push({ total: this.#handedBytes, atMs: now });
      if (message.kind === 'video') this.framesSent += 1;
      this.#rate.add(message.bytes, now);
      this.socket.write(message.data);
    }
  }
}
