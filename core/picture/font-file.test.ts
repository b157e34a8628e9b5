import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { expect, test } from 'vitest';
import { faultWords } from '../fault-words';
import { looksLikeFont, readFontFile } from './font-file';

const { resolve } = createRequire(import.meta.url);
const of = (name: string, file: string) =>
  new Uint8Array(readFileSync(path.join(path.dirname(resolve(`${name}/package.json`)), file)));

/** An OpenType file with empty tables of these names. */
function sfnt(tags: readonly string[], version = '\0\x01\0\0'): Uint8Array {
  const bytes = new Uint8Array(12 + tags.length * 16);
  const view = new DataView(bytes.buffer);
  const write = (at: number, text: string) => [...text].forEach((c, i) => (bytes[at + i] = c.charCodeAt(0)));
  write(0, version);
  view.setUint16(4, tags.length);
  tags.forEach((tag, i) => {
    write(12 + i * 16, tag);
    view.setUint32(12 + i * 16 + 8, bytes.length);
  });
  return bytes;
}
const TABLES = ['cmap', 'head', 'hhea', 'hmtx', 'maxp', 'name'];

const woff2 = of('@fontsource-variable/jetbrains-mono', 'files/jetbrains-mono-latin-wght-normal.woff2');

test('fonts as foundries deliver them: what they are, and whether their weight can be anything', () => {
  expect(readFontFile(woff2)).toEqual({ format: 'woff2', variable: true });
  expect(readFontFile(sfnt([...TABLES, 'glyf']))).toEqual({ format: 'ttf', variable: false });
  expect(readFontFile(sfnt([...TABLES, 'CFF ', 'fvar'], 'OTTO'))).toEqual({ format: 'otf', variable: true });
  expect(readFontFile(sfnt([...TABLES, 'CBDT'], 'true'))).toEqual({ format: 'ttf', variable: false });
});

test('what a font begins with', () => {
  expect(looksLikeFont(woff2)).toBe(true);
  for (const version of ['\0\x01\0\0', 'OTTO', 'true', 'ttcf', 'wOFF', 'wOF2'])
    expect(looksLikeFont(sfnt([], version))).toBe(true);
  expect(looksLikeFont(sfnt([], '\x89PNG'))).toBe(false);
  expect(looksLikeFont(woff2.subarray(0, 11))).toBe(false);
});

test('one that is cut off anywhere is said to be damaged, and never read beyond its end', () => {
  for (let length = 0; length < woff2.length; length += length < 400 ? 1 : 997)
    expect(faultWords(() => readFontFile(woff2.subarray(0, length)))).toMatch(
      /damaged \(.+\): get the file anew/,
    );
  const plain = sfnt([...TABLES, 'glyf']);
  for (let length = 0; length < plain.length; length++)
    expect(faultWords(() => readFontFile(plain.subarray(0, length)))).toMatch(
      /cut off|letters|missing|tables/,
    );
});

test('what is missing is named; several fonts in one file are refused with what to do', () => {
  for (const tag of TABLES) {
    const without = sfnt([...TABLES.filter((other) => other !== tag), 'glyf']);
    expect(faultWords(() => readFontFile(without))).toBe(
      `font.damaged: the font is damaged (its table "${tag}" is missing): get the file anew`,
    );
  }
  expect(faultWords(() => readFontFile(sfnt(TABLES)))).toBe(
    'font.damaged: the font is damaged (it has no letters): get the file anew',
  );
  expect(faultWords(() => readFontFile(sfnt([])))).toMatch(/damaged \(0 tables\)/);
  expect(faultWords(() => readFontFile(sfnt(TABLES, 'ttcf')))).toMatch(
    /^font.collection: the file holds several fonts: take one/,
  );
});
