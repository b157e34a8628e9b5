/** Joins byte arrays into one new array. */
export function concatBytes(parts: readonly Uint8Array[]): Uint8Array {
  let length = 0;
  for (const part of parts) length += part.length;
  const joined = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    joined.set(part, at);
    at += part.length;
  }
  return joined;
}

/** Appends big-endian numbers; grows by itself. */
export class ByteWriter {
  #bytes = new Uint8Array(64);
  #view = new DataView(this.#bytes.buffer);
  #length = 0;

  #reserve(count: number): number {
    const at = this.#length;
    if (at + count > this.#bytes.length) {
      const grown = new Uint8Array(Math.max(this.#bytes.length * 2, at + count));
      grown.set(this.#bytes);
      this.#bytes = grown;
      this.#view = new DataView(grown.buffer);
    }
    this.#length = at + count;
    return at;
  }

  u8(value: number): this {
    const at = this.#reserve(1);
    this.#bytes[at] = value;
    return this;
  }

  u16(value: number): this {
    const at = this.#reserve(2);
    this.#view.setUint16(at, value);
    return this;
  }

  u24(value: number): this {
    const at = this.#reserve(3);
    this.#bytes[at] = value >>> 16;
    this.#bytes[at + 1] = value >>> 8;
    this.#bytes[at + 2] = value;
    return this;
  }

  u32(value: number): this {
    const at = this.#reserve(4);
    this.#view.setUint32(at, value >>> 0);
    return this;
  }

  u32le(value: number): this {
    const at = this.#reserve(4);
    this.#view.setUint32(at, value >>> 0, true);
    return this;
  }

  f64(value: number): this {
    const at = this.#reserve(8);
    this.#view.setFloat64(at, value);
    return this;
  }

  bytes(value: Uint8Array): this {
    const at = this.#reserve(value.length);
    this.#bytes.set(value, at);
    return this;
  }

  /** A copy of what was written. */
  finish(): Uint8Array {
    return this.#bytes.slice(0, this.#length);
  }
}
