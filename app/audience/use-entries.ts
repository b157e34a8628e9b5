import { startTransition, useEffect, useMemo, useRef, useState } from 'react';
import { concerns, searchWords, type AudienceEvent } from '~/core/audience/events';
import { messageOf } from '~/core/fault';
import type { EntryMark, ListedEntry } from '~/protocol/audience-bus';
import { MAX_EVENTS } from '../studio/bus-client';
import { useBus, useStudio } from '../studio/studio-context';
import { entryPage, firstPage, pageAhead, type ListFilter } from './entry-pages';
import { NO_ENTRIES, opened, withFresh, withNewer, withOlder, type EntryWindow } from './entry-window';

function marked(entry: ListedEntry, marks: readonly EntryMark[]): ListedEntry {
  let next = entry;
  for (const mark of marks) {
    const off = mark.startsWith('not-');
    next = { ...next, [off ? mark.slice(4) : mark]: !off };
  }
  return next;
}

/** Whether a new entry belongs into a filtered list; the server says the same of old ones. */
function passes({ show, platform, search }: ListFilter, event: AudienceEvent): boolean {
  if (platform !== '' && event.platform !== platform) return false;
  if (
    show === 'chat'
      ? event.type !== 'chat'
      : show === 'events' || show === 'open'
        ? event.type === 'chat'
        : show === 'pinned'
  )
    return false;
  if (search === '') return true;
  const words = search.toLowerCase().match(/[\p{L}\p{N}_]+/gu) ?? [];
  const text = `${event.viewer} ${searchWords(event)}`.toLowerCase();
  return words.every((word) => text.includes(word));
}

function newestOf(rows: readonly ListedEntry[]): number {
  return rows.at(-1)?.event.seq ?? 0;
}

export interface Entries {
  rows: readonly ListedEntry[];
  state: 'loading' | 'ready' | 'failed';
  problem: string;
  /** Whether rows newer than the last one are left out. */
  newer: boolean;
  /** How many came in that the host has not read, as far as the page knows; none while the newest are followed. */
  unread: number;
  /** Fetches what comes before the first row, or after the last. */
  more: (way: 'older' | 'newer') => void;
  toNewest: () => void;
}

/**
 * Chat and events, filtered: a page from the server, older and newer ones on demand, and what comes in meanwhile.
 *
 * @param following whether the newest are looked at
 */
export function useEntries(filter: ListFilter, following: boolean): Entries {
  const { showId } = useStudio();
  const events = useBus((now) => now.events);
  const marks = useBus((now) => now.marks);
  const moderations = useBus((now) => now.moderations);
  // Whoever follows the newest has read them.
  const readSeq = useBus((now) => (following ? Infinity : now.readSeq));
  const [ahead] = useState(() => pageAhead(showId));
  const [window, setWindow] = useState<EntryWindow>(ahead ? opened(ahead) : NO_ENTRIES);
  const [state, setState] = useState<Entries['state']>(ahead ? 'ready' : 'loading');
  const came = useRef(ahead);
  const [problem, setProblem] = useState('');
  const [anew, setAnew] = useState(0);
  const busy = useRef(false);
  const last = useRef(0);
  const asking = useRef(0);
  const { search, show, platform } = filter;
  const { rows, older, newer } = window;

  useEffect(() => {
    if (came.current) {
      last.current = newestOf(came.current);
      came.current = null;
      return;
    }
    const stop = new AbortController();
    setState('loading');
    asking.current += 1;
    last.current = Infinity;
    // Typing is not searched for letter by letter.
    const timer = setTimeout(
      () => {
        firstPage(showId, { search, show, platform }, stop.signal)
          .then((found) => {
            if (stop.signal.aborted) return;
            setWindow(opened(found));
            last.current = newestOf(found);
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
    if (state !== 'ready' || newer) return;
    const fresh = events.filter((e) => e.seq > last.current);
    if (fresh.length === 0) return;
    // More came in one go than the page keeps, as after a time in the background: the list is asked for anew.
    if (fresh.length === events.length && events.length >= MAX_EVENTS && last.current > 0) {
      setAnew((n) => n + 1);
      return;
    }
    last.current = fresh[fresh.length - 1].seq;
    const mine = fresh
      .filter((e) => passes({ search, show, platform }, e))
      .map((event) => ({ event, done: false, pinned: false, hidden: false }));
    setWindow((before) => withFresh(before, mine, following));
  }, [events, state, newer, following, search, show, platform]);

  const more = (way: 'older' | 'newer') => {
    const edge = (way === 'older' ? rows[0] : rows.at(-1))?.event.seq;
    if (busy.current || edge === undefined || !(way === 'older' ? older : newer)) return;
    const asked = asking.current;
    busy.current = true;
    entryPage(showId, { search, show, platform }, { way, seq: edge })
      .then((found) => {
        // Another filter, or the list anew, meanwhile.
        if (asked !== asking.current) return;
        if (way === 'newer') last.current = found.at(-1)?.event.seq ?? edge;
        // Rows are made in small pieces, so that the list goes on scrolling meanwhile.
        startTransition(() =>
          setWindow((before) => (way === 'older' ? withOlder : withNewer)(before, edge, found)),
        );
      })
      .catch((error: unknown) => setProblem(messageOf(error)))
      .finally(() => (busy.current = false));
  };
  const toNewest = () => {
    if (newer) setAnew((n) => n + 1);
  };
  const unread = useMemo(
    () =>
      following ? 0 : events.filter((e) => e.seq > readSeq && passes({ search, show, platform }, e)).length,
    [events, following, readSeq, search, show, platform],
  );

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
  return { rows: kept, state, problem, newer, unread, more, toNewest };
}
