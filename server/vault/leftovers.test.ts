import { mkdirSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { clearLeftovers } from './leftovers';

let folder: string;
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-leftovers-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('what a crash left is removed; what is whole, being made, or in use stays', () => {
  const [recordings, scratch] = ['recordings', 'scratch'].map((name) => path.join(folder, name));
  for (const made of [recordings, scratch]) mkdirSync(made);
  const put = (into: string, name: string, hoursOld: number) => {
    const file = path.join(into, name);
    writeFileSync(file, 'x');
    const at = Date.now() / 1000 - hoursOld * 3600;
    utimesSync(file, at, at);
  };
  for (const name of [
    'a.mkv.part',
    'b.part.mp4',
    'c.mp4.part.range.mkv',
    'c.mp4.part.sound.mkv',
    'night.mkv',
    'the part.mkv',
  ])
    put(recordings, name, 2);
  put(recordings, 'now.mkv.part', 0);
  mkdirSync(path.join(recordings, 'x.part'));
  put(scratch, 'running-wide-1.bin', 2);
  put(scratch, 'gone-wide-1.bin', 2);
  clearLeftovers([recordings, path.join(folder, 'nowhere')], scratch, 'running', Date.now());
  expect(readdirSync(recordings).sort()).toEqual(['night.mkv', 'now.mkv.part', 'the part.mkv', 'x.part']);
  expect(readdirSync(scratch)).toEqual(['running-wide-1.bin']);
  clearLeftovers([], scratch, null, Date.now());
  expect(readdirSync(scratch)).toEqual([]);
});
