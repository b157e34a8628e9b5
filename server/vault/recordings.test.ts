import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { openDatabase, type Database } from '../db/database';
import { SettingRepository } from '../db/setting-repository';
import { createLog } from '../log';
import { RecordingFolder } from './recording-folder';
import { RecordingRepository, type RecordingFacts } from './recording-repository';
import { VaultJobs } from './vault-jobs';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../db/migrations');
const OURS = '2026-11-23 20-00-00 Night abcdef12.mkv';

let folder: string;
let database: Database;
let place: RecordingFolder;
let recordings: RecordingRepository;
let films: string;

beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-recordings-'));
  const data = path.join(folder, 'data');
  films = path.join(folder, 'films');
  mkdirSync(path.join(data, 'recordings'), { recursive: true });
  mkdirSync(films);
  database = openDatabase(path.join(data, 'dolomite.sqlite'), MIGRATIONS);
  place = new RecordingFolder(new SettingRepository(database), path.join(data, 'recordings'));
  recordings = new RecordingRepository(database, place, createLog('test'));
});
afterEach(() => {
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

const facts = (more: Partial<RecordingFacts>): RecordingFacts => ({
  id: 'one',
  showId: 's',
  folder: '',
  file: OURS,
  startedMs: 1000,
  seconds: 60,
  bytes: 9,
  note: '',
  kind: 'recording',
  title: '',
  madeFrom: null,
  eveningId: null,
  ...more,
});

describe('the folder of one’s own', () => {
  test('is the studio’s until another one is chosen, and again when it is emptied', () => {
    expect(place).toMatchObject({ chosen: null, usable: place.home, problem: null });
    place.choose(films);
    expect(place).toMatchObject({ chosen: films, usable: films, problem: null });
    expect(readdirSync(films)).toEqual([]);
    place.choose(null);
    expect(place.usable).toBe(place.home);
    place.choose(place.home);
    expect(place.chosen).toBeNull();
  });

  test.each([
    ['films', 'whole path'],
    ['/nowhere/at/all', 'is not there'],
    ['DATA', 'inside the studio’s own data'],
    ['DATA/assets', 'inside the studio’s own data'],
    ['FILE', 'is a file'],
  ])('%s is refused, with what to do', (given, message) => {
    const file = path.join(folder, 'file');
    writeFileSync(file, '');
    const asked = given.replace('DATA', path.join(folder, 'data')).replace('FILE', file);
    expect(() => place.choose(asked)).toThrow(message);
    expect(place.chosen).toBeNull();
  });

  test('one that nobody may write in is refused', () => {
    chmodSync(films, 0o500);
    // Root may write everywhere.
    if (process.getuid?.() === 0) expect(() => place.choose(films)).not.toThrow();
    else expect(() => place.choose(films)).toThrow('nothing can be written');
    chmodSync(films, 0o700);
  });

  test('a disk that is taken out: recordings go to the studio’s own folder, and it is said', () => {
    place.choose(films);
    rmSync(films, { recursive: true });
    expect(place.usable).toBe(place.home);
    expect(place.problem).toContain('is not there');
    expect(place.freeBytes()).toBeGreaterThan(0);
    mkdirSync(films);
    expect(place.usable).toBe(films);
  });
});

describe('recordings', () => {
  test('are found again in both folders; what other programs put there is left alone', async () => {
    place.choose(films);
    writeFileSync(path.join(place.home, 'Clip of anything.mkv'), 'not a film');
    writeFileSync(path.join(films, OURS), 'cut off');
    writeFileSync(path.join(films, 'holidays.mp4'), 'private');
    writeFileSync(path.join(films, OURS.replace('12.mkv', '13-2.mkv')), 'being written');
    await recordings.scan('s', [OURS.replace('12.mkv', '13-2.mkv')]);
    const list = recordings.list('s');
    expect(list.map((r) => [r.folder, r.file]).sort()).toEqual([
      ['', 'Clip of anything.mkv'],
      [films, OURS],
    ]);
    expect(list[0].note).toContain('cannot be read');
    expect(list.map((r) => recordings.pathOf(r)).every((file) => existsSync(file))).toBe(true);
  });

  test('the same name may stand in two folders; one is deleted, the other stays', () => {
    recordings.enter(facts({}));
    recordings.enter(facts({ id: 'two', folder: films }));
    writeFileSync(path.join(films, OURS), 'x');
    writeFileSync(path.join(place.home, OURS), 'x');
    recordings.remove('two');
    expect(existsSync(path.join(films, OURS))).toBe(false);
    expect(existsSync(path.join(place.home, OURS))).toBe(true);
    recordings.enter(facts({ id: 'again', seconds: 90 }));
    recordings.rename('one', 'Opening night');
    expect(recordings.list('s')).toMatchObject([{ id: 'one', seconds: 90, title: 'Opening night' }]);
    recordings.remove('nobody');
  });

  test('a name with a path in it leads nowhere else', () => {
    expect(recordings.pathOf(facts({ file: '../../secrets.key' }))).toBe(
      path.join(place.home, 'secrets.key'),
    );
  });
});

describe('copies', () => {
  const jobs = () =>
    new VaultJobs({
      recordings,
      writes: { do: (write) => write() },
      script: '/nowhere.mjs',
      log: createLog('test'),
      changed: () => undefined,
    });
  const order = { recordingId: 'one', to: 'mp4' as const, fromSeconds: null, toSeconds: null };

  test('of what is gone, or of nothing, are refused', () => {
    const vault = jobs();
    expect(() => vault.add(order)).toThrow('gone');
    recordings.enter(facts({}));
    expect(() => vault.add({ ...order, fromSeconds: 5, toSeconds: 5 })).toThrow('after the beginning');
    vault.close();
  });

  test('a file that was moved away fails with a reason and leaves nothing behind', async () => {
    recordings.enter(facts({}));
    const vault = jobs();
    const job = vault.add(order);
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(job).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('not where it was') as string,
    });
    expect(readdirSync(place.home)).toEqual([]);
    vault.close();
  });

  test('the next one waits, and can be cancelled', async () => {
    recordings.enter(facts({}));
    writeFileSync(path.join(place.home, OURS), 'x');
    const vault = jobs();
    const [first, second] = [vault.add(order), vault.add({ ...order, title: 'Best: of' })];
    expect([first.state, second.state]).toEqual(['running', 'waiting']);
    vault.cancel(second.id);
    expect(second.state).toBe('cancelled');
    // Its program does not exist here.
    await expect.poll(() => first.state).toBe('failed');
    expect(first.message).toContain('The original is as it was');
    vault.close();
  });
});
