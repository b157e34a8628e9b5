/** What a line test has found. */
export interface LineTestSample {
  /** Since the beginning, ms. */
  atMs: number;
  /** Bytes that have arrived since the beginning. */
  deliveredBytes: number;
}

export interface LineMeasure {
  /** Mean rate after the first second, kbps. */
  kbps: number;
  /** What it carried at least nine tenths of the time, kbps: plan with this. */
  sustainedKbps: number;
  /** 0…1; how much of the mean the sustained rate is. */
  steadiness: number;
  verdict: 'steady' | 'uneven' | 'unsteady';
  /** Kbps of each half second. */
  rates: number[];
}

const SLOT_MS = 500;
const SPAN_SLOTS = 3;
/** The start is not counted: the way in fills first and TCP finds its speed. */
const WARM_UP_MS = 1000;

/** Rates over time and what can be counted on, from the samples of a test of at least two seconds. */
export function measureLine(samples: readonly LineTestSample[]): LineMeasure {
  const rates: number[] = [];
  const end = samples.at(-1)?.atMs ?? 0;
  for (let from = 0; from + SLOT_MS <= end + 1; from += SLOT_MS)
    rates.push(((bytesAt(samples, from + SLOT_MS) - bytesAt(samples, from)) * 8) / SLOT_MS);
  const counted = rates.slice(WARM_UP_MS / SLOT_MS);
  if (counted.length === 0)
    return { kbps: 0, sustainedKbps: 0, steadiness: 0, verdict: 'unsteady', rates: rates.map(Math.round) };
  const mean = counted.reduce((sum, r) => sum + r, 0) / counted.length;
  // Kernels hand data on in lumps: what counts is what came through in any second and a half.
  const spans = counted.slice(0, Math.max(1, counted.length - SPAN_SLOTS + 1)).map((_, i) => {
    const span = counted.slice(i, i + SPAN_SLOTS);
    return span.reduce((sum, r) => sum + r, 0) / span.length;
  });
  const sorted = spans.sort((a, b) => a - b);
  const sustained = sorted[Math.floor(sorted.length * 0.1)];
  const steadiness = mean === 0 ? 0 : sustained / mean;
  return {
    kbps: Math.round(mean),
    sustainedKbps: Math.round(sustained),
    steadiness,
    verdict: steadiness >= 0.8 ? 'steady' : steadiness >= 0.5 ? 'uneven' : 'unsteady',
    rates: rates.map((r) => Math.round(r)),
  };
}

/** Bytes arrived by `atMs`, between samples in proportion. */
function bytesAt(samples: readonly LineTestSample[], atMs: number): number {
  const over = samples.findIndex((s) => s.atMs >= atMs);
  if (over === -1) return samples.at(-1)?.deliveredBytes ?? 0;
  const b = samples[over];
  const a = over === 0 ? { atMs: 0, deliveredBytes: 0 } : samples[over - 1];
  return b.atMs === a.atMs
    ? b.deliveredBytes
    : a.deliveredBytes + ((b.deliveredBytes - a.deliveredBytes) * (atMs - a.atMs)) / (b.atMs - a.atMs);
}
