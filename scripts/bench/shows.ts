/** What many shows cost: Home, an edit on its way to other windows. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { WebSocket } from 'ws';
import type { SceneRecord } from '../../core/show/records';
import { launchBrowser } from '../lib/browser.mjs';
import { startStudio } from '../lib/studio.mjs';

const SHOWS = 40;
const WINDOWS = 20;
const EDITS = 100;
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
