/**
 * The main job on real input: the browser's camera device and a video file make the picture, the browser's microphone the
 * sound, and a server that is not ours takes it.
 */
import path from 'node:path';
import { expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { freshStart } from '../lib/fresh-start';
import { NginxRtmp } from '../lib/nginx-rtmp';
import { pull } from '../lib/pull';
import { eventually } from '../lib/relay-process';
import { goLive, goTo, makeClip, showDestinations, stopLive, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let nginx: NginxRtmp;

freshStart(
  async () => {
    nginx = await NginxRtmp.start();
    fixture = await StudioFixture.start();
  },
  async () => {
    await fixture?.stop();
    await nginx?.stop();
  },
);

test('camera, clip and microphone reach nginx in step, through the buttons a user presses', async () => {
  const page = await fixture.open();
  const scenes = page.getByRole('region', { name: 'Scenes' });
  await scenes.getByRole('button', { name: 'Add' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Make the scene' }).click();
  await page.getByLabel('Name of the scene').fill('Real things');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Add layer' }).click();
  await page.getByRole('menuitem', { name: 'Camera…' }).click();
  await page.getByRole('menuitem', { name: /fake/i }).first().click();
  const clip = path.join(fixture.data, 'clip.mp4');
  makeClip(clip, 5);
  await page.getByLabel('Files to bring in').setInputFiles(clip);
  await page.getByTestId('layer-clip').waitFor();
  await page
    .getByRole('region', { name: 'Layer settings' })
    .getByText(/running, /)
    .waitFor();
  await scenes.getByRole('button', { name: /^Real things: bring on air/ }).click();

  await goTo(page, 'Sound');
  await page.getByRole('button', { name: 'Add channel' }).click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /fake|default/i })
    .first()
    .click();
  for (const name of ['Voice', 'Switchback Freight', 'Night music'])
    await page.getByRole('group', { name, exact: true }).getByRole('button', { name: 'Mute' }).click();

  await goTo(page, 'Delivery');
  await showDestinations(page);
  for (const name of ['Larch', 'Cairn']) await page.getByRole('switch', { name: `Send to ${name}` }).click();
  await page.getByRole('button', { name: 'Add destination' }).click();
  const own = page.getByRole('group', { name: 'Destination 3' });
  await own.getByLabel('Server URL').fill(nginx.url);
  await page.keyboard.press('Enter');
  await own.getByLabel('Stream key of Destination 3').fill('hut-nine');
  await own.getByRole('button', { name: 'Store' }).click();
  await own.getByText('Stream key (saved)').first().waitFor();
  await own.getByRole('switch', { name: 'Send to Destination 3' }).click();

  await goLive(page);
  await own.getByText(/\d+ kbps · 0 dropped/).waitFor();
  const pulled = path.join(fixture.data, 'nginx.flv');
  await pull(`${nginx.url}/hut-nine`, pulled, 8);
  await eventually(async () => ((await fixture.health()).desk?.fps ?? 0) > 5);
  await stopLive(page);

  const result = analyse(pulled);
  expect(result.video).toMatchObject({ codec: 'h264', width: 320, height: 180 });
  expect(result.audio).toMatchObject({ codec: 'aac', sampleRate: 48_000, channels: 2 });
  expect(result.stampsRise).toBe(true);
  expect(result.video.pictures).toBeGreaterThan(8);
  expect(result.worstTwoSecondsKbps).toBeLessThan(600 * 1.1);
  // A busy machine may skip the very picture that was to be the keyframe: then it is the next one it has time for.
  for (const seconds of result.keyframeSeconds) expect(seconds).toBeLessThan(2.05 + result.largestGapSeconds);
  expect(decodesCleanly(pulled).clean).toBe(true);
  expect(fixture.pageErrors).toEqual([]);
});
