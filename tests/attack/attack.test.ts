/**
 * Hostile input at every border of a studio that broadcasts: `npm run attack -- --minutes 10 --seed 7`. After each burst
 * everything must still be as it was. A short one runs with the other tests; seeds that found something stay in `PINNED`.
 */
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import Sqlite from 'better-sqlite3';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { startStudio } from '../../scripts/lib/studio.mjs';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { eventually, FakeDesk } from '../lib/relay-process';
import { makeSampleStream } from '../lib/sample-stream';
import { SHOW, SMALL_PLAN } from '../lib/studio-fixture';
import { pause } from '../lib/waits';
import { BORDERS } from './borders';
import { Dice } from './dice';
import { FAR_SECRET } from './far-ends';
import type { Target } from './target';

const SECONDS = Number(process.env.DOLOMITE_ATTACK_SECONDS ?? 35);
const SEEDS = process.env.DOLOMITE_SEED ? [Number(process.env.DOLOMITE_SEED)] : [1];
/** Seeds that found something, by border; run before anything new. */
const PINNED: readonly (readonly [border: string, seed: number])[] = [['the door', 7001]];
/** What a process may have taken more of than after everything was tried once. */
const MOST_GROWTH_MB = 50;
const SAMPLE_SECONDS = 8;
/** In a run of minutes: until what is kept to look back on has its length. A short run is compared with its first round. */
const FILLING_MS = SECONDS > 300 ? 150_000 : 0;

const PROCESSES = ['web', 'relay', 'door', 'standins'] as const;

const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-attack-'));
const data = path.join(folder, 'data');
const logFolder = path.join(folder, 'logs');
let target: Target;
let desk: FakeDesk;
let playing = true;
let played: Promise<void>;
const secrets = new Map<string, string>();
const restarts: string[] = [];

beforeAll(async () => {
  mkdirSync(logFolder);
  const studio = await startStudio({
    ...{ data, logFolder, env: { DOLOMITE_LOG: 'trace' } },
    onExit: (name: string) => void restarts.push(name),
  });
  const owner = await studio.owner(`/show/${SHOW}`);
  const made = (await (await owner.send('/event-sources', { what: 'addHook', name: 'Till' })).json()) as {
    hook: { id: string };
    secret: string;
  };
  await owner.edit({ name: 'Small', put: [SMALL_PLAN], removed: ['dest-marmot'] });
  const { intakePort } = (await owner.json('/input-address?inputId=none')) as { intakePort: number };
  target = {
    ...{ studio, owner, feedPort: intakePort, answers: [], broken: [], played: new Set() },
    hook: { id: made.hook.id, secret: made.secret },
  };
  secrets.set('the owner’s token', studio.signInUrl.split('#')[1]);
  secrets.set('the relay’s token', studio.relayToken);
  secrets.set('the owner’s cookie', owner.headers.cookie.split('=')[1]);
  secrets.set('the hook’s secret', made.secret);
  secrets.set('what stands in the address of a feed or page', FAR_SECRET);
  secrets.set('the door’s token', readFileSync(path.join(data, 'door/door.token'), 'utf8'));
  for (const { name, key } of studio.platforms() as { name: string; key: string }[])
    secrets.set(`the key of ${name}`, key);
  for (const { name } of studio.platforms())
    await new StudioClient(studio.platforms()[0].watchUrl.replace(/[^/]+\/watch$/, name)).form('/quiet', {
      on: 'yes',
    });

  const begun = (await (await owner.form('/broadcast', { intent: 'start' })).json()) as {
    broadcast: { sessionId: string; ticket: string };
    message?: string;
  };
  secrets.set('the ticket', begun.broadcast.ticket);
  desk = new FakeDesk({ port: studio.relayPort }, begun.broadcast);
  await desk.welcome();
  const sample = await makeSampleStream(SAMPLE_SECONDS);
  for (const config of sample.configs) desk.send(config);
  played = (async () => {
    for (let n = 0; playing; n++) await desk.play(sample, { shiftUs: n * SAMPLE_SECONDS * 1e6 });
  })();
  await eventually(async () => {
    const { state, destinations } = await session();
    return state === 'live' && destinations.filter((d) => d.state === 'live').length === 2;
  });
}, 120_000);

afterAll(async () => {
  playing = false;
  desk?.socket.terminate();
  await played;
  await target?.studio.stop();
  rmSync(folder, { recursive: true, force: true });
});

const session = async () =>
  (
    (await target.owner.json('/health')) as {
      relay: {
        session: { state: string; destinations: { name: string; state: string; reconnects: number }[] };
      };
    }
  ).relay.session;

const pids = () => [...target.studio.children].map(([name, child]) => `${name} ${child.pid}`);

