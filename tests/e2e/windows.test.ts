/** Windows that the desk's page opens: their pictures live with them, whatever the page itself shows. */
import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { en } from '../../app/words/en';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { eventually } from '../lib/relay-process';
import { goTo, growing, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;
beforeAll(async () => {
  fixture = await StudioFixture.start({}, { fps: 10 });
  page = await fixture.open('air');
}, 120_000);
afterAll(async () => {
  const { pageErrors } = fixture;
  await fixture?.stop();
  expect(pageErrors).toEqual([]);
});

async function openWindow(name: string): Promise<Page> {
  await page.getByRole('button', { name: 'Windows of your own' }).click();
  const [opened] = await Promise.all([
    page.context().waitForEvent('page'),
    page.getByRole('menuitem', { name }).click(),
  ]);
  growing(opened);
  opened.on('pageerror', (error) => fixture.pageErrors.push(error.message));
  return opened;
}

/** What a canvas shows, as a picture of its window has it. */
const shot = async (of: Page, selector: string) =>
  (await of.locator(selector).first().screenshot()).toString('base64');
const moves = (of: Page, selector: string) =>
  eventually(async () => {
    const before = await shot(of, selector);
    await of.waitForTimeout(400);
    return (await shot(of, selector)) !== before;
  });
const onAir = async () => (await fixture.health()).desk?.onAirSceneId;

test('a clean window shows what viewers see, alone, and can be mirrored', async () => {
  const clean = await openWindow('Clean window, Wide');
  await moves(clean, 'canvas');
  expect(await clean.evaluate(() => document.querySelectorAll('canvas').length)).toBe(1);
  const buttons = await clean.locator('button').allInnerTexts();
  expect(buttons).toEqual(['Mirror (M)', 'Full screen (F)']);
  await clean.keyboard.press('m');
  await clean.locator('[data-mirrored=true]').waitFor();
  // It goes on while the studio's page shows another place.
  await goTo(page, 'Vault');
  await moves(clean, 'canvas');
  await goTo(page, 'On air');
  // Its sound: to an output, without the call that it goes to; gone with the window.
  const sounds = () => page.evaluate(() => localStorage.getItem('dolomite-windows'));
  await clean.getByLabel('Sound of clean windows').selectOption({ label: 'Default output' });
  await clean.getByLabel('Left out of the sound').selectOption({ label: 'Without Voice call' });
  await eventually(async () => /"deviceId":""/.test((await sounds()) ?? ''));
  await clean.close();
  await eventually(async () => /"deviceId":null/.test((await sounds()) ?? ''));
});

/** What another program reads from the pipe: so many pictures, in grey, one after the other. */
function readPipe(file: string, pictures: number): Promise<Buffer> {
  const args = [
    '-v',
    'error',
    '-i',
    file,
    '-frames:v',
    String(pictures),
    '-pix_fmt',
    'gray',
    '-f',
    'rawvideo',
    '-',
  ];
  return new Promise((resolve, reject) =>
    execFile('ffmpeg', args, { encoding: 'buffer', maxBuffer: 1 << 28 }, (error, stdout) =>
      error ? reject(error) : resolve(stdout),
    ),
  );
}

test('a clean window is a camera for other programs, says so, and ends with the window; a reader may come again', async () => {
  const clean = await openWindow('Clean window, Tall');
  const camera = clean.getByLabel(en.windows.camera, { exact: true });
  await camera.selectOption({ label: en.windows.cameraPipe });
  const sign = clean.getByRole('status');
  await sign.getByText('Waiting for a program').waitFor();
  const file = path.join(fixture.data, 'camera.y4m');
  for (const again of [false, true]) {
    const size = 720 * 1280;
    const pixels = await readPipe(file, 12);
    expect(pixels.length).toBe(12 * size);
    // It moves, and holds a picture.
    expect(pixels.subarray(0, size).equals(pixels.subarray(11 * size))).toBe(false);
    expect(new Set(pixels.subarray(0, size)).size).toBeGreaterThan(20);
    if (!again) await sign.getByText('Waiting for a program').waitFor();
  }
  await page.getByRole('button', { name: en.windows.cameraRuns }).waitFor();
  await clean.close();
  await page.getByRole('button', { name: 'Windows of your own', exact: true }).waitFor();
  await eventually(async () => !existsSync(file));
});

test('a wall prepares by a click, takes by two, says which is on, and keeps its layout by name', async () => {
  const wall = await openWindow('Wall');
  const tile = (name: string) => wall.locator('.wall-tile').filter({ hasText: new RegExp(`^${name}`) });
  await tile('Talk').getByRole('button').click();
  await page.getByRole('region', { name: 'Next', exact: true }).getByText('Talk').waitFor();
  await expect.poll(() => tile('Talk').getAttribute('data-tally')).toBe('next');
  await tile('Break').getByRole('button').dblclick();
  await expect.poll(onAir).toBe('sc-break');
  await expect.poll(() => tile('Break').getAttribute('data-tally')).toBe('on');
  await wall.getByRole('button', { name: 'Choose tiles' }).click();
  await wall.getByRole('checkbox', { name: 'Lever camera' }).check();
  await wall.getByRole('checkbox', { name: 'Credits' }).first().uncheck();
  await wall.getByRole('textbox', { name: 'Name of the layout' }).fill('Levers');
  await wall.getByRole('button', { name: 'Safe areas' }).click();
  await wall.close();
  const again = await openWindow('Wall');
  expect(await again.getByRole('textbox', { name: 'Name of the layout' }).inputValue()).toBe('Levers');
  await again
    .locator('.wall-tile')
    .filter({ hasText: /^Lever camera/ })
    .waitFor();
  await again.locator('.wall-safe').first().waitFor();
  await again.close();
});

test('peek has chat, clock, next and the voice’s mute, and takes', async () => {
  const peek = await openWindow('Peek');
  await peek.getByRole('log').locator('p').first().waitFor();
  await peek.getByRole('button', { name: 'Mute Voice' }).click();
  await peek.getByRole('button', { name: 'Voice is muted' }).click();
  await peek.getByText('Countdown').waitFor();
  await peek.getByRole('button', { name: 'Take' }).click();
  await expect.poll(onAir).toBe('sc-start');
  // With the page that opened it gone there is nothing to show.
  await Promise.all([peek.waitForEvent('close'), page.reload()]);
});
