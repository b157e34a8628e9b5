/** Chance that can be had again: the same seed throws the same. */

const HOSTILE = [
  '',
  ' ',
  '\u0000',
  '\u202e\u202d\u2066',
  "'; DROP TABLE audience_entry; --",
  '<script>alert(1)</script>',
  '{{name}}{{__proto__}}',
  '../../../../etc/passwd',
  'file:///etc/passwd',
  'http://127.0.0.1:1/',
  'http://169.254.169.254/latest/meta-data',
  'rtmp://127.0.0.1:1/live/KEY?token=hush',
  '\ud800',
  '𝕏'.repeat(300),
  'a\u0301'.repeat(400),
  '%00%2f%2e%2e',
  'x'.repeat(5000),
  '-1',
  '1e309',
  'NaN',
  '2026-11-28T21:15:00+01',
  '__proto__',
  'constructor',
  '$(reboot)`reboot`',
  '\r\nSet-Cookie: a=b\r\n',
] as const;

/** A throw of values, from a seed. Source of the generator: mulberry32, by T. Ettinger (public domain). */
export class Dice {
  #state: number;

  constructor(readonly seed: number) {
    this.#state = seed >>> 0;
  }

  /** 0…1, 1 not included. */
  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0;
    let t = this.#state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }

  /** 0…n − 1. */
  int(n: number): number {
    return Math.floor(this.next() * n);
  }

  chance(share: number): boolean {
    return this.next() < share;
  }

  pick<T>(from: readonly T[]): T {
    return from[this.int(from.length)];
  }

  bytes(length: number): Buffer {
    const bytes = Buffer.alloc(length);
    for (let i = 0; i < length; i++) bytes[i] = this.int(256);
    return bytes;
  }

  text(): string {
    return this.chance(0.7) ? this.pick(HOSTILE) : this.bytes(this.int(60)).toString('latin1');
  }

  /** Any value of JSON, nested at most so deep. */
  value(depth = 3): unknown {
    switch (this.int(depth > 0 ? 9 : 7)) {
      case 0:
        return null;
      case 1:
        return this.chance(0.5);
      case 2:
        return this.pick([0, -1, 1, 0.1, 1e21, 2 ** 53, -(2 ** 31), 65_536]);
      case 3:
      case 4:
      case 5:
      case 6:
        return this.text();
      case 7:
        return Array.from({ length: this.int(5) }, () => this.value(depth - 1));
      default:
        return Object.fromEntries(
          Array.from({ length: this.int(5) }, () => [
            this.chance(0.3) ? this.text() : this.pick(NAMES),
            this.value(depth - 1),
          ]),
        );
    }
  }

  /** The same with something wrong in one place, or as it is. */
  spoiled(value: unknown): unknown {
    if (this.chance(0.15)) return this.value();
    if (Array.isArray(value)) {
      if (value.length === 0 || this.chance(0.2)) return [...(value as unknown[]), this.value()];
      const at = this.int(value.length);
      return (value as unknown[]).map((one, i) => (i === at ? this.spoiled(one) : one));
    }
    if (typeof value === 'object' && value !== null) {
      const entries = Object.entries(value);
      const at = this.int(entries.length + 1);
      if (at === entries.length) return { ...value, [this.pick(NAMES)]: this.value() };
      if (this.chance(0.2)) return Object.fromEntries(entries.filter((_, i) => i !== at));
      return Object.fromEntries(entries.map(([key, one], i) => [key, i === at ? this.spoiled(one) : one]));
    }
    return this.chance(0.8) ? this.value(1) : value;
  }

  /** Bytes of which some were changed, lost, doubled or cut off. */
  damaged(bytes: Buffer): Buffer {
    const out = Buffer.from(bytes);
    for (let n = this.int(6); n >= 0 && out.length > 0; n--) out[this.int(out.length)] = this.int(256);
    const at = this.int(out.length + 1);
    switch (this.int(4)) {
      case 0:
        return out.subarray(0, at);
      case 1:
        return Buffer.concat([out.subarray(0, at), this.bytes(this.int(200)), out.subarray(at)]);
      case 2:
        return Buffer.concat([out, out.subarray(at)]);
      default:
        return out;
    }
  }
}

const NAMES = [
  'id',
  'kind',
  'type',
  'name',
  'data',
  'time',
  'showId',
  'put',
  'removed',
  '__proto__',
  'length',
  'intent',
  'url',
] as const;
