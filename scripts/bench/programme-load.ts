/** What the evening by one press costs: long rundowns, many takes, many pads, a wall beside a broadcast. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import WebSocket from 'ws';
import { PLAIN_SEGMENT, type SegmentRecord } from '../../core/show/rundown-records';
import type { ToPad } from '../../protocol/pad';
import { byTurns } from '../lib/by-turns.mjs';
import { launchBrowser } from '../lib/browser.mjs';
import { StudioClient } from '../lib/studio-client.mjs';
import { startStudio } from '../lib/studio.mjs';

const SHOW = 'night-signal-box';
const SEGMENTS = 200;
const TAKES = 1000;
const PADS = 10;
const PRESSES = 60;

type Say = (line: object) => void;
type Studio = Awaited<ReturnType<typeof startStudio>>;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const p95 = (all: number[]) => all.sort((a, b) => a - b)[Math.floor(all.length * 0.95)];

export async function programmeLoad(say: Say): Promise<void> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const studio = await startStudio({ data, quiet: true });
  const browser = await launchBrowser();
  try {
    const page = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
    await page.goto(`${studio.url}show/${SHOW}/plan`);
    await page.getByRole('navigation', { name: 'Places' }).waitFor();
    await longRundown(say, studio, page);
    const door = `http://127.0.0.1:${studio.doorPort}`;
    const owner = (await studio.owner('')) as StudioClient;
    const made = await owner.form('/computer.data', {
      ...{ intent: 'link', role: 'operator', name: 'Bench', hours: '0', uses: '0' },
    });
    const token = /"token","([\w-]{40,})"/.exec(await made.text())![1];
    const program = new StudioClient(door, { authorization: `Bearer ${token}` });
    await manyTakes(say, program, page);
    await manyPads(say, door, token);
    await wall(say, studio, page);
  } finally {
    await browser.close();
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

/** From the key that commits an edit to the end of what the page does for it (W3C Event Timing). */
async function longRundown(say: Say, studio: Studio, page: Page): Promise<void> {
  const segments = Array.from({ length: SEGMENTS }, (_, i): SegmentRecord => ({
    ...PLAIN_SEGMENT,
    ...{ kind: 'segment', id: `sg-b${i}`, showId: SHOW, name: `Part ${i}`, position: 100 + i },
    ...{ rundownId: 'rd-night', sceneId: i % 2 ? 'sc-game' : 'sc-talk', plannedSeconds: 120 },
    ...{ sound: [], presses: [] },
  }));
  await (await studio.owner(`/show/${SHOW}`)).edit({ name: 'Long rundown', put: segments, removed: [] });
  await page
    .getByRole('list', { name: 'Rundown' })
    .getByRole('button', { name: /^Part 100/ })
    .click();
  const field = page.getByLabel('Planned length');
  await page.evaluate(() => {
    const seen: number[] = [];
    (globalThis as unknown as { edits: number[] }).edits = seen;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as PerformanceEventTiming[])
        if (entry.name === 'keydown') seen.push(entry.processingEnd - entry.processingStart);
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit);
  });
  for (let i = 0; i < 20; i++) {
    await field.fill(`2:${String(10 + i)}`);
    await field.press('Enter');
    await wait(150);
  }
  const edits = await page.evaluate(() => (globalThis as unknown as { edits: number[] }).edits);
  // What took less than the threshold is not told at all.
  const value = edits.length === 0 ? 0 : p95(edits);
  say({
    ...{ name: `an edit in a rundown of ${SEGMENTS} segments, p95`, value, unit: 'ms' },
    ...{ reference: 16, ratio: value / 16, goal: '<= 1' },
  });
  await (
    await studio.owner(`/show/${SHOW}`)
  ).edit({
    ...{ name: 'Short again', put: [], removed: segments.map(({ id }) => id) },
  });
}

const scene = (i: number) => ({
  command: 'scene',
  params: { sceneId: i % 2 ? 'sc-break' : 'sc-talk', transition: 'cut' },
});

async function heapBytes(page: Page): Promise<number> {
  const session = await page.context().newCDPSession(page);
  await session.send('HeapProfiler.collectGarbage');
  const { usedSize } = await session.send('Runtime.getHeapUsage');
  await session.detach();
  return usedSize;
}

