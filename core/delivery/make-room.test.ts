import { expect, test } from 'vitest';
import { toRemove, withoutCopy, type RoomFile } from './make-room';

const DAY = 86_400_000;
const NOW = 100 * DAY;
const file = (id: string, days: number, more: Partial<RoomFile> = {}) => ({
  id,
  startedMs: NOW - days * DAY,
  bytes: 1,
  kind: 'recording' as RoomFile['kind'],
  madeFrom: null,
  seconds: 10,
  ...more,
});
const FILES = [
  file('new', 1),
  file('old', 40),
  file('older', 60),
  file('clip', 50, { kind: 'clip' }),
  file('copy', 2, { kind: 'copy', madeFrom: 'old' }),
  file('broken', 3, {}),
].map((f) => (f.id === 'broken' ? { ...f, seconds: 0 } : f));
const ids = (files: { id: string }[]) => files.map((f) => f.id);

test('old recordings go, oldest first; clips stay when they are to', () => {
  expect(ids(toRemove(FILES, { days: 30, keepClips: true, onlyCopied: false }, NOW))).toEqual([
    'older',
    'old',
  ]);
  expect(ids(toRemove(FILES, { days: 30, keepClips: false, onlyCopied: false }, NOW))).toEqual([
    'older',
    'clip',
    'old',
  ]);
});

test('only what has a copy, when that is the rule', () =>
  expect(ids(toRemove(FILES, { days: 30, keepClips: true, onlyCopied: true }, NOW))).toEqual(['old']));

test('what has no copy yet, and can be read', () =>
  expect(ids(withoutCopy(FILES))).toEqual(['new', 'older']));
