/** The main job ends live: both platforms are sent to, watched by a browser, and leave a recording that plays. */
import { statSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { expect, test } from 'vitest';
import { analyse } from '../../scripts/lib/analyse.mjs';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import { goLive, goTo, stopLive, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;

freshStart(
  async () => {
    fixture = await StudioFixture.start();
    page = await fixture.open();
  },
  async () => fixture?.stop(),
);

test('goes live to both stand-ins, can be watched with sound, and leaves a recording that plays and downloads', async () => {
  await goTo(page, 'On air');
  await goLive(page);
  await eventually(
    async () =>
      (await fixture.health()).relay?.session.destinations.filter(
        (d) => d.state === 'live' && d.framesSent > 30,
      ).length === 2,
    20_000,
  );
  const path0 = page.getByRole('navigation', { name: 'Places' });
  await path0.getByText(/\d+ fps/).waitFor();
  await path0.getByText(/^[1-9]\d* kbps$/).waitFor();
  const watch = await fixture.browser.newPage();
  await watch.goto(fixture.studio.platforms()[0].watchUrl);
  const video = () =>
    watch.evaluate(() => {
      const v = document.querySelector('video')!;
      return {
        time: v.currentTime,
        width: v.videoWidth,
        sound: (v as unknown as { webkitAudioDecodedByteCount: number }).webkitAudioDecodedByteCount,
      };
    });
  await eventually(async () => (await video()).time > 2, 45_000);
  expect((await video()).width).toBe(320);
  expect((await video()).sound).toBeGreaterThan(1000);
  await watch.getByRole('button', { name: 'Follow' }).click();
  await watch.close();
  await page.getByRole('log').getByText('guest_of_the_hut').waitFor();
  // Moving between places does not interrupt anything.
  for (const place of ['Stage', 'Sound', 'Audience', 'Delivery', 'Vault', 'On air']) await goTo(page, place);
  const { composed } = (await fixture.health()).desk!;
  await eventually(async () => (await fixture.health()).desk!.composed > composed + 20);
  await stopLive(page);
  await goTo(page, 'Vault');
  // A cover that stood in for a full machine may have begun a file of its own.
  await page.getByText(/^[1-9]\d* files?$/).waitFor();
  await eventually(() =>
    page.evaluate(async () => {
      const v = document.querySelector('video')!;
      v.muted = true;
      await v.play();
      return v.currentTime > 0.5;
    }),
  );
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download' }).click(),
  ]);
  const file = path.join(fixture.data, 'downloaded.mkv');
  await download.saveAs(file);
  expect(statSync(file).size).toBeGreaterThan(100_000);
  const result = analyse(file);
  expect(result.video.codec).toBe('h264');
  expect(result.audio.codec).toBe('aac');
  expect(result.stampsRise).toBe(true);
});
