import { WebSocket } from 'ws';
import type { AudienceEvent } from '../../core/audience/events';
import { messageOf } from '../../core/fault';
import type { PlatformStatus } from '../../protocol/bus';
import { parsePlatformEvent } from '../../protocol/cloud-events';
import type { Log } from '../log';

/** Chat messages are short; a platform that sends more than this sends something else. */
const MAX_MESSAGE_BYTES = 64 * 1024;
const RETRY_MS = [1000, 2000, 5000, 10_000];

export interface PlatformAddress {
  name: string;
  /** Shown to the user. */
  title: string;
  feedUrl: string;
  watchUrl: string;
  accountUrl: string;
}

/** One platform's chat and events: CloudEvents over a WebSocket, connected again by itself. */
export class PlatformFeed {
  readonly status: PlatformStatus;
  #socket: WebSocket | null = null;
  #tries = 0;
  #timer: NodeJS.Timeout | null = null;
  #closed = false;

  constructor(
    readonly address: PlatformAddress,
    readonly log: Log,
    readonly onEvent: (event: AudienceEvent) => void,
    readonly onStatus: () => void,
  ) {
    this.status = { platform: address.name, connected: false, viewers: null, message: 'connecting' };
    this.#connect();
  }

  close(): void {
    this.#closed = true;
    if (this.#timer) clearTimeout(this.#timer);
    this.#socket?.terminate();
  }

  #connect(): void {
    const socket = new WebSocket(this.address.feedUrl, {
      maxPayload: MAX_MESSAGE_BYTES,
      handshakeTimeout: 5000,
    });
    this.#socket = socket;
    socket.on('open', () => {
      this.#tries = 0;
      Object.assign(this.status, { connected: true, message: '' });
      this.onStatus();
    });
    socket.on('message', (data: Buffer) => {
      try {
        const event = parsePlatformEvent(this.address.name, data.toString('utf8'));
        if (event?.type === 'viewers') {
          this.status.viewers = event.viewers;
          this.onStatus();
        } else if (event) this.onEvent(event);
      } catch (error) {
        this.log.warn({ error: messageOf(error) }, 'event dropped');
      }
    });
    socket.on('error', (error) =>
      this.log.debug({ platform: this.address.name, error: error.message }, 'feed error'),
    );
    socket.on('close', () => {
      if (this.#closed) return;
      Object.assign(this.status, {
        connected: false,
        viewers: null,
        message: `chat of ${this.address.title} is not connected; trying again`,
      });
      this.onStatus();
      this.#timer = setTimeout(() => this.#connect(), RETRY_MS[Math.min(this.#tries++, RETRY_MS.length - 1)]);
    });
  }
}
