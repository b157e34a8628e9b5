import { createWriteStream, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import Ajv from 'ajv/dist/2020';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import yazl from 'yazl';
import { documentOf, recordsOf } from '../../core/show/document';
import { firstDestination, firstShow } from '../../core/show/new-show';
import type { AnyRecord, InputRecord } from '../../core/show/records';
import { openDatabase, type Database } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import { AssetStore } from '../vault/asset-store';
import { readArchive } from './read-archive';
import { openKeys, sealKeys } from './sealed-keys';
import { writeArchive } from './write-archive';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../db/migrations');
const SCHEMA = path.resolve(import.meta.dirname, '../../docs/schemas/show-archive.schema.json');
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

let folder: string;
let here: { database: Database; assets: AssetStore; secrets: SecretRepository };
let there: typeof here;
let records: AnyRecord[];
let destinationId: string;
let fileId: string;
let ids = 0;
const newId = () => `id-${++ids}`;

function studio(name: string): typeof here {
  const database = openDatabase(':memory:', MIGRATIONS);
  return {
    database,
    assets: new AssetStore(database, path.join(folder, name)),
    secrets: new SecretRepository(database, path.join(folder, `${name}.key`)),
  };
}

beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-archive-'));
  [here, there] = [studio('here'), studio('there')];
  const body = (async function* () {
    yield PNG;
  })();
  fileId = (await here.assets.add('badge.png', body, 1)).id;
  records = firstShow('s', 'Night school', 'lampwright', newId);
  const { destination } = firstDestination(
    documentOf(records),
    { url: 'rtmp://ingest.example/live', name: 'Larch', title: 'First' },
    newId,
  );
  destinationId = destination.id;
  const camera = records.find((r): r is InputRecord => r.kind === 'input')!;
  records.push(destination, {
    ...camera,
    id: 'badge',
    name: 'Badge',
    source: { type: 'picture', assetId: fileId, loop: true },
  });
  here.secrets.set(subjects.streamKey(destinationId), 'hut-nine-4711', 1);
});
afterEach(() => {
  for (const { database } of [here, there]) database.close();
  rmSync(folder, { recursive: true, force: true });
});

const file = () => path.join(folder, 'show.zip');
async function write(passphrase: string | null): Promise<void> {
  const keys = passphrase === null ? null : { secrets: here.secrets, passphrase };
  await pipeline(writeArchive(documentOf(records), here.assets, keys, null, 5), createWriteStream(file()));
}
const read = (passphrase = '') =>
  readArchive(file(), there.assets, 'new', (name) => `${name} 2`, passphrase, 9);

/** A ZIP with these entries, as somebody else might make it. */
async function zipped(entries: Record<string, Buffer | string>): Promise<void> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of Object.entries(entries)) zip.addBuffer(Buffer.from(content), name);
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(file()));
}
const json = (more: object = {}) =>
  JSON.stringify({ format: 'dolomite-show', version: 1, madeAt: 'x', records, files: [], ...more });

describe('an archive', () => {
  test('is a show of its own on another computer, with its files and, by its passphrase, its keys', async () => {
    await write('a long passphrase');
    expect(readFileSync(file()).includes('hut-nine-4711')).toBe(false);
    const locked = await read();
    expect([locked.lockedKeys, locked.secrets]).toEqual([true, {}]);
    const shown = await read('a long passphrase');
    expect(shown.records).toHaveLength(records.length);
    const whole = documentOf(shown.records);
    expect(recordsOf(whole, 'show')[0]).toMatchObject({ id: 'new', name: 'Night school 2' });
    for (const { id } of records) expect(whole.has(id)).toBe(false);
    const destination = recordsOf(whole, 'destination')[0];
    expect(shown.secrets).toEqual({ [destination.id]: 'hut-nine-4711' });
    expect(readFileSync(there.assets.pathOf(fileId)).equals(PNG)).toBe(true);
    await expect(read('another passphrase')).rejects.toThrow(/does not open the keys/);
  });

  test('is as its published schema says, with keys and without', async () => {
    const valid = new Ajv({ strict: true, allowUnionTypes: true }).compile(
      JSON.parse(readFileSync(SCHEMA, 'utf8')) as object,
    );
    for (const keys of [undefined, sealKeys({ a: 'b' }, 'a long passphrase')]) {
      const archive = JSON.parse(json({ files: here.assets.list(), ...(keys && { keys }) })) as object;
      expect(valid(archive), JSON.stringify(valid.errors)).toBe(true);
    }
    expect(valid({ format: 'dolomite-show' })).toBe(false);
  });

  test('breaks off where a file of the show cannot be read, and takes nothing with it', async () => {
    rmSync(here.assets.pathOf(fileId));
    await expect(write(null)).rejects.toThrow(/ENOENT/);
    await expect(read()).rejects.toThrow(/no whole ZIP/);
  });

  test('names files that it does not have, and the show comes all the same', async () => {
    const missing = { id: 'a'.repeat(40), name: 'lost.png', mime: 'image/png', bytes: 5 };
    await zipped({ 'show.json': json({ files: [missing] }) });
    expect((await read()).missing).toEqual(['lost.png']);
  });
});

