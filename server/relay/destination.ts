import net from 'node:net';
import tls from 'node:tls';
import { encodeOfOrder } from '../../protocol/relay-orders';
import type { LineVerdict } from '../../core/delivery/line-controller';
import type { Cancel, Clock } from '../../core/time/clock';
import { Padder } from '../../core/delivery/padder';
import { Fault, messageOf } from '../../core/fault';
import { RtmpPublisher } from '../../core/media/rtmp-publisher';
import type { DestinationOrder, DestinationState, DestinationStatus } from '../../protocol/relay-orders';
import { Outgoing } from './outgoing';
import { Reencoder } from './reencoder';
import { SharedMessage, type StreamHeaders } from './shared-message';

/** Without a connection by then the network is away, and a new try finds it sooner than waiting for the old one. */
const CONNECT_MS = 4000;
/** A server that has not let us publish by then is not going to. */
const OPENING_MS = 10_000;
/** A goodbye that was not taken by then never will be. */
const GOODBYE_MS = 2000;
/** Waits between tries; the last one repeats. Never long: a network comes back without a word, and viewers wait. */
const BACKOFF_MS = [1000, 2000, 3000, 5000];
/** Shown as stalled from here. */
const STALLED_AFTER_MS = 5000;
/** Given up and connected anew: nobody wants a stream this old. */
const GIVE_UP_AFTER_MS = 15_000;
/** A key that was taken this long ago is not wrong now. */
const KEY_WAS_RIGHT_MS = 180_000;
/** A server that hangs up on publishing this often in a row does not take the key. */
const HANG_UPS_MEAN_REFUSED = 3;
/** A connection that ends sooner after the first pictures was ended for them. */
const SHORT_LIFE_MS = 4000;
const WHAT_IT_MAY_NOT_TAKE =
  'It may not take H.264 of this size, rate or bitrate: see what it allows, then change the plan or this destination’s rate.';

/**
 * One RTMP destination: a socket around the publisher, with reconnection, and a queue that never grows old.
 * Sound is never dropped; pictures are dropped up to the next keyframe.
 */
export class Destination {
  state: DestinationState = 'connecting';
  /** May be changed while it is on air. */
  name: string;
  #message = '';
  #publisher: RtmpPublisher | null = null;
  #socket: net.Socket | null = null;
  #cancelTry: Cancel = () => {};
  #cancelOpening: Cancel = () => {};
  #tries = 0;
  #hangUps = 0;
  /** When the server last said yes; null while it has not. */
  #liveAt: number | null = null;
  /** How many connections in a row ended right after pictures came. */
  #shortLives = 0;
  /** When it last took something, or long ago. */
  #sentAt = -Infinity;
  #closed = false;
  #headersSent: StreamHeaders | null = null;
  /** The way out, once the first headers went. */
  #out: Outgoing | null = null;
  #padder: Padder | null = null;
  readonly #reencoder: Reencoder | null;
  /** Of connections before this one. */
  #framesBefore = { sent: 0, dropped: 0 };
  #reconnects = 0;
  #connectedBefore = false;

