import { createWriteStream, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import Ajv from 'ajv/dist/2020';
import { afterEach, beforeEach, expect, test } from 'vitest';
import yazl from 'yazl';
import { SHIPPED_KITS } from '../../core/kits/kits';
import type { Kit } from '../../core/parts/kit';
import { documentOf, recordsOf, type ShowDocument } from '../../core/show/document';
import { firstShow } from '../../core/show/new-show';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import { openDatabase, type Database } from '../db/database';
import { AssetStore } from '../vault/asset-store';
import { readKit, writeKit } from './kits';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../db/migrations');
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);
const valid = new Ajv({ strict: true, allowUnionTypes: true }).compile(
  JSON.parse(
    readFileSync(path.resolve(import.meta.dirname, '../../docs/schemas/kit.schema.json'), 'utf8'),
  ) as object,
);

let folder: string;
let databases: Database[];
let here: AssetStore;
let there: AssetStore;
let from: ShowDocument;
let target: ShowDocument;
let fileId: string;
let ids = 0;
beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-kit-'));
  databases = [openDatabase(':memory:', MIGRATIONS), openDatabase(':memory:', MIGRATIONS)];
  [here, there] = databases.map((database, i) => new AssetStore(database, path.join(folder, String(i))));
  const body = (async function* () {
    yield PNG;
  })();
  fileId = (await here.add('badge.png', body, 1)).id;
  from = documentOf([
    sampleShow,
    sampleInput('badge', { source: { type: 'picture', assetId: fileId, loop: true } }),
    sampleScene('sc-badge'),
    sampleScene('sc-else'),
    sampleLayer('la', 'sc-badge', 0, { content: { type: 'input', inputId: 'badge', fit: 'fit' } }),
  ]);
  target = documentOf(firstShow('t', 'Night school', 'ida', () => `new-${++ids}`));
});
afterEach(() => {
  for (const database of databases) database.close();
  rmSync(folder, { recursive: true, force: true });
});

const file = () => path.join(folder, 'x.kit.zip');
const write = (wanted: string[]) =>
  pipeline(writeKit(from, wanted, { name: 'Badges', about: 'mine' }, here, 5), createWriteStream(file()));
const read = () => readKit(file(), there, target, 9);
async function zipped(entries: Record<string, Buffer | string>): Promise<void> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of Object.entries(entries)) zip.addBuffer(Buffer.from(content), name);
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(file()));
}
const kit = (more: object = {}) => JSON.stringify({ ...SHIPPED_KITS[0].make(), ...more });

test('what is chosen goes with what it needs and its files, and is the same elsewhere', async () => {
  await write(['sc-badge']);
  const { kit: back, missing } = await read();
  expect([back.name, back.about, missing]).toEqual(['Badges', 'mine', []]);
  expect(back.records.map(({ id }) => id).sort()).toEqual(['badge', 'la', 'sc-badge']);
  expect(readFileSync(there.pathOf(fileId)).equals(PNG)).toBe(true);
  expect(valid(back), JSON.stringify(valid.errors)).toBe(true);
  expect(() => writeKit(from, ['nobody'], { name: 'x', about: '' }, here, 5)).toThrow(/Choose what/);
});

test.each(SHIPPED_KITS.map(({ id, make }) => [id, make] as const))('%s is as the schema says', (_, make) => {
  expect(valid(JSON.parse(JSON.stringify(make()))), JSON.stringify(valid.errors)).toBe(true);
  expect(valid({ ...make(), palette: [{ role: 'x', colour: 'red' }] })).toBe(false);
});

test('a file that is named and not there is said', async () => {
  const lost = { id: 'a'.repeat(40), name: 'lost.png', mime: 'image/png', bytes: 5 };
  await zipped({ 'kit.json': kit({ files: [lost] }) });
  expect((await read()).missing).toEqual(['lost.png']);
});

test.each([
  ['no ZIP', 'PK\u0003\u0004 but not really', /no whole ZIP/],
  ['nothing', '', /no whole ZIP/],
])('%s is refused with words', async (_, content, words) => {
  writeFileSync(file(), content);
  await expect(read()).rejects.toThrow(words);
});

test('what is no kit, points at nothing, or would be no show is refused, and no file of it is kept', async () => {
  const shipped = SHIPPED_KITS[0].make();
  const layer = shipped.records.find((r) => r.kind === 'layer')!;
  const spoiled = (records: unknown[]): Partial<Kit> => ({ records: records as Kit['records'] });
  const file40 = { id: fileId, name: 'badge.png', mime: 'image/png', bytes: PNG.length };
  for (const [entries, words] of [
    [{ 'show.json': '{}' }, /no kit of Dolomite/],
    [{ 'kit.json': '{' }, /cannot be read/],
    [{ 'kit.json': kit({ version: 7 }) }, /newer Dolomite/],
    [{ 'kit.json': kit(spoiled([recordsOf(target, 'show')[0]])) }, /no kit may hold/],
    [{ 'kit.json': kit(spoiled([{ ...layer, sceneId: 'gone' }])) }, /points at gone/],
    [{ 'kit.json': kit(spoiled([{ ...layer, placements: 'x' }])) }, /placements/],
    [
      { 'kit.json': kit(spoiled(Array.from({ length: 2001 }, (_, i) => ({ ...layer, id: `x${i}` })))) },
      /more than 2000/,
    ],
    [
      { 'kit.json': kit({ files: [{ ...file40, id: 'b'.repeat(40) }] }), [`assets/${'b'.repeat(40)}`]: PNG },
      /not the file it was/,
    ],
  ] as const) {
    await zipped(entries);
    await expect(read()).rejects.toThrow(words);
  }
  await zipped({ 'kit.json': Buffer.alloc(17 * 1024 * 1024, ' ') });
  await expect(read()).rejects.toThrow(/larger than it may be/);
});