describe('a file that is none, or means harm, is refused with words', () => {
  test('nothing, garbage, a cut archive, another ZIP', async () => {
    for (const [content, words] of [
      ['', /no whole ZIP/],
      ['PK\u0003\u0004 but not really', /no whole ZIP/],
    ] as const) {
      writeFileSync(file(), content);
      await expect(read()).rejects.toThrow(words);
    }
    await write(null);
    const whole = readFileSync(file());
    for (const at of [10, Math.floor(whole.length / 2), whole.length - 3]) {
      writeFileSync(file(), whole.subarray(0, at));
      await expect(read()).rejects.toThrow(/no whole ZIP|damaged/);
    }
    await zipped({ 'readme.txt': 'hello' });
    await expect(read()).rejects.toThrow(/no show of Dolomite/);
  });

  test.each([
    ['another format', { format: 'other' }, /no show of Dolomite/],
    ['a version to come', { version: 2 }, /newer Dolomite/],
    ['no version', { version: null }, /which version/],
    ['records that are none', { records: [{ kind: 'scene' }] }, /required/],
    ['no list of records', { records: 'x' }, /damaged/],
    ['a file with another name', { files: [{ id: '../x', name: 'x', mime: 'x', bytes: 1 }] }, /damaged/],
  ])('%s', async (_, more, words) => {
    await zipped({ 'show.json': json(more) });
    await expect(read()).rejects.toThrow(words);
    expect(there.assets.list()).toEqual([]);
  });

  test('records of two shows, twice the same, or that point at nothing', async () => {
    const layer = records.find((r) => r.kind === 'layer' && r.sceneId !== null)!;
    for (const [changed, words] of [
      [[...records, { ...records[0], id: 'second', showId: 'second' }], /one show/],
      [[...records, records[3]], /one show/],
      [records.map((r) => (r === layer ? { ...r, sceneId: 'gone' } : r)), /points at gone/],
    ] as const) {
      await zipped({ 'show.json': json({ records: changed }) });
      await expect(read()).rejects.toThrow(words);
    }
  });

  test('a file whose bytes are others, a name twice, a list without end, a show that unpacks to gigabytes', async () => {
    const wrong = { id: 'b'.repeat(40), name: 'badge.png', mime: 'image/png', bytes: PNG.length };
    await zipped({ 'show.json': json({ files: [wrong] }), [`assets/${wrong.id}`]: PNG });
    await expect(read()).rejects.toThrow(/not the file it was/);
    await zipped(Object.fromEntries(Array.from({ length: 5001 }, (_, i) => [`x/${i}`, ''])));
    await expect(read()).rejects.toThrow(/more than 5000 files/);
    await zipped({ 'show.json': Buffer.alloc(65 * 1024 * 1024, ' ') });
    // It is small until it is unpacked.
    expect(statSync(file()).size).toBeLessThan(1024 * 1024);
    await expect(read()).rejects.toThrow(/larger than it may be/);
  });

  test('keys that would keep this computer busy for minutes', () => {
    const keys = sealKeys({ a: 'b' }, 'a long passphrase');
    expect(openKeys(keys, 'a long passphrase')).toEqual({ a: 'b' });
    expect(() => openKeys({ ...keys, n: 1 << 24 }, 'a long passphrase')).toThrow(/damaged/);
    expect(() => openKeys({ ...keys, sealed: 'AAAA' }, 'a long passphrase')).toThrow(/does not open/);
    expect(() => sealKeys({}, 'short')).toThrow(/at least 8/);
  });
});
