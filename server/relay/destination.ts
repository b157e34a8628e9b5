import net from 'node:net';
import tls from 'node:tls';
import { Fault, messageOf } from '../../core/fault';
import { RtmpPublisher } from '../../core/media/rtmp-publisher';
import type { DestinationOrder, DestinationState, DestinationStatus } from '../../protocol/relay-orders';
import { RateWindow } from './rate-window';
import { SharedMessage, type StreamHeaders } from './shared-message';

/** A server that has not let us publish by then is not going to. */
const OPENING_MS = 10_000;
/** Waits between tries; the last one repeats. */
const BACKOFF_MS = [1000, 2000, 4000, 8000, 15_000];
/** Data older than this on the way is dropped by whole groups of pictures. */
const DROP_AFTER_MS = 3000;
/** Sending goes on at the next keyframe once the way is this clear. */
const RESUME_BELOW_MS = 1000;
/** Shown as stalled from here. */
const STALLED_AFTER_MS = 5000;
/** Given up and connected anew: nobody wants a stream this old. */
const GIVE_UP_AFTER_MS = 15_000;
/** A server that hangs up on publishing this often in a row does not take the key. */
const HANG_UPS_MEAN_REFUSED = 3;

interface HandedOver {
  /** Bytes handed to the socket up to and with this message. */
  total: number;
  atMs: number;
}

/**
 * One RTMP destination: a socket around the publisher, with reconnection, and a queue that never grows old.
 * Sound is never dropped; pictures are dropped up to the next keyframe.
 */
export class Destination {
  state: DestinationState = 'connecting';
  #message = '';
  #publisher: RtmpPublisher | null = null;
  #socket: net.Socket | null = null;
  #timer: NodeJS.Timeout | null = null;
  #openingTimer: NodeJS.Timeout | null = null;
  #tries = 0;
  #hangUps = 0;
  #closed = false;
  #started = false;
  #dropping = false;
  #headersSent: StreamHeaders | null = null;
  #handed: HandedOver[] = [];
  #handedBytes = 0;
  #kernelBytes = 0;
  #framesSent = 0;
  #framesDropped = 0;
  #reconnects = 0;
  readonly #rate = new RateWindow();

  constructor(
    readonly order: DestinationOrder,
    readonly now: () => number,
    readonly random: () => number,
  ) {
    this.#connect();
  }

  get localPort(): number | null {
    return this.#socket?.localPort ?? null;
  }

  status(): DestinationStatus {
    return {
      id: this.order.id,
      name: this.order.name,
      frame: this.order.frame,
      state: this.state,
      message: this.#message,
      kbps: this.#rate.kbps(this.now()),
      framesSent: this.#framesSent,
      framesDropped: this.#framesDropped,
      reconnects: this.#reconnects,
    };
  }

