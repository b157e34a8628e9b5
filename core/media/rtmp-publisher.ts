/**
 * The publishing side of one RTMP connection as a pure state machine: bytes in, bytes and events out.
 *
 * Source: "Adobe's Real Time Messaging Protocol", version 1.0 (2012): §5.2 (handshake), §5.4 (protocol control),
 * §7.1.7 and §7.2 (commands). `releaseStream` and `FCPublish` are not in that text, but every ingest expects them.
 */
import { Fault } from '../fault';
import { decodeAmf0, encodeAmf0, type AmfValue } from './amf0';
import { ByteWriter, concatBytes } from './bytes';
import { chunkMessage, ChunkReader, MESSAGE, type RtmpMessage } from './rtmp-chunks';

export const PUBLISHER_STATES = [
  'idle',
  'handshake',
  'connecting',
  'connected',
  'creating',
  'publishing',
  'live',
  'closed',
] as const;
export type PublisherState = (typeof PUBLISHER_STATES)[number];

export type PublisherEvent =
  | { type: 'state'; state: PublisherState }
  /** The server said no; `code` is its own, such as NetStream.Publish.BadName. */
  | { type: 'refused'; code: string; description: string }
  /** The server has received this many bytes since the handshake (§5.4.3), 32 bits, wraps. */
  | { type: 'acknowledged'; bytes: number }
  /** Answer to a ping; `stamp` is the one that was sent. */
  | { type: 'pong'; stamp: number };

export interface PublisherTarget {
  /** Host with port, for tcUrl. */
  host: string;
  app: string;
  /** Null: connects and publishes nothing. */
  key: string | null;
  secure: boolean;
}

/** Bytes of C1, C2, S1 and S2 (§5.2.3). */
const HANDSHAKE_BYTES = 1536;
/** Servers commonly take up to 65536; 4096 keeps sound from waiting long behind a keyframe and costs 0.03 %. */
export const OUTGOING_CHUNK_BYTES = 4096;
/** A server that acknowledges shows a stall after this many bytes: a third of a second at 1.2 Mbps. */
const WINDOW_ACK_BYTES = 50_000;
/** Servers answer a publisher with a few hundred bytes. */
const MAX_INCOMING_BYTES = 256 * 1024;

/** Chunk streams; 2 is fixed by §5.3.1.1, the others are custom. */
export const CHUNK_STREAM = { control: 2, command: 3, audio: 4, data: 5, video: 6 } as const;

const USER_CONTROL = { pingRequest: 6, pingResponse: 7 } as const; // §7.1.7

/** Media or data message in chunks; the same buffer serves every connection with this message stream id. */
export function chunkMedia(
  kind: 'audio' | 'video' | 'data',
  timestampMs: number,
  messageStreamId: number,
  payload: Uint8Array,
): Uint8Array {
  return chunkMessage(
    { type: MESSAGE[kind], timestampMs, messageStreamId, payload },
    CHUNK_STREAM[kind],
    OUTGOING_CHUNK_BYTES,
  );
}

export class RtmpPublisher {
  state: PublisherState = 'idle';
  /** The id the server gave to our stream; 0 until then. */
  messageStreamId = 0;

  readonly #target: PublisherTarget;
  readonly #random: () => number;
  readonly #reader = new ChunkReader(MAX_INCOMING_BYTES);
  #handshake: Uint8Array = new Uint8Array(0);
  #bytesReceived = 0;
  #lastAcknowledged = 0;
  #peerWindowBytes = 0;
  #transaction = 0;
  readonly #waiting = new Map<number, 'connect' | 'createStream'>();
  #out: Uint8Array[] = [];
  #events: PublisherEvent[] = [];

  /** @param random 0…1, fills the handshake */
  constructor(target: PublisherTarget, random: () => number) {
    this.#target = target;
    this.#random = random;
  }

