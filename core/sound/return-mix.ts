import { BLOCK_FRAMES } from './format';
import { Limiter } from './limiter';
import type { Strip } from './strip';

/**
 * How a strip is heard in a return: not at all; as in the programme, with fader, mute and scene as they are now; or behind
 * its fader alone, whatever mute and scene say, as somebody who talks to the wings is.
 */
export const RETURN_SENDS = ['none', 'programme', 'talk'] as const;
export type ReturnSend = (typeof RETURN_SENDS)[number];

/** One way back takes this much of the full level in a block: switched without a click. */
const STEP = 0.25;

/**
 * What one guest hears: everybody but themselves, not delayed. One voice, since that is what calls carry. Works out one
 * block after the other and allocates nothing.
 */
export class ReturnMix {
  readonly out = new Float32Array(BLOCK_FRAMES);
  /** By strip; what is left out is not heard. */
  sends: readonly ReturnSend[] = [];
  readonly #programme: Float64Array;
  readonly #talk: Float64Array;
  readonly #limiter = new Limiter(-1);

  constructor(strips: number) {
    this.#programme = new Float64Array(strips);
    this.#talk = new Float64Array(strips);
  }

  clear(): void {
    this.out.fill(0);
  }

  /** Adds a strip that is not idle; its level courses have been stepped in this block. */
  add(index: number, strip: Strip, frames: number): void {
    const wanted = this.sends[index] ?? 'none';
    const programmeFrom = this.#programme[index];
    const talkFrom = this.#talk[index];
    const programmeTo = moved(programmeFrom, wanted === 'programme');
    const talkTo = moved(talkFrom, wanted === 'talk');
    this.#programme[index] = programmeTo;
    this.#talk[index] = talkTo;
    const { now, fader } = strip;
    // Half of both sides: one voice of two.
    const from = (programmeFrom * strip.sendFrom[0] * now.from + talkFrom * fader) / 2;
    const to = (programmeTo * strip.sendTo[0] * now.to + talkTo * fader) / 2;
    if (from === 0 && to === 0) return;
    const { out } = this;
    const { outLeft, outRight } = strip;
    const step = (to - from) / frames;
    let gain = from;
    for (let i = 0; i < frames; i++) {
      gain += step;
      out[i] += (outLeft[i] + outRight[i]) * gain;
    }
  }

  finish(frames: number): void {
    this.#limiter.process(this.out, null, frames);
  }
}

const moved = (from: number, up: boolean): number =>
  up ? Math.min(1, from + STEP) : Math.max(0, from - STEP);
