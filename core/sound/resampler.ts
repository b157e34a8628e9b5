/**
 * Changes the sample rate of one channel, piece by piece, by cubic Hermite interpolation (Catmull-Rom, four points).
 * Good for file sound near 48 kHz; its images lie above 20 kHz for 44.1 kHz material.
 */
export class Resampler {
  readonly #step: number;
  /** Last three samples of the piece before. */
  readonly #tail = new Float64Array(3);
  /** Position of the next output between tail[1] and tail[2] onwards, in input samples. */
  #position = 2;

  constructor(
    readonly fromRate: number,
    readonly toRate: number,
  ) {
    this.#step = fromRate / toRate;
  }

  /** Most samples one piece can give. */
  capacity(frames: number): number {
    return Math.ceil((frames + 3) / this.#step) + 2;
  }

  /**
   * @param out at least `capacity(input.length)` long
   * @returns how many samples were written; the output is late by two input samples
   */
  process(input: Float32Array, out: Float32Array): number {
    const tail = this.#tail;
    const at = (i: number) => (i < 3 ? tail[i] : input[i - 3]);
    const length = input.length + 3;
    let written = 0;
    let position = this.#position;
    while (position + 1 < length - 0.5 && Math.floor(position) + 2 <= length - 1) {
      const i = Math.floor(position);
      const t = position - i;
      const a = at(i - 1);
      const b = at(i);
      const c = at(i + 1);
      const d = at(i + 2);
      out[written++] = b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
      position += this.#step;
    }
    for (let i = 0; i < 3; i++) tail[i] = at(length - 3 + i);
    this.#position = position - input.length;
    return written;
  }
}