  /** First bytes to send once the socket is open: C0 and C1 (§5.2.2, §5.2.3). */
  start(): Uint8Array {
    if (this.state !== 'idle') throw new Error('start() is called once');
    this.state = 'handshake';
    const hello = new Uint8Array(1 + HANDSHAKE_BYTES);
    hello[0] = 3; // version
    for (let i = 9; i < hello.length; i++) hello[i] = Math.floor(this.#random() * 256);
    return hello;
  }

  /**
   * @returns what to send now and what happened
   * @throws Fault `rtmp.handshake`, `rtmp.chunk` or `amf.*` when the other side does not speak RTMP
   */
  receive(bytes: Uint8Array): { send: Uint8Array; events: PublisherEvent[] } {
    this.#out = [];
    this.#events = [];
    this.#bytesReceived = (this.#bytesReceived + bytes.length) >>> 0;
    if (this.state === 'handshake') this.#shake(bytes);
    else if (this.state !== 'closed' && this.state !== 'idle')
      for (const message of this.#reader.push(bytes)) this.#message(message);
    if (this.#peerWindowBytes > 0 && this.#bytesReceived - this.#lastAcknowledged >= this.#peerWindowBytes) {
      this.#lastAcknowledged = this.#bytesReceived;
      this.#control(MESSAGE.acknowledgement, new ByteWriter().u32(this.#bytesReceived).finish());
    }
    return { send: concatBytes(this.#out), events: this.#events };
  }

  /** A ping that a good server answers (§7.1.7 gives it to servers; nginx answers publishers too). */
  ping(stamp: number): Uint8Array {
    return this.#chunkControl(
      MESSAGE.userControl,
      new ByteWriter().u16(USER_CONTROL.pingRequest).u32(stamp).finish(),
    );
  }

  /** A message that means nothing to any server and is thrown away there: for measuring the way. */
  filler(bytes: number): Uint8Array {
    const payload = encodeAmf0(['lineTest', 0, null, '.'.repeat(Math.max(1, Math.min(65_000, bytes)))]);
    return chunkMessage(
      { type: MESSAGE.command, timestampMs: 0, messageStreamId: 0, payload },
      CHUNK_STREAM.command,
      OUTGOING_CHUNK_BYTES,
    );
  }

  /** Says goodbye; the socket can be closed after these bytes. Harmless when called twice. */
  stop(): Uint8Array {
    if (this.state === 'closed') return new Uint8Array(0);
    const wasLive = this.state === 'live' || this.state === 'publishing';
    this.state = 'closed';
    this.#out = [];
    if (!wasLive) return new Uint8Array(0);
    this.#command('FCUnpublish', [null, this.#target.key]);
    this.#command('deleteStream', [null, this.messageStreamId]);
    return concatBytes(this.#out);
  }

  #setState(state: PublisherState): void {
    this.state = state;
    this.#events.push({ type: 'state', state });
  }

  #shake(bytes: Uint8Array): void {
    this.#handshake = concatBytes([this.#handshake, bytes]);
    const got = this.#handshake;
    if (got.length > 0 && got[0] !== 3)
      throw new Fault(
        'rtmp.handshake',
        `the server answered with ${got[0]} instead of RTMP version 3: not an RTMP server`,
      );
    if (got.length < 1 + 2 * HANDSHAKE_BYTES) return;
    // C2 echoes S1 (§5.2.4).
    this.#out.push(got.slice(1, 1 + HANDSHAKE_BYTES));
    this.#control(MESSAGE.setChunkSize, new ByteWriter().u32(OUTGOING_CHUNK_BYTES).finish());
    this.#control(MESSAGE.windowAckSize, new ByteWriter().u32(WINDOW_ACK_BYTES).finish());
    const { app, host, secure } = this.#target;
    this.#setState('connecting');
    this.#waiting.set(
      this.#command('connect', [
        {
          app,
          type: 'nonprivate',
          flashVer: 'FMLE/3.0 (compatible; Dolomite)',
          tcUrl: `${secure ? 'rtmps' : 'rtmp'}://${host}/${app}`,
        },
      ]),
      'connect',
    );
    const rest = got.slice(1 + 2 * HANDSHAKE_BYTES);
    this.#handshake = new Uint8Array(0);
    if (rest.length > 0) for (const message of this.#reader.push(rest)) this.#message(message);
  }

