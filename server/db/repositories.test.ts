import { sampleConnector } from '../../core/connectors/sample-connector';
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { documentOf, type Edit } from '../../core/show/document';
import { PLAIN_SCENE, type SceneRecord, type ShowRecord } from '../../core/show/records';
import { settle } from '../../core/show/settle';
import { addDemonstration, seedNightSignalBox } from '../../db/seed/night-signal-box';
import { recordSchemas } from '../../protocol/record-schemas';
import { AssetStore } from '../vault/asset-store';
import { openDatabase, type Database } from './database';
import { SecretRepository } from './secret-repository';
import { ShowRepository } from './show-repository';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../db/migrations');
const SHOW = 'night-signal-box';
const LARCH = {
  connector: { ...sampleConnector(), id: 'larch' },
  servers: [{ name: 'Valley', url: 'rtmp://127.0.0.1:1/larch' }],
  key: 'larch_key',
};

let folder: string;
let database: Database;
let shows: ShowRepository;
let secrets: SecretRepository;

beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-db-'));
  database = openDatabase(path.join(folder, 'dolomite.sqlite'), MIGRATIONS);
  shows = new ShowRepository(database);
  secrets = new SecretRepository(database, path.join(folder, 'secrets.key'));
  seedNightSignalBox(shows, secrets, [LARCH], 1);
});
afterEach(() => {
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

const scene = (id: string, name: string): SceneRecord => ({
  kind: 'scene',
  id,
  showId: SHOW,
  name,
  position: 9,
  ...PLAIN_SCENE,
});
/** As an open show does it. */
function apply(edit: Omit<Edit, 'id'>): void {
  const { revision, records } = shows.load(SHOW);
  const before = documentOf(records);
  const seen = records.filter((record) => edit.put.some(({ id }) => id === record.id));
  const whole = { id: crypto.randomUUID(), ...edit };
  shows.write(SHOW, whole.id, settle(before, whole, seen).change, before, revision + 1);
}

describe('the demonstration show', () => {
  test('passes every schema it would have to pass as an edit', () => {
    for (const record of shows.load(SHOW).records)
      expect(
        recordSchemas[record.kind].validate(record, { convert: false }).error,
        record.id,
      ).toBeUndefined();
  });

  test('is made once; a stand-in that moved is followed, one that was removed stays removed', () => {
    const before = shows.load(SHOW).records.length;
    seedNightSignalBox(
      shows,
      secrets,
      [{ ...LARCH, servers: [{ name: 'Valley', url: 'rtmp://127.0.0.1:2/larch' }] }],
      2,
    );
    expect(shows.load(SHOW).records).toHaveLength(before);
    expect(shows.load(SHOW).records.find((r) => r.id === 'dest-larch')).toMatchObject({
      url: 'rtmp://127.0.0.1:2/larch',
    });
    apply({ name: 'Remove', put: [], removed: ['dest-larch'] });
    seedNightSignalBox(shows, secrets, [LARCH], 3);
    expect(shows.load(SHOW).records.some((r) => r.id === 'dest-larch')).toBe(false);
  });
});

describe('edits', () => {
  test('are kept over closing and opening', () => {
    apply({ name: 'Add', put: [scene('sc-new', 'New')], removed: ['sc-break'] });
    database.close();
    database = openDatabase(path.join(folder, 'dolomite.sqlite'), MIGRATIONS);
    shows = new ShowRepository(database);
    const { records } = shows.load(SHOW);
    expect(records.find((r) => r.id === 'sc-new')).toEqual(scene('sc-new', 'New'));
    expect(records.some((r) => r.kind === 'layer' && r.sceneId === 'sc-break')).toBe(false);
  });

  test('poses and what is on air are kept; a pose goes with its scene', () => {
    const poses = () => shows.load(SHOW).records.filter((r) => r.kind === 'pose');
    expect(poses().map((p) => [p.name, p.key])).toEqual([
      ['Host', '1'],
      ['With the chat', '2'],
      ['Answers', '3'],
    ]);
    const [first] = poses();
    apply({ name: 'Key', put: [{ ...first, key: '7' }], removed: [] });
    const onAir = { sceneId: 'sc-talk', poseId: first.id, sinceMs: 1000 };
    shows.setProgramme(SHOW, { ...NO_PROGRAMME, onAir: { ...onAir, poseId: null } });
    shows.setProgramme(SHOW, { ...NO_PROGRAMME, seq: 3, onAir });
    database.close();
    database = openDatabase(path.join(folder, 'dolomite.sqlite'), MIGRATIONS);
    shows = new ShowRepository(database);
    expect(poses()[0]).toEqual({ ...first, key: '7' });
    expect(shows.programme(SHOW)).toEqual({ ...NO_PROGRAMME, seq: 3, onAir });
    apply({ name: 'Remove', put: [], removed: ['sc-talk'] });
    expect(poses()).toEqual([]);
  });

  test('are remembered by their id, with the revision they made', () => {
    const { revision, records } = shows.load(SHOW);
    const change = { put: [scene('sc-new', 'New')], removed: [] };
    shows.write(SHOW, 'e1', change, documentOf(records), revision + 1);
    expect([shows.revisionOf(SHOW, 'e1'), shows.revisionOf(SHOW, 'e2')]).toEqual([revision + 1, null]);
    expect(shows.load(SHOW).revision).toBe(revision + 1);
  });

  test('that name a record of another show are refused as a whole', () => {
    shows.create([{ ...(shows.document(SHOW).get(SHOW) as ShowRecord), id: 'other', showId: 'other' }]);
    const stolen = { ...scene('sc-talk', 'Stolen'), showId: 'other' };
    const change = { put: [{ ...scene('sc-x', 'X'), showId: 'other' }, stolen], removed: [] };
    expect(() => shows.write('other', 'e1', change, shows.document('other'), 1)).toThrow(/another show/);
    expect(shows.document(SHOW).get('sc-talk')?.name).toBe('Talk');
    expect(shows.document('other').size).toBe(1);
    expect(() => shows.load('nothing')).toThrow(/no show/);
  });
});

describe('shows', () => {
  test('are listed by when they were used last; a deleted one comes back until it is swept', () => {
    const show = shows.document(SHOW).get(SHOW) as ShowRecord;
    shows.create([{ ...show, id: 'other', showId: 'other', name: 'Other' }]);
    shows.stamp('other', 'opened', 5);
    expect(shows.list().map((one) => one.id)).toEqual(['other', SHOW]);
    shows.stamp('other', 'removed', 10);
    expect([shows.has('other'), shows.sweep(10), shows.list().length]).toEqual([false, [], 2]);
    shows.stamp('other', 'removed', null);
    expect(shows.has('other')).toBe(true);
    shows.stamp(SHOW, 'removed', 10);
    expect(shows.sweep(11)).toEqual([SHOW]);
    expect(shows.list().map((one) => one.id)).toEqual(['other']);
    expect(database.prepare('SELECT count(*) AS n FROM layer').get()).toEqual({ n: 0 });
  });

  test('the demonstration stays away when it was deleted, and comes back when it is asked for', () => {
    shows.stamp(SHOW, 'removed', 1);
    shows.sweep(2);
    seedNightSignalBox(shows, secrets, [LARCH], 3);
    expect(shows.list()).toEqual([]);
    addDemonstration(shows, 4);
    expect(shows.has(SHOW)).toBe(true);
    shows.stamp(SHOW, 'removed', 5);
    addDemonstration(shows, 6);
    expect(shows.has(SHOW)).toBe(true);
  });
});

describe('secrets', () => {
  test('are sealed at rest, with a key file only its owner may read', () => {
    secrets.set('dest-x', 'a-very-secret-key', 5);
    expect(secrets.get('dest-x')).toBe('a-very-secret-key');
    expect(readFileSync(path.join(folder, 'dolomite.sqlite')).includes('a-very-secret-key')).toBe(false);
    expect(readFileSync(path.join(folder, 'dolomite.sqlite-wal')).includes('a-very-secret-key')).toBe(false);
    expect(statSync(path.join(folder, 'secrets.key')).mode & 0o777).toBe(0o600);
    expect(secrets.subjects()).toContain('dest-x');
    secrets.remove('dest-x');
    expect(secrets.get('dest-x')).toBeNull();
  });

  test('do not open under another subject', () => {
    secrets.set('stream-key:a', 'one', 5);
    database
      .prepare('INSERT INTO secret SELECT ?, sealed, changed_ms FROM secret WHERE subject = ?')
      .run('stream-key:b', 'stream-key:a');
    expect(secrets.get('stream-key:b')).toBeNull();
  });

  test('are to be entered again, one by one, when their key file is lost or damaged; nothing else stops', () => {
    const told: string[] = [];
    for (const subject of secrets.subjects()) secrets.remove(subject);
    secrets.set('stream-key:a', 'one', 5);
    secrets.set('stream-key:b', 'two', 5);
    const file = path.join(folder, 'other.key');
    const other = new SecretRepository(database, file, (words) => told.push(words));
    expect([...other.lost].sort()).toEqual(['stream-key:a', 'stream-key:b']);
    expect([other.get('stream-key:a'), other.changedMs('stream-key:a'), other.subjects()]).toEqual([
      null,
      null,
      [],
    ]);
    expect(told).toEqual([expect.stringMatching(/does not open 2 of the stored .* enter them again/)]);
    other.set('stream-key:a', 'three', 6);
    expect([other.get('stream-key:a'), [...other.lost]]).toEqual(['three', ['stream-key:b']]);
    // The first file, put back, opens what was stored with it.
    expect([...new SecretRepository(database, path.join(folder, 'secrets.key')).lost]).toEqual([
      'stream-key:a',
    ]);
    writeFileSync(file, 'x');
    const third = new SecretRepository(database, file, (words) => told.push(words));
    expect(third.lost.size).toBe(2);
    expect(told[1]).toMatch(/was damaged: it is kept as other.key.damaged/);
    expect(readFileSync(`${file}.damaged`, 'utf8')).toBe('x');
    expect(() => new SecretRepository(database, path.join(folder, 'no', 'such', 'folder'))).toThrow(
      /cannot be used/,
    );
  });

  test('have a key file that is closed to others from now on, which is said', () => {
    const told: string[] = [];
    const file = path.join(folder, 'open.key');
    writeFileSync(file, Buffer.alloc(32, 7), { mode: 0o644 });
    new SecretRepository(database, file, (words) => told.push(words));
    expect(statSync(file).mode & 0o777).toBe(0o600);
    expect(told[0]).toMatch(/could be read by others/);
  });

  test('of an earlier version get their names; those of what is gone are forgotten', () => {
    database
      .prepare('INSERT INTO hook (id, show_id, name, created_ms) VALUES (?, ?, ?, 1)')
      .run('h1', SHOW, 'Till');
    const kept = ['dest-larch', 'hook:h1', 'broadcast', 'announce:night-signal-box'];
    for (const subject of [
      ...kept,
      'dest-gone',
      'account:dest-gone',
      'input-address:gone',
      'input-key:gone',
      'chat:gone',
    ])
      secrets.set(subject, `of ${subject}`, 5);
    const again = new SecretRepository(database, path.join(folder, 'secrets.key'));
    expect([again.get('dest-larch'), again.get('stream-key:dest-larch')]).toEqual([null, 'of dest-larch']);
    expect(again.changedMs('stream-key:dest-larch')).toBe(5);
    again.sweep();
    for (const subject of ['stream-key:dest-larch', 'hook:h1', 'broadcast', 'announce:night-signal-box'])
      expect(again.subjects()).toContain(subject);
    expect(again.subjects().filter((subject) => subject.includes('gone'))).toEqual([]);
  });
});

describe('assets', () => {
  const body = async function* (...parts: Uint8Array[]) {
    yield* parts;
  };
  // The smallest PNG there is: one pixel.
  const png = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  );

  test('are named by their contents and known by their bytes, whatever they are called', async () => {
    const store = new AssetStore(database, path.join(folder, 'assets'));
    const first = await store.add('../../evil.mp4', body(png.subarray(0, 20), png.subarray(20)), 1);
    expect(first).toMatchObject({ name: 'evil.mp4', mime: 'image/png', bytes: png.length });
    expect((await store.add('again.png', body(png), 2)).id).toBe(first.id);
    expect(readFileSync(store.pathOf(first.id)).equals(png)).toBe(true);
    expect(store.list()).toHaveLength(1);
  });

  test('that are empty or of another kind are refused and leave nothing behind', async () => {
    const store = new AssetStore(database, path.join(folder, 'assets'));
    await expect(store.add('a.png', body(), 1)).rejects.toThrow(/is empty/);
    await expect(store.add('a.png', body(Buffer.from('#!/bin/sh\nexit 0\n')), 1)).rejects.toThrow(
      /neither picture, video nor sound/,
    );
    await expect(store.add('a.png', body(Buffer.from('%PDF-1.4\n%âãÏÓ\n')), 1)).rejects.toThrow(/pdf file/);
    expect((await import('node:fs')).readdirSync(path.join(folder, 'assets'))).toEqual([]);
  });
});

test('a folder that cannot be written gets one clear line', () => {
  const file = path.join(folder, 'a-file');
  writeFileSync(file, '');
  expect(() => openDatabase(path.join(file, 'x', 'db.sqlite'), MIGRATIONS)).toThrow(
    /choose another with --data/,
  );
});
