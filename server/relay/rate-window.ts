const SLOT_MS = 250;
const SLOTS = 8;

/** Bytes of the last two seconds, in eight slots: a fixed few numbers however much goes through. */
export class RateWindow {
  readonly #bytes = new Float64Array(SLOTS);
  #slot = 0;

  add(bytes: number, nowMs: number): void {
    this.#turn(nowMs);
    this.#bytes[this.#slot % SLOTS] += bytes;
  }

  kbps(nowMs: number): number {
    this.#turn(nowMs);
    return Math.round((this.#bytes.reduce((sum, b) => sum + b, 0) * 8) / (SLOTS * SLOT_MS));
  }

  #turn(nowMs: number): void {
    const slot = Math.floor(nowMs / SLOT_MS);
    if (slot - this.#slot >= SLOTS) this.#bytes.fill(0);
    else for (let s = this.#slot + 1; s <= slot; s++) this.#bytes[s % SLOTS] = 0;
    this.#slot = Math.max(this.#slot, slot);
  }
}
