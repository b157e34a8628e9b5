/** The whole chain on a line that changes by script, seen by a viewer: only by `npm run soak`, since it takes minutes. */
import http from 'node:http';
import { expect, test } from 'vitest';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import { goLive, SHOW, stopLive, StudioFixture } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

const LONG = process.env.DOLOMITE_SOAK !== undefined;
const SECONDS = 125;
const PLAN_KBPS = 4000;
/** A viewer's player begins with this much. */
const BUFFER_MS = 2000;

/** Kbps the script's line carries: each lost packet of 1460 bytes holds everything up for a round trip of 40 ms. */
function carries(second: number): number {
  const kbps = second < 30 ? 8000 : second < 60 ? 3000 : second < 65 ? 0 : second < 95 ? 1000 : 6000;
  const lossesPerSecond = (kbps * 125 * 0.02) / 1460;
  return kbps / (1 + lossesPerSecond * 0.04);
}

interface Arrival {
  /** Since the script began. */
  atMs: number;
  stampMs: number;
  bytes: number;
}

/** Reads an FLV stream (Adobe FLV 10.1, Annex E) and notes when each picture came. */
function watch(url: string, sinceMs: () => number): { arrivals: Arrival[]; stop: () => void } {
  const arrivals: Arrival[] = [];
  let rest = Buffer.alloc(0);
  let begun = false;
  const request = http.get(url, (response) => {
    response.on('data', (data: Buffer) => {
      rest = Buffer.concat([rest, data]);
      if (!begun && rest.length >= 13) {
        rest = rest.subarray(13);
        begun = true;
      }
      while (begun && rest.length >= 11) {
        const size = rest.readUIntBE(1, 3);
        if (rest.length < 11 + size + 4) break;
        const stampMs = rest.readUIntBE(4, 3) + rest[7] * 2 ** 24;
        if (rest[0] === 9) arrivals.push({ atMs: sinceMs(), stampMs, bytes: size });
        rest = rest.subarray(11 + size + 4);
      }
    });
  });
  request.on('error', () => undefined);
  return { arrivals, stop: () => request.destroy() };
}

/** Seconds a player stood still between two moments, with the buffer it began with. */
function stalledSeconds(arrivals: readonly Arrival[], untilMs: number): number {
  let played = arrivals[0].stampMs;
  let stalled = 0;
  let next = 0;
  let newest = played;
  let waiting = true;
  for (let now = arrivals[0].atMs; now < untilMs; now += 20) {
    while (next < arrivals.length && arrivals[next].atMs <= now) newest = arrivals[next++].stampMs;
    if (waiting && newest - played < (played === arrivals[0].stampMs ? BUFFER_MS : 300)) {
      if (played > arrivals[0].stampMs) stalled += 20;
      continue;
    }
    waiting = false;
    if (played + 20 <= newest) played += 20;
    else waiting = true;
  }
  return stalled / 1000;
}

test.runIf(LONG)(
  'on 8 → 3 → down for 5 s → 1 → 6 Mb/s with 2 % loss the viewer stalls under 3 s beyond the outage, and the line is used',
  async () => {
    const fixture = await StudioFixture.start();
    try {
      await fixture.edit(
        'Much to send',
        [
          {
            kind: 'plan',
            id: 'plan-home',
            showId: SHOW,
            name: 'Much',
            position: 0,
            ...PLAIN_PLAN,
            frames: { wide: { width: 640, height: 360, videoKbps: PLAN_KBPS } },
          },
        ],
        ['dest-cairn'],
      );
      const page = await fixture.open('air');
      await page.getByRole('button', { name: /^Snowstorm/ }).click();
      await goLive(page);
      await page.getByText(/\d+ kbps, 0 dropped/).waitFor();
      const [larch] = fixture.studio.platforms();
      let started = Date.now();
      const viewer = watch(larch.playUrl, () => Date.now() - started);
      await pause(10_000);
      started = Date.now();
      viewer.arrivals.length = 0;
      await fixture.client.form(new URL('/line', larch.accountUrl).href, { script: 'evening' });
      await pause(SECONDS * 1000);
      const arrivals = [...viewer.arrivals];
      viewer.stop();
      const stalled = stalledSeconds(arrivals, SECONDS * 1000);
      const kbps = (arrivals.reduce((sum, a) => sum + a.bytes, 0) * 8) / 1000 / SECONDS;
      const possible =
        [...Array(SECONDS).keys()].reduce((sum, s) => sum + Math.min(PLAN_KBPS, carries(s)), 0) / SECONDS;
      const each = [...Array(Math.floor(SECONDS / 5)).keys()].map((i) =>
        Math.round(
          (arrivals.filter((a) => Math.floor(a.atMs / 5000) === i).reduce((sum, a) => sum + a.bytes, 0) * 8) /
            5000,
        ),
      );
      const session = (await fixture.health()).relay?.session;
      console.log(
        JSON.stringify({
          stalled,
          kbps: Math.round(kbps),
          possible: Math.round(possible),
          each,
          destinations: session?.destinations,
        }),
      );
      await stopLive(page);
      expect(stalled).toBeLessThan(5 + 3);
      expect(kbps / possible).toBeGreaterThan(0.8);
    } finally {
      await fixture.stop();
    }
  },
  300_000,
);
