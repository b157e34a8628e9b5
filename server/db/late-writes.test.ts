import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { documentOf } from '../../core/show/document';
import { sampleScene, sampleShow } from '../../core/show/sample-show';
import Sqlite from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { EveningLog } from '../vault/evening-log';
import { EveningRepository } from '../vault/evening-repository';
import { openDatabase, withoutWaiting, type Database } from './database';
import { LateWrites } from './late-writes';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../db/migrations');
let folder: string;
let database: Database;
/** Another program that opens the same file. */
let other: Database;
let told: string[];
let writes: LateWrites;

beforeEach(() => {
  vi.useFakeTimers();
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-late-'));
  const file = path.join(folder, 'a.sqlite');
  database = openDatabase(file, MIGRATIONS);
  database.pragma('busy_timeout = 20');
  other = new Sqlite(file);
  told = [];
  const note = (_: object, words: string) => void told.push(words);
  writes = new LateWrites(database, { error: note, info: note } as never);
});
afterEach(() => {
  writes.close();
  other.close();
  database.close();
  rmSync(folder, { recursive: true });
  vi.useRealTimers();
});

const note = (viewer: string) => () =>
  database.prepare("INSERT INTO setting (name, value) VALUES (?, '')").run(viewer);
const notes = () =>
  other
    .prepare('SELECT name FROM setting ORDER BY rowid')
    .all()
    .map((row) => (row as { name: string }).name);

describe('writes that nobody waits for', () => {
  test('while another program has the database they wait, in order, and are done once it lets go', () => {
    writes.do(note('a'));
    other.exec('BEGIN IMMEDIATE');
    writes.do(note('b'));
    writes.do(note('c'));
    expect(writes.waiting).toBe(2);
    vi.advanceTimersByTime(10_000);
    expect([notes(), writes.waiting]).toEqual([['a'], 2]);
    other.exec('COMMIT');
    // Not before the ones that wait.
    writes.do(note('d'));
    expect(notes()).toEqual(['a']);
    vi.advanceTimersByTime(1100);
    expect([notes(), writes.waiting]).toEqual([['a', 'b', 'c', 'd'], 0]);
    writes.do(note('e'));
    expect(notes()).toEqual(['a', 'b', 'c', 'd', 'e']);
  });

  test('only the first try waits for the other program', () => {
    const waits: unknown[] = [];
    const write = () => {
      waits.push(database.pragma('busy_timeout', { simple: true }));
      note('a')();
    };
    other.exec('BEGIN IMMEDIATE');
    writes.do(write);
    vi.advanceTimersByTime(3000);
    expect(waits).toEqual([20, 0, 0, 0]);
    expect(database.pragma('busy_timeout', { simple: true })).toBe(20);
    other.exec('COMMIT');
  });

  test('a write that is wrong in itself fails where it is made, or is left out, and holds up no other', () => {
    writes.do(note('a'));
    expect(() => writes.do(note('a'))).toThrow(/UNIQUE/);
    other.exec('BEGIN IMMEDIATE');
    writes.do(note('b'));
    writes.do(note('b'));
    writes.do(note('c'));
    other.exec('COMMIT');
    vi.advanceTimersByTime(1100);
    expect([notes(), writes.waiting]).toEqual([['a', 'b', 'c'], 0]);
    expect(told.at(-1)).toMatch(/left out/);
  });

  test('what waits is tried a last time at the end', () => {
    other.exec('BEGIN IMMEDIATE');
    writes.do(note('a'));
    other.exec('COMMIT');
    writes.close();
    expect(notes()).toEqual(['a']);
  });

  test('an evening is written whole, with its own times, also when the database was locked through most of it', () => {
    const evenings = new EveningRepository(database);
    let nowMs = 5000;
    const log = new EveningLog(
      evenings,
      writes,
      () => nowMs,
      () => ({
        lastSeq: () => 0,
        countsAfter: () => ({ chat: 0, events: 0 }),
      }),
    );
    other.exec('BEGIN IMMEDIATE');
    const talk = sampleScene('talk', { name: 'Talk' });
    const onAir = { sceneId: 'talk', poseId: null, sinceMs: 1 };
    const hutNine = { id: 'e', showId: 's', startedMs: nowMs, title: 'Hut Nine' };
    log.begin(hutNine, documentOf([sampleShow, talk]), { ...NO_PROGRAMME, onAir });
    nowMs = 9000;
    log.moment({ kind: 'marker', words: 'good one' });
    nowMs = 12_000;
    log.end();
    expect(evenings.find('e')).toBeNull();
    other.exec('COMMIT');
    vi.advanceTimersByTime(1100);
    expect(evenings.moments('e').map(({ atMs, moment }) => [atMs, moment.kind])).toEqual([
      [5000, 'begin'],
      [5000, 'scene'],
      [9000, 'marker'],
      [12_000, 'end'],
    ]);
    expect(evenings.find('e')?.endedMs).toBe(12_000);
  });
});

test('what does not wait fails at once and leaves the patience of others as it was', () => {
  other.exec('BEGIN IMMEDIATE');
  database.pragma('busy_timeout = 60000');
  expect(() => withoutWaiting(database, note('a'))).toThrow(/locked/);
  expect(database.pragma('busy_timeout', { simple: true })).toBe(60000);
  other.exec('COMMIT');
});
