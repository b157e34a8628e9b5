/**
 * Fills pictures up to a constant rate for destinations that want one: what is not used by a picture is made up with
 * filler (ITU-T H.264 §7.4.1, NAL unit type 12), which decoders throw away.
 */

/** Bytes that may be owed at most, as pictures of the mean size: a short pause is not made up by a burst. */
const MOST_OWED = 2;
/** Length field, header and trailing bits. */
const LEAST_FILLER = 6;

export class Padder {
  #owed = 0;

  /** @param kbps of pictures, filler included */
  constructor(
    readonly kbps: number,
    readonly fps: number,
  ) {}

  /** Filler to add to a picture of so many bytes; 0 or at least six. */
  fillerFor(bytes: number): number {
    const share = (this.kbps * 125) / this.fps;
    this.#owed = Math.min(share * MOST_OWED, this.#owed + share - bytes);
    if (this.#owed < LEAST_FILLER) return 0;
    const filler = Math.floor(this.#owed);
    this.#owed -= filler;
    return filler;
  }
}
