import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { openDatabase } from '../../server/db/database';
import { SettingRepository } from '../../server/db/setting-repository';
import { goBack } from './go-back.mjs';

const ALL = path.resolve('db/migrations');
const NOW = new Date('2026-11-30T20:15:00Z');
let folder: string;
/** Migrations as the version before had them. */
let earlier: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-back-'));
  earlier = path.join(folder, 'earlier');
  mkdirSync(earlier);
  for (const name of readdirSync(ALL).sort().slice(0, -1))
    copyFileSync(path.join(ALL, name), path.join(earlier, name));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const data = () => path.join(folder, 'data');
const file = () => path.join(data(), 'dolomite.sqlite');
/** Opens it as a version would, and says what it finds. */
function as(migrations: string, set?: string): string | null {
  const database = openDatabase(file(), migrations);
  const settings = new SettingRepository(database);
  const found = settings.get('word');
  if (set !== undefined) settings.set('word', set);
  database.close();
  return found;
}

test('after an update the earlier version goes on where it was; what was done since is kept, and can be updated again', () => {
  as(earlier, 'before');
  expect(as(ALL, 'after')).toBe('before');
  expect(() => as(earlier)).toThrow(/made by a newer Dolomite/);
  const { version, aside } = goBack(data(), NOW);
  expect(version).toBe(readdirSync(earlier).length);
  expect(as(earlier)).toBe('before');
  expect(path.basename(aside)).toBe('2026-11-30T20-15-00 put aside.sqlite');
  const kept = openDatabase(aside, ALL);
  expect(new SettingRepository(kept).get('word')).toBe('after');
  kept.close();
  expect(as(ALL)).toBe('before');
  if (process.platform !== 'win32')
    for (const each of [file(), aside]) expect(statSync(each).mode & 0o777).toBe(0o600);
});

test('what lay beside the database and was not in it yet is put aside too, and never mixed with the copy', () => {
  as(earlier, 'before');
  as(ALL);
  const database = openDatabase(file(), ALL);
  new SettingRepository(database).set('word', 'late');
  // As a kill leaves it: nothing is folded into the database.
  copyFileSync(`${file()}-wal`, path.join(folder, 'wal'));
  database.close();
  copyFileSync(path.join(folder, 'wal'), `${file()}-wal`);
  const { aside } = goBack(data(), NOW);
  expect(existsSync(`${file()}-wal`)).toBe(false);
  expect(existsSync(`${aside}-wal`)).toBe(true);
  expect(as(earlier)).toBe('before');
});

test('where there is nothing to go back to, it says so and changes nothing', () => {
  expect(() => goBack(data(), NOW)).toThrow(/There is no studio in/);
  as(ALL, 'only');
  expect(() => goBack(data(), NOW)).toThrow(/nothing to go back to/);
  mkdirSync(path.join(data(), 'backups'));
  writeFileSync(path.join(data(), 'backups', 'holiday.sqlite'), 'mine');
  expect(() => goBack(data(), NOW)).toThrow(/nothing to go back to/);
  expect(as(ALL)).toBe('only');
});
