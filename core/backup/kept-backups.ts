/** Which backups are kept: close together at first, further apart the older they are. */

const DAY_MS = 86_400_000;
const KEPT = { days: 7, weeks: 8, months: 12 } as const;

/** Day, ISO week (Monday first) and month of a moment, UTC, as numbers that rise with time. */
function placeOf(atMs: number): { day: number; week: number; month: number } {
  const day = Math.floor(atMs / DAY_MS);
  const date = new Date(atMs);
  // 1 January 1970 was a Thursday.
  return { day, week: Math.floor((day + 3) / 7), month: date.getUTCFullYear() * 12 + date.getUTCMonth() };
}

/**
 * The newest backup of each of the last 7 days, 8 weeks and 12 months that have one; days without a backup do not count.
 * The newest of all is always among them.
 *
 * @param madeMs when each was made, milliseconds since 1970, in any order
 * @returns those to keep
 */
export function keptBackups(madeMs: readonly number[]): Set<number> {
  const newestFirst = [...madeMs].sort((a, b) => b - a);
  const kept = new Set<number>();
  for (const [unit, most] of [
    ['day', KEPT.days],
    ['week', KEPT.weeks],
    ['month', KEPT.months],
  ] as const) {
    const seen = new Set<number>();
    for (const at of newestFirst) {
      const place = placeOf(at)[unit];
      if (seen.has(place)) continue;
      if (seen.size === most) break;
      seen.add(place);
      kept.add(at);
    }
  }
  return kept;
}
