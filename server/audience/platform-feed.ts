import { WebSocket } from 'ws';
import { randomUUID } from 'node:crypto';
import type { Incoming } from '../../core/audience/events';
import { messageOf } from '../../core/fault';
import type { PlatformStatus } from '../../protocol/audience-bus';
import { cloudEventJson, parseCloudEvent } from '../../protocol/cloud-events';
import type { Log } from '../log';

/** Chat messages are short; a platform that sends more than this sends something else. */
const MAX_MESSAGE_BYTES = 64 * 1024;
const RETRY_MS = [1000, 2000, 5000, 10_000];

export interface PlatformAddress {
  /** Of its connector. */
  name: string;
  /** Shown to the user. */
  title: string;
  feedUrl: string;
  /** It wants the token of the show's sign-in. */
  signedIn: boolean;
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
    readonly take: (incoming: Incoming) => void,
    readonly reject: (source: string, reason: string) => void,
    readonly onStatus: () => void,
    /** Of the show's account there. @throws Fault with what to do when nobody is signed in */
    readonly token: () => Promise<string>,
  ) {
    this.status = {
      platform: address.name,
      by: 'events',
      connected: false,
      viewers: null,
      message: 'connecting',
    };
    void this.#connect();
  }

  close(): void {
    this.#closed = true;
    if (this.#timer) clearTimeout(this.#timer);
    this.#socket?.terminate();
  }

  setViewers(viewers: number): void {
    this.status.viewers = viewers;
    this.onStatus();
  }

  /** Asks the platform to take a message out, or to send a viewer out. @returns whether it could be asked */
  moderate(what: 'chat.remove' | 'viewer.timeout' | 'viewer.ban', data: object): boolean {
    if (this.#socket?.readyState !== WebSocket.OPEN) return false;
    this.#socket.send(cloudEventJson('//dolomite.studio', randomUUID(), what, Date.now(), data));
    return true;
  }

  async #connect(): Promise<void> {
    const { feedUrl, signedIn, title } = this.address;
    let headers = {};
    if (signedIn)
      try {
        headers = { authorization: `Bearer ${await this.token()}` };
      } catch (error) {
        return this.#again(`no chat of ${title} yet: ${messageOf(error)}`);
      }
    if (this.#closed) return;
    let socket: WebSocket;
    try {
      socket = new WebSocket(feedUrl, {
        headers,
        // A token goes to nobody whom the address does not name.
        followRedirects: false,
        maxPayload: MAX_MESSAGE_BYTES,
        handshakeTimeout: 5000,
      });
    } catch (error) {
      // A token that is no header's value, as a service that lies may give one.
      return this.#again(`no chat of ${title}: ${messageOf(error)}`);
    }
    this.#socket = socket;
    socket.on('open', () => {
      this.#tries = 0;
      Object.assign(this.status, { connected: true, message: '' });
      this.onStatus();
    });
    socket.on('message', (data: Buffer) => {
      try {
        const incoming = parseCloudEvent(this.address.name, data.toString('utf8'), Date.now());
        if (incoming) this.take(incoming);
      } catch (error) {
        this.reject(this.address.title, messageOf(error));
      }
    });
    socket.on('error', (error) =>
      this.log.debug({ platform: this.address.name, error: error.message }, 'feed error'),
    );
    socket.on('close', () => {
      this.#again(`chat of ${title} is not connected; trying again`);
    });
  }

  #again(message: string): void {
    if (this.#closed) return;
    Object.assign(this.status, { connected: false, viewers: null, message });
    this.onStatus();
    const waitMs = RETRY_MS[Math.min(this.#tries++, RETRY_MS.length - 1)];
    this.#timer = setTimeout(() => void this.#connect(), waitMs);
  }
}
