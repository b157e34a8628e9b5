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
  readonly #rate = new RateWindow();
  readonly #controller: LineController;

  constructor(
    readonly socket: net.Socket,
    readonly planKbps: number,
    readonly now: () => number,
  ) {
    this.#controller = new LineController(planKbps);
    socket.on('drain', () => this.#pump());
  }

  get verdict(): LineVerdict {
    return this.#controller.verdict;
  }

  get framesDropped(): number {
    return this.#queue.droppedPictures;
  }

  /** Whether pictures were dropped in the last two seconds. */
  get dropping(): boolean {
    return this.now() - this.#lastDropMs < 2000;
  }

  kbps(): number {
    return this.#rate.kbps(this.now());
  }

  send(kind: Message['kind'], keyframe: boolean, data: Uint8Array): void {
    this.#queue.push({ kind, keyframe, bytes: data.length, data }, this.now());
    this.#pump();
  }

  /** How old the oldest byte is that has not arrived, ms. */
  lagMs(): number {
    const now = this.now();
    return Math.max(this.#queue.ageMs(now), this.#handed.length === 0 ? 0 : now - this.#handed[0].atMs);
  }

  /** Looks at the way out; called ten times a second with what the kernel holds for this connection. */
  check(kernelBytes: number): LineVerdict {
    const delivered = this.#handedBytes - this.socket.writableLength - kernelBytes;
    this.#deliveredBytes = Math.max(this.#deliveredBytes, delivered);
    let first = 0;
    while (first < this.#handed.length && this.#handed[first].total <= this.#deliveredBytes) first += 1;
    if (first > 0) this.#handed.splice(0, first);
    this.#pump();
    const now = this.now();
    if (this.#queue.dropStale(now) > 0) this.#lastDropMs = now;
    return this.#controller.sample({
      atMs: now,
      deliveredBytes: this.#deliveredBytes,
      waitingMs: this.lagMs(),
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
      const now = this.now();
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
