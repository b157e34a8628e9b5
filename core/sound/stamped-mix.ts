/** Sounds of several sources that know when they began, mixed at their times: what the frames of one web page play. */
import { MIXER_SAMPLE_RATE } from './format';

/** A piece that begins within this of the end of the one before goes on from it: stamps tremble, sound must not. */
const TOGETHER_FRAMES = 2400;
/** A source that is so far behind the furthest has fallen silent and is not waited for. */
const SILENT_FRAMES = 12_000;
/** Nothing is kept for longer than this, whatever the stamps say. */
const MOST_FRAMES = 2 * MIXER_SAMPLE_RATE;

export interface StampedSound {
  /** When its first frame sounded, seconds in the sources' own time. */
  seconds: number;
  left: Float32Array;
  right: Float32Array;
}

/** 48 kHz, two channels. Of one source alone everything comes out at once, as it came. */
export class StampedMix {
  /** Frame in the sources' time that comes out next; what is mixed so far begins there. */
  #base = 0;
  #left = new Float32Array(0);
  #right = new Float32Array(0);
  /** Frame after the last one that each source gave. */
  readonly #ends = new Map<unknown, number>();

  /**
   * Takes a piece in; both sides have the same length.
   * @returns what is complete now: nothing while another source is behind, two pieces where the time has jumped ahead
   */
  add(source: unknown, { seconds, left, right }: StampedSound): StampedSound[] {
    const said = Math.round(seconds * MIXER_SAMPLE_RATE);
    const end = this.#ends.get(source);
    const at = end !== undefined && Math.abs(said - end) <= TOGETHER_FRAMES ? end : said;
    const out: StampedSound[] = [];
    if (at < this.#base - MOST_FRAMES || at > this.#base + this.#left.length + MOST_FRAMES) {
      // Another time altogether: what the others gave has no place in it.
      out.push(...this.#upTo(this.#base + this.#left.length));
      this.#ends.clear();
      this.#base = at;
    } else if (this.#left.length === 0) this.#base = Math.max(at, this.#base);
    this.#put(at, left, right);
    this.#ends.set(source, at + left.length);
    const furthest = Math.max(...this.#ends.values());
    for (const [one, its] of this.#ends) if (furthest - its > SILENT_FRAMES) this.#ends.delete(one);
    out.push(...this.#upTo(Math.min(...this.#ends.values())));
    return out;
  }

  /** Adds it at its place; what should have come out already is lost. */
  #put(at: number, left: Float32Array, right: Float32Array): void {
    const length = Math.max(this.#left.length, at + left.length - this.#base);
    this.#left = longer(this.#left, length);
    this.#right = longer(this.#right, length);
    for (let i = Math.max(0, this.#base - at); i < left.length; i++) {
      this.#left[at - this.#base + i] += left[i];
      this.#right[at - this.#base + i] += right[i];
    }
  }

  #upTo(frame: number): StampedSound[] {
    const count = Math.min(frame - this.#base, this.#left.length);
    if (count <= 0) return [];
    const seconds = this.#base / MIXER_SAMPLE_RATE;
    const piece = { seconds, left: this.#left.slice(0, count), right: this.#right.slice(0, count) };
    this.#left = this.#left.slice(count);
    this.#right = this.#right.slice(count);
    this.#base += count;
    return [piece];
  }
}

function longer(samples: Float32Array<ArrayBuffer>, length: number): Float32Array<ArrayBuffer> {
  if (samples.length >= length) return samples;
  const more = new Float32Array(length);
  more.set(samples);
  return more;
}
