/**
 * What the server sends for an input whose picture comes through it (web pages, network feeds), in the body of one
 * answer that does not end: parts of a length (four bytes, network order), a kind (one byte), but for a status a time in ms
 * (four bytes: of a longer one what is left over 2³²), and a body.
 */
import Joi from 'joi';
import { Fault } from '../core/fault';

export const INPUT_STREAM_STATES = ['waiting', 'running', 'failed'] as const;

/** How the server's side of it does. Told at every change and once a second, so that a silent line is noticed. */
export interface InputStreamStatus {
  state: (typeof INPUT_STREAM_STATES)[number];
  /** In words; empty while nothing is wrong. */
  message: string;
  /** Hosts (`name:port`) that were asked for and are kept away from, until they are allowed. */
  blocked: string[];
}

export type InputPart =
  | { kind: 'status'; status: InputStreamStatus }
  /** A whole picture, as PNG. */
  | { kind: 'picture'; timestampMs: number; body: Uint8Array }
  /**
   * The body of an FLV tag; of pages and of this computer, sound as interleaved 16-bit samples of two channels at 48 kHz.
   */
  | { kind: 'video' | 'audio'; timestampMs: number; body: Uint8Array };

const KINDS = ['status', 'picture', 'video', 'audio'] as const;
const HEADER = 5;
const STAMP = 4;
/** A picture of 3840×2160 as PNG at its worst. */
export const MAX_PART_BYTES = 40 * 1024 * 1024;

const statusSchema = Joi.object<InputStreamStatus>({
  state: Joi.string()
    .valid(...INPUT_STREAM_STATES)
    .required(),
  message: Joi.string().allow('').max(1000).required(),
  blocked: Joi.array().items(Joi.string().max(300)).max(50).required(),
});

export function inputPart(part: InputPart): Uint8Array {
  const body = part.kind === 'status' ? new TextEncoder().encode(JSON.stringify(part.status)) : part.body;
  const stamped = part.kind === 'status' ? 0 : STAMP;
  const out = new Uint8Array(HEADER + stamped + body.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, stamped + body.length);
  out[4] = KINDS.indexOf(part.kind);
  // Of a time since 1970 the lowest 32 bits: what counts is what lies between two.
  if (part.kind !== 'status') view.setUint32(HEADER, part.timestampMs % 2 ** 32);
  out.set(body, HEADER + stamped);
  return out;
}

/** Takes the stream apart, however it is cut into pieces. */
export class InputPartReader {
  /** Pieces are kept as they come: joining a large picture anew with each of them would cost its square. */
  #pieces: Uint8Array[] = [];
  #have = 0;
  #want = HEADER;

  /**
   * @returns parts that are whole now
   * @throws Fault `input.stream` when this is not such a stream
   */
  push(piece: Uint8Array): InputPart[] {
    this.#pieces.push(piece);
    this.#have += piece.length;
    const parts: InputPart[] = [];
    while (this.#have >= this.#want) {
      const bytes = this.#joined();
      const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0);
      if (length > MAX_PART_BYTES) throw new Fault('input.stream', `a part of ${length} bytes is too large`);
      this.#want = HEADER + length;
      if (bytes.length < this.#want) break;
      parts.push(readPart(bytes[4], bytes.subarray(HEADER, this.#want)));
      this.#pieces = [bytes.subarray(this.#want)];
      this.#have = bytes.length - this.#want;
      this.#want = HEADER;
    }
    return parts;
  }

  #joined(): Uint8Array {
    if (this.#pieces.length > 1) {
      const all = new Uint8Array(this.#have);
      let at = 0;
      for (const piece of this.#pieces) {
        all.set(piece, at);
        at += piece.length;
      }
      this.#pieces = [all];
    }
    return this.#pieces[0];
  }
}

function readPart(kindByte: number, body: Uint8Array): InputPart {
  const kind = KINDS[kindByte];
  switch (kind) {
    case 'status': {
      let raw: unknown;
      try {
        raw = JSON.parse(new TextDecoder().decode(body));
      } catch {
        throw new Fault('input.stream', 'a status that is no JSON');
      }
      const { error, value } = statusSchema.validate(raw);
      if (error) throw new Fault('input.stream', error.message);
      return { kind, status: value };
    }
    case 'picture':
    case 'video':
    case 'audio':
      if (body.length < STAMP) throw new Fault('input.stream', 'a part without its stamp');
      return {
        kind,
        timestampMs: new DataView(body.buffer, body.byteOffset).getUint32(0),
        body: body.slice(STAMP),
      };
    default:
      throw new Fault('input.stream', `there is no part of kind ${kindByte}`);
  }
}
