/**
 * The receiving side of one RTMP connection, for one publisher, as a pure state machine: bytes in, bytes and events out.
 * Source: "Adobe's Real Time Messaging Protocol", version 1.0 (2012): §5.2 (handshake), §5.4 (protocol control), §7.2
 * (commands). `releaseStream`, `FCPublish` and `FCUnpublish` are not in that text, but every encoder sends them.
 */
import { Fault } from '../fault';
import { decodeAmf0, encodeAmf0, type AmfValue } from './amf0';
import { ByteWriter, concatBytes } from './bytes';
import type { FlvTag } from './flv-stream';
import { chunkMessage, ChunkReader, MESSAGE, type RtmpMessage } from './rtmp-chunks';
import { CHUNK_STREAM, OUTGOING_CHUNK_BYTES } from './rtmp-publisher';

export const RECEIVER_STATES = [
  'handshake',
  'connecting',
  'connected',
  'asked',
  'publishing',
  'closed',
] as const;
export type ReceiverState = (typeof RECEIVER_STATES)[number];

export type ReceiverEvent =
  /** It wants to publish: answer with `accept` or `refuse`. */
  | { type: 'publish'; app: string; key: string }
  | { type: 'tag'; tag: FlvTag }
  /** It says that it has ended. */
  | { type: 'ended' };

/** Bytes of C1, C2, S1 and S2 (§5.2.3). */
const HANDSHAKE_BYTES = 1536;
/** A picture of a high-rate encoder at its worst; more is no encoder. */
const MAX_MESSAGE_BYTES = 8 * 1024 * 1024;
/** What comes before publishing is short words. */
const MAX_COMMAND_BYTES = 64 * 1024;
/** So much is listened to before somebody publishes. */
const MAX_BYTES_BEFORE = 256 * 1024;
/** How much an encoder may send before it is told that it has arrived: what servers commonly ask for. */
const WINDOW_ACK_BYTES = 2_500_000;
/** The only stream a connection gets. */
const STREAM_ID = 1;
/** §5.4.5: limit type "dynamic". */
const DYNAMIC = 2;

export class RtmpReceiver {
  state: ReceiverState = 'handshake';
  readonly #reader = new ChunkReader(MAX_COMMAND_BYTES);
  readonly #random: () => number;
  #handshake: Uint8Array = new Uint8Array(0);
  #greeted = false;
  #app = '';
  #received = 0;
  /** Bytes that came while it did not publish. */
  #before = 0;
  #acknowledged = 0;
  #peerWindowBytes = 0;
  #out: Uint8Array[] = [];
  #events: ReceiverEvent[] = [];

  /** @param random 0…1, fills the handshake */
  constructor(random: () => number) {
    this.#random = random;
  }

