/** Packets from the encoder that must be alike, one after the other, before one is taken for the silence's. */
const ALIKE = 4;

/**
 * Spares an encoder what is silent: once it has said the same of silence a few times it will go on saying so, since
 * nothing but the frames before tells one from the next. What is left out then it never misses: it goes on from the
 * same silence.
 */
export class SilentPackets {
  #given = 0;
  #got = 0;
  /** Silent frames given one after the other. */
  #quiet = 0;
  #last: Uint8Array | null = null;
  #alike = 0;

  /**
   * A frame that is to be encoded.
   *
   * @param silent whether every sample of it is 0
   * @returns the packet that stands for it, or null when the encoder is to be given the frame
   */
  give(silent: boolean): Uint8Array | null {
    if (!silent) this.#quiet = 0;
    else {
      // What is still on its way through the encoder has to be silence as well: packets leave in the order of frames.
      const onTheWay = this.#given - this.#got;
      if (this.#last && this.#alike >= ALIKE && this.#quiet >= onTheWay + ALIKE + 1) return this.#last;
      this.#quiet += 1;
    }
    this.#given += 1;
    return null;
  }

  /** A packet that came out of the encoder. */
  take(packet: Uint8Array): void {
    this.#got += 1;
    this.#alike = this.#last && same(this.#last, packet) ? this.#alike + 1 : 1;
    this.#last = packet;
  }
}

/** Whether every sample is 0. */
export function isSilent(samples: Float32Array): boolean {
  for (let i = 0; i < samples.length; i++) if (samples[i] !== 0) return false;
  return true;
}

function same(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((value, i) => value === b[i]);
}
