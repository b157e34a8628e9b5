/** Both frames on air at once. */
import { readdirSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import type { PlanRecord } from '../../core/show/records';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { pull } from '../lib/pull';
import { eventually } from '../lib/relay-process';
import { goLive, SHOW, showDestinations, stopLive, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;

const plan: PlanRecord = {
  kind: 'plan',
  id: 'plan-home',
  showId: SHOW,
  name: 'Both',
  position: 0,
  frames: {
    wide: { width: 320, height: 180, videoKbps: 600 },
    tall: { width: 180, height: 320, videoKbps: 500 },
  },
  ...PLAIN_PLAN,
  audioKbps: 96,
  fps: 15,
};

beforeAll(async () => {
  fixture = await StudioFixture.start({}, { tall: true });
  await fixture.edit('Both frames', [plan]);
  page = await fixture.open('delivery');
  await showDestinations(page);
});
afterAll(async () => {
  await fixture?.stop();
});

const destinations = async () => (await fixture.health()).relay?.session.destinations ?? [];
const framesOf = async (name: string) => (await destinations()).find((d) => d.name === name)?.framesSent ?? 0;
const playUrl = (name: string): string =>
  fixture.studio.platforms().find((p: { name: string }) => p.name === name)!.playUrl;

test('the tall frame is encoded when a destination takes it, also while live; the wide one does not notice', async () => {
  const marmot = page.getByRole('switch', { name: 'Send to Marmot' });
  await marmot.click();
  await goLive(page);
  await eventually(async () => (await framesOf('Larch')) > 30, 60_000);
  expect((await fixture.health()).desk!.encodes.map((e) => e.encode)).toEqual(['wide']);
  await marmot.click();
  await eventually(async () => (await framesOf('Marmot')) > 30, 60_000);
  expect((await fixture.health()).desk!.encodes.map((e) => e.encode)).toEqual(['wide', 'tall']);
  const [wide, tall] = ['larch', 'marmot'].map((name) => path.join(fixture.data, `${name}.flv`));
  await Promise.all([pull(playUrl('larch'), wide, 5), pull(playUrl('marmot'), tall, 5)]);
  await stopLive(page);
  for (const [file, width, height] of [
    [wide, 320, 180],
    [tall, 180, 320],
  ] as const) {
    const got = analyse(file);
    expect(got.video).toMatchObject({ codec: 'h264', width, height });
    expect(got.audio).toMatchObject({ codec: 'aac' });
    expect(got.stampsRise).toBe(true);
    expect(decodesCleanly(file).clean).toBe(true);
  }
  // Each frame has a recording of its own.
  await eventually(() => Promise.resolve(readdirSync(path.join(fixture.data, 'recordings')).length >= 2));
  const names = readdirSync(path.join(fixture.data, 'recordings'));
  expect(names.filter((n) => n.includes('tall'))).toHaveLength(1);
});
