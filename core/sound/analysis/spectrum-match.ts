/** Brings the spectrum of a voice near that of a reference recording with one equaliser. */
import { designBand, responseDb } from '../biquad';
import { MIXER_SAMPLE_RATE } from '../format';
import type { EqualiserBand } from '../chain/chain-settings';
import { averageSpectrum, BAND_CENTRES, bandLevels } from './spectrum';

export interface SpectrumMatch {
  bands: EqualiserBand[];
  /** Per third-octave band: the reference, the voice before and after, dB, each at the same mean. */
  reference: number[];
  before: number[];
  after: number[];
  /** Bands that both have enough of to be compared. */
  used: boolean[];
  /** Largest difference that is left, dB. */
  worstDb: number;
}

/** Pieces this far below the loudest do not count: pauses. */
const ACTIVE_DB = 30;
/** Bands this far below the strongest are room, not voice. */
const HEARD_DB = 55;
const BELLS = 11;
const MAX_GAIN_DB = 14;
const SIZE = 4096;

/** Long-term levels of the third-octave bands while there is voice, dB. */
export function voiceSpectrum(samples: Float32Array): number[] {
  let loudest = 0;
  for (let from = 0; from + SIZE <= samples.length; from += SIZE / 2) {
    let square = 0;
    for (let i = 0; i < SIZE; i++) square += samples[from + i] ** 2;
    loudest = Math.max(loudest, square / SIZE);
  }
  const from = loudest * 10 ** (-ACTIVE_DB / 10);
  return bandLevels(
    averageSpectrum(samples, SIZE, (square) => square >= from && square > 0),
    MIXER_SAMPLE_RATE,
  );
}

/**
 * Gains of eleven bells, spread evenly over the bands, by damped least squares on what they do together.
 * @param reference levels of `BAND_CENTRES`, dB
 * @param voice likewise
 */
export function matchSpectra(reference: readonly number[], voice: readonly number[]): SpectrumMatch {
  const top = (levels: readonly number[]) => Math.max(...levels) - HEARD_DB;
  const used = BAND_CENTRES.map((_, i) => reference[i] > top(reference) && voice[i] > top(voice));
  const mean = (levels: readonly number[]) => {
    const heard = levels.filter((_, i) => used[i]);
    return heard.reduce((sum, l) => sum + l, 0) / Math.max(1, heard.length);
  };
  const goal = reference.map((l) => l - mean(reference));
  const before = voice.map((l) => l - mean(voice));
  const first = used.indexOf(true);
  const last = used.lastIndexOf(true);
  const bands: EqualiserBand[] =
    first < 0
      ? []
      : Array.from({ length: BELLS }, (_, b) => ({
          on: true,
          shape: 'bell' as const,
          frequencyHz:
            Math.round(
              BAND_CENTRES[first] * (BAND_CENTRES[last] / BAND_CENTRES[first]) ** (b / (BELLS - 1)) * 10,
            ) / 10,
          gainDb: 0,
          q: 1.9,
        }));
  const shape = (b: number, gainDb: number, hz: number) =>
    responseDb(
      designBand('bell', bands[b].frequencyHz, gainDb, bands[b].q, MIXER_SAMPLE_RATE),
      hz,
      MIXER_SAMPLE_RATE,
    );
  const result = () =>
    before.map((l, i) => l + bands.reduce((sum, band, b) => sum + shape(b, band.gainDb, BAND_CENTRES[i]), 0));
  // The bells' curves are nearly proportional to their gain: solve, measure, solve for what is left.
  for (let round = 0; round < 6 && bands.length > 0; round++) {
    const now = result();
    const offset = mean(now.map((l, i) => goal[i] - l));
    const left = now.map((l, i) => goal[i] - l - offset);
    const gains = leastSquares(
      BAND_CENTRES.flatMap((hz, i) => (used[i] ? [bands.map((_, b) => shape(b, 1, hz))] : [])),
      left.filter((_, i) => used[i]),
    );
    bands.forEach((band, b) => {
      band.gainDb = Math.min(MAX_GAIN_DB, Math.max(-MAX_GAIN_DB, band.gainDb + gains[b]));
    });
  }
  for (const band of bands) band.gainDb = Math.round(band.gainDb * 10) / 10;
  const raw = result();
  const shift = mean(raw);
  const after = raw.map((l) => l - shift);
  const worstDb = Math.max(0, ...after.map((l, i) => (used[i] ? Math.abs(l - goal[i]) : 0)));
  return { bands, reference: goal, before, after, used, worstDb };
}

/** Solves min |A x − y|² + small |x|² by the normal equations and Gauss elimination. */
function leastSquares(a: readonly number[][], y: readonly number[]): number[] {
  const n = a[0]?.length ?? 0;
  const m = Array.from({ length: n }, (_, i) => [
    ...Array.from({ length: n }, (_, j) => a.reduce((sum, row) => sum + row[i] * row[j], i === j ? 0.02 : 0)),
    a.reduce((sum, row, r) => sum + row[i] * y[r], 0),
  ]);
  for (let i = 0; i < n; i++) {
    let pivot = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(m[r][i]) > Math.abs(m[pivot][i])) pivot = r;
    [m[i], m[pivot]] = [m[pivot], m[i]];
    for (let r = 0; r < n; r++) {
      if (r === i) continue;
      const factor = m[r][i] / m[i][i];
      for (let c = i; c <= n; c++) m[r][c] -= factor * m[i][c];
    }
  }
  return m.map((row, i) => row[n] / row[i]);
}
