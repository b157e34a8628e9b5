/**
 * RTMP chunk stream: messages to chunks and back.
 * Source: "Adobe's Real Time Messaging Protocol", version 1.0 (2012), §5.3 (chunking) and §5.4 (protocol control).
 */
import { Fault } from '../fault';
import { concatBytes } from './bytes';

/** Message type ids (§5.4, §7.1). */
export const MESSAGE = {
  setChunkSize: 1,
  abort: 2,
  acknowledgement: 3,
  userControl: 4,
  windowAckSize: 5,
  setPeerBandwidth: 6,
  audio: 8,
  video: 9,
  data: 18,
  command: 20,
} as const;

/** Chunk size before anybody sets another (§5.4.1). */
export const INITIAL_CHUNK_BYTES = 128;

/** From this stamp on the 24-bit field holds 0xFFFFFF and 32 bits follow (§5.3.1.3). */
const EXTENDED_FROM_MS = 0xffffff;

export interface RtmpMessage {
  type: number;
  /** Milliseconds, 32 bits, wraps after 49 days. */
  timestampMs: number;
  messageStreamId: number;
  payload: Uint8Array;
}

/**
 * Cuts one message into chunks, as one buffer.
 *
 * The first chunk always has the full header (type 0) with an absolute stamp, so the result depends on nothing that
 * was sent before: the same buffer can go to any number of connections that use the same chunk size.
 *
 * @param chunkStreamId 2…63 (§5.3.1.1, one-byte form)
 */
export function chunkMessage(message: RtmpMessage, chunkStreamId: number, chunkBytes: number): Uint8Array {
  const { payload } = message;
  const stamp = message.timestampMs >>> 0;
  const extended = stamp >= EXTENDED_FROM_MS;
  const count = Math.max(1, Math.ceil(payload.length / chunkBytes));
  const out = new Uint8Array(12 + (extended ? 4 : 0) + (count - 1) * (extended ? 5 : 1) + payload.length);
  const view = new DataView(out.buffer);
  out[0] = chunkStreamId;
  const field = extended ? EXTENDED_FROM_MS : stamp;
  out[1] = field >>> 16;
  out[2] = field >>> 8;
  out[3] = field;
  out[4] = payload.length >>> 16;
  out[5] = payload.length >>> 8;
  out[6] = payload.length;
  out[7] = message.type;
  view.setUint32(8, message.messageStreamId, true); // little endian, alone in the protocol (§5.3.1.2.1)
  let at = 12;
  if (extended) {
    view.setUint32(at, stamp);
    at += 4;
  }
  for (let from = 0; ; from += chunkBytes) {
    const part = payload.subarray(from, from + chunkBytes);
    out.set(part, at);
    at += part.length;
    if (from + chunkBytes >= payload.length) return out;
    out[at++] = 0xc0 | chunkStreamId;
    if (extended) {
      view.setUint32(at, stamp);
      at += 4;
    }
  }
}

interface ChunkStreamState {
  timestampMs: number;
  deltaMs: number;
  length: number;
  type: number;
  messageStreamId: number;
  extended: boolean;
  parts: Uint8Array[];
  received: number;
}

/**
 * Puts messages together from bytes that may arrive in pieces of any size.
 * Follows "set chunk size" and "abort" from the peer by itself.
 */
/** Encoders use four or five. */
const MAX_CHUNK_STREAMS = 32;

export class ChunkReader {
  #pending: Uint8Array = new Uint8Array(0);
  #chunkBytes = INITIAL_CHUNK_BYTES;
  readonly #streams = new Map<number, ChunkStreamState>();

  /** Bytes of messages that are not whole yet, over all chunk streams. */
  #inFlight = 0;

  /** @param maxMessageBytes longer messages are refused, and so is more than twice that in all: a peer must not make us hold what it likes */
  constructor(public maxMessageBytes: number) {}

  /**
   * @returns the messages completed by these bytes
   * @throws Fault `rtmp.chunk` when the bytes cannot be RTMP
   */
  push(bytes: Uint8Array): RtmpMessage[] {
    this.#pending = this.#pending.length === 0 ? bytes : concatBytes([this.#pending, bytes]);
    const messages: RtmpMessage[] = [];
    let at = 0;
    for (;;) {
      const next = this.#chunk(at, messages);
      if (next === at) break;
      at = next;
    }
    this.#pending = this.#pending.slice(at);
    return messages;
  }

