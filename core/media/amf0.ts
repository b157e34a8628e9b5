/**
 * Action Message Format 0, as far as RTMP commands need it.
 * Source: "Action Message Format -- AMF 0", Adobe 2007; sections are named beside each type.
 */
import { Fault } from '../fault';
import { ByteWriter } from './bytes';

export type AmfValue =
  number | boolean | string | null | undefined | AmfValue[] | { [key: string]: AmfValue };

const NUMBER = 0x00;
const BOOLEAN = 0x01;
const STRING = 0x02;
const OBJECT = 0x03;
const NULL = 0x05;
const UNDEFINED = 0x06;
const ECMA_ARRAY = 0x08;
const OBJECT_END = 0x09;
const STRICT_ARRAY = 0x0a;
const DATE = 0x0b;
const LONG_STRING = 0x0c;

/** Nesting deeper than this is an attack or garbage; commands nest two deep. */
const MAX_DEPTH = 16;

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** An object to be written as an ECMA array (§2.10), which `onMetaData` wants. */
export class EcmaArray {
  constructor(readonly entries: { [key: string]: AmfValue }) {}
}

function writeKey(out: ByteWriter, key: string): void {
  const bytes = encoder.encode(key);
  if (bytes.length > 0xffff)
    throw new Fault('amf.key', `AMF0 key of ${bytes.length} bytes is longer than 65535`);
  out.u16(bytes.length).bytes(bytes);
}

function writeEntries(out: ByteWriter, entries: { [key: string]: AmfValue }): void {
  for (const [key, value] of Object.entries(entries)) {
    writeKey(out, key);
    writeValue(out, value);
  }
  out.u16(0).u8(OBJECT_END);
}

function writeValue(out: ByteWriter, value: AmfValue | EcmaArray): void {
  if (typeof value === 'number') out.u8(NUMBER).f64(value);
  else if (typeof value === 'boolean') out.u8(BOOLEAN).u8(value ? 1 : 0);
  else if (typeof value === 'string') {
    const bytes = encoder.encode(value);
    if (bytes.length > 0xffff) out.u8(LONG_STRING).u32(bytes.length).bytes(bytes);
    else out.u8(STRING).u16(bytes.length).bytes(bytes);
  } else if (value === null) out.u8(NULL);
  else if (value === undefined) out.u8(UNDEFINED);
  else if (value instanceof EcmaArray) {
    out.u8(ECMA_ARRAY).u32(Object.keys(value.entries).length);
    writeEntries(out, value.entries);
  } else if (Array.isArray(value)) {
    out.u8(STRICT_ARRAY).u32(value.length);
    for (const item of value) writeValue(out, item);
  } else {
    out.u8(OBJECT);
    writeEntries(out, value);
  }
}

/** Encodes the values one after another. */
export function encodeAmf0(values: readonly (AmfValue | EcmaArray)[]): Uint8Array {
  const out = new ByteWriter();
  for (const value of values) writeValue(out, value);
  return out.finish();
}

class AmfReader {
  #at = 0;
  readonly #view: DataView;

  constructor(readonly bytes: Uint8Array) {
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  get done(): boolean {
    return this.#at >= this.bytes.length;
  }

  #take(count: number): number {
    const at = this.#at;
    if (at + count > this.bytes.length)
      throw new Fault(
        'amf.truncated',
        `AMF0 data ends at byte ${this.bytes.length}, ${count} more wanted at ${at}`,
      );
    this.#at = at + count;
    return at;
  }

  #text(length: number): string {
    const at = this.#take(length);
    return decoder.decode(this.bytes.subarray(at, at + length));
  }

  #entries(depth: number): { [key: string]: AmfValue } {
    const entries: { [key: string]: AmfValue } = Object.create(null);
    for (;;) {
      const key = this.#text(this.#view.getUint16(this.#take(2)));
      if (key === '' && this.bytes[this.#at] === OBJECT_END) {
        this.#take(1);
        return { ...entries };
      }
      entries[key] = this.value(depth + 1);
    }
  }

  value(depth = 0): AmfValue {
    if (depth > MAX_DEPTH) throw new Fault('amf.depth', `AMF0 data nested deeper than ${MAX_DEPTH}`);
    const marker = this.bytes[this.#take(1)];
    switch (marker) {
      case NUMBER:
        return this.#view.getFloat64(this.#take(8));
      case BOOLEAN:
        return this.bytes[this.#take(1)] !== 0;
      case STRING:
        return this.#text(this.#view.getUint16(this.#take(2)));
      case LONG_STRING:
        return this.#text(this.#view.getUint32(this.#take(4)));
      case OBJECT:
        return this.#entries(depth);
      case NULL:
        return null;
      case UNDEFINED:
        return undefined;
      case ECMA_ARRAY:
        this.#take(4); // the count is only a hint (§2.10)
        return this.#entries(depth);
      case STRICT_ARRAY: {
        const count = this.#view.getUint32(this.#take(4));
        const items: AmfValue[] = [];
        for (let i = 0; i < count; i++) items.push(this.value(depth + 1));
        return items;
      }
      case DATE: {
        const milliseconds = this.#view.getFloat64(this.#take(8));
        this.#take(2); // time zone, reserved (§2.13)
        return milliseconds;
      }
      default:
        throw new Fault('amf.marker', `AMF0 type ${marker} at byte ${this.#at - 1} is not supported`);
    }
  }
}

/**
 * Decodes all values in `bytes`.
 * @throws Fault `amf.truncated`, `amf.depth` or `amf.marker`
 */
export function decodeAmf0(bytes: Uint8Array): AmfValue[] {
  const reader = new AmfReader(bytes);
  const values: AmfValue[] = [];
  while (!reader.done) values.push(reader.value());
  return values;
}
