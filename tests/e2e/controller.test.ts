/** A controller by the bytes it speaks: taught by moving it, its faders picked up, its lights kept true. */
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { documentOf, findRecord, recordsOf } from '../../core/show/document';
import { growing, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;
let device: Page;
beforeAll(async () => {
  fixture = await StudioFixture.start();
  const context = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
  page = await fixture.open('air', context);
  device = await context.newPage();
  growing(device);
  await device.goto(`${fixture.studio.url}controller`);
  await device.getByRole('heading', { name: 'Stand-in controller' }).waitFor();
}, 120_000);
afterAll(async () => {
  const { pageErrors } = fixture;
  await fixture?.stop();
  expect(pageErrors).toEqual([]);
});

const document = async () => documentOf(await fixture.records());
const onAir = async () => (await fixture.health()).desk?.onAirSceneId;
const keys = () => page.getByRole('dialog', { name: 'Keys' });
const button = (n: number) => device.getByRole('button', { name: `Button ${n}`, exact: true });
const lit = (n: number) => button(n).getAttribute('data-lit');
const gain = async () => findRecord(await document(), 'channel', 'ch-music')!.gainDb;

/** Teaches what is moved. @param choose what it is to call */
async function teach(choose: () => Promise<void>, move: () => Promise<void>): Promise<void> {
  const before = recordsOf(await document(), 'control').length;
  // One in the background is drawn seldom, and its menus come slowly.
  await page.bringToFront();
  await keys().getByRole('button', { name: 'Move the control …' }).click();
  await choose();
  await move();
  await expect.poll(async () => recordsOf(await document(), 'control').length).toBe(before + 1);
}
const option = async (field: string, name: string) => {
  await keys().getByLabel(field, { exact: true }).click();
  await page.getByRole('option', { name, exact: true }).click();
};

test('controls are taught by moving them: a button, a fader, an encoder', async () => {
  await page.getByRole('button', { name: /^Keys and what they call/ }).click();
  await teach(
    async () => {
      await option('Command', 'Take a scene');
      await option('Scene', 'Break');
    },
    () => button(1).click(),
  );
  await teach(
    () => option('Channel', 'Night music'),
    async () => {
      for (const value of ['20', '24', '30']) await device.getByLabel('Fader 1').fill(value);
    },
  );
  await teach(
    () => option('Channel', 'Night music'),
    async () => {
      for (let i = 0; i < 3; i++)
        await device.getByRole('button', { name: 'Encoder 1 to the right' }).click();
    },
  );
  await keys().getByText('Connected: Stand-in controller').waitFor();
  expect(recordsOf(await document(), 'control').map(({ of, number, mode }) => [of, number, mode])).toEqual([
    ['note', 36, 'button'],
    ['cc', 0, 'fader'],
    ['cc', 16, 'relative'],
  ]);
  await keys().getByRole('button', { name: 'Close' }).click();
});

test('a button calls its scene and is lit while that is on', async () => {
  expect(await lit(1)).toBe('false');
  await button(1).click();
  await expect.poll(onAir).toBe('sc-break');
  await expect.poll(() => lit(1)).toBe('true');
  await page.evaluate(() => (globalThis.document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('Shift+2');
  await expect.poll(() => lit(1)).toBe('false');
});

test('an encoder moves the fader from where it is; a fader without a motor has to be picked up first', async () => {
  const before = await gain();
  const turn = device.getByRole('button', { name: 'Encoder 1 to the left' });
  await turn.evaluate((one) => [1, 2, 3].forEach(() => (one as HTMLElement).click()));
  await expect.poll(gain).toBe(before - 1.5);
  // However many steps it took, a hand that rests has moved it once.
  await page.keyboard.press('Control+z');
  await expect.poll(gain).toBe(before);
  await turn.click();
  await expect.poll(gain).toBe(before - 0.5);
  const fader = device.getByLabel('Fader 1');
  // Far below what is set: touching it must not make the music leap.
  await fader.fill('10');
  await fader.fill('20');
  await device.getByRole('button', { name: 'Encoder 1 to the right' }).click();
  await expect.poll(gain).toBe(before);
  // Past it, it has hold of it.
  await fader.fill('100');
  await expect.poll(gain).toBe(-5);
  await fader.fill('98');
  await expect.poll(gain).toBe(-6);
});

test('one that is plugged out and back goes on, with its lights as things stand', async () => {
  await button(1).click();
  await expect.poll(() => lit(1)).toBe('true');
  await device.reload();
  await expect.poll(() => lit(1)).toBe('true');
  await button(1).click();
  await expect.poll(onAir).toBe('sc-break');
});

test('a flood of bytes and bytes that mean nothing leave the studio as it was', async () => {
  await device.evaluate(() => {
    const channel = new BroadcastChannel('dolomite-controller');
    const bytes = Array.from({ length: 60_000 }, (_, i) => (i * 7919) % 256);
    channel.postMessage({ from: 'controller', bytes });
    for (let i = 0; i < 2000; i++) channel.postMessage({ from: 'controller', bytes: [0xb0, 99, i % 128] });
    channel.close();
  });
  // What comes above the limit of a second is let go by: in the next one the device is heard again.
  await page.waitForTimeout(1100);
  await page.keyboard.press('Shift+2');
  await expect.poll(onAir).not.toBe('sc-break');
  await button(1).click();
  await expect.poll(onAir).toBe('sc-break');
});
