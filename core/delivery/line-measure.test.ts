import { expect, test } from 'vitest';
import { measureLine } from './line-measure';

/** Samples every 50 ms of a line with this rate, kbps, at each moment. */
function line(seconds: number, kbpsAt: (s: number) => number) {
  const samples = [];
  let deliveredBytes = 0;
  for (let ms = 50; ms <= seconds * 1000; ms += 50) {
    deliveredBytes += (kbpsAt(ms / 1000) * 50) / 8;
    samples.push({ atMs: ms, deliveredBytes });
  }
  return samples;
}

test('a steady line is what it is, whatever its start was', () => {
  const found = measureLine(line(5, (s) => (s < 0.8 ? 30_000 : 5000)));
  expect(found).toMatchObject({ kbps: 5000, sustainedKbps: 5000, verdict: 'steady' });
  expect(found.rates).toHaveLength(10);
});

test('lumps are no unsteadiness, holes are', () => {
  const lumpy = measureLine(line(6, (s) => (Math.floor(s * 4) % 2 === 0 ? 9000 : 1000)));
  expect(lumpy.verdict).toBe('steady');
  const holes = measureLine(line(8, (s) => (s > 3 && s < 5 ? 0 : 5000)));
  expect(holes.verdict).toBe('unsteady');
  expect(holes.sustainedKbps).toBeLessThan(1000);
  expect(measureLine(line(6, (s) => (s > 3 ? 3000 : 5000))).verdict).toBe('uneven');
});

test('nothing measured is nothing', () => {
  expect(measureLine([])).toMatchObject({ kbps: 0, sustainedKbps: 0, verdict: 'unsteady' });
  expect(measureLine(line(0.9, () => 5000)).kbps).toBe(0);
});