/** Memory of a process now, megabytes: the least of some looks, since garbage lies around until it is collected. */
async function residentMb(name: string): Promise<number> {
  const looks: number[] = [];
  for (let i = 0; i < 8; i++) {
    const status = readFileSync(`/proc/${target.studio.children.get(name)!.pid}/status`, 'utf8');
    looks.push(Number(/VmRSS:\s+(\d+) kB/.exec(status)?.[1]) / 1024);
    await pause(150);
  }
  return Math.min(...looks);
}

/** Everything that must be so after a burst, whatever it was. */
async function isWhole(of: string, before: readonly string[]): Promise<void> {
  expect([of, restarts, pids()]).toEqual([of, [], before]);
  expect([of, target.broken.splice(0)]).toEqual([of, []]);
  // A valid message still gets through.
  const viewer = `after_${Math.random().toString(36).slice(2)}`;
  const larch = new StudioClient(target.studio.platforms()[0].watchUrl.replace(/\/watch$/, ''));
  expect([of, (await larch.form('/event', { kind: 'follow', viewer })).status]).toEqual([of, 200]);
  await eventually(
    async () => JSON.stringify(await target.owner.json('/entries?show=events')).includes(viewer),
    3000,
  );
  const database = new Sqlite(path.join(data, 'dolomite.sqlite'), { readonly: true });
  expect([of, database.pragma('quick_check', { simple: true })]).toEqual([of, 'ok']);
  database.close();
  const { state, destinations } = await session();
  expect([of, state, destinations.map((d) => [d.name, d.state, d.reconnects])]).toEqual([
    ...[of, 'live'],
    destinations.map((d) => [d.name, 'live', 0]),
  ]);
  const logs = ['web', 'relay', 'door']
    .map((name) => readFileSync(path.join(logFolder, `${name}.log`), 'utf8'))
    .join('\n');
  const answers = target.answers.splice(0).join('\n');
  for (const [what, secret] of secrets) {
    expect([of, `${what} in a log`, logs.includes(secret)]).toEqual([of, `${what} in a log`, false]);
    // The desk needs the ticket: the owner's pages are told it.
    if (what !== 'the ticket')
      expect([of, `${what} in an answer`, answers.includes(secret)]).toEqual([
        of,
        `${what} in an answer`,
        false,
      ]);
  }
}

test(
  'nothing that comes from outside stops anything, stays in memory, tells a secret or reaches the broadcast',
  async () => {
    const before = pids();
    for (const [name, seed] of PINNED) {
      await BORDERS.find((border) => border.name === name)!.burst(target, new Dice(seed));
      await isWhole(`${name}, seed ${seed}`, before);
    }
    const memory = new Map<string, number>();
    const began = Date.now();
    const end = began + SECONDS * 1000;
    const bursts = new Map<string, number>();
    let round = 0;
    for (const start of SEEDS)
      for (let seed = start * 1000; round === 0 || Date.now() < end; seed++, round++) {
        for (const { name, burst } of BORDERS) {
          await burst(target, new Dice(seed));
          await isWhole(`${name}, seed ${seed}`, before);
          bursts.set(name, (bursts.get(name) ?? 0) + 1);
        }
        for (const name of PROCESSES) {
          const now = await residentMb(name);
          // What everything takes once is no growth, nor are the minutes that are kept to look back on.
          if (round === 0 || Date.now() - began < FILLING_MS) memory.set(name, now);
          else
            expect([name, round, now - memory.get(name)! < MOST_GROWTH_MB, now]).toEqual([
              name,
              round,
              true,
              now,
            ]);
        }
      }
    const grown = await Promise.all(
      PROCESSES.map(async (name) => [name, Math.round((await residentMb(name)) - memory.get(name)!)]),
    );
    console.log(
      `attacked in ${round} rounds: ${[...bursts].map(([name, n]) => `${name} ${n}`).join(', ')}; memory grew by ${JSON.stringify(Object.fromEntries(grown))} MB; played: ${[...target.played].sort().join(' ')}`,
    );

    // A border at which nothing arrives is not attacked.
    expect(target.played.size).toBeGreaterThan(2);

    // What was recorded meanwhile is whole.
    playing = false;
    await played;
    await target.owner.form('/broadcast', { intent: 'stop' });
    const recorded = readdirSync(path.join(data, 'recordings')).filter((f) => !f.startsWith('Clip'));
    expect(recorded).toHaveLength(1);
    const file = path.join(data, 'recordings', recorded[0]);
    expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
    expect(analyse(file).largestGapSeconds).toBeLessThan(0.2);
  },
  SECONDS * 1000 * 4 + 240_000,
);
