import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { openDatabase, type Database } from '../db/database';
import { assetKind, AssetStore } from './asset-store';

let folder: string;
let database: Database;
let store: AssetStore;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-assets-'));
  database = openDatabase(path.join(folder, 'dolomite.sqlite'), path.resolve('db/migrations'));
  store = new AssetStore(database, path.join(folder, 'assets'));
});
afterEach(() => {
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

async function* stream(...parts: Uint8Array[]): AsyncGenerator<Uint8Array> {
  for (const part of parts) yield await Promise.resolve(part);
}
const add = (name: string, bytes: Uint8Array | string) => store.add(name, stream(Buffer.from(bytes)), 1);
const kept = () => readdirSync(path.join(folder, 'assets'));

const fonts = createRequire(import.meta.url).resolve('@fontsource-variable/jetbrains-mono/package.json');
const font = readFileSync(path.join(path.dirname(fonts), 'files/jetbrains-mono-latin-wght-normal.woff2'));

/** The first bytes of a PNG of this size; enough to be known as one. */
function png(width: number, height: number): Buffer {
  const bytes = Buffer.alloc(64);
  Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]).copy(bytes);
  bytes.writeUInt32BE(13, 8);
  bytes.write('IHDR', 12, 'latin1');
  bytes.writeUInt32BE(width, 16);
  bytes.writeUInt32BE(height, 20);
  bytes.set([8, 6, 0, 0, 0], 24);
  bytes.write('IDAT', 37, 'latin1');
  return bytes;
}
const lottie = JSON.stringify({ v: '5', w: 100, h: 100, fr: 30, ip: 0, op: 30, layers: [] });

describe('bringing files in', () => {
  test('a picture is known by its bytes, kept once, and named by its contents', async () => {
    const first = await add('badge.png', png(640, 360));
    const again = await add('other name.jpg', png(640, 360));
    expect(first).toMatchObject({ mime: 'image/png', name: 'badge.png' });
    expect(again.id).toBe(first.id);
    expect(kept()).toEqual([first.id]);
    expect(store.list()).toHaveLength(1);
  });

  test('a Lottie animation is taken after it was looked through', async () => {
    expect(await add('lamp.json', lottie)).toMatchObject({ mime: 'application/lottie+json' });
    expect(assetKind('application/lottie+json')).toBe('lottie');
  });

  test('a font is known by its tables, whatever its name says', async () => {
    expect(await add('badge.png', font)).toMatchObject({ mime: 'font/woff2', name: 'badge.png' });
    expect(assetKind('font/otf')).toBe('font');
  });

  test.each([
    ['half.woff2', font.subarray(0, 5000), /the font is damaged \(it is cut off\): get the file anew/],
    ['huge.png', png(20_000, 20_000), /20000 × 20000 pixels/],
    ['wide.png', png(16_385, 1), /more than any frame can show/],
    ['torn.json', lottie.slice(0, 40), /cut off or not JSON/],
    ['other.json', '{"a":1}', /no layers/],
    ['logo.svg', '<svg xmlns="http://www.w3.org/2000/svg"/>', /is an SVG/],
    ['logo.png', '<?xml version="1.0"?><!-- x --><svg/>', /is an SVG/],
    ['page.mp4', '<html></html>', /neither picture, video nor sound/],
    [
      'song.png',
      Buffer.from('ID3\u0003\u0000\u0000\u0000\u0000\u0000\u0000aaaaaaaaaaaaaaaaaaaa'),
      /whatever its name says/,
    ],
    ['empty.png', '', /is empty/],
  ])('%s is refused with what to do, and nothing of it is kept', async (name, bytes, reason) => {
    await expect(add(name, bytes)).rejects.toThrow(reason);
    expect(kept()).toEqual([]);
    expect(store.list()).toEqual([]);
  });
});
