import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import type { AnyRecord } from '../../core/show/records';
import { sampleInput, sampleShow } from '../../core/show/sample-show';
import { openDatabase, type Database } from '../db/database';
import { SettingRepository } from '../db/setting-repository';
import { ShowRepository } from '../db/show-repository';
import type { OpenShows } from '../web/open-shows';
import { AssetStore } from './asset-store';
import { FileKeeper } from './file-keeper';

const DAY = 86_400_000;
/** A picture of one pixel (GIF87a), told apart by a comment. */
const picture = (words: string) =>
  Buffer.concat([
    Buffer.from('GIF89a\x01\x00\x01\x00\x80\x00\x00\xff\xff\xff\x00\x00\x00', 'latin1'),
    Buffer.from(`!\xfe${String.fromCharCode(words.length)}${words}\x00`, 'latin1'),
    Buffer.from(',\x00\x00\x00\x00\x01\x00\x01\x00\x00\x02\x02D\x01\x00;', 'latin1'),
  ]);

let folder: string;
let database: Database;
let shows: ShowRepository;
let assets: AssetStore;
let keeper: FileKeeper;
let now: number;
const edits: { showId: string; name: string; put: AnyRecord[]; seen: readonly AnyRecord[] }[] = [];

async function bring(name: string): Promise<string> {
  return (await assets.add(name, [picture(name)] as unknown as AsyncIterable<Uint8Array>, now)).id;
}
const shown = (showId: string, inputId: string, assetId: string): AnyRecord => ({
  ...sampleInput(inputId, { source: { type: 'picture', assetId, loop: true } }),
  ...{ showId, name: `Input ${inputId}` },
});
const show = (id: string, ...records: AnyRecord[]) =>
  shows.create([{ ...sampleShow, id, showId: id, name: `Show ${id}` }, ...records]);
const brief = () =>
  keeper
    .list()
    .map(({ name, uses, unusedMs, removedMs }) => [
      name,
      uses.map((use) => `${use.show}: ${use.records.join()}`),
      ...[unusedMs, removedMs],
    ]);

beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-files-'));
  database = openDatabase(':memory:', path.resolve(import.meta.dirname, '../../db/migrations'));
  shows = new ShowRepository(database);
  assets = new AssetStore(database, folder, () => 1e12);
  now = 1000 * DAY;
  edits.length = 0;
  const open = {
    find: () => null,
    get: (showId: string) => ({
      edit: ({ name, put }: { name: string; put: AnyRecord[] }, seen: readonly AnyRecord[]) =>
        edits.push({ showId, name, put, seen }),
    }),
  } as unknown as OpenShows;
  keeper = new FileKeeper({ assets, shows, open, settings: new SettingRepository(database), now: () => now });
});
afterEach(() => {
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

test('each file has the shows and records that name it, also of a show that was deleted', async () => {
  const [logo, old] = [await bring('logo.gif'), await bring('old.gif')];
  await bring('spare.gif');
  show('one', shown('one', 'a', logo), shown('one', 'b', logo));
  show('two', shown('two', 'c', logo), shown('two', 'd', old));
  shows.stamp('two', 'removed', now);
  expect(brief().sort()).toEqual([
    ['logo.gif', expect.arrayContaining(['Show one: Input a,Input b', 'Show two: Input c']), null, null],
    ['old.gif', ['Show two: Input d'], null, null],
    ['spare.gif', [], null, null],
  ]);
});

test('what is used is not removed, and then nothing is; what is not can be brought back, and is by being brought in again', async () => {
  const [logo, spare] = [await bring('logo.gif'), await bring('spare.gif')];
  show('one', shown('one', 'a', logo));
  expect(() => keeper.remove([spare, logo])).toThrow('“logo.gif” is used by Show one');
  expect(brief().every(([, , , removedMs]) => removedMs === null)).toBe(true);
  keeper.remove([spare]);
  expect(brief().find(([name]) => name === 'spare.gif')).toEqual(['spare.gif', [], null, now]);
  keeper.restore([spare]);
  expect(brief().find(([name]) => name === 'spare.gif')).toEqual(['spare.gif', [], null, null]);
  keeper.remove([spare]);
  expect(await bring('spare.gif')).toBe(spare);
  expect(brief().find(([name]) => name === 'spare.gif')![3]).toBeNull();
  // Until it is gone for good it can still be shown: a page may undo what took it away.
  keeper.remove([spare]);
  expect(assets.find(spare)).toMatchObject({ name: 'spare.gif' });
});

test('thirty days after it was removed a file is gone, unless it is used again', async () => {
  const [spare, again] = [await bring('spare.gif'), await bring('again.gif')];
  keeper.remove([spare, again]);
  now += 29 * DAY;
  await keeper.sweep();
  expect(brief()).toHaveLength(2);
  show('one', shown('one', 'a', again));
  now += 2 * DAY;
  await keeper.sweep();
  expect(brief()).toEqual([['again.gif', ['Show one: Input a'], null, null]]);
  expect([existsSync(assets.pathOf(spare)), existsSync(assets.pathOf(again))]).toEqual([false, true]);
});

test('by the rule: never at first; then what was not used for so long', async () => {
  const spare = await bring('spare.gif');
  await keeper.sweep();
  const seen = now;
  now += 400 * DAY;
  await keeper.sweep();
  expect(brief()).toEqual([['spare.gif', [], seen, null]]);
  expect(keeper.rule).toBe(0);
  keeper.rule = 90;
  await keeper.sweep();
  expect(brief()).toEqual([['spare.gif', [], seen, now]]);
  keeper.restore([spare]);
  // Used in between, it counts from its last use.
  show('one', shown('one', 'a', spare));
  await keeper.sweep();
  expect(brief()[0][2]).toBeNull();
  keeper.rule = 0;
  expect(keeper.rule).toBe(0);
});

test('another file takes its place in every show, as an edit that was made from what there was', async () => {
  const [logo, fresh] = [await bring('logo.gif'), await bring('fresh.gif')];
  show('one', shown('one', 'a', logo), shown('one', 'b', fresh));
  show('two', shown('two', 'c', logo));
  show('gone', shown('gone', 'd', logo));
  shows.stamp('gone', 'removed', now);
  keeper.remove([]);
  expect(keeper.replace(logo, fresh)).toBe(2);
  expect(
    edits
      .map(({ showId, name, put, seen }) => [showId, name, put.map((r) => r.id), seen.map((r) => r.id)])
      .sort(),
  ).toEqual([
    ['one', 'Replace logo.gif', ['a'], ['a']],
    ['two', 'Replace logo.gif', ['c'], ['c']],
  ]);
  expect(edits[0].put[0]).toMatchObject({ source: { assetId: fresh } });
  expect(edits[0].seen[0]).toMatchObject({ source: { assetId: logo } });
  expect(() => keeper.replace(logo, 'f'.repeat(40))).toThrow('not here any more');
  const table = 'TITLE "x"\nLUT_1D_SIZE 2\n0 0 0\n1 1 1\n';
  const cube = await assets.add('x.cube', [Buffer.from(table)] as unknown as AsyncIterable<Uint8Array>, now);
  expect(() => keeper.replace(logo, cube.id)).toThrow('another kind of file');
});
