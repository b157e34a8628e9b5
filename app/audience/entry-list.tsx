import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import type { EntryFilter, ListedEntry } from '~/protocol/audience-bus';
import { ChoiceRow } from '../studio/choice-row';
import { MAX_EVENTS } from '../studio/bus-client';
import { useBus, useDocument, useStudio } from '../studio/studio-context';
import { orderOrSay } from '../studio/order';
import { OPENING } from './entry-pages';
import { EntryMenu } from './entry-menu';
import { EntryRow, type RowActions } from './entry-row';
import { useEntries } from './use-entries';
import { useTranslation } from '../words/words';

const SHOWS: readonly { value: EntryFilter['show']; words: string; title: string }[] = [
  { value: 'all', words: 'All', title: 'Chat and events' },
  { value: 'chat', words: 'Chat', title: 'Chat alone' },
  { value: 'events', words: 'Events', title: 'Events alone' },
  { value: 'open', words: 'To thank', title: 'Events that are not done' },
  { value: 'pinned', words: 'Pinned', title: 'What you pinned' },
];
const NEAR_END_PX = 40;
/** How far from either end further rows are fetched: half a second of a fast wheel. */
const AHEAD_PX = 1200;

/** The first row that begins at or below `top`; rows stand in order, and each one asked costs time while it scrolls. */
function firstBelow(rows: ArrayLike<HTMLElement>, top: number): HTMLElement | null {
  let [low, high] = [0, rows.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (rows[middle].offsetTop < top) low = middle + 1;
    else high = middle;
  }
  return rows[low] ?? null;
}

/** The number of the entry that something in the list belongs to. */
function seqOf(target: EventTarget): number | null {
  const row = target instanceof Element ? target.closest<HTMLElement>('.entry') : null;
  return row ? Number(row.dataset.seq) : null;
}