  #chunkControl(type: number, payload: Uint8Array): Uint8Array {
    return chunkMessage(
      { type, timestampMs: 0, messageStreamId: 0, payload },
      CHUNK_STREAM.control,
      OUTGOING_CHUNK_BYTES,
    );
  }

  #control(type: number, payload: Uint8Array): void {
    this.#out.push(this.#chunkControl(type, payload));
  }

  #command(name: string, args: AmfValue[], messageStreamId = 0): number {
    this.#transaction += 1;
    const payload = encodeAmf0([name, this.#transaction, ...args]);
    this.#out.push(
      chunkMessage(
        { type: MESSAGE.command, timestampMs: 0, messageStreamId, payload },
        CHUNK_STREAM.command,
        OUTGOING_CHUNK_BYTES,
      ),
    );
    return this.#transaction;
  }

  #message(message: RtmpMessage): void {
    const { payload } = message;
    const view = new DataView(payload.buffer, payload.byteOffset, payload.byteLength);
    if (message.type === MESSAGE.windowAckSize && payload.length >= 4)
      this.#peerWindowBytes = view.getUint32(0);
    else if (message.type === MESSAGE.acknowledgement && payload.length >= 4)
      this.#events.push({ type: 'acknowledged', bytes: view.getUint32(0) });
    else if (message.type === MESSAGE.userControl && payload.length >= 6) {
      const kind = view.getUint16(0);
      if (kind === USER_CONTROL.pingRequest)
        this.#control(
          MESSAGE.userControl,
          new ByteWriter().u16(USER_CONTROL.pingResponse).u32(view.getUint32(2)).finish(),
        );
      else if (kind === USER_CONTROL.pingResponse)
        this.#events.push({ type: 'pong', stamp: view.getUint32(2) });
    } else if (message.type === MESSAGE.command) this.#reply(decodeAmf0(payload));
  }

  #reply(values: AmfValue[]): void {
    const [name, transaction] = values;
    const info = values[3];
    if (name === '_result' && typeof transaction === 'number') {
      const asked = this.#waiting.get(transaction);
      this.#waiting.delete(transaction);
      if (asked === 'connect' && this.#target.key === null) this.#setState('connected');
      else if (asked === 'connect') {
        this.#setState('creating');
        this.#command('releaseStream', [null, this.#target.key]);
        this.#command('FCPublish', [null, this.#target.key]);
        this.#waiting.set(this.#command('createStream', [null]), 'createStream');
      } else if (asked === 'createStream') {
        if (typeof info !== 'number')
          throw new Fault('rtmp.reply', 'the server created a stream without giving its number');
        this.messageStreamId = info;
        this.#setState('publishing');
        this.#command('publish', [null, this.#target.key, 'live'], info);
      }
    } else if (name === '_error' && typeof transaction === 'number') {
      // Servers answer releaseStream and FCPublish with errors they do not mean; only what we wait for counts.
      if (this.#waiting.delete(transaction)) this.#refuse(info);
    } else if (name === 'onStatus') {
      const { code, level } = statusOf(info);
      if (code === 'NetStream.Publish.Start') this.#setState('live');
      else if (level === 'error' || code === 'NetStream.Publish.BadName') this.#refuse(info);
    } else if (name === 'close')
      this.#refuse({ code: 'close', description: 'the server closed the connection' });
  }

  #refuse(info: AmfValue): void {
    const { code, description } = statusOf(info);
    this.#events.push({ type: 'refused', code, description });
    this.#setState('closed');
  }
}

function statusOf(info: AmfValue): { code: string; level: string; description: string } {
  const fields = info !== null && typeof info === 'object' && !Array.isArray(info) ? info : {};
  const text = (key: string) => (typeof fields[key] === 'string' ? fields[key] : '');
  return { code: text('code') || 'unknown', level: text('level'), description: text('description') };
}
