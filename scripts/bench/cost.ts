/**
 * What a broadcast costs: core-seconds a second by part, and per composed frame beside the bare chain (the same scene drawn
 * on one canvas, the same encoder, one AAC, the mix, and nothing else). By turns in one run.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import type { Browser, Page } from 'playwright-core';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import type { AnyRecord, PlanRecord } from '../../core/show/records';
import { Driven } from '../../tests/lib/driven';
import { launchBrowser } from '../lib/browser.mjs';
import { childWith, stolenSeconds } from '../lib/process-usage.mjs';
import { startStudio } from '../lib/studio.mjs';
import { threadsBetween, threadTimes, workerScripts, type ThreadTime } from '../lib/thread-usage.mjs';

type Say = (line: object) => void;

const SHOW = 'night-signal-box';
/** Caches fill, the sound thread warms up, the rate settles. */
const SETTLE_SECONDS = 5;
/** The bare chain's cost of a frame is what a longer run costs more than a shorter one. */
const BARE_SECONDS = [2, 8] as const;

const PARTS = [
  'compose',
  'encode pictures',
  'sound',
  'encode sound',
  'uplink',
  'listen',
  'page',
  "browser's compositor",
  'browser, rest',
  'relay',
  'web',
] as const;
type Part = (typeof PARTS)[number];

/** Which part a thread works for. */
function partOf({ kind, name, tid, pid }: ThreadTime, scripts: ReadonlyMap<number, string>): Part {
  if (kind === 'gpu-process') return "browser's compositor";
  if (kind !== 'renderer') return kind.includes('audio') ? 'sound' : 'browser, rest';
  if (tid === pid) return 'page';
  if (/^Compositor/.test(name)) return "browser's compositor";
  if (/^Realtime|^AudioWorklet|^Audio/.test(name)) return 'sound';
  const script = scripts.get(tid) ?? '';
  if (script.startsWith('stage')) return 'compose';
  if (script.startsWith('uplink')) return 'uplink';
  if (script.startsWith('listener')) return 'listen';
  // The encoder's own workers are started from within, by addresses of no file.
  if (/^DedicatedWorker/.test(name)) return 'encode sound';
  if (/^ThreadPool/.test(name)) return 'encode pictures';
  return 'browser, rest';
}

function options() {
  const { values } = parseArgs({
    options: {
      only: { type: 'string' },
      size: { type: 'string', default: '1280x720' },
      tall: { type: 'string' },
      fps: { type: 'string', default: '30' },
      kbps: { type: 'string', default: '3000' },
      place: { type: 'string', default: 'air' },
      turns: { type: 'string', default: '5' },
      seconds: { type: 'string', default: '10' },
      tracks: { type: 'string' },
      idle: { type: 'boolean', default: false },
      threads: { type: 'boolean', default: false },
      chip: { type: 'boolean', default: false },
      profile: { type: 'string' },
    },
  });
  const size = (text: string) => {
    const [width, height] = text.split('x').map(Number);
    return { width, height };
  };
  return { ...values, wide: size(values.size!), tall: values.tall ? size(values.tall) : null };
}

type Options = ReturnType<typeof options>;

function planOf({ wide, tall, fps, kbps }: Options): PlanRecord {
  return {
    ...{ kind: 'plan', id: 'plan-home', showId: SHOW, name: 'Cost', position: 0 },
    ...PLAIN_PLAN,
    fps: Number(fps),
    frames: {
      wide: { ...wide, videoKbps: Number(kbps) },
      ...(tall && { tall: { ...tall, videoKbps: Number(kbps) } }),
    },
  };
}

interface Turn {
  seconds: number;
  frames: number;
  parts: Map<Part, { ran: number; waited: number }>;
}

const wait = (seconds: number) => new Promise((resolve) => setTimeout(resolve, seconds * 1000));
const total = (parts: Turn['parts']) => [...parts.values()].reduce((sum, { ran }) => sum + ran, 0);
const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1];