/** Chat and events of all platforms in one list, newest at the bottom; stays where the reader has scrolled to. */
export function EntryList({ dense = false }: { dense?: boolean }) {
  const { t } = useTranslation();
  const { showId, bus, say } = useStudio();
  const document = useDocument();
  const platforms = useBus((now) => now.platforms);
  const [filter, setFilter] = useState(OPENING);
  const [menu, setMenu] = useState<{ entry: ListedEntry; anchor: HTMLElement } | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  /** The row under the pointer: only there, and in the chosen row, are its buttons made. */
  const [under, setUnder] = useState<number | null>(null);
  const [following, setFollowing] = useState(true);
  const readSeq = useBus((now) => (following ? Infinity : now.readSeq));
  const { rows, state, problem, newer, unread, more, toNewest } = useEntries(filter, following);
  const box = useRef<HTMLDivElement>(null);
  const held = useRef<{ seq: number; top: number } | null>(null);
  const masked = recordsOf(document, 'show')[0]?.audience.maskLists ?? false;
  const url = `/show/${showId}/entries`;
  const newest = rows.at(-1)?.event.seq ?? 0;

  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    if (following) {
      element.scrollTop = element.scrollHeight;
      // Rows have their true height only once they were drawn.
      requestAnimationFrame(() => (element.scrollTop = element.scrollHeight));
      if (window.document.visibilityState === 'visible') bus.read(newest);
    } else if (held.current) {
      // Older rows came in above, or the oldest left: the row being read stays where it is.
      const row = element.querySelector<HTMLElement>(`[data-seq="${held.current.seq}"]`);
      if (row) element.scrollTop += row.offsetTop - held.current.top;
    }
  }, [rows, following, newest, bus]);

  useEffect(() => {
    // A window so tall that there is nothing to scroll could not ask for older ones.
    const element = box.current;
    if (element && element.scrollHeight <= element.clientHeight) more('older');
  });

  const onScroll = () => {
    const e = box.current!;
    const belowPx = e.scrollHeight - e.scrollTop - e.clientHeight;
    // The end of a window that was left behind is not the newest, unless that is on its way.
    setFollowing((was) => belowPx < NEAR_END_PX && (!newer || was));
    const first = firstBelow(e.querySelectorAll<HTMLElement>('.entry'), e.scrollTop);
    held.current = first ? { seq: Number(first.dataset.seq), top: first.offsetTop } : null;
    if (e.scrollHeight <= e.clientHeight) return;
    if (e.scrollTop < AHEAD_PX) more('older');
    else if (belowPx < AHEAD_PX) more('newer');
  };
  const follow = () => {
    setFollowing(true);
    toNewest();
  };

  const readOut = useCallback((seq: number) => bus.say({ type: 'readOut', order: 'show', seq }), [bus]);
  const actions = useMemo<RowActions>(
    () => ({
      mark: (seq, mark) => void orderOrSay(url, { what: 'mark', seq, mark }, say),
      readOut,
      menu: (entry, anchor) => setMenu({ entry, anchor }),
    }),
    [url, say, readOut],
  );

  /** Up and down choose a row, Enter reads a message out, Q queues it. */
  const onKey = (event: React.KeyboardEvent) => {
    const at = rows.findIndex((r) => r.event.seq === chosen);
    const go = (to: number) => {
      const row = rows[Math.max(0, Math.min(rows.length - 1, to))];
      if (!row) return;
      setChosen(row.event.seq);
      setFollowing(false);
      box.current?.querySelector(`[data-seq="${row.event.seq}"]`)?.scrollIntoView({ block: 'nearest' });
    };
    if (event.key === 'ArrowUp') go(at < 0 ? rows.length - 1 : at - 1);
    else if (event.key === 'ArrowDown') go(at < 0 ? rows.length - 1 : at + 1);
    else if (event.key === 'Enter' && chosen !== null && event.target === box.current) readOut(chosen);
    else if (event.key === 'q' && chosen !== null) bus.say({ type: 'readOut', order: 'queue', seq: chosen });
    else if (event.key === 'End') follow();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <div
      style={{
        display: 'grid',
        gridTemplateRows: dense ? 'minmax(0, 1fr)' : 'auto minmax(0, 1fr)',
        gap: 8,
        height: '100%',
        minHeight: 0,
      }}
    >
      {!dense && (
        <div style={{ display: 'grid', gap: 6 }}>
          <ChoiceRow
            label={t('audience.whichEntries')}
            options={SHOWS}
            value={filter.show}
            onChange={(show) => setFilter({ ...filter, show })}
          />
          <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 132px', gap: 6 }}>
            <InputBase
              value={filter.search}
              onChange={(e) => setFilter({ ...filter, search: e.target.value })}
              onKeyDown={(e) => e.stopPropagation()}
              placeholder={t('audience.searchNamesAndWords')}
              inputProps={{ 'aria-label': 'Search names and words' }}
              sx={{ background: 'var(--ground)', borderRadius: '6px', px: 1.25, height: 32, fontSize: 13 }}
            />
            <Select
              value={filter.platform}
              displayEmpty
              onChange={(e) => setFilter({ ...filter, platform: e.target.value })}
              inputProps={{ 'aria-label': 'Platform' }}
              sx={{ height: 32, fontSize: 13 }}
            >
              <MenuItem value="">{t('audience.allPlatforms')}</MenuItem>
              {[...new Set([...platforms.map((p) => p.platform), 'test'])].map((platform) => (
                <MenuItem key={platform} value={platform}>
                  {platform}
                </MenuItem>
              ))}
            </Select>
          </div>
        </div>
      )}
      <div style={{ position: 'relative', minHeight: 0 }}>
        <div
          ref={box}
          role="log"
          aria-label={t('audience.chatAndEvents')}
          tabIndex={0}
          onScroll={onScroll}
          onKeyDown={onKey}
          onPointerMove={(e) => setUnder(seqOf(e.target))}
          onPointerLeave={() => setUnder(null)}
          // Whoever works in a row's buttons keeps them, also when the pointer goes elsewhere.
          onFocus={(e) => e.target !== box.current && setChosen(seqOf(e.target))}
          className={dense ? 'entries dense' : 'entries'}
        >
          {state === 'failed' && (
            <p style={{ color: 'var(--rose)' }}>{t('audience.listNotRead', { problem })}</p>
          )}
          {state === 'ready' && rows.length === 0 && (
            <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>
              {filter.search !== '' || filter.show !== 'all' || filter.platform !== ''
                ? t('audience.nothingFitsThisFilter')
                : t('audience.chatAndEventsArriveHere')}
            </p>
          )}
          {rows.map((entry, i) => (
            <div key={entry.event.seq}>
              {entry.event.seq > readSeq && rows[i - 1]?.event.seq <= readSeq && (
                <div className="unread-mark">{t('audience.new')}</div>
              )}
              <EntryRow
                entry={entry}
                masked={masked}
                dense={dense}
                actions={actions}
                chosen={entry.event.seq === chosen}
                active={entry.event.seq === chosen || entry.event.seq === under}
              />
            </div>
          ))}
        </div>
        {!following && (
          <Button
            onClick={follow}
            sx={{
              position: 'absolute',
              bottom: 8,
              left: '50%',
              transform: 'translateX(-50%)',
              background: 'var(--raised)',
              zIndex: 2,
            }}
          >
            {unread > 0
              ? `${unread}${unread >= MAX_EVENTS ? ' or more' : ''} new · to the newest`
              : t('audience.toTheNewest')}
          </Button>
        )}
      </div>
      {menu && <EntryMenu entry={menu.entry} anchor={menu.anchor} onClose={() => setMenu(null)} />}
    </div>
  );
}