  /** Reads one chunk at `start`; returns where the next begins, or `start` when bytes are missing. */
  #chunk(start: number, messages: RtmpMessage[]): number {
    const bytes = this.#pending;
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    let at = start;
    if (at >= bytes.length) return start;
    const format = bytes[at] >>> 6;
    let id = bytes[at] & 0x3f;
    at += 1;
    // §5.3.1.1: ids 0 and 1 announce the two- and three-byte forms.
    if (id === 0) {
      if (at + 1 > bytes.length) return start;
      id = bytes[at] + 64;
      at += 1;
    } else if (id === 1) {
      if (at + 2 > bytes.length) return start;
      id = bytes[at + 1] * 256 + bytes[at] + 64;
      at += 2;
    }
    const headerBytes = [11, 7, 3, 0][format];
    if (at + headerBytes > bytes.length) return start;
    const known = this.#streams.get(id);
    if (!known && this.#streams.size >= MAX_CHUNK_STREAMS)
      throw new Fault('rtmp.chunk', `more than ${MAX_CHUNK_STREAMS} chunk streams: no encoder needs so many`);
    if (!known && format !== 0)
      throw new Fault('rtmp.chunk', `chunk stream ${id} starts without a full header: this is not RTMP`);
    const state: ChunkStreamState = known ?? {
      timestampMs: 0,
      deltaMs: 0,
      length: 0,
      type: 0,
      messageStreamId: 0,
      extended: false,
      parts: [],
      received: 0,
    };
    const continues = state.received > 0;
    if (continues && format !== 3)
      throw new Fault('rtmp.chunk', `chunk stream ${id} starts a message before the last one ended`);
    let field = 0;
    let extended = state.extended;
    let { length, type, messageStreamId } = state;
    if (format <= 2) {
      field = (bytes[at] << 16) | (bytes[at + 1] << 8) | bytes[at + 2];
      extended = field === EXTENDED_FROM_MS;
    }
    if (format <= 1) {
      length = (bytes[at + 3] << 16) | (bytes[at + 4] << 8) | bytes[at + 5];
      type = bytes[at + 6];
    }
    if (format === 0) messageStreamId = view.getUint32(at + 7, true);
    at += headerBytes;
    if (extended) {
      if (at + 4 > bytes.length) return start;
      if (format <= 2) field = view.getUint32(at);
      at += 4;
    }
    if (length > this.maxMessageBytes)
      throw new Fault(
        'rtmp.chunk',
        `message of ${length} bytes is over the limit of ${this.maxMessageBytes}`,
      );
    const take = Math.min(this.#chunkBytes, length - state.received);
    if (this.#inFlight + take > 2 * this.maxMessageBytes)
      throw new Fault('rtmp.chunk', 'too many messages are begun and not ended: this is no encoder');
    if (at + take > bytes.length) return start;

    if (!continues) {
      if (format === 0) {
        state.timestampMs = field;
        state.deltaMs = 0;
      } else {
        if (format <= 2) state.deltaMs = field;
        state.timestampMs = (state.timestampMs + state.deltaMs) >>> 0;
      }
    }
    state.extended = extended;
    state.length = length;
    state.type = type;
    state.messageStreamId = messageStreamId;
    this.#streams.set(id, state);
    if (take > 0) state.parts.push(bytes.slice(at, at + take));
    state.received += take;
    this.#inFlight += take;
    at += take;
    if (state.received === length) {
      const payload = concatBytes(state.parts);
      this.#inFlight -= state.received;
      state.parts = [];
      state.received = 0;
      this.#control(type, payload);
      messages.push({ type, timestampMs: state.timestampMs, messageStreamId, payload });
    }
    return at;
  }

  #control(type: number, payload: Uint8Array): void {
    if (payload.length < 4) return;
    const value = new DataView(payload.buffer, payload.byteOffset).getUint32(0);
    if (type === MESSAGE.setChunkSize) {
      // §5.4.1: the top bit is zero, at least 1.
      if (value < 1 || value > 0x7fffffff)
        throw new Fault('rtmp.chunk', `chunk size ${value} is not allowed`);
      this.#chunkBytes = value;
    } else if (type === MESSAGE.abort) {
      const stream = this.#streams.get(value);
      if (stream) {
        stream.parts = [];
        stream.received = 0;
      }
    }
  }
}
