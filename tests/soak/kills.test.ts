/**
 * Processes are killed at random moments: every recording must be readable to within two seconds of it, the database whole.
 * A few in the ordinary tests, hundreds by `npm run soak`.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import Database from 'better-sqlite3';
import { PLAIN_SCENE } from '../../core/show/records';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { seededRandom } from '../../standins/inputs/random';
import { eventually, FakeDesk, RelayProcess } from '../lib/relay-process';
import { makeSampleStream, type SampleStream } from '../lib/sample-stream';
import { sampleScene } from '../../core/show/sample-show';
import { marksOf } from '../lib/moving-mark';
import { goLive, SHOW, SMALL_PLAN, stopLive, StudioFixture } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

const KILLS = Number(process.env.DOLOMITE_SOAK ?? 4);
/** Of these so many hit the relay, the web server and the page. */
const OF = {
  relay: Math.ceil(KILLS * 0.5),
  web: Math.ceil(KILLS * 0.4),
  page: Math.max(1, Math.floor(KILLS * 0.1)),
};
const SEED = Number(process.env.DOLOMITE_SEED ?? 9);
const random = seededRandom(SEED);
/** Lost at most, seconds. */
const MOST_LOST = 2;

let sample: SampleStream;
let folder: string;

beforeAll(async () => {
  sample = await makeSampleStream(10);
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-soak-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test(
  `${OF.relay} kills of the relay: both recordings readable to within ${MOST_LOST} s, without a decoding error`,
  async () => {
    for (let n = 0; n < OF.relay; n++) {
      const own = path.join(folder, String(n));
      const relay = await RelayProcess.start();
      const desk = new FakeDesk(
        relay,
        await relay.begin({
          recordingFolder: own,
          lookbackSeconds: 30,
          scratchFolder: path.join(own, 'scratch'),
        }),
      );
      await desk.welcome();
      for (const config of sample.configs) {
        desk.send(config);
        if (config.track === 'video') desk.send({ ...config, encode: 'tall' });
      }
      const playing = desk.play(sample, { frames: ['wide', 'tall'] });
      await eventually(async () => (await relay.status()).state === 'live');
      await pause(1500 + random() * 5500);
      const { seconds } = await relay.status();
      await relay.stop('SIGKILL');
      await playing;
      const files = readdirSync(own).filter((name) => name.endsWith('.mkv'));
      expect(files).toHaveLength(2);
      for (const file of files) {
        const { seconds: kept, stampsRise } = analyse(path.join(own, file));
        expect(kept, `kill ${n}, seed ${SEED}`).toBeGreaterThan(seconds - MOST_LOST);
        expect(stampsRise).toBe(true);
        expect(decodesCleanly(path.join(own, file))).toEqual({ clean: true, complaints: '' });
      }
      rmSync(own, { recursive: true, force: true });
    }
  },
  Math.max(300_000, OF.relay * 20_000),
);

test(
  `${OF.web} kills of the web server while it saves: the database is whole, and what was confirmed is there`,
  async () => {
    const fixture = await StudioFixture.start();
    try {
      let confirmed = 0;
      let over = false;
      const saving = (async () => {
        while (!over) {
          const n = confirmed + 1;
          try {
            await fixture.edit(`Edit ${n}`, [
              {
                kind: 'scene',
                id: `soak-${n}`,
                showId: SHOW,
                name: `Soak ${n}`,
                position: 100 + n,
                ...PLAIN_SCENE,
              },
            ]);
            confirmed = n;
          } catch {
            // Killed in the middle of it: the same edit is tried again.
            await pause(100);
          }
        }
      })();
      for (let n = 0; n < OF.web; n++) {
        await pause(300 + random() * 1200);
        const web = fixture.studio.children.get('web')!;
        const killed = confirmed;
        web.kill('SIGKILL');
        await eventually(async () => confirmed > killed + 1, 30_000);
      }
      over = true;
      await saving;
      const database = new Database(path.join(fixture.data, 'dolomite.sqlite'), { readonly: true });
      expect(database.pragma('integrity_check')).toEqual([{ integrity_check: 'ok' }]);
      expect(database.pragma('foreign_key_check')).toEqual([]);
      const ids = (
        database.prepare("SELECT id FROM scene WHERE id LIKE 'soak-%'").all() as { id: string }[]
      ).map((row) => row.id);
      database.close();
      for (let n = 1; n <= confirmed; n++) expect(ids).toContain(`soak-${n}`);
    } finally {
      await fixture.stop();
    }
  },
  Math.max(300_000, OF.web * 20_000),
);

/** The renderers of the browser this test has started: what a crash or an out-of-memory kill takes. */
function renderers(): number[] {
  const facts = readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((name) => {
      try {
        const stat = readFileSync(`/proc/${name}/stat`, 'utf8');
        const parent = Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
        return [{ pid: Number(name), parent, command: readFileSync(`/proc/${name}/cmdline`, 'utf8') }];
      } catch {
        return []; // It has just ended.
      }
    });
  const parents = new Map(facts.map((f) => [f.pid, f.parent]));
  const mine = (pid: number): boolean => {
    for (let at = pid; at > 1; at = parents.get(at) ?? 0) if (at === process.pid) return true;
    return false;
  };
  return facts.filter((f) => f.command.includes('--type=renderer') && mine(f.pid)).map((f) => f.pid);
}

/** For how long a file lasts, and how much of it nobody's desk is seen in. */
function deskIn(file: string): { seconds: number; awaySeconds: number } {
  const args = [
    '-v',
    'error',
    '-select_streams',
    'v',
    '-show_entries',
    'packet=pts_time',
    '-of',
    'csv=p=0',
    file,
  ];
  const at = String(spawnSync('ffprobe', args).stdout).trim().split('\n').map(parseFloat);
  const desk = marksOf(file, [224, 32, 32]).map((mark) => (mark?.share ?? 0) > 0.7);
  let [awaySeconds, last] = [0, 0];
  for (const [i, time] of at.entries()) {
    if (!desk[i] && i < at.length - 1) continue;
    // With the cover in between; a gap of the desk's own is a video frame that was too late.
    if (i - last > 1) awaySeconds += time - at[last] - 1 / SMALL_PLAN.fps;
    last = i;
  }
  return { seconds: at.at(-1)! - at[0], awaySeconds };
}

const evenings = (data: string): string[] => {
  const database = new Database(path.join(data, 'dolomite.sqlite'), { readonly: true });
  const ids = database.prepare('SELECT id FROM evening ORDER BY started_ms DESC').pluck().all() as string[];
  database.close();
  return ids;
};

test(
  `${OF.page} kills of the page: the cover comes, the same connections go on, the desk comes back, nothing is lost of the recording`,
  async () => {
    const fixture = await StudioFixture.start();
    try {
      const session = async () => (await fixture.health()).relay?.session ?? null;
      const sent = async () =>
        Math.min(...((await session())?.destinations ?? []).map((d) => d.framesSent), Infinity);
      // One colour alone, so that the desk's video frames can be told from the cover's in the recording.
      await fixture.edit('Red', [
        sampleScene('sc-red', { showId: SHOW, name: 'Red', background: '#e02020', position: -1 }),
      ]);
      const first = await fixture.open('stage');
      await first.getByRole('button', { name: /^Red: bring on air/ }).click();
      await goLive(first);
      const from = Date.now();
      await eventually(async () => (await session())?.coverReady === true && (await sent()) > 30, 45_000);
      for (let n = 0; n < OF.page; n++) {
        await pause(500 + random() * 3000);
        for (const pid of renderers()) process.kill(pid, 'SIGKILL');
        await eventually(async () => (await session())?.state === 'covered', 5000);
        const before = await sent();
        await eventually(async () => (await sent()) > before + 20, 10_000);
        for (const context of fixture.browser.contexts()) await context.close();
        await fixture.open('air');
        await eventually(async () => (await session())?.state === 'live', 45_000);
      }
      const [page] = fixture.browser.contexts().flatMap((context) => context.pages());
      const { destinations } = (await session())!;
      const seconds = (Date.now() - from) / 1000;
      await stopLive(page);
      expect(destinations.map((d) => [d.state, d.reconnects])).toEqual(destinations.map(() => ['live', 0]));
      const files = readdirSync(path.join(fixture.data, 'recordings')).map((name) =>
        path.join(fixture.data, 'recordings', name),
      );
      const kept = files.map((file) => analyse(file));
      for (const file of files) expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
      expect(kept.every((k) => k.stampsRise)).toBe(true);
      // The beginning, before the first keyframe is there, does not count.
      expect(kept.reduce((sum, k) => sum + k.seconds, 0)).toBeGreaterThan(seconds - 4 - MOST_LOST * OF.page);
      // The report says what the recording shows: how much was due, and how long no desk was there.
      const [evening] = evenings(fixture.data);
      const csv = (await fixture.client.text(`/reports/${evening}/csv`)).trim().split('\r\n');
      const column = (name: string) => Number(csv.at(-1)!.split(',')[csv[0].split(',').indexOf(name)]);
      const shown = files.map((file) => deskIn(file));
      const wanted = {
        due: shown.reduce((sum, s) => sum + s.seconds, 0) * SMALL_PLAN.fps,
        away: shown.reduce((sum, s) => sum + s.awaySeconds, 0) * SMALL_PLAN.fps,
      };
      const told = { due: column('due'), away: column('desk gone') };
      console.log(
        `report ${JSON.stringify(told)}, recording ${JSON.stringify(wanted)}, files ${files.length}`,
      );
      // One per cent, and what comes between the last look and the end.
      const slack = wanted.due * 0.01 + SMALL_PLAN.fps;
      expect(Math.abs(told.due - wanted.due)).toBeLessThan(slack);
      expect(Math.abs(told.away - wanted.away)).toBeLessThan(slack);
      expect(told.away).toBeGreaterThan(OF.page * SMALL_PLAN.fps);
    } finally {
      await fixture.stop();
    }
  },
  Math.max(300_000, OF.page * 60_000),
);
