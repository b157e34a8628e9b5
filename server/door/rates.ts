import net from 'node:net';

/** Of addresses that were not seen for a while nothing is remembered. */
const MAX_REMEMBERED = 20_000;

/**
 * Who an address stands for: an IPv6 network hands out 2⁶⁴ of them to one house (RFC 6177), so that the first half counts.
 * @param address as the socket tells it
 */
export function householdOf(address: string | undefined): string {
  const plain = (address ?? '').replace(/^::ffff:(?=\d+\.)/i, '').replace(/%.*$/, '');
  if (net.isIP(plain) !== 6) return plain;
  const [head, tail = ''] = plain.split('::');
  const left = head.split(':').filter(Boolean);
  const right = tail.split(':').filter(Boolean);
  const zeros = plain.includes('::') ? Array<string>(8 - left.length - right.length).fill('0') : [];
  return [...left, ...zeros, ...right]
    .slice(0, 4)
    .map((part) => parseInt(part, 16).toString(16))
    .join(':');
}

/** So much at once and so much each second, for each household: a token bucket. */
export class Rates {
  readonly #buckets = new Map<string, { left: number; atMs: number }>();

  /** @param now milliseconds that only go forward */
  constructor(
    readonly burst: number,
    readonly perSecond: number,
    readonly now: () => number,
  ) {}

  /** @returns whether one more is let through */
  take(address: string | undefined): boolean {
    const who = householdOf(address);
    const nowMs = this.now();
    const bucket = this.#buckets.get(who) ?? { left: this.burst, atMs: nowMs };
    bucket.left = Math.min(this.burst, bucket.left + ((nowMs - bucket.atMs) / 1000) * this.perSecond);
    bucket.atMs = nowMs;
    // Laid back at the end, so that the first in the map is the one that was not seen for longest.
    this.#buckets.delete(who);
    this.#buckets.set(who, bucket);
    if (this.#buckets.size > MAX_REMEMBERED) this.#buckets.delete(this.#buckets.keys().next().value!);
    if (bucket.left < 1) return false;
    bucket.left -= 1;
    return true;
  }
}
