import { expect, it } from 'vitest';
import { keptBackups } from './kept-backups';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const NOW = Date.UTC(2026, 10, 29, 18);

it('keeps a week of days, eight weeks and twelve months of a studio that is backed up every day', () => {
  const all = Array.from({ length: 500 }, (_, i) => NOW - i * DAY);
  const kept = keptBackups(all);
  for (let i = 0; i < 7; i++) expect(kept.has(NOW - i * DAY)).toBe(true);
  expect(kept.has(NOW - 7 * DAY)).toBe(true);
  expect(kept.has(NOW - 8 * DAY)).toBe(false);
  // Sunday, the last day of a week.
  expect(kept.has(NOW - 14 * DAY)).toBe(true);
  expect(kept.has(Date.UTC(2026, 9, 31, 18))).toBe(true);
  expect(kept.has(Date.UTC(2025, 11, 31, 18))).toBe(true);
  expect(kept.has(Date.UTC(2025, 10, 30, 18))).toBe(false);
  expect(kept.size).toBeLessThanOrEqual(7 + 8 + 12);
});

it('keeps the last of a day, and what a studio made that is seldom used', () => {
  const evening = [NOW, NOW - HOUR, NOW - 2 * HOUR];
  expect([...keptBackups(evening)]).toEqual([NOW]);
  const seldom = [NOW, NOW - 200 * DAY, NOW - 900 * DAY];
  expect(keptBackups(seldom)).toEqual(new Set(seldom));
  expect(keptBackups([])).toEqual(new Set());
});