async function studioTurn(browser: Browser, o: Options, first: boolean): Promise<Turn> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-cost-'));
  const studio = await startStudio({ data, quiet: true });
  const page = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
  try {
    const client = await studio.owner(`/show/${SHOW}`);
    const { records } = (await client.json('/edits')) as { records: AnyRecord[] };
    await client.edit({
      name: 'Cost',
      put: [planOf(o), ...channelsWith(records, o.tracks)],
      removed: o.tall ? [] : ['dest-marmot'],
    });
    await page.goto(`${studio.url}show/${SHOW}/${o.place}`);
    await page.getByRole('navigation', { name: 'Places' }).waitFor();
    await page.mouse.click(640, 795);
    if (!o.idle) {
      await page.getByRole('button', { name: 'Go live', exact: true }).click();
      await page.getByRole('button', { name: /Stop the broadcast/ }).waitFor();
    }
    await wait(SETTLE_SECONDS);
    const scripts = await workerScripts(page);
    const roots: [Part | null, number][] = [
      [null, childWith('chromium')!],
      ['relay', studio.children.get('relay')!.pid!],
      ['web', studio.children.get('web')!.pid!],
    ];
    const look = async () => ({
      at: performance.now(),
      frames: ((await client.json('/health')) as { desk: { composed: number } }).desk.composed,
      threads: roots.map(([, pid]) => threadTimes(pid)),
    });
    const traced = o.profile && first ? await profile(page, o.profile) : null;
    const before = await look();
    await wait(Number(o.seconds));
    const after = await look();
    await traced?.();
    const parts: Turn['parts'] = new Map(PARTS.map((part) => [part, { ran: 0, waited: 0 }]));
    roots.forEach(([whole], i) => {
      for (const thread of threadsBetween(before.threads[i], after.threads[i])) {
        const sum = parts.get(whole ?? partOf(thread, scripts))!;
        sum.ran += thread.ran;
        sum.waited += thread.waited;
        if (o.threads && first && thread.ran > 0.02)
          console.error(
            `${(thread.ran / Number(o.seconds)).toFixed(3)} ${whole ?? partOf(thread, scripts)}: ${thread.kind} ${thread.name} ${scripts.get(thread.tid) ?? ''}`,
          );
      }
    });
    return { seconds: (after.at - before.at) / 1000, frames: after.frames - before.frames, parts };
  } finally {
    await page.close();
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

/** Channels of the show on so many recording tracks; as they are without a number. */
function channelsWith(records: AnyRecord[], tracks: string | undefined): AnyRecord[] {
  if (tracks === undefined) return [];
  const count = Number(tracks);
  return records
    .filter((record) => record.kind === 'channel')
    .map((channel, i) => ({ ...channel, tracks: i < count ? [1, i + 2] : [1] }));
}

/** Writes a trace of the browser until it is ended. */
async function profile(page: Page, file: string): Promise<() => Promise<void>> {
  const session = await page.context().newCDPSession(page);
  const events: unknown[] = [];
  session.on('Tracing.dataCollected', ({ value }) => events.push(...value));
  await session.send('Tracing.start', { transferMode: 'ReportEvents' });
  return async () => {
    const done = new Promise((resolve) => session.once('Tracing.tracingComplete', resolve));
    await session.send('Tracing.end');
    await done;
    writeFileSync(file, JSON.stringify({ traceEvents: events }));
  };
}

/** Core-milliseconds of one frame in the bare chain. */
async function bareTurn(browser: Browser, o: Options, records: AnyRecord[]): Promise<number> {
  const driven = await Driven.open(browser);
  const pid = childWith('chromium')!;
  const plan = planOf(o);
  const frames = Object.fromEntries(
    Object.entries(plan.frames).map(([frame, { width, height, videoKbps }]) => [
      frame,
      {
        width,
        height,
        fps: plan.fps,
        kbps: videoKbps,
        keyframeSeconds: 2,
        effort: 'quick' as const,
        encoder: 'any' as const,
      },
    ]),
  );
  try {
    const costs: number[] = [];
    for (const seconds of BARE_SECONDS) {
      const before = threadTimes(pid);
      await driven.run({
        ...{ records, sceneId: 'sc-game', seconds, noise: true },
        plan: { frames, audioKbps: plan.audioKbps, tracks: [] },
      });
      costs.push(threadsBetween(before, threadTimes(pid)).reduce((sum, { ran }) => sum + ran, 0));
    }
    return ((costs[1] - costs[0]) * 1000) / ((BARE_SECONDS[1] - BARE_SECONDS[0]) * plan.fps);
  } finally {
    await driven.close();
  }
}

async function demonstration(): Promise<AnyRecord[]> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-cost-'));
  const studio = await startStudio({ data, quiet: true });
  try {
    const client = await studio.owner(`/show/${SHOW}`);
    return ((await client.json('/edits')) as { records: AnyRecord[] }).records;
  } finally {
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

export async function costFigures(say: Say): Promise<void> {
  const o = options();
  const records = await demonstration();
  const studios: Turn[] = [];
  const bare: number[] = [];
  const stolen = stolenSeconds();
  for (let turn = 0; turn < Number(o.turns); turn++) {
    // A browser of its own for each turn: what the last one left in memory is not counted.
    let browser = await launchBrowser({ chip: o.chip });
    studios.push(await studioTurn(browser, o, turn === 0).finally(() => browser.close()));
    if (o.idle) continue;
    browser = await launchBrowser({ chip: o.chip });
    bare.push(await bareTurn(browser, o, records).finally(() => browser.close()));
  }
  const of = (read: (turn: Turn) => number) => median(studios.map(read));
  const where = `${o.size}${o.tall ? ` and ${o.tall.width}x${o.tall.height}` : ''} at ${o.fps}, ${o.idle ? 'not on air' : 'live'}, place ${o.place}`;
  for (const part of PARTS)
    say({
      name: `cost: ${part}, ${where}`,
      value: of((t) => t.parts.get(part)!.ran / t.seconds),
      unit: 'core',
      waiting: of((t) => t.parts.get(part)!.waited / t.seconds),
    });
  say({ name: `cost: all of it, ${where}`, value: of((t) => total(t.parts) / t.seconds), unit: 'core' });
  say({ name: `cost: composed, ${where}`, value: of((t) => t.frames / t.seconds), unit: 'frames a second' });
  if (!o.idle) {
    const value = of((t) => (total(t.parts) * 1000) / t.frames);
    const reference = median(bare);
    say({
      name: `cost: one composed frame, ${where}`,
      ...{ value, unit: 'core-ms', reference, ratio: value / reference },
      ...{ against: 'the bare chain', goal: o.place === 'air' ? '< 1.5' : '< 1.35' },
      stolenSeconds: stolenSeconds() - stolen,
    });
  }
}
