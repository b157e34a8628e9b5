import { fillerUnit } from '../../core/media/avc';
import { chunkMedia } from '../../core/media/rtmp-publisher';

/** One message for all destinations: chunked once for each message stream id, which is nearly always the same. */
export class SharedMessage {
  readonly #chunks = new Map<number, Uint8Array>();

  constructor(
    readonly kind: 'audio' | 'video' | 'data',
    readonly timestampMs: number,
    readonly payload: Uint8Array,
    /** Video only: decoding can start here. */
    readonly keyframe: boolean,
  ) {}

  chunksFor(messageStreamId: number): Uint8Array {
    let chunks = this.#chunks.get(messageStreamId);
    if (!chunks) {
      chunks = chunkMedia(this.kind, this.timestampMs, messageStreamId, this.payload);
      this.#chunks.set(messageStreamId, chunks);
    }
    return chunks;
  }

  /** The same picture with so many bytes of filler behind it. */
  filled(bytes: number): SharedMessage {
    const payload = new Uint8Array(this.payload.length + bytes);
    payload.set(this.payload);
    payload.set(fillerUnit(bytes), this.payload.length);
    return new SharedMessage(this.kind, this.timestampMs, payload, this.keyframe);
  }
}

/** What a destination needs before the first packet. */
export interface StreamHeaders {
  metadata: Uint8Array;
  video: Uint8Array;
  audio: Uint8Array;
  /** Planned, picture and sound together. */
  kbps: number;
  videoKbps: number;
  fps: number;
  sound: { audioKbps: number; sampleRate: number; channels: number };
}
