import FFT from 'fft.js';
import type { Probe, ProbeLane } from '~/protocol/shared-sound';

const SIZE = 4096;
const RATE = 48_000;
/** Points of the drawing, evenly spread over the logarithm of the frequency. */
const POINTS = 80;
export const SPECTRUM_HZ: readonly number[] = Array.from(
  { length: POINTS },
  (_, i) => 20 * 1000 ** (i / (POINTS - 1)),
);
/** Falls this much a drawing, dB, so that the eye can follow. */
const FALL_DB = 1.2;

/** The spectrum of a lane of the probe, as a drawing needs it. */
export class LiveSpectrum {
  readonly levels = new Float64Array(POINTS).fill(-120);
  readonly #fft = new FFT(SIZE) as unknown as {
    createComplexArray(): number[];
    realTransform(out: number[], data: ArrayLike<number>): void;
  };
  readonly #out = this.#fft.createComplexArray();
  readonly #samples = new Float32Array(SIZE);
  readonly #window = new Float64Array(SIZE).map((_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE));

  /** dBFS per point: the largest bin between this point and the next. */
  update(probe: Probe, lane: ProbeLane): Float64Array {
    probe.read(lane, this.#samples);
    for (let i = 0; i < SIZE; i++) this.#samples[i] *= this.#window[i];
    this.#fft.realTransform(this.#out, this.#samples);
    for (let p = 0; p < POINTS; p++) {
      const from = Math.max(1, Math.round((SPECTRUM_HZ[p] * SIZE) / RATE));
      const to = Math.max(from + 1, Math.round(((SPECTRUM_HZ[p + 1] ?? 20_000) * SIZE) / RATE));
      let max = 0;
      for (let k = from; k < to && k < SIZE / 2; k++)
        max = Math.max(max, this.#out[2 * k] ** 2 + this.#out[2 * k + 1] ** 2);
      // A full-scale sine behind a Hann window has a quarter of the size in its bin.
      const level = max > 0 ? 10 * Math.log10(max / (SIZE / 4) ** 2) : -120;
      this.levels[p] = Math.max(level, this.levels[p] - FALL_DB, -120);
    }
    return this.levels;
  }
}