  constructor(
    readonly order: DestinationOrder,
    readonly clock: Clock,
    readonly random: () => number,
  ) {
    this.name = order.name;
    this.#reencoder = order.reencode
      ? new Reencoder(order.reencode, (message, headers) => this.#deliver(message, headers), clock)
      : null;
    this.#connect();
  }

  get localPort(): number | null {
    return this.#socket?.localPort ?? null;
  }

  status(): DestinationStatus {
    const { id, frame, delaySeconds = 0 } = this.order;
    return {
      id,
      name: this.name,
      frame,
      encode: encodeOfOrder(this.order),
      state: this.state,
      message: this.#message || this.#reencoder?.problem || '',
      kbps: this.#out?.kbps() ?? 0,
      framesSent: this.#framesSent,
      framesDropped: this.#framesBefore.dropped + (this.#out?.framesDropped ?? 0),
      reconnects: this.#reconnects,
      lagMs: Math.round(this.#out?.lagMs() ?? 0),
      line: this.#out?.verdict.state ?? 'clear',
      delaySeconds,
    };
  }

  /** How the line to it does, and what it gets when all is well; null while it is not on air. */
  get line(): { verdict: LineVerdict; planKbps: number } | null {
    return this.#out && this.state !== 'refused'
      ? { verdict: this.#out.verdict, planKbps: this.#out.planKbps }
      : null;
  }

  /** Sends one message, or what is made of it. */
  send(message: SharedMessage, headers: StreamHeaders): void {
    if (this.#closed || this.state === 'refused') return;
    if (this.#reencoder) this.#reencoder.send(message, headers);
    else this.#deliver(message, headers);
  }

  /** Sends one message, or lets it wait, or drops it when it waits too long. */
  #deliver(message: SharedMessage, headers: StreamHeaders): void {
    const publisher = this.#publisher;
    if (this.#closed || !publisher || publisher.state !== 'live') {
      if (message.kind === 'video' && this.#connectedBefore && this.state !== 'refused')
        this.#framesBefore.dropped += 1;
      return;
    }
    if (message.kind === 'video') {
      if (!this.#out || this.#headersSent !== headers) {
        if (!message.keyframe) return;
        this.#sendHeaders(message.timestampMs, headers, publisher.messageStreamId);
      }
    } else if (!this.#out) return;
    this.#out!.send(message.kind, message.keyframe, this.#chunks(message, publisher.messageStreamId));
  }

  #chunks(message: SharedMessage, messageStreamId: number): Uint8Array {
    // No filler while the line is short of room: it would take the place of pictures.
    if (!this.#padder || message.kind !== 'video' || this.#out?.verdict.state !== 'clear')
      return message.chunksFor(messageStreamId);
    const filler = this.#padder.fillerFor(message.payload.length);
    return (filler === 0 ? message : message.filled(filler)).chunksFor(messageStreamId);
  }

  /** Addresses of this machine have changed: a connection from one that is gone is dead, though nobody says so. */
  checkAddress(present: ReadonlySet<string>): void {
    const from = this.#socket?.localAddress;
    if (from && !present.has(from.replace(/^::ffff:/, '')))
      this.#fail('unreachable', 'this machine has got another network address');
  }

  /** Whether its way out is to be looked at soon. */
  get pressed(): boolean {
    return this.#out?.pressed ?? false;
  }

  /** Looks at the way out, with what the kernel holds for this connection. */
  check(kernelBytes: number): void {
    const out = this.#out;
    if (!out || this.#publisher?.state !== 'live') return;
    out.check(kernelBytes);
    const lag = out.lagMs();
    if (lag > GIVE_UP_AFTER_MS) {
      this.#fail('stalled', 'Not accepting data. Reconnecting. Video is frozen there.');
      return;
    }
    if (lag > STALLED_AFTER_MS)
      this.#set(
        'stalled',
        `has taken nothing for ${Math.round(lag / 1000)} s; pictures for it are left out until it does`,
      );
    else if (out.dropping)
      this.#set('stalled', 'takes less than is sent: pictures are left out there, sound continues');
    else if (this.state === 'stalled') this.#set('live', '');
  }

  get #framesSent(): number {
    return this.#framesBefore.sent + (this.#out?.framesSent ?? 0);
  }

  /** Ends for good, politely. Harmless when repeated. */
  close(): void {
    if (this.#closed) return;
    this.#closed = true;
    this.#clearTimers();
    this.#reencoder?.close();
    const goodbye = this.#publisher?.stop();
    if (goodbye && goodbye.length > 0 && this.#socket?.writable) this.#socket.end(goodbye);
    else this.#socket?.destroy();
    const socket = this.#socket;
    // A stalled server never takes the goodbye.
    socket?.once(
      'close',
      this.clock.after(GOODBYE_MS, () => socket.destroy()),
    );
    this.#set('closed', '');
  }

  #set(state: DestinationState, message: string): void {
    this.state = state;
    this.#message = message;
  }

  #clearTimers(): void {
    this.#cancelTry();
    this.#cancelOpening();
  }

  #connect(): void {
    this.#dropOut();
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
    const answersWithin = (ms: number) => {
      this.#cancelOpening();
      this.#cancelOpening = this.clock.after(ms, () =>
        this.#fail('unreachable', `${url.host} did not answer within ${ms / 1000} s`),
      );
    };
    answersWithin(CONNECT_MS);
    socket.once('connect', () => this.#socket === socket && answersWithin(OPENING_MS));
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
          this.#cancelOpening();
          this.#liveAt = this.clock.nowMs();
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
    const takenFor = this.#liveAt === null ? 0 : this.clock.nowMs() - this.#liveAt;
    if (
      (this.#out?.framesSent ?? 0) > 0 ||
      /codec|format|unsupported|resolution|bit ?rate/i.test(`${code} ${description}`)
    ) {
      // It took the key and has seen what comes: then it is that which it does not want.
      this.#letGo();
      this.#set(
        'refused',
        `took the key, but ended the broadcast ${takenFor < 10_000 ? 'as soon as pictures came' : 'by itself'} (${description || code}). ${WHAT_IT_MAY_NOT_TAKE}`,
      );
      return;
    }
    // It took the key a moment ago: it has not noticed yet that our connection from before is gone.
    if (this.clock.nowMs() - this.#sentAt < KEY_WAS_RIGHT_MS) {
      this.#fail('unreachable', 'Previous connection still open there. Retrying.');
      return;
    }
    this.#letGo();
    this.#set(
      'refused',
      /already/i.test(description)
        ? `takes no second broadcast with this key (${description}): another one is on, or two destinations have the same key. Stop the other one or enter another key, then try again.`
        : `refused the broadcast (${description || code}). The key is probably wrong or revoked: copy it again, then try again.`,
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
    const short = this.#liveAt !== null && this.clock.nowMs() - this.#liveAt < SHORT_LIFE_MS;
    this.#shortLives = short ? this.#shortLives + 1 : 0;
    this.#liveAt = null;
    this.#fail(
      'unreachable',
      this.#shortLives >= HANG_UPS_MEAN_REFUSED
        ? `takes the key and hangs up as soon as pictures come. ${WHAT_IT_MAY_NOT_TAKE} Trying on`
        : 'the connection was lost',
    );
  }

  /** Ends the connection there is, and keeps its counts. */
  #letGo(): void {
    this.#clearTimers();
    const socket = this.#socket;
    this.#socket = null;
    this.#publisher = null;
    this.#dropOut();
    socket?.destroy();
  }

  /** Forgets the way out of a connection that is gone, and keeps its counts. */
  #dropOut(): void {
    if (this.#out) {
      if (this.#out.framesSent > 0) this.#sentAt = this.clock.nowMs();
      this.#framesBefore.sent += this.#out.framesSent;
      this.#framesBefore.dropped += this.#out.framesDropped;
    }
    this.#out = null;
    this.#headersSent = null;
  }

  #fail(state: DestinationState, message: string): void {
    if (this.#closed) return;
    this.#letGo();
    const wait = BACKOFF_MS[Math.min(this.#tries, BACKOFF_MS.length - 1)];
    this.#tries += 1;
    this.#set(state, `${message}; next try in ${wait / 1000} s`);
    this.#cancelTry = this.clock.after(wait, () => this.#connect());
  }

  #sendHeaders(timestampMs: number, headers: StreamHeaders, messageStreamId: number): void {
    this.#out ??= new Outgoing(this.#socket!, headers.kbps, this.clock);
    this.#out.plan(headers.kbps);
    this.#padder = this.order.padded ? new Padder(headers.videoKbps, headers.fps) : null;
    for (const [kind, payload] of [
      ['data', headers.metadata],
      ['video', headers.video],
      ['audio', headers.audio],
    ] as const)
      // The headers of a stream are no pictures: nothing may drop them.
      this.#out.send(
        'data',
        false,
        new SharedMessage(kind, timestampMs, payload, false).chunksFor(messageStreamId),
      );
    this.#headersSent = headers;
    this.#connectedBefore = true;
    this.#tries = 0;
    this.#hangUps = 0;
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
