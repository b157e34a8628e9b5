/** Pads at the door: what a thumb presses is done at the desk, and what the desk does is seen there. */
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { findRecord, documentOf } from '../../core/show/document';
import type { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { firefoxPage } from '../lib/firefox';
import { eventually, settles } from '../lib/relay-process';
import { StudioFixture } from '../lib/studio-fixture';
import { linkFor, padAt, programAt } from '../lib/visit';

let fixture: StudioFixture;
let desk: Page;
let pad: Page;
let token: string;
beforeAll(async () => {
  fixture = await StudioFixture.start();
  desk = await fixture.open('air');
  token = await linkFor(fixture, 'operator', 'Ida’s phone');
  pad = await padAt(fixture, token);
  await pad.getByRole('region', { name: 'Tiles' }).getByRole('button').first().waitFor();
}, 120_000);
afterAll(async () => {
  const { pageErrors } = fixture;
  await fixture?.stop();
  expect(pageErrors).toEqual([]);
});

const onAir = async () => (await fixture.health()).desk?.onAirSceneId;
const channel = async (id: string) => findRecord(documentOf(await fixture.records()), 'channel', id)!;
const tile = (page: Page, name: string) =>
  page.getByRole('region', { name: 'Tiles' }).getByRole('button', { name: new RegExp(`^${name}`) });
const tone = (page: Page, name: string) => tile(page, name).getAttribute('data-tone');

test('a tile brings its scene on, and every pad shows which is on', async () => {
  const second = await padAt(fixture, token);
  await tile(pad, 'Talk').click();
  await settles(onAir, (found) => expect(found).toBe('sc-talk'));
  for (const page of [pad, second])
    await settles(
      () => tone(page, 'Talk'),
      (found) => expect(found).toBe('on'),
    );
  await tile(second, 'Game').click();
  await settles(onAir, (found) => expect(found).toBe('sc-game'));
  await settles(
    () => tone(pad, 'Talk'),
    (found) => expect(found).toBe('plain'),
  );
  await settles(
    () => tone(pad, 'Game'),
    (found) => expect(found).toBe('on'),
  );
  await second.context().close();
});

test('a tile shows how its scene looks, and levels run beside the faders', async () => {
  const style = () => tile(pad, 'Talk').getAttribute('style');
  await eventually(async () => /data:image\/jpeg;base64,\/9j\//.test((await style()) ?? ''));
  const level = pad.locator('.fader meter').first();
  await eventually(async () => (await level.evaluate((one) => (one as HTMLMeterElement).value)) > -60);
});

test('Firefox is a pad like any other: tiles, faders, what is held, and pictures', async () => {
  const { browser, page } = await firefoxPage(360, 740);
  try {
    await page.goto(`http://127.0.0.1:${fixture.studio.doorPort}/#${token}`);
    const button = async (within: string, name: string) =>
      (await page.waitForSelector(`::-p-xpath(//*[@id="${within}"]//button[starts-with(., "${name}")])`))!;
    await (await button('tiles', 'Break')).click();
    await settles(onAir, (found) => expect(found).toBe('sc-break'));
    await (await button('tiles', 'Talk')).click();
    await settles(onAir, (found) => expect(found).toBe('sc-talk'));
    await page.waitForFunction(() => document.querySelector('#tiles .tile[data-picture=true]') !== null);
    const fader = (await page.waitForSelector('.fader input'))!;
    const id = await page.$eval('.fader', (row) => (row as HTMLElement).dataset.channel!);
    const before = (await channel(id)).gainDb;
    // While nothing was heard for two seconds presses are refused, which is right on a machine that stood still.
    await eventually(async () => {
      await fader.focus();
      await page.keyboard.press('ArrowLeft');
      return (await channel(id)).gainDb < before;
    });
    const cough = await button('standing', 'Cough');
    const muted = () => desk.getByRole('button', { name: 'Muted', exact: true }).count();
    const quiet = await muted();
    await cough.hover();
    await page.mouse.down();
    await settles(muted, (found) => expect(found).toBeGreaterThan(quiet));
    await page.mouse.up();
    await settles(muted, (found) => expect(found).toBe(quiet));
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
  } finally {
    await browser.close();
  }
});

test('take walks the rundown; what is next and the host’s notes stand there', async () => {
  await pad.locator('#next-name').filter({ hasText: 'Countdown' }).waitFor();
  await pad.getByRole('button', { name: 'Take' }).click();
  await settles(onAir, (found) => expect(found).toBe('sc-start'));
  await pad.locator('#next-name').filter({ hasText: 'Welcome' }).waitFor();
  await pad.getByText('Glass of water.').waitFor();
  await pad.getByRole('button', { name: 'Take' }).click();
  await settles(onAir, (found) => expect(found).toBe('sc-talk'));
  await desk.locator('.air-segment[data-standing=on]').filter({ hasText: 'Welcome' }).waitFor();
});

test('faders and mutes of the show are moved from there, and follow what the desk does', async () => {
  const fader = pad.getByRole('slider', { name: 'Level of Switchback Freight' });
  await fader.fill('-21');
  await expect.poll(async () => (await channel('ch-game')).gainDb).toBe(-21);
  const mute = pad.getByRole('button', { name: 'Switchback Freight', exact: true });
  await mute.click();
  await expect.poll(async () => (await channel('ch-game')).muted).toBe(true);
  await settles(
    () => mute.getAttribute('aria-pressed'),
    (found) => expect(found).toBe('true'),
  );
  const slider = desk.getByRole('slider', { name: 'Level of Switchback Freight' });
  await slider.focus();
  await desk.keyboard.press('Home');
  await settles(
    () => fader.inputValue(),
    (found) => expect(found).toBe('-60'),
  );
});

test('cough is held, and let go by a finger that lifts', async () => {
  const cough = pad.getByRole('button', { name: /^Cough/ });
  const muted = () => desk.getByRole('button', { name: 'Muted', exact: true }).count();
  await cough.hover();
  await pad.mouse.down();
  await expect.poll(muted).toBe(1);
  await pad.mouse.up();
  await expect.poll(muted).toBe(0);
});

test('the cover is not taken by a tap: it says to hold', async () => {
  await pad.getByRole('button', { name: /^Cover/ }).click();
  await pad.getByText('Hold it a little longer.').waitFor();
});

test('nothing stands over the edge of a narrow phone', async () => {
  // Also with the longest that may stand beside the clock.
  await pad.evaluate(() => (document.getElementById('over')!.textContent = '10:26:55 under'));
  expect(await pad.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
});

test('without a desk it says so, refuses, and what was refused does not come later', async () => {
  const before = await onAir();
  await desk.close();
  await pad.getByText('The desk is away').waitFor();
  await tile(pad, 'Break').click();
  await pad.getByText('The desk is away: nothing was pressed.').waitFor();
  desk = await fixture.open('air');
  await eventually(async () => (await onAir()) === before);
  await settles(
    () => pad.locator('body').getAttribute('data-cut'),
    (found) => expect(found).toBe('false'),
  );
  await tile(pad, 'Game').click();
  await settles(onAir, (found) => expect(found).toBe('sc-game'));
});

test('a studio that is gone is said within two seconds, and found again', async () => {
  fixture.studio.children.get('web')!.kill('SIGKILL');
  await pad.getByText('Cut off from the studio').waitFor();
  await tile(pad, 'Talk').click();
  await pad.getByText('Cut off: nothing was pressed.').waitFor();
  await pad.getByText('Cut off from the studio').waitFor({ state: 'hidden' });
});

test('a program presses by the same link, and is told what it did wrong', async () => {
  const program: StudioClient = await programAt(fixture, token);
  await eventually(async () => (await fixture.health().catch(() => null))?.desk != null);
  const press = async (command: string, params: object = {}) => {
    const answer = await program.send('/press', { command, params });
    return { status: answer.status, ...((await answer.json()) as { message?: string }) };
  };
  expect(await press('scene', { sceneId: 'sc-talk', transition: 'cut' })).toEqual({
    status: 200,
    done: true,
  });
  await settles(onAir, (found) => expect(found).toBe('sc-talk'));
  expect(await press('dance')).toMatchObject({ status: 400 });
  expect((await press('scene')).message).toMatch(/wants sceneId, transition \(may be left out\)/);
  expect((await press('level', { channelId: 'ch-voice', gainDb: 400 })).status).toBe(400);
  expect((await press('scene', { sceneId: 'gone' })).message).toMatch(/not in the show any more/);
  const state = (await program.json('/state')) as { pages: { tiles: { label: string; tone: string }[] }[] };
  expect(state.pages[0].tiles.find(({ label }) => label === 'Talk')?.tone).toBe('on');
});

test('whoever may only look cannot press, and a link that is revoked ends the pad', async () => {
  const watcher = await programAt(fixture, await linkFor(fixture, 'watcher', 'Wall'));
  expect((await watcher.send('/press', { command: 'take', params: {} })).status).toBe(403);
  expect((await watcher.ask('/state')).status).toBe(403);
  const owner = await fixture.studio.page(fixture.browser, { viewport: { width: 1280, height: 800 } });
  await owner.goto(`${fixture.studio.url}computer`);
  const revoke = owner.getByRole('button', { name: 'Revoke Ida’s phone' });
  await revoke.first().waitFor();
  // The link, and each browser that came in by it.
  while ((await revoke.count()) > 0) {
    const left = await revoke.count();
    await revoke.first().click();
    await settles(
      () => revoke.count(),
      (found) => expect(found).toBeLessThan(left),
    );
  }
  await owner.context().close();
  await pad.getByRole('heading', { name: 'Come in' }).waitFor();
});
