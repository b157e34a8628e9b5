/** Windows of one's own while the page that draws them lies behind a game: hidden in truth, by a browser that says so. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { en } from '../../app/words/en';
import { findBrowser } from '../../scripts/lib/browser.mjs';
import { startStudio } from '../../scripts/lib/studio.mjs';
import { eventually } from '../lib/relay-process';
import { SHOW } from '../lib/studio-fixture';

const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-hidden-'));
let studio: Awaited<ReturnType<typeof startStudio>>;
let browser: Browser;
let page: Page;
beforeAll(async () => {
  studio = await startStudio({ data, quiet: true });
  // The other tests' driver tells every page that it is seen.
  browser = await puppeteer.launch({
    executablePath: findBrowser()!,
    headless: true,
    defaultViewport: null,
    // A user's browser throttles what is hidden.
    ignoreDefaultArgs: [
      ...['--disable-background-timer-throttling', '--disable-renderer-backgrounding'],
      '--disable-backgrounding-occluded-windows',
    ],
    args: [
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      ...['--disable-gpu', '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
    ],
  });
  page = await browser.newPage();
  page.setDefaultTimeout(60_000);
  await page.goto(studio.signInUrl);
  await page.waitForFunction(() => !location.pathname.startsWith('/sign-in'));
  await page.goto(`${studio.url}show/${SHOW}/air`);
}, 120_000);
afterAll(async () => {
  await browser?.close();
  await studio?.stop();
  rmSync(data, { recursive: true, force: true });
});

const button = (name: string) => `::-p-aria([name="${name}"][role="button"])`;

async function openWindow(name: string): Promise<Page> {
  await page.locator(button(en.windows.menu)).click();
  const opened = new Promise<Page>((resolve) =>
    page.once('popup', (popup) => {
      if (popup) resolve(popup);
    }),
  );
  await page.locator(`::-p-aria([name="${name}"][role="menuitem"])`).click();
  return opened;
}

const visibility = (of: Page) => of.evaluate(() => document.visibilityState);
const shot = async (of: Page) => (await (await of.waitForSelector('canvas'))!.screenshot()).toString();

test('they show what goes on and do what is pressed while that page is hidden', async () => {
  const clean = await openWindow(en.windows.open.wide);
  const wall = await openWindow(en.windows.open.wall);
  // Something else in front of it, in the same window.
  const game = await browser.newPage();
  await game.bringToFront();
  await eventually(async () => (await visibility(page)) === 'hidden');
  expect(await visibility(clean)).toBe('visible');
  const moves = () =>
    eventually(async () => {
      const before = await shot(clean);
      await new Promise((resolve) => setTimeout(resolve, 400));
      return (await shot(clean)) !== before;
    });
  await moves();
  // Two clicks on the wall take a scene, and it says so.
  const tile = await wall.waitForSelector('.wall-tile:nth-of-type(4) button');
  await tile!.click({ count: 2 });
  await wall.waitForSelector('.wall-tile:nth-of-type(4)[data-tally="on"]');
  expect(await visibility(page)).toBe('hidden');
  await moves();
  await game.close();
  await page.bringToFront();
  await eventually(async () => (await visibility(page)) === 'visible');
});
