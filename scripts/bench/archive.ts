/** What taking a show to another computer costs. */
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { documentOf } from '../../core/show/document';
import { firstShow } from '../../core/show/new-show';
import type { InputRecord } from '../../core/show/records';
import { readArchive } from '../../server/archive/read-archive';
import { writeArchive } from '../../server/archive/write-archive';
import { openDatabase } from '../../server/db/database';
import { freeBytesOf } from '../../server/free-bytes';
import { AssetStore } from '../../server/vault/asset-store';

const FILES = 5;
const FILE_MB = 1000;
const median = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];

/** A show with large files: written and read, each beside copying the same files, by turns. */
export async function archiveSpeed(say: (line: object) => void): Promise<void> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-archive-'));
  const here = openDatabase(':memory:', path.resolve('db/migrations'));
  const there = openDatabase(':memory:', path.resolve('db/migrations'));
  try {
    const assets = new AssetStore(here, path.join(folder, 'here'));
    // Four times over, and room to live.
    const fileMb = (freeBytesOf(folder) ?? 0) > 6 * FILES * FILE_MB * 1e6 ? FILE_MB : FILE_MB / 20;
    const ids: string[] = [];
    for (let i = 0; i < FILES; i++) ids.push((await assets.add(`long-${i}.wav`, longSound(fileMb), 1)).id);
    let count = 0;
    const records = firstShow('s', 'Large', '', () => `id-${++count}`);
    const camera = records.find((r): r is InputRecord => r.kind === 'input')!;
    for (const id of ids)
      records.push({ ...camera, id: `file-${id}`, source: { type: 'picture', assetId: id, loop: true } });
    const file = path.join(folder, 'show.zip');
    const took: Record<'written' | 'brought in' | 'copied', number[]> = {
      written: [],
      'brought in': [],
      copied: [],
    };
    let most = 0;
    const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
    const before = process.memoryUsage().rss;
    const timed = async (what: keyof typeof took, act: () => Promise<unknown>) => {
      // What is still on its way to the disk would be paid by whoever comes next.
      spawnSync('sync');
      const began = performance.now();
      await act();
      spawnSync('sync');
      took[what].push(performance.now() - began);
    };
    for (let turn = 0; turn < 3; turn++) {
      await timed('written', () =>
        pipeline(writeArchive(documentOf(records), assets, null, null, 1), createWriteStream(file)),
      );
      await timed('copied', async () => {
        for (const id of ids) await copyFile(assets.pathOf(id), path.join(folder, id));
      });
      for (const id of ids) rmSync(path.join(folder, id));
      const target = path.join(folder, `there-${turn}`);
      await timed('brought in', () =>
        readArchive(file, new AssetStore(there, target), `new-${turn}`, (name) => name, '', 1),
      );
      there.exec('DELETE FROM asset');
      rmSync(target, { recursive: true });
    }
    clearInterval(watch);
    const reference = median(took.copied);
    for (const what of ['written', 'brought in'] as const)
      say({
        name: `archive of ${Math.round(statSync(file).size / 1e6)} MB, ${what}`,
        ...{ value: median(took[what]) / 1000, unit: 's', reference: reference / 1000 },
        ...{ ratio: median(took[what]) / reference, against: 'copying its files' },
        memoryMb: (most - before) / 1e6,
      });
  } finally {
    here.close();
    there.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A sound, as far as anybody looks; each with bytes of its own. */
async function* longSound(megabytes: number): AsyncGenerator<Buffer> {
  yield Buffer.concat([Buffer.from('RIFF\u00ff\u00ff\u00ff\u007fWAVEfmt ', 'latin1'), Buffer.alloc(28)]);
  const megabyte = randomBytes(1024 * 1024);
  for (let i = 0; i < megabytes; i++) yield megabyte;
}
