/** The streak: support in quick succession builds a level, which falls by itself. */

export interface StreakLevel {
  /** Points from which on it counts. */
  from: number;
  name: string;
  colour: string;
}

export interface StreakSettings {
  /** Points that are lost a minute. */
  decayPerMinute: number;
  levels: StreakLevel[];
}

export interface StreakNow {
  /** Points at the moment, ≥ 0. */
  points: number;
  /** Index of the level reached, −1 below the first. */
  level: number;
  /** Way to the next level, 0…1; 1 at the last. */
  share: number;
}

/**
 * Each support is one point; points fall in a straight line and never below nothing.
 * @param supportMs when support came, milliseconds since 1970, in any order
 */
export function streakAt(
  supportMs: readonly number[],
  { decayPerMinute, levels }: StreakSettings,
  nowMs: number,
): StreakNow {
  let points = 0;
  let at = -Infinity;
  const fallen = (ms: number) =>
    at === -Infinity ? 0 : Math.max(0, points - ((ms - at) / 60_000) * decayPerMinute);
  for (const ms of [...supportMs].sort((a, b) => a - b)) {
    if (ms > nowMs) break;
    points = fallen(ms) + 1;
    at = ms;
  }
  points = fallen(nowMs);
  const sorted = [...levels].sort((a, b) => a.from - b.from);
  let level = -1;
  while (level + 1 < sorted.length && points >= sorted[level + 1].from) level += 1;
  const from = level < 0 ? 0 : sorted[level].from;
  const next = sorted[level + 1]?.from;
  return {
    points,
    level,
    share: next === undefined ? 1 : Math.max(0, Math.min(1, (points - from) / (next - from))),
  };
}
