import path from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { sampleEvent, sampleMessage } from '../../core/audience/sample-audience';
import { openDatabase, type Database } from '../db/database';
import { SettingRepository } from '../db/setting-repository';
import { EntryRepository } from './entry-repository';
import { ViewerData } from './viewer-data';

const DAY_MS = 86_400_000;
const NOW = 400 * DAY_MS;
let database: Database;
let entries: EntryRepository;
let data: ViewerData;
beforeEach(() => {
  database = openDatabase(':memory:', path.resolve(import.meta.dirname, '../../db/migrations'));
  database
    .prepare("INSERT INTO show (id, show_id, name, position, data) VALUES ('show', 'show', 'Night', 0, '{}')")
    .run();
  entries = new EntryRepository(database, 'show');
  data = new ViewerData(database, new SettingRepository(database));
  entries.add([
    sampleMessage('the old days', { viewer: 'MossBell', atMs: NOW - 366 * DAY_MS }),
    sampleMessage('hello', { viewer: 'mossbell', atMs: NOW - DAY_MS }),
    sampleEvent('follow', { viewer: 'MossBell', platform: 'cairn', atMs: NOW - 2 * DAY_MS }),
    sampleMessage('hi', { viewer: '100%_sure', atMs: NOW - DAY_MS }),
  ]);
  entries.setNote('larch', 'MossBell', 'keeps bees');
});
afterEach(() => database.close());

test('it is kept for a year unless the owner says otherwise, and searched no longer when it is gone', () => {
  expect(data.facts()).toEqual({ entries: 4, notes: 1, oldestMs: NOW - 366 * DAY_MS, keepDays: 365 });
  expect(data.sweep(NOW)).toBe(1);
  const found = (search: string) =>
    entries.page({ search, show: 'all', platform: '', before: null, after: null }).length;
  expect([found('old days'), found('hello')]).toEqual([0, 1]);
  data.keepFor(0, NOW);
  expect([data.sweep(NOW + 9000 * DAY_MS), data.facts().keepDays]).toEqual([0, 0]);
  data.keepFor(1, NOW + DAY_MS / 2);
  // For an hour it can be changed back.
  expect(data.sweep(NOW + DAY_MS / 2 + 3_599_000)).toBe(0);
  expect(data.sweep(NOW + DAY_MS / 2 + 3_600_000)).toBe(3);
});

test('of one viewer everything is found, given out and deleted, whatever letters they write their name in', () => {
  expect(data.find('moss').map(({ platform, entries: n }) => [platform, n])).toEqual([
    ['larch', 2],
    ['cairn', 1],
  ]);
  expect(data.find('%').map((v) => v.viewer)).toEqual(['100%_sure']);
  const lines = [...data.lines('larch', 'mossbell')].map(
    (line) => JSON.parse(line) as Record<string, unknown>,
  );
  expect(lines.map((line) => line.text ?? line.note)).toEqual(['the old days', 'hello', 'keeps bees']);
  expect(lines[0].at).toBe(new Date(NOW - 366 * DAY_MS).toISOString());
  expect(data.remove('larch', 'MOSSBELL')).toBe(2);
  expect([...data.lines('larch', 'mossbell')]).toEqual([]);
  expect(data.find('moss').map((v) => v.platform)).toEqual(['cairn']);
  expect(data.facts()).toMatchObject({ entries: 2, notes: 0 });
});
