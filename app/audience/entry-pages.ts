/** Pages of the list from the server; the first one is asked for as soon as a place with the list is on its way. */
import type { EntryFilter, ListedEntry } from '~/protocol/audience-bus';

export type ListFilter = Omit<EntryFilter, 'before' | 'after'>;

/** What the list shows when it is opened. */
export const OPENING: ListFilter = { search: '', show: 'all', platform: '' };
/** A page that was asked for longer ago is asked for anew. */
const FRESH_MS = 2000;

interface Ahead {
  showId: string;
  askedMs: number;
  page: Promise<ListedEntry[]>;
  /** What came; null while it is on its way. */
  found: readonly ListedEntry[] | null;
}
let ahead: Ahead | null = null;

/** Asks for the first page before the place that shows it is drawn; for a place's `clientLoader`. */
export function askAhead({ params }: { params: { showId?: string } }): null {
  if (!params.showId) return null;
  const page = entryPage(params.showId, OPENING);
  const asked: Ahead = { showId: params.showId, askedMs: performance.now(), page, found: null };
  ahead = asked;
  page.then(
    (found) => (asked.found = found),
    // Whoever takes it is told; that nobody may take it is no fault.
    () => undefined,
  );
  return null;
}

function freshAhead(showId: string): Ahead | null {
  return ahead?.showId === showId && performance.now() - ahead.askedMs < FRESH_MS ? ahead : null;
}

/** The first page where it has come already, so that the list is there with the place it stands in. */
export function pageAhead(showId: string): readonly ListedEntry[] | null {
  return freshAhead(showId)?.found ?? null;
}

/** The first page: the one that was asked for ahead, where there is a fresh one. @throws as `entryPage` */
export function firstPage(showId: string, filter: ListFilter, signal: AbortSignal): Promise<ListedEntry[]> {
  const asked = freshAhead(showId);
  ahead = null;
  const { search, show, platform } = filter;
  if (asked && search === OPENING.search && show === OPENING.show && platform === OPENING.platform)
    return asked.page;
  return entryPage(showId, filter, null, signal);
}

/**
 * One page, oldest first: the newest entries, or the nearest before or after a number.
 * @throws Error with what the server says
 */
export async function entryPage(
  showId: string,
  { search, show, platform }: ListFilter,
  from: { way: 'older' | 'newer'; seq: number } | null = null,
  signal?: AbortSignal,
): Promise<ListedEntry[]> {
  const query = new URLSearchParams({ search, show, platform });
  if (from) query.set(from.way === 'older' ? 'before' : 'after', String(from.seq));
  const response = await fetch(`/show/${showId}/entries?${query.toString()}`, { signal: signal ?? null });
  const answer = (await response.json()) as { entries?: ListedEntry[]; message?: string };
  if (!response.ok || !answer.entries) throw new Error(answer.message ?? `status ${response.status}`);
  return answer.entries;
}
