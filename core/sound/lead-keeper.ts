/**
 * Keeps sound that comes live a steady while ahead of the mixer: the computer that plays it and the one that mixes it count
 * time by clocks of their own, and sound must neither run out nor come later and later.
 */

/** How quickly the mean of the lead follows: the mixer takes sound in bursts, so that a single look says little. */
const FOLLOWS = 1 / 100;
/** Off by less than this is left alone: 5 ms. */
const CALM_FRAMES = 240;
/** Beyond this it is placed anew: 200 ms. */
const LOST_FRAMES = 9600;

export class LeadKeeper {
  #mean: number;

  /** @param targetFrames how far ahead it is to be on the mean */
  constructor(readonly targetFrames: number) {
    this.#mean = targetFrames;
  }

  /** It was placed anew. */
  reset(): void {
    this.#mean = this.targetFrames;
  }

  /**
   * What is to be made of a packet: a frame more or less of a thousand is heard by nobody.
   *
   * @param leadFrames how far ahead it is now, before the packet
   * @param packetFrames how long the packet is
   * @returns how long it is to be; null when it must be placed anew
   */
  take(leadFrames: number, packetFrames: number): number | null {
    if (leadFrames < 0 || leadFrames > this.targetFrames + LOST_FRAMES) return null;
    this.#mean += (leadFrames - this.#mean) * FOLLOWS;
    const off = this.#mean - this.targetFrames;
    if (Math.abs(off) <= CALM_FRAMES) return packetFrames;
    return packetFrames + (off > 0 ? -1 : 1);
  }
}

/**
 * The same sound in another number of frames, between its samples by straight lines.
 *
 * @param samples at least two
 * @param frames at least two
 */
export function stretched(samples: Float32Array, frames: number): Float32Array {
  if (frames === samples.length) return samples;
  const out = new Float32Array(frames);
  const step = (samples.length - 1) / (frames - 1);
  for (let i = 0; i < frames; i++) {
    const at = Math.min(samples.length - 2, Math.floor(i * step));
    const share = i * step - at;
    out[i] = samples[at] + (samples[at + 1] - samples[at]) * share;
  }
  return out;
}
