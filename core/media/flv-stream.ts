/**
 * FLV as a stream of tags: what programs take and give through a pipe. A tag's body is that of an RTMP message.
 * Source: "Adobe Flash Video File Format Specification", version 10.1, §E.2 to §E.4.1.
 */
import { Fault } from '../fault';

const TYPES = { audio: 8, video: 9, data: 18 } as const;
const TAG_HEADER = 11;
const FILE_HEADER = 9;
/** Before each tag stands the size of the one before it. */
const SIZE_FIELD = 4;
/** A single picture is never larger; more means that we have lost our place. */
const MAX_BODY = 8 * 1024 * 1024;

export interface FlvTag {
  kind: keyof typeof TYPES;
  timestampMs: number;
  body: Uint8Array;
}

/** What stands before the first tag: a stream with sound and pictures. */
export function flvHeader(): Uint8Array {
  return Uint8Array.of(0x46, 0x4c, 0x56, 1, 0b101, 0, 0, 0, FILE_HEADER, 0, 0, 0, 0);
}

/** @param timestampMs 0…2³²−1 */
export function flvTag({ kind, timestampMs, body }: FlvTag): Uint8Array {
  const tag = new Uint8Array(TAG_HEADER + body.length + SIZE_FIELD);
  const view = new DataView(tag.buffer);
  view.setUint32(0, (TYPES[kind] << 24) | body.length);
  // 24 bits of the time, then its highest eight.
  view.setUint32(4, ((timestampMs & 0xffffff) << 8) | (timestampMs >>> 24));
  tag.set(body, TAG_HEADER);
  view.setUint32(TAG_HEADER + body.length, TAG_HEADER + body.length);
  return tag;
}

/** Whether this body of a video tag is a picture at which decoding can start (§E.4.3.1: frame type 1, packet type 1). */
export function isKeyPicture(body: Uint8Array): boolean {
  return body[0] >> 4 === 1 && body[1] === 1;
}

/** Whether this body holds codec configuration and no picture or sound. */
export function isSequenceHeader({ kind, body }: FlvTag): boolean {
  return kind !== 'data' && body[1] === 0;
}

/** Takes a stream apart, however it is cut into pieces. */
export class FlvReader {
  #rest = new Uint8Array(0);
  #headed = false;

  /**
   * @returns tags that are whole now
   * @throws Fault `flv.broken` when this is not FLV or its place was lost
   */
  push(piece: Uint8Array): FlvTag[] {
    const bytes = new Uint8Array(this.#rest.length + piece.length);
    bytes.set(this.#rest);
    bytes.set(piece, this.#rest.length);
    const view = new DataView(bytes.buffer);
    const tags: FlvTag[] = [];
    let at = 0;
    if (!this.#headed && bytes.length >= FILE_HEADER + SIZE_FIELD) {
      if (view.getUint32(0) >>> 8 !== 0x464c56) throw new Fault('flv.broken', 'this is not an FLV stream');
      at = view.getUint32(5) + SIZE_FIELD;
      this.#headed = true;
    }
    while (this.#headed && bytes.length - at >= TAG_HEADER) {
      const size = view.getUint32(at) & 0xffffff;
      if (size > MAX_BODY) throw new Fault('flv.broken', 'a tag is larger than any picture');
      const end = at + TAG_HEADER + size + SIZE_FIELD;
      if (end > bytes.length) break;
      const type = bytes[at] & 0x1f;
      const kind = (Object.keys(TYPES) as (keyof typeof TYPES)[]).find((k) => TYPES[k] === type);
      if (!kind) throw new Fault('flv.broken', `there is no tag of type ${type}`);
      const time = view.getUint32(at + 4);
      tags.push({
        kind,
        timestampMs: ((time & 0xff) << 24) | (time >>> 8),
        body: bytes.slice(at + TAG_HEADER, end - SIZE_FIELD),
      });
      at = end;
    }
    this.#rest = bytes.slice(at);
    return tags;
  }
}