  /** Sends one message, or drops it when the way is blocked. */
  send(message: SharedMessage, headers: StreamHeaders): void {
    const publisher = this.#publisher;
    if (this.#closed || !publisher || publisher.state !== 'live') {
      if (message.kind === 'video' && this.#started && this.state !== 'refused') this.#framesDropped += 1;
      return;
    }
    if (message.kind === 'video') {
      if (!this.#started && !message.keyframe) return;
      if (!this.#started || this.#headersSent !== headers) {
        if (!message.keyframe) return;
        this.#sendHeaders(message.timestampMs, headers, publisher.messageStreamId);
      }
      if (this.#dropping) {
        if (!message.keyframe || this.lagMs() > RESUME_BELOW_MS) {
          this.#framesDropped += 1;
          return;
        }
        this.#dropping = false;
      }
      this.#framesSent += 1;
    } else if (!this.#started) return;
    this.#write(message.chunksFor(publisher.messageStreamId));
  }

  /** How old the oldest byte is that has not left this machine, milliseconds. */
  lagMs(): number {
    const delivered = this.#handedBytes - (this.#socket?.writableLength ?? 0) - this.#kernelBytes;
    let first = 0;
    while (first < this.#handed.length && this.#handed[first].total <= delivered) first += 1;
    if (first > 0) this.#handed.splice(0, first);
    return this.#handed.length === 0 ? 0 : this.now() - this.#handed[0].atMs;
  }

  /** Looks at the way out; called a few times a second with what the kernel holds for this connection. */
  check(kernelBytes: number): void {
    // The kernel always holds what is not yet acknowledged; some of that is just the round trip.
    this.#kernelBytes = kernelBytes;
    if (this.#publisher?.state !== 'live') return;
    const lag = this.lagMs();
    if (lag > GIVE_UP_AFTER_MS) {
      this.#fail('stalled', 'takes nothing any more: connecting anew. Viewers there see a standing picture.');
      return;
    }
    if (lag > DROP_AFTER_MS) this.#dropping = true;
    if (lag > STALLED_AFTER_MS)
      this.#set(
        'stalled',
        `has taken nothing for ${Math.round(lag / 1000)} s; pictures for it are left out until it does`,
      );
    else if (this.#dropping)
      this.#set('stalled', 'takes less than is sent: pictures are left out there, sound goes on');
    else if (this.state === 'stalled') this.#set('live', '');
  }

  /** Ends for good, politely. Harmless when repeated. */
  close(): void {
    if (this.#closed) return;
    this.#closed = true;
    this.#clearTimers();
    const goodbye = this.#publisher?.stop();
    if (goodbye && goodbye.length > 0 && this.#socket?.writable) this.#socket.end(goodbye);
    else this.#socket?.destroy();
    const socket = this.#socket;
    // A stalled server never takes the goodbye.
    setTimeout(() => socket?.destroy(), 2000).unref();
    this.#set('closed', '');
  }

  #set(state: DestinationState, message: string): void {
    this.state = state;
    this.#message = message;
  }

  #clearTimers(): void {
    if (this.#timer) clearTimeout(this.#timer);
    if (this.#openingTimer) clearTimeout(this.#openingTimer);
    this.#timer = null;
    this.#openingTimer = null;
  }

  #connect(): void {
    this.#started = false;
    this.#dropping = false;
    this.#headersSent = null;
    this.#handed = [];
    this.#handedBytes = 0;
    this.#kernelBytes = 0;
    let url: URL;
    try {
      url = new URL(this.order.url);
    } catch {
      this.#set('unreachable', 'the address cannot be read: it must look like rtmp://host/app');
      return;
    }
    const secure = url.protocol === 'rtmps:';
    const port = Number(url.port) || (secure ? 443 : 1935);
    const host = url.hostname.replace(/^\[|\]$/g, '');
    // The key is the last part of what is published; an address may carry it already ("rtmp://host/app/key").
    const parts = url.pathname.slice(1).split('/').filter(Boolean);
    const key = this.order.key || parts.pop() || '';
    const publisher = new RtmpPublisher(
      { host: url.host, app: parts.join('/'), key: key + url.search, secure },
      this.random,
    );
    const socket = secure
      ? tls.connect({ host, port, servername: net.isIP(host) ? undefined : host })
      : net.connect({ host, port });
    this.#publisher = publisher;
    this.#socket = socket;
    socket.setNoDelay(true);
    if (this.state !== 'stalled') this.#set('connecting', this.#message);
    this.#openingTimer = setTimeout(
      () => this.#fail('unreachable', `${url.host} did not answer within ${OPENING_MS / 1000} s`),
      OPENING_MS,
    );
    socket.once(secure ? 'secureConnect' : 'connect', () => socket.write(publisher.start()));
    socket.on('data', (data) => this.#receive(publisher, socket, data));
    socket.on('error', (error: NodeJS.ErrnoException) => {
      if (this.#socket === socket) this.#fail('unreachable', explain(error, url.host));
    });
    socket.on('close', () => {
      if (this.#socket === socket) this.#hungUp(publisher);
    });
  }

  #receive(publisher: RtmpPublisher, socket: net.Socket, data: Uint8Array): void {
    if (this.#socket !== socket) return;
    try {
      const { send, events } = publisher.receive(data);
      if (send.length > 0) socket.write(send);
      for (const event of events) {
        if (event.type === 'refused') this.#refused(event.code, event.description);
        else if (event.type === 'state' && event.state === 'live') {
          if (this.#openingTimer) clearTimeout(this.#openingTimer);
          this.#openingTimer = null;
          if (this.#tries > 0 || this.#framesSent > 0) this.#reconnects += 1;
          this.#set('live', '');
        }
      }
    } catch (error) {
      if (!(error instanceof Fault)) throw error;
      this.#fail('unreachable', `${messageOf(error)}. Check the address.`);
    }
  }

  #refused(code: string, description: string): void {
    this.#clearTimers();
    const socket = this.#socket;
    this.#socket = null;
    socket?.destroy();
    this.#set(
      'refused',
      `refused the broadcast (${description || code}). The key is probably wrong or revoked: copy it anew, then try again.`,
    );
  }

  #hungUp(publisher: RtmpPublisher): void {
    if (this.#closed) return;
    // Many servers answer a wrong key by hanging up, some after having said yes.
    if (publisher.state === 'publishing' || (publisher.state === 'live' && this.#framesSent === 0)) {
      this.#hangUps += 1;
      if (this.#hangUps >= HANG_UPS_MEAN_REFUSED) {
        this.#refused('hung up', 'it hangs up as soon as we publish');
        return;
      }
    } else if (this.#framesSent > 0) this.#hangUps = 0;
    this.#fail('unreachable', 'the connection was lost');
  }

  #fail(state: DestinationState, message: string): void {
    if (this.#closed) return;
    this.#clearTimers();
    const socket = this.#socket;
    this.#socket = null;
    this.#publisher = null;
    socket?.destroy();
    const wait = BACKOFF_MS[Math.min(this.#tries, BACKOFF_MS.length - 1)];
    this.#tries += 1;
    this.#set(state, `${message}; next try in ${wait / 1000} s`);
    this.#timer = setTimeout(() => this.#connect(), wait);
  }

  #sendHeaders(timestampMs: number, headers: StreamHeaders, messageStreamId: number): void {
    for (const [kind, payload] of [
      ['data', headers.metadata],
      ['video', headers.video],
      ['audio', headers.audio],
    ] as const)
      this.#write(new SharedMessage(kind, timestampMs, payload, false).chunksFor(messageStreamId));
    this.#started = true;
    this.#headersSent = headers;
    this.#tries = 0;
    this.#hangUps = 0;
  }

  #write(bytes: Uint8Array): void {
    this.#handedBytes += bytes.length;
    const now = this.now();
    const last = this.#handed.at(-1);
    // A twentieth of a second is fine enough to see a stall, and keeps the list short.
    if (last && now - last.atMs < 50) last.total = this.#handedBytes;
    else this.#handed.push({ total: this.#handedBytes, atMs: now });
    this.#rate.add(bytes.length, now);
    this.#socket?.write(bytes);
  }
}

function explain(error: NodeJS.ErrnoException, host: string): string {
  switch (error.code) {
    case 'ECONNREFUSED':
      return `nothing answers at ${host}: check the address and whether the server runs`;
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return `${host} is not known: check the address and the network`;
    case 'ETIMEDOUT':
    case 'EHOSTUNREACH':
    case 'ENETUNREACH':
      return `${host} cannot be reached: check the network`;
    case 'ECONNRESET':
    case 'EPIPE':
      return `${host} cut the connection`;
    default:
      return `${host}: ${error.message}`;
  }
}