  /**
   * @returns what to send now and what happened
   * @throws Fault `rtmp.handshake`, `rtmp.chunk` or `amf.*` when the other side does not speak RTMP
   */
  receive(bytes: Uint8Array): { send: Uint8Array; events: ReceiverEvent[] } {
    this.#out = [];
    this.#events = [];
    this.#received = (this.#received + bytes.length) >>> 0;
    if (this.state !== 'publishing') {
      this.#before += bytes.length;
      if (this.#before > MAX_BYTES_BEFORE)
        throw new Fault('rtmp.silent', 'it sends and sends, and never publishes');
    }
    if (this.state === 'handshake') this.#shake(bytes);
    else if (this.state !== 'closed') for (const message of this.#reader.push(bytes)) this.#message(message);
    if (this.#peerWindowBytes > 0 && (this.#received - this.#acknowledged) >>> 0 >= this.#peerWindowBytes) {
      this.#acknowledged = this.#received;
      this.#control(MESSAGE.acknowledgement, new ByteWriter().u32(this.#received).finish());
    }
    return { send: concatBytes(this.#out), events: this.#events };
  }

  /** Lets it publish. @returns what to send */
  accept(): Uint8Array {
    this.#out = [];
    if (this.state !== 'asked') return new Uint8Array(0);
    this.state = 'publishing';
    this.#before = 0;
    this.#reader.maxMessageBytes = MAX_MESSAGE_BYTES;
    // §7.1.7: stream begin.
    this.#control(MESSAGE.userControl, new ByteWriter().u16(0).u32(STREAM_ID).finish());
    this.#status('status', 'NetStream.Publish.Start', 'publishing');
    return concatBytes(this.#out);
  }

  /** Sends it away. @returns what to send before the connection is closed */
  refuse(description: string): Uint8Array {
    this.#out = [];
    if (this.state !== 'closed') this.#status('error', 'NetStream.Publish.BadName', description);
    this.state = 'closed';
    return concatBytes(this.#out);
  }

  #shake(bytes: Uint8Array): void {
    this.#handshake = concatBytes([this.#handshake, bytes]);
    const got = this.#handshake;
    if (got.length > 0 && got[0] !== 3) throw new Fault('rtmp.handshake', 'what came is not RTMP version 3');
    if (!this.#greeted && got.length >= 1 + HANDSHAKE_BYTES) {
      this.#greeted = true;
      const hello = new Uint8Array(1 + HANDSHAKE_BYTES);
      hello[0] = 3;
      for (let i = 9; i < hello.length; i++) hello[i] = Math.floor(this.#random() * 256);
      // S2 echoes C1 (§5.2.4).
      this.#out.push(hello, got.slice(1, 1 + HANDSHAKE_BYTES));
    }
    if (got.length < 1 + 2 * HANDSHAKE_BYTES) return;
    this.state = 'connecting';
    const rest = got.slice(1 + 2 * HANDSHAKE_BYTES);
    this.#handshake = new Uint8Array(0);
    if (rest.length > 0) for (const message of this.#reader.push(rest)) this.#message(message);
  }

  #send(type: number, chunkStreamId: number, messageStreamId: number, payload: Uint8Array): void {
    // Until the chunk size is told (in `connect`) 128 holds; what is sent before that is shorter.
    this.#out.push(
      chunkMessage({ type, timestampMs: 0, messageStreamId, payload }, chunkStreamId, OUTGOING_CHUNK_BYTES),
    );
  }

  #control(type: number, payload: Uint8Array): void {
    this.#send(type, CHUNK_STREAM.control, 0, payload);
  }

  #command(values: AmfValue[], messageStreamId = 0): void {
    this.#send(MESSAGE.command, CHUNK_STREAM.command, messageStreamId, encodeAmf0(values));
  }

  #status(level: string, code: string, description: string): void {
    this.#command(['onStatus', 0, null, { level, code, description }], STREAM_ID);
  }

  #message(message: RtmpMessage): void {
    const { type, payload, timestampMs } = message;
    switch (type) {
      case MESSAGE.windowAckSize:
        if (payload.length >= 4)
          this.#peerWindowBytes = new DataView(payload.buffer, payload.byteOffset).getUint32(0);
        break;
      case MESSAGE.command:
        this.#obey(decodeAmf0(payload));
        break;
      case MESSAGE.audio:
      case MESSAGE.video:
        if (this.state === 'publishing' && payload.length > 0)
          this.#events.push({
            type: 'tag',
            tag: { kind: type === MESSAGE.audio ? 'audio' : 'video', timestampMs, body: payload },
          });
        break;
    }
  }

  #obey(values: AmfValue[]): void {
    const [name, transaction] = values;
    const number = typeof transaction === 'number' ? transaction : 0;
    switch (name) {
      case 'connect': {
        const asked = values[2];
        const app =
          asked !== null && typeof asked === 'object' && !Array.isArray(asked) && 'app' in asked
            ? (asked as Record<string, AmfValue>).app
            : '';
        this.#app = typeof app === 'string' ? app.replace(/^\/+|\/+$/g, '') : '';
        this.#control(MESSAGE.setChunkSize, new ByteWriter().u32(OUTGOING_CHUNK_BYTES).finish());
        this.#control(MESSAGE.windowAckSize, new ByteWriter().u32(WINDOW_ACK_BYTES).finish());
        this.#control(MESSAGE.setPeerBandwidth, new ByteWriter().u32(WINDOW_ACK_BYTES).u8(DYNAMIC).finish());
        this.#command([
          '_result',
          number,
          { fmsVer: 'FMS/3,0,1,123', capabilities: 31 },
          {
            level: 'status',
            code: 'NetConnection.Connect.Success',
            description: 'connected',
            objectEncoding: 0,
          },
        ]);
        this.state = 'connected';
        break;
      }
      case 'createStream':
        this.#command(['_result', number, null, STREAM_ID]);
        break;
      case 'releaseStream':
      case 'FCPublish':
        this.#command(['_result', number, null, null]);
        break;
      case 'publish': {
        if (this.state !== 'connected') break;
        this.state = 'asked';
        const key = typeof values[3] === 'string' ? values[3] : '';
        // Some encoders add their own parameters behind the key.
        this.#events.push({ type: 'publish', app: this.#app, key: key.split('?')[0] });
        break;
      }
      case 'play':
        this.#status('error', 'NetStream.Play.Failed', 'nothing is played from here');
        break;
      case 'FCUnpublish':
      case 'deleteStream':
      case 'closeStream':
        if (this.state === 'publishing') {
          this.state = 'connected';
          this.#reader.maxMessageBytes = MAX_COMMAND_BYTES;
          this.#events.push({ type: 'ended' });
        }
        break;
    }
  }
}
