import { describe, expect, test } from 'vitest';
import { sampleMessage } from '~/core/audience/sample-audience';
import type { ListedEntry } from '~/protocol/audience-bus';
import {
  FOLLOWED_ROWS,
  NO_ENTRIES,
  opened,
  READ_ROWS,
  withFresh,
  withNewer,
  withOlder,
  type EntryWindow,
} from './entry-window';

const PAGE = 50;
const entry = (seq: number): ListedEntry => ({
  event: { ...sampleMessage(`line ${seq}`), seq },
  done: false,
  pinned: false,
  hidden: false,
});
/** Entries `from` to `to`, both included. */
const entries = (from: number, to: number) =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => entry(from + i));
const seqs = ({ rows }: EntryWindow) => rows.map((r) => r.event.seq);
const ends = ({ rows, older, newer }: EntryWindow) => [
  rows[0]?.event.seq,
  rows.at(-1)?.event.seq,
  older,
  newer,
];
/** Further back and further on, as the server would give it. */
const back = (window: EntryWindow) => {
  const edge = window.rows[0].event.seq;
  return withOlder(window, edge, entries(Math.max(1, edge - PAGE), edge - 1));
};
const on = (window: EntryWindow, newest: number) => {
  const edge = window.rows.at(-1)!.event.seq;
  return withNewer(window, edge, entries(edge + 1, Math.min(newest, edge + PAGE)));
};

describe('a window of the evening', () => {
  test('an evening without an entry has nothing at either end', () => {
    expect(opened([])).toEqual(NO_ENTRIES);
    expect(withFresh(opened([]), [entry(1)], true).rows).toHaveLength(1);
  });

  test('read to the very first and back to the newest: every entry once and in order, never too many', () => {
    const newest = 1000;
    let window = opened(entries(951, newest));
    const seen = new Set(seqs(window));
    let steps = 0;
    while (window.older && steps++ < 100) {
      window = back(window);
      for (const seq of seqs(window)) seen.add(seq);
      expect(window.rows.length).toBeLessThanOrEqual(READ_ROWS);
    }
    expect(ends(window)).toEqual([1, READ_ROWS, false, true]);
    expect(seen.size).toBe(newest);
    steps = 0;
    while (window.newer && steps++ < 100) {
      window = on(window, newest);
      const list = seqs(window);
      expect(list).toEqual(list.map((_, i) => list[0] + i));
      expect(list.length).toBeLessThanOrEqual(READ_ROWS);
    }
    expect(ends(window)).toEqual([newest - READ_ROWS + 1, newest, true, false]);
  });

  test('a page that comes twice, or after the window has moved on, leaves no gap and no double', () => {
    const window = opened(entries(51, 100));
    const wider = back(window);
    expect(withOlder(wider, 51, entries(1, 50))).toBe(wider);
    const moved = withFresh(window, entries(101, 120), true);
    expect(withOlder(moved, 51, entries(1, 50))).toBe(moved);
    expect(withNewer(moved, 100, entries(101, 150))).toBe(moved);
  });

  test('followed, the oldest leave with what comes in; and they can be had again', () => {
    let window = opened(entries(1, 50));
    for (let seq = 51; seq <= 500; seq++) window = withFresh(window, [entry(seq)], true);
    expect(ends(window)).toEqual([500 - FOLLOWED_ROWS + 1, 500, true, false]);
  });

  test('a flood while somebody reads further up moves nothing out of what is read', () => {
    let window = back(opened(entries(151, 200)));
    for (let seq = 201; seq <= 2000; seq += 10) window = withFresh(window, entries(seq, seq + 9), false);
    expect(ends(window)).toEqual([101, 340, true, true]);
    // Scrolled down to its end it goes on where it ended.
    window = on(window, 2000);
    expect(ends(window)).toEqual([151, 390, true, true]);
  });

  test('what comes in is not put after a gap', () => {
    const reading = { ...opened(entries(1, 50)), newer: true };
    expect(withFresh(reading, [entry(900)], true)).toBe(reading);
    expect(withFresh(reading, [entry(900)], false)).toBe(reading);
  });
});
