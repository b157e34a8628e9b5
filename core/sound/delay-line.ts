/** Fades from the old to the new delay over so many samples, so that a moved offset does not click. */
const FADE_FRAMES = 480;

/** Delays one channel by a whole number of samples that may be changed while it runs. */
export class DelayLine {
  readonly #ring: Float32Array;
  readonly #mask: number;
  #at = 0;
  #delay = 0;
  #next = 0;
  #fade = 0;

  /** @param longest samples; memory is taken for the next power of two */
  constructor(longest: number) {
    const size = 2 ** Math.ceil(Math.log2(longest + 256));
    this.#ring = new Float32Array(size);
    this.#mask = size - 1;
  }

  /** @param atOnce without a fade, before anything was played */
  setDelay(frames: number, atOnce = false): void {
    this.#next = Math.max(0, Math.min(this.#ring.length - 256, Math.round(frames)));
    if (atOnce) this.#delay = this.#next;
  }

  /** Takes a block in without giving one out: keeps the past for when it is wanted. */
  keep(x: Float32Array, frames: number): void {
    const at = this.#at;
    if (at + frames <= this.#ring.length && frames === x.length) this.#ring.set(x, at);
    else for (let i = 0; i < frames; i++) this.#ring[(at + i) & this.#mask] = x[i];
    this.#at = (at + frames) & this.#mask;
  }

  /** Writes the delayed samples of `x` to `out`, which may be `x`. */
  process(x: Float32Array, out: Float32Array, frames: number): void {
    const ring = this.#ring;
    const mask = this.#mask;
    let at = this.#at;
    if (this.#delay === this.#next) {
      const delay = this.#delay;
      for (let i = 0; i < frames; i++) {
        ring[at & mask] = x[i];
        out[i] = ring[(at - delay) & mask];
        at += 1;
      }
    } else {
      for (let i = 0; i < frames; i++) {
        ring[at & mask] = x[i];
        this.#fade += 1;
        const share = Math.min(1, this.#fade / FADE_FRAMES);
        const old = ring[(at - this.#delay) & mask];
        out[i] = old + (ring[(at - this.#next) & mask] - old) * share;
        at += 1;
      }
      if (this.#fade >= FADE_FRAMES) {
        this.#delay = this.#next;
        this.#fade = 0;
      }
    }
    this.#at = at & mask;
  }
}
