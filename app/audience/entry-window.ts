/** Which part of the evening's chat and events the page has: rows in order, and whether there are more at either end. */
import type { ListedEntry } from '~/protocol/audience-bus';

/** Rows while the newest are followed: more than any window shows, few enough for a storm. */
export const FOLLOWED_ROWS = 60;
/** Rows while older ones are read; what goes beyond at the far end is fetched again when it is scrolled to. */
export const READ_ROWS = 240;

export interface EntryWindow {
  /** Oldest first. */
  readonly rows: readonly ListedEntry[];
  /** Whether there may be older ones than the first row. */
  readonly older: boolean;
  /** Whether there may be newer ones than the last row; what comes in meanwhile is not added then. */
  readonly newer: boolean;
}

export const NO_ENTRIES: EntryWindow = { rows: [], older: false, newer: false };

/** The newest page. */
export function opened(found: readonly ListedEntry[]): EntryWindow {
  return { rows: found, older: found.length > 0, newer: false };
}

/**
 * With a page of what came before `edge`, which was the first row when it was asked for; the newest rows leave when
 * there are too many. A window that has moved on is left as it is: the page would not join it.
 */
export function withOlder(window: EntryWindow, edge: number, found: readonly ListedEntry[]): EntryWindow {
  if (window.rows[0]?.event.seq !== edge) return window;
  const rows = [...found, ...window.rows];
  return {
    rows: rows.slice(0, READ_ROWS),
    older: found.length > 0,
    newer: window.newer || rows.length > READ_ROWS,
  };
}

/** As `withOlder`, with what came after the last row. An empty page says that the end is reached. */
export function withNewer(window: EntryWindow, edge: number, found: readonly ListedEntry[]): EntryWindow {
  if (window.rows.at(-1)?.event.seq !== edge) return window;
  const rows = [...window.rows, ...found];
  return {
    rows: rows.slice(-READ_ROWS),
    older: window.older || rows.length > READ_ROWS,
    newer: found.length > 0,
  };
}

/**
 * With what just came in. While the newest are followed the oldest leave; while somebody reads further up nothing does:
 * the window stays closed at its end once it is full, until its end is scrolled to.
 */
export function withFresh(
  window: EntryWindow,
  fresh: readonly ListedEntry[],
  following: boolean,
): EntryWindow {
  if (window.newer || fresh.length === 0) return window;
  const rows = [...window.rows, ...fresh];
  if (following)
    return {
      rows: rows.slice(-FOLLOWED_ROWS),
      older: window.older || rows.length > FOLLOWED_ROWS,
      newer: false,
    };
  return rows.length > READ_ROWS ? { ...window, newer: true } : { ...window, rows };
}
