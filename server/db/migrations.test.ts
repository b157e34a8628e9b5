import {
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { recordSchemas } from '../../protocol/record-schemas';
import { EntryRepository } from '../audience/entry-repository';
import { openDatabase } from './database';
import { ShowRepository } from './show-repository';

const ALL = path.resolve('db/migrations');
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-migrations-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const placement = {
  cx: 960,
  cy: 540,
  width: 640,
  height: 360,
  rotationDeg: 0,
  opacity: 1,
  cornerPx: 0,
  crop: { left: 0, top: 0, right: 0, bottom: 0 },
  borderPx: 0,
  borderColour: '#ECE8E1',
  shadowPx: 0,
};
const style = {
  font: 'Hanken Grotesk Variable',
  sizePx: 48,
  weight: 600,
  colour: '#ECE8E1',
  align: 'left',
  box: 'none',
};

test('a show made by the first version is whole after all migrations', () => {
  const first = path.join(folder, 'first');
  mkdirSync(first);
  copyFileSync(path.join(ALL, '001-show.sql'), path.join(first, '001-show.sql'));
  const file = path.join(folder, 'dolomite.sqlite');
  const old = openDatabase(file, first);
  const row = (table: string, id: string, data: object, more: Record<string, string | null> = {}) => {
    const columns = { id, show_id: 's', name: id, position: 0, data: JSON.stringify(data), ...more };
    const names = Object.keys(columns);
    old
      .prepare(`INSERT INTO ${table} (${names.join()}) VALUES (${names.map((n) => `@${n}`).join()})`)
      .run(columns);
  };
  const size = { width: 1920, height: 1080 };
  row('show', 's', {
    frames: { wide: { ...size, used: true }, tall: { width: 1080, height: 1920, used: false } },
    fields: { host: 'lampwright' },
  });
  row('scene', 'sc', { folder: '', transition: { type: 'fade', seconds: 0.5 }, background: '#14181D' });
  const camera = {
    type: 'camera',
    deviceId: 'd',
    deviceLabel: 'Desk',
    width: 1280,
    height: 720,
    fps: 30,
    mirrored: true,
  };
  row('input', 'cam', { source: camera });
  row('input', 'clip', { source: { type: 'video', assetId: 'abc', loop: false } });
  row('input', 'still', { source: { type: 'picture', assetId: 'def' } });
  row('input', 'scr', { source: { type: 'screen' } });
  const layer = (id: string, content: object) =>
    row(
      'layer',
      id,
      { visible: true, locked: false, content, placements: { wide: placement } },
      { scene_id: 'sc' },
    );
  layer('box', { type: 'fill', colour: '#26324F' });
  layer('words', { type: 'text', text: 'Hut Nine', style });
  layer('chat', { type: 'chatPanel', style, keepSeconds: 60 });
  layer('pic', { type: 'input', inputId: 'clip', fit: 'fill' });
  row('destination', 'dest', { url: 'rtmp://127.0.0.1/live', enabled: true, standIn: null });
  row('plan', 'plan', {
    width: 960,
    height: 540,
    fps: 30,
    videoKbps: 2000,
    audioKbps: 160,
    keyframeSeconds: 2,
  });
  const channel = (id: string, source: object) =>
    row('channel', id, { source, gainDb: -3, muted: true, heard: 'always', pictureInputId: null });
  channel('mic', { type: 'microphone', deviceId: 'd', deviceLabel: 'Desk' });
  channel('made-up', { type: 'simulated', sound: 'voice' });
  channel('video', { type: 'input', inputId: 'clip' });
  row('alert_rule', 'rule', { event: 'follow', text: '{{name}} follows', seconds: 5 });
  const recorded = old.prepare(
    "INSERT INTO recording (id, show_id, file, started_ms, seconds, bytes) VALUES ('r', 's', 'a.mkv', 5, 60, 9)",
  );
  recorded.run();
  old.close();

  const database = openDatabase(file, ALL);
  const { records } = new ShowRepository(database).load('s');
  expect(database.prepare('SELECT * FROM recording').all()).toMatchObject([
    { id: 'r', folder: '', file: 'a.mkv', seconds: 60, kind: 'recording' },
  ]);
  database.close();
  for (const record of records)
    expect(recordSchemas[record.kind].validate(record, { convert: false }).error, record.id).toBeUndefined();
  const by = new Map(records.map((r) => [r.id, r]));
  expect(by.get('cam')).toMatchObject({ mirrored: true, keepReady: true, turnDeg: 0, standInId: null });
  expect(by.get('clip')).toMatchObject({
    source: { type: 'clips', files: [{ assetId: 'abc', name: 'clip' }], atEnd: 'stop', start: 'always' },
  });
  expect(by.get('box')).toMatchObject({
    content: { type: 'shape', shape: 'rectangle', colour: '#26324F' },
    groupId: null,
  });
  expect(by.get('words')).toMatchObject({
    content: { style: { wrap: true, outlinePx: 0, tickerPxPerSecond: 0 } },
  });
  expect(by.get('s')).toMatchObject({ sound: { targetLufs: -16, ceilingDbtp: -1 } });
  expect(by.get('mic')).toMatchObject({
    role: 'voice',
    gainDb: -3,
    muted: true,
    source: { processed: false },
  });
  expect(by.get('made-up')).toMatchObject({ role: 'voice', tracks: [1], ducking: null });
  expect(by.get('video')).toMatchObject({ role: 'background', chain: { bypassed: false, processors: [] } });
  expect(by.get('dest')).toMatchObject({ frame: 'wide', encodedBy: 'desk' });
  expect(by.get('plan')).toMatchObject({ frames: { wide: { width: 960, height: 540, videoKbps: 2000 } } });
  expect(by.get('plan')).not.toHaveProperty('width');
});

describe('before and beside a migration', () => {
  const migrations = (...files: [string, string][]) => {
    const made = mkdtempSync(path.join(folder, 'm-'));
    for (const [name, sql] of files) writeFileSync(path.join(made, name), sql);
    return made;
  };
  const first: [string, string] = ['001-a.sql', 'CREATE TABLE thing (id TEXT PRIMARY KEY)'];
  const file = () => path.join(folder, 'data', 'dolomite.sqlite');
  const backups = () => readdirSync(path.join(folder, 'data', 'backups')).sort();

  test('the whole database is copied; the last three copies are kept', () => {
    openDatabase(file(), migrations(first)).close();
    expect(readdirSync(path.join(folder, 'data'))).not.toContain('backups');
    const steps = [first];
    for (let n = 2; n <= 6; n++) {
      const before = openDatabase(file(), migrations(...steps));
      before.prepare('INSERT INTO thing VALUES (?)').run(`before ${n}`);
      before.close();
      steps.push([`00${n}-x.sql`, `CREATE TABLE t${n} (id TEXT)`]);
      openDatabase(file(), migrations(...steps)).close();
    }
    expect(backups().map((name) => /version \d/.exec(name)?.[0])).toEqual([
      'version 3',
      'version 4',
      'version 5',
    ]);
    const copy = openDatabase(
      path.join(folder, 'data', 'backups', backups()[1]),
      migrations(...steps.slice(0, 4)),
    );
    expect(copy.prepare('SELECT id FROM thing ORDER BY id').pluck().all()).toEqual(
      ['before 2', 'before 3', 'before 4', 'before 5'].slice(0, 4),
    );
    copy.close();
    expect(statSync(path.join(folder, 'data', 'backups', backups()[0])).mode & 0o777).toBe(0o600);
    for (const file of readdirSync(path.join(folder, 'data')).filter((name) =>
      name.startsWith('dolomite.sqlite'),
    ))
      expect([file, statSync(path.join(folder, 'data', file)).mode & 0o777]).toEqual([file, 0o600]);
  });

  test('one that fails says where the copy is, and changes nothing; with the copy the earlier version goes on', () => {
    const old = openDatabase(file(), migrations(first));
    old.prepare('INSERT INTO thing VALUES (?)').run('lamp');
    old.close();
    const broken = migrations(first, [
      '002-b.sql',
      "INSERT INTO thing VALUES ('half'); CREATE TABLE thing (id)",
    ]);
    let words = '';
    try {
      openDatabase(file(), broken);
    } catch (error) {
      words = (error as Error).message;
    }
    const copy = /A copy from before lies at (.*\.sqlite): /.exec(words)?.[1];
    expect(words).toMatch(/could not be brought up to date \(002-b.sql/);
    for (const name of [file(), copy!]) {
      const again = openDatabase(name, migrations(first));
      expect(again.prepare('SELECT id FROM thing').pluck().all()).toEqual(['lamp']);
      again.close();
    }
  });

  test('a newer, a damaged and a foreign file are refused, each with its own words, and left as they are', () => {
    const two = migrations(first, ['002-b.sql', 'CREATE TABLE other (id TEXT)']);
    const made = openDatabase(file(), two);
    const insert = made.prepare('INSERT INTO thing VALUES (?)');
    for (let i = 0; i < 2000; i++) insert.run(`${i} ${'x'.repeat(40)}`);
    made.close();
    expect(() => openDatabase(file(), migrations(first))).toThrow(
      /made by a newer Dolomite \(its version is 2, this one knows 1\)/,
    );
    const whole = readFileSync(file());
    const damaged = Buffer.from(whole);
    damaged.fill(0x5a, 4096 * 3, 4096 * 9);
    writeFileSync(file(), damaged);
    expect(() => openDatabase(file(), two)).toThrow(/is damaged .* put a copy from .*backups in its place/);
    writeFileSync(file(), 'this is no database at all, but a letter of some length to somebody');
    expect(() => openDatabase(file(), two)).toThrow(/is damaged/);
    expect(readFileSync(file(), 'utf8')).toContain('a letter');
    writeFileSync(path.join(folder, 'plain'), '');
    expect(() => openDatabase(path.join(folder, 'plain', 'x.sqlite'), two)).toThrow(/cannot be written/);
  });
});

test('what viewers did before there were several shows belongs to the show there was, and is found again', () => {
  const until12 = path.join(folder, 'until12');
  mkdirSync(until12);
  for (const name of readdirSync(ALL))
    if (name < '013') copyFileSync(path.join(ALL, name), path.join(until12, name));
  const file = path.join(folder, 'dolomite.sqlite');
  const old = openDatabase(file, until12);
  old.exec(`
    INSERT INTO show (id, show_id, name, position, data) VALUES ('s', 's', 'Night', 0, '{}');
    INSERT INTO audience_entry (platform, event_id, type, viewer, at_ms, words, data, pinned)
      VALUES ('larch', 'e1', 'chat', 'moss', 5, 'left spur', '{"type":"chat","viewer":"moss"}', 1);
    INSERT INTO audience_state (id, since_ms, read_seq) VALUES (1, 4, 1);
    INSERT INTO hook (id, name, created_ms) VALUES ('h', 'Till', 1);
    INSERT INTO chat_server (id, name, host, port, tls, nick, channels) VALUES ('c', 'hut', 'x', 1, 0, 'n', '[]');
  `);
  old.close();
  const database = openDatabase(file, ALL);
  const entries = new EntryRepository(database, 's');
  const page = { show: 'all', platform: '', before: null, after: null } as const;
  expect(entries.page({ ...page, search: 'spur' }).map((e) => [e.event.seq, e.pinned])).toEqual([[1, true]]);
  expect([entries.sinceMs(9), entries.readSeq()]).toEqual([4, 1]);
  for (const table of ['hook', 'chat_server'])
    expect(database.prepare(`SELECT show_id FROM ${table}`).pluck().all()).toEqual(['s']);
  database.exec("DELETE FROM show WHERE id = 's'");
  expect(entries.page({ ...page, search: 'spur' })).toEqual([]);
  database.close();
});
