import FFT from 'fft.js';

/** Power of third-octave bands and other long-term readings of one voice, 48 kHz unless said. */

interface Transform {
  size: number;
  createComplexArray(): number[];
  realTransform(out: number[], data: ArrayLike<number>): void;
}

/**
 * Power spectrum of successive halves-overlapping pieces (Welch's method, Hann window), averaged.
 * @param keep chooses pieces by their mean square; all of them without
 * @returns power per bin 0…size/2; a full-scale sine has 0.5 in its bin and the two beside it together
 */
export function averageSpectrum(
  samples: Float32Array,
  size: number,
  keep?: (meanSquare: number) => boolean,
): Float64Array {
  const fft = new FFT(size) as unknown as Transform;
  const out = fft.createComplexArray();
  const power = new Float64Array(size / 2 + 1);
  const window = new Float64Array(size).map((_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
  const piece = new Float64Array(size);
  let pieces = 0;
  for (let from = 0; from + size <= samples.length; from += size / 2) {
    let square = 0;
    for (let i = 0; i < size; i++) {
      const v = samples[from + i];
      square += v * v;
      piece[i] = v * window[i];
    }
    if (keep && !keep(square / size)) continue;
    fft.realTransform(out, piece);
    // Hann: mean of the squared window is 3/8.
    for (let k = 0; k <= size / 2; k++) {
      const both = k === 0 || k === size / 2 ? 1 : 2;
      power[k] += (both * (out[2 * k] ** 2 + out[2 * k + 1] ** 2)) / (size * size * 0.375);
    }
    pieces += 1;
  }
  if (pieces > 0) for (let k = 0; k < power.length; k++) power[k] /= pieces;
  return power;
}

/** Centres of the third-octave bands from 100 Hz to 10 kHz (IEC 61260, base ten). */
export const BAND_CENTRES: readonly number[] = Array.from({ length: 21 }, (_, i) => 100 * 10 ** (i / 10));

/** Level of each of `BAND_CENTRES` in dB, −120 for nothing. */
export function bandLevels(power: Float64Array, rate: number): number[] {
  const binHz = rate / (2 * (power.length - 1));
  return BAND_CENTRES.map((centre) => {
    const from = Math.max(1, Math.round((centre * 10 ** -0.05) / binHz));
    const to = Math.max(from + 1, Math.round((centre * 10 ** 0.05) / binHz));
    let sum = 0;
    for (let k = from; k < to; k++) sum += power[k];
    return sum > 1e-12 ? 10 * Math.log10(sum) : -120;
  });
}