async function manyTakes(say: Say, program: StudioClient, page: Page): Promise<void> {
  const take = async (from: number, to: number) => {
    for (let i = from; i < to; i++) await program.send('/press', scene(i));
  };
  // What is fetched and compiled with the first of them is no growth.
  await take(0, TAKES / 5);
  const before = await heapBytes(page);
  await take(TAKES / 5, TAKES);
  const after = await heapBytes(page);
  say({
    ...{ name: `the page's memory after ${TAKES} takes, against after ${TAKES / 5}`, unit: 'bytes' },
    ...{ value: after, reference: before, ratio: after / before, goal: '<= 1.1' },
  });
}

/** Ten of them, each moving a fader twenty times a second; one more presses tiles. */
async function manyPads(say: Say, door: string, token: string): Promise<void> {
  const open = () =>
    new Promise<WebSocket>((resolve, reject) => {
      const socket = new WebSocket(`${door.replace('http', 'ws')}/pad`, {
        headers: { authorization: `Bearer ${token}` },
      });
      socket.on('open', () => resolve(socket)).on('error', reject);
    });
  const one = await open();
  const answers = new Map<number, () => void>();
  one.on('message', (text: Buffer) => {
    const message = JSON.parse(text.toString()) as ToPad;
    if (message.type === 'pressed') answers.get(message.id)?.();
  });
  const pressed = async (id: number): Promise<number> => {
    const from = performance.now();
    const done = new Promise<void>((resolve) => answers.set(id, resolve));
    one.send(JSON.stringify({ type: 'press', id, press: scene(id), held: true }));
    await done;
    return performance.now() - from;
  };
  const measure = async (from: number) => {
    const all: number[] = [];
    for (let i = 0; i < PRESSES; i++) {
      all.push(await pressed(from + i));
      await wait(60);
    }
    return p95(all);
  };
  const alone = await measure(1);
  const others = await Promise.all(Array.from({ length: PADS }, open));
  let id = 1;
  const moving = setInterval(() => {
    for (const [i, socket] of others.entries()) {
      const params = { channelId: 'ch-game', gainDb: -30 + ((id + i) % 20), seconds: 0.05 };
      socket.send(
        JSON.stringify({ type: 'press', id: id++, press: { command: 'level', params }, held: true }),
      );
    }
  }, 50);
  const value = await measure(1000);
  clearInterval(moving);
  for (const socket of [one, ...others]) socket.close();
  say({
    ...{ name: `a pad's press to its answer beside ${PADS} pads with faders moving, p95`, value, unit: 'ms' },
    ...{ alone, reference: 120, ratio: value / 120, goal: '<= 1' },
  });
}

/** Pictures composed for a broadcast with a wall of nine tiles open, and without, by turns. */
async function wall(say: Say, studio: Studio, page: Page): Promise<void> {
  const show = await studio.owner(`/show/${SHOW}`);
  const records = ((await show.json('/edits')) as { records: { kind: string }[] }).records;
  const plan = records.find(({ kind }) => kind === 'plan') as unknown as { fps: number; frames: object };
  const frames = { wide: { width: 640, height: 360, videoKbps: 1500 } };
  await show.edit({ name: 'Plan', put: [{ ...plan, fps: 30, frames }] as never, removed: [] });
  await page.goto(`${studio.url}show/${SHOW}/air`);
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  await show.form('/broadcast', { intent: 'rehearse' });
  await wait(6000);
  const look = async () => {
    const { desk } = (await show.json('/health')) as {
      desk: { due: number; composed: number; late: number };
    };
    return { due: desk.due, composed: desk.composed, late: desk.late };
  };
  let opened: Page | null = null;
  const { turns } = await byTurns({
    ...{ seconds: 120, each: 15, uncounted: 1, settle: { with: 4, without: 2 }, look },
    begin: () => [
      (async () => {
        const popup = page.context().waitForEvent('page');
        await page.getByRole('button', { name: 'Windows of your own' }).click();
        await page.getByRole('menuitem', { name: /Wall/ }).click();
        opened = await popup;
      })(),
    ],
    end: async () => {
      await opened?.close();
      opened = null;
    },
  });
  await show.form('/broadcast', { intent: 'stop' });
  const share = ({ due, composed }: { due: number; composed: number }) => composed / Math.max(1, due);
  const [value, reference] = [share(turns.with), share(turns.without)];
  say({
    ...{ name: 'composed at 640x360, 30, with a wall of nine tiles, against without', value, reference },
    ...{ unit: 'share', ratio: value / reference, goal: '>= 0.97' },
  });
}
