import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { documentOf, recordsOf } from '../../core/show/document';
import { firstDestination, firstShow } from '../../core/show/new-show';
import type { InputRecord } from '../../core/show/records';
import { openDatabase, type Database } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import { SettingRepository } from '../db/setting-repository';
import { ShowRepository } from '../db/show-repository';
import { AssetStore } from '../vault/asset-store';
import { Backups } from './backups';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../db/migrations');
const DAY = 86_400_000;
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

let folder: string;
let database: Database;
let shows: ShowRepository;
let assets: AssetStore;
let secrets: SecretRepository;
let backups: Backups;
let nowMs: number;
let onAir: boolean;
let ids = 0;
const newId = () => `id-${++ids}`;

beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-backups-'));
  database = openDatabase(path.join(folder, 'dolomite.sqlite'), MIGRATIONS);
  shows = new ShowRepository(database);
  assets = new AssetStore(database, path.join(folder, 'assets'));
  secrets = new SecretRepository(database, path.join(folder, 'secrets.key'));
  nowMs = Date.UTC(2026, 10, 29, 18);
  onAir = false;
  backups = new Backups({
    ...{ database, shows, assets, secrets, dataFolder: folder, migrations: MIGRATIONS },
    settings: new SettingRepository(database),
    log: pino({ level: 'silent' }),
    now: () => nowMs,
    onAir: () => onAir,
  });
  const body = (async function* () {
    yield PNG;
  })();
  const { id } = await assets.add('badge.png', body, 1);
  const records = firstShow('one', 'Night school', 'lampwright', newId);
  const { destination } = firstDestination(
    documentOf(records),
    { url: 'rtmp://ingest.example/live', name: 'Larch', title: 'First' },
    newId,
  );
  const camera = records.find((r): r is InputRecord => r.kind === 'input')!;
  shows.create([
    ...records,
    destination,
    { ...camera, id: 'badge', name: 'Badge', source: { type: 'picture', assetId: id, loop: true } },
  ]);
  secrets.set(subjects.streamKey(destination.id), 'hut-nine-4711', 1);
  shows.create(firstShow('two', 'Signal School', '', newId));
});
afterEach(() => {
  backups.close();
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

test('a show comes back beside what there is, with files and keys, also when it and its file are gone', async () => {
  const backup = await backups.make('asked');
  expect(backup.shows.map(({ name }) => name).sort()).toEqual(['Night school', 'Signal School']);
  const [file] = assets.list();
  database.exec("DELETE FROM show WHERE id = 'one'; DELETE FROM asset");
  rmSync(assets.pathOf(file.id));
  const [made] = await backups.restore(backup.name, ['one'], (name) => `${name} again`);
  const document = shows.document(made);
  expect(document.get(made)?.name).toBe('Night school again');
  const [destination] = recordsOf(document, 'destination');
  expect(secrets.get(subjects.streamKey(destination.id))).toBe('hut-nine-4711');
  expect(readFileSync(assets.pathOf(file.id)).equals(PNG)).toBe(true);
  expect(
    shows
      .list()
      .map(({ id }) => id)
      .sort(),
  ).toEqual([made, 'two'].sort());
  expect(await backups.restore(backup.name, null, (name) => name)).toHaveLength(2);
  await expect(backups.restore('2020-01-01T00-00-00', null, (name) => name)).rejects.toThrow(
    /not there any more/,
  );
  expect(readdirSync(path.join(folder, 'scratch'))).toEqual([]);
});

test('a show as it was is there to take parts from, with its files; nothing else is changed', async () => {
  const backup = await backups.make('asked');
  const before = shows.list();
  const [file] = assets.list();
  database.exec('DELETE FROM asset');
  rmSync(assets.pathOf(file.id));
  const records = await backups.showAsItWas(backup.name, 'one');
  expect(records.find(({ id }) => id === 'badge')).toMatchObject({ name: 'Badge' });
  expect(readFileSync(assets.pathOf(file.id)).equals(PNG)).toBe(true);
  expect(shows.list()).toEqual(before);
  await expect(backups.showAsItWas(backup.name, 'three')).rejects.toThrow(/does not have this show/);
  await expect(backups.showAsItWas('2020-01-01T00-00-00', 'one')).rejects.toThrow(/not there any more/);
});

test('one is made a day on which something changed, none while a broadcast is on, and old ones go', async () => {
  const count = async () => (await backups.list()).length;
  onAir = true;
  await backups.look();
  expect(await count()).toBe(0);
  onAir = false;
  await backups.look();
  nowMs += DAY;
  await backups.look();
  expect(await count()).toBe(1);
  for (let day = 0; day < 20; day++) {
    nowMs += DAY;
    database.prepare("UPDATE show SET revision = revision + 1 WHERE id = 'one'").run();
    await backups.look();
  }
  const kept = await count();
  expect(kept).toBeGreaterThanOrEqual(8);
  expect(kept).toBeLessThan(14);
  // Files are there once, whatever number of backups name them.
  expect(readdirSync(path.join(backups.folder, 'assets'))).toHaveLength(1);
});

test('a month’s drill looks at every record and every file of the newest, and says what is wrong with it', async () => {
  await backups.look();
  expect(backups.drilled).toMatchObject({ files: 1, problem: '' });
  expect(backups.drilled!.records).toBe(shows.load('one').records.length + shows.load('two').records.length);
  const [file] = readdirSync(path.join(backups.folder, 'assets'));
  writeFileSync(path.join(backups.folder, 'assets', file), 'something else');
  nowMs += 31 * DAY;
  await backups.look();
  expect(backups.drilled).toMatchObject({ problem: 'the file badge.png is not what it was' });
});

test('a second folder is tried before it is taken; one that breaks off leaves no backup', async () => {
  const second = path.join(folder, 'second');
  await backups.choose(second);
  await backups.make('asked');
  expect(readdirSync(second).filter((name) => !name.endsWith('assets'))).toHaveLength(1);
  writeFileSync(path.join(folder, 'file'), '');
  await expect(backups.choose(path.join(folder, 'file', 'x'))).rejects.toThrow(/cannot be written/);
  await expect(backups.choose('relative')).rejects.toThrow(/whole path/);
  rmSync(assets.pathOf(assets.list()[0].id));
  rmSync(path.join(second, 'assets'), { recursive: true });
  nowMs += 1000;
  database.prepare("UPDATE show SET revision = revision + 1 WHERE id = 'one'").run();
  expect(await backups.makeIfChanged('daily')).toBeNull();
  expect(backups.problem).toMatch(/ENOENT/);
  expect(await backups.list()).toHaveLength(1);
  await backups.choose(null);
  expect(backups.folder).toBe(path.join(folder, 'backups', 'shows'));
});
