import { useEffect, useMemo, useRef, useState } from 'react';
import { concerns, type AudienceEvent } from '~/core/audience/events';
import { messageOf } from '~/core/fault';
import { searchWords } from '~/protocol/cloud-events';
import type { EntryFilter, EntryMark, ListedEntry } from '~/protocol/audience-bus';
import { MAX_EVENTS } from '../studio/bus-client';
import { useBus, useStudio } from '../studio/studio-context';

/** Rows kept in the page; older ones are fetched again when they are scrolled to. */
const MAX_ROWS = 300;

type Filter = Omit<EntryFilter, 'before'>;

function marked(entry: ListedEntry, marks: readonly EntryMark[]): ListedEntry {
  let next = entry;
  for (const mark of marks) {
    const off = mark.startsWith('not-');
    next = { ...next, [off ? mark.slice(4) : mark]: !off };
  }
  return next;
}

/** Whether a new entry belongs into a filtered list; the server says the same of old ones. */
function passes({ show, platform, search }: Filter, event: AudienceEvent): boolean {
  if (platform !== '' && event.platform !== platform) return false;
  if (
    show === 'chat'
      ? event.type !== 'chat'
      : show === 'events' || show === 'open'
        ? event.type === 'chat'
        : show === 'pinned'
  )
    return false;
  const words = search.toLowerCase().match(/[\p{L}\p{N}_]+/gu) ?? [];
  const text = `${event.viewer} ${searchWords(event)}`.toLowerCase();
  return words.every((word) => text.includes(word));
}

export interface Entries {
  rows: readonly ListedEntry[];
  state: 'loading' | 'ready' | 'failed';
  problem: string;
  hasMore: boolean;
  more: () => void;
}

/** Chat and events, filtered: a page from the server, older ones on demand, and what comes in meanwhile. */
export function useEntries(filter: Filter): Entries {
  const { showId } = useStudio();
  const { events, marks, moderations } = useBus();
  const [rows, setRows] = useState<readonly ListedEntry[]>([]);
  const [state, setState] = useState<Entries['state']>('loading');
  const [problem, setProblem] = useState('');
  const [hasMore, setHasMore] = useState(false);
  const [anew, setAnew] = useState(0);
  const busy = useRef(false);
  const last = useRef(0);
  const { search, show, platform } = filter;

  useEffect(() => {
    const stop = new AbortController();
    setState('loading');
    last.current = Infinity;
    // Typing is not searched for letter by letter.
    const timer = setTimeout(
      () => {
        page(showId, { search, show, platform, before: null }, stop.signal)
          .then((found) => {
            setRows(found);
            setHasMore(found.length > 0);
            last.current = Math.max(0, ...found.map((e) => e.event.seq));
            setState('ready');
          })
          .catch((error: unknown) => {
            if (stop.signal.aborted) return;
            setProblem(messageOf(error));
            setState('failed');
          });
      },
      search === '' ? 0 : 120,
    );
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [showId, search, show, platform, anew]);

  useEffect(() => {
    if (state !== 'ready') return;
    const fresh = events.filter((e) => e.seq > last.current);
    if (fresh.length === 0) return;
    // More came in one go than the page keeps, as after a time in the background: the list is asked for anew.
    if (fresh.length === events.length && events.length >= MAX_EVENTS && last.current > 0) {
      setAnew((n) => n + 1);
      return;
    }
    last.current = fresh[fresh.length - 1].seq;
    const mine = fresh.filter((e) => passes({ search, show, platform }, e));
    if (mine.length === 0) return;
    setRows((before) => {
      const all = [...before, ...mine.map((event) => ({ event, done: false, pinned: false, hidden: false }))];
      if (all.length > MAX_ROWS) setHasMore(true);
      return all.slice(-MAX_ROWS);
    });
  }, [events, state, search, show, platform]);

  const more = () => {
    const first = rows[0]?.event.seq;
    if (busy.current || !hasMore || first === undefined) return;
    busy.current = true;
    page(showId, { search, show, platform, before: first })
      .then((found) => {
        setHasMore(found.length > 0);
        setRows((before) => [...found, ...before]);
      })
      .catch((error: unknown) => setProblem(messageOf(error)))
      .finally(() => (busy.current = false));
  };

  const shown = useMemo(
    () =>
      rows.map((entry) => {
        const done = marks.get(entry.event.seq);
        const next = done ? marked(entry, done) : entry;
        return !next.hidden && moderations.some((m) => concerns(m, next.event))
          ? { ...next, hidden: true }
          : next;
      }),
    [rows, marks, moderations],
  );
  const kept =
    show === 'pinned'
      ? shown.filter((e) => e.pinned)
      : show === 'open'
        ? shown.filter((e) => !e.done)
        : shown;
  return { rows: kept, state, problem, hasMore, more };
}

async function page(showId: string, filter: EntryFilter, signal?: AbortSignal): Promise<ListedEntry[]> {
  const query = new URLSearchParams({ search: filter.search, show: filter.show, platform: filter.platform });
  if (filter.before !== null) query.set('before', String(filter.before));
  const response = await fetch(`/show/${showId}/entries?${query.toString()}`, { signal: signal ?? null });
  const answer = (await response.json()) as { entries?: ListedEntry[]; message?: string };
  if (!response.ok || !answer.entries) throw new Error(answer.message ?? `status ${response.status}`);
  return answer.entries;
}
