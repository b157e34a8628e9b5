/**
 * Processes are killed at random moments: every recording must be readable to within two seconds of it, the database whole.
 * A few in the ordinary tests, hundreds by `npm run soak`.
 */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { seededRandom } from '../../standins/inputs/random';
import { eventually, FakeDesk, RelayProcess } from '../lib/relay-process';
import { makeSampleStream, type SampleStream } from '../lib/sample-stream';
import { SHOW, StudioFixture } from '../lib/studio-fixture';

const KILLS = Number(process.env.DOLOMITE_SOAK ?? 6);
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
  `${KILLS} kills of the relay: both recordings readable to within ${MOST_LOST} s, without a decoding error`,
  async () => {
    for (let n = 0; n < KILLS; n++) {
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
      await new Promise((resolve) => setTimeout(resolve, 1500 + random() * 5500));
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
  KILLS * 20_000,
);

test(
  `${Math.ceil(KILLS / 2)} kills of the web server while it saves: the database is whole, and what was confirmed is there`,
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
                folder: '',
                mark: 'none',
                transition: { type: 'cut', seconds: 0 },
                background: '#14181D',
                standing: {},
              },
            ]);
            confirmed = n;
          } catch {
            // Killed in the middle of it: the same edit is tried again.
            await new Promise((resolve) => setTimeout(resolve, 100));
          }
        }
      })();
      for (let n = 0; n < Math.ceil(KILLS / 2); n++) {
        await new Promise((resolve) => setTimeout(resolve, 300 + random() * 1200));
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
  60_000 + KILLS * 20_000,
);
