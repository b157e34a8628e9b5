/** What many shows cost: Home, an edit on its way to other windows, archives and backups. */
import { randomBytes } from 'node:crypto';
import { copyFileSync, createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { WebSocket } from 'ws';
import { documentOf } from '../../core/show/document';
import { firstShow } from '../../core/show/new-show';
import type { InputRecord, SceneRecord } from '../../core/show/records';
import { readArchive } from '../../server/archive/read-archive';
import { writeArchive } from '../../server/archive/write-archive';
import { openDatabase } from '../../server/db/database';
import { AssetStore } from '../../server/vault/asset-store';
import { launchBrowser } from '../lib/browser.mjs';
import { startStudio } from '../lib/studio.mjs';

const SHOWS = 40;
const WINDOWS = 20;
const EDITS = 100;
const FILE_MB = 512;
const median = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
const p95 = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)];

export async function showFigures(say: (line: object) => void): Promise<void> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-shows-'));
  const studio = await startStudio({ data, quiet: true, demonstration: false });
  try {
    const owner = await studio.owner();
    for (let i = 0; i < SHOWS; i++) await owner.form('/?index', { intent: 'first', name: `Show ${i}` });
    const browser = await launchBrowser();
    try {
      const page = await studio.page(browser);
      const took: number[] = [];
      for (let i = 0; i < 5; i++) {
        const began = performance.now();
        await page.goto(studio.url);
        await page.getByRole('heading', { name: 'Show 7', exact: true }).waitFor();
        took.push(performance.now() - began);
      }
      const ms = median(took);
      say({ name: `Home with ${SHOWS} shows`, value: ms, unit: 'ms', reference: 300, ratio: ms / 300 });
      const id = /show\/([\w-]+)\/stage/.exec(
        (await page.getByRole('link', { name: 'Open Show 7', exact: true }).getAttribute('href'))!,
      )![1];
      const began = performance.now();
      await page.getByRole('link', { name: 'Open Show 7', exact: true }).click();
      await page.getByRole('navigation', { name: 'Places' }).waitFor();
      const open = performance.now() - began;
      say({ name: 'from Home into a show', value: open, unit: 'ms', reference: 1500, ratio: open / 1500 });
      await page.close();
      await editsToWindows(studio, id, say);
    } finally {
      await browser.close();
    }
  } finally {
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
  await archiveSpeed(say);
}

/** From sending an edit to the last of twenty windows knowing of it. */
async function editsToWindows(
  studio: Awaited<ReturnType<typeof startStudio>>,
  showId: string,
  say: (line: object) => void,
): Promise<void> {
  const owner = await studio.owner(`/show/${showId}`);
  const { cookie } = owner.headers as { cookie: string };
  const origin = studio.url.slice(0, -1);
  const told = new Map<string, { left: number; done: () => void }>();
  const sockets = await Promise.all(
    Array.from(
      { length: WINDOWS },
      () =>
        new Promise<WebSocket>((resolve, reject) => {
          const socket = new WebSocket(`ws://127.0.0.1:${studio.webPort}/bus/${showId}`, {
            headers: { cookie, origin },
          });
          socket.on('open', () => resolve(socket));
          socket.on('error', reject);
          socket.on('message', (text: Buffer) => {
            const message = JSON.parse(text.toString()) as { type: string; change?: { id: string } };
            const waiting = message.type === 'edit' ? told.get(message.change!.id) : undefined;
            if (waiting && --waiting.left === 0) waiting.done();
          });
        }),
    ),
  );
  const { records } = (await owner.json('/edits')) as { records: SceneRecord[] };
  let scene = records.find(({ kind }) => kind === 'scene')!;
  const took: number[] = [];
  for (let i = 0; i < EDITS; i++) {
    const next = { ...scene, name: `Scene ${i}` };
    const id = `bench-${i}`;
    const began = performance.now();
    const heard = new Promise<void>((done) => told.set(id, { left: WINDOWS, done }));
    const sent = owner.send('/edits', { id, name: 'Rename', put: [next], removed: [], seen: [scene] });
    await Promise.all([heard, sent]);
    took.push(performance.now() - began);
    scene = next;
  }
  for (const socket of sockets) socket.terminate();
  const ms = p95(took);
  say({
    ...{ name: `an edit reaches the last of ${WINDOWS} windows, p95`, value: ms, unit: 'ms' },
    ...{ reference: 50, ratio: ms / 50, median: median(took) },
  });
}

/** A show with one large file: written and read, beside copying the same file twice, by turns. */
async function archiveSpeed(say: (line: object) => void): Promise<void> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-archive-'));
  const here = openDatabase(':memory:', path.resolve('db/migrations'));
  const there = openDatabase(':memory:', path.resolve('db/migrations'));
  try {
    const assets = new AssetStore(here, path.join(folder, 'here'));
    const body = (async function* () {
      // A sound, as far as anybody looks.
      yield Buffer.concat([Buffer.from('RIFF\u00ff\u00ff\u00ff\u007fWAVEfmt ', 'latin1'), Buffer.alloc(28)]);
      const megabyte = randomBytes(1024 * 1024);
      for (let i = 0; i < FILE_MB; i++) yield megabyte;
    })();
    const { id } = await assets.add('long.wav', body, 1);
    let ids = 0;
    const records = firstShow('s', 'Large', '', () => `id-${++ids}`);
    const camera = records.find((r): r is InputRecord => r.kind === 'input')!;
    records.push({ ...camera, id: 'file', source: { type: 'picture', assetId: id, loop: true } });
    const file = path.join(folder, 'show.zip');
    const [archived, copied]: number[][] = [[], []];
    let most = 0;
    const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
    const before = process.memoryUsage().rss;
    for (let turn = 0; turn < 3; turn++) {
      let began = performance.now();
      await pipeline(writeArchive(documentOf(records), assets, null, null, 1), createWriteStream(file));
      const target = new AssetStore(there, path.join(folder, `there-${turn}`));
      await readArchive(file, target, `new-${turn}`, (name) => name, '', 1);
      there.exec('DELETE FROM asset');
      archived.push(performance.now() - began);
      began = performance.now();
      for (const name of ['one', 'two']) copyFileSync(assets.pathOf(id), path.join(folder, name));
      copied.push(performance.now() - began);
    }
    clearInterval(watch);
    const [ms, reference] = [median(archived), median(copied)];
    say({
      name: `archive of ${Math.round(statSync(file).size / 1e6)} MB, written and brought in`,
      ...{ value: ms / 1000, unit: 's', reference: reference / 1000, ratio: ms / reference },
      ...{ against: 'copying its file twice', memoryMb: (most - before) / 1e6 },
    });
  } finally {
    here.close();
    there.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
