// Takes the pictures of README and guide anew, from the demonstration: `npm run pictures`, or some of them by name.
// Not taken here: first-show, guests, guest-page, pad, wall and moment, which want a second device or an evening that is over.
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ensurePrograms } from './lib/debian.mjs';
import { checkNode, ensureBuild, ensurePackages, fail, root } from './lib/prepare.mjs';

checkNode();
await ensurePackages().catch((error) => fail(error.message));
const missing = await ensurePrograms(['chromium']);
if (missing.length > 0) fail(`Pictures need ${missing.join(', ')}: install it first.`);
await ensureBuild().catch((error) => fail(error.message));
const { launchBrowser } = await import('./lib/browser.mjs');
const { startStudio } = await import('./lib/studio.mjs');

const wanted = process.argv.slice(2);
const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-pictures-'));
const studio = await startStudio({ data, quiet: true });
const browser = await launchBrowser();
const page = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
/** Until what is live has come: pictures of inputs, levels, viewers. */
const SETTLED_MS = 5000;

const take = async (name) => {
  if (wanted.length > 0 && !wanted.includes(name)) return;
  await sleep(SETTLED_MS);
  await page.screenshot({ path: path.join(root, 'docs/screenshots', `${name}.png`) });
  console.log(name);
};
const go = async (place) => {
  await page
    .getByRole('navigation', { name: 'Places' })
    .getByRole('link', { name: new RegExp(`^${place}`) })
    .click();
  await page
    .getByRole('navigation', { name: 'Places' })
    .getByRole('link', { name: new RegExp(`^${place}`) })
    .waitFor();
};

try {
  await page.goto(studio.url);
  await page.getByRole('link', { name: /Open Night Signal Box/ }).click();
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  await go('Stage');
  await take('stage');
  await page.getByRole('button', { name: /Bring in from a kit/ }).click();
  await page.getByRole('button', { name: /^Fell lines/ }).click();
  await take('kit');
  await page.keyboard.press('Escape');
  for (const [place, name] of [
    ['Plan', 'plan'],
    ['Sound', 'sound'],
    ['Audience', 'audience'],
    ['Delivery', 'delivery'],
  ]) {
    await go(place);
    await take(name);
  }
  await page.getByRole('button', { name: 'Go live', exact: true }).click();
  await page.getByRole('button', { name: /Stop the broadcast/ }).waitFor();
  await sleep(20_000);
  await take('delivery-live');
  await go('On air');
  await take('on-air');
  await page.getByRole('button', { name: /Stop the broadcast/ }).click();
  await page.getByRole('button', { name: /^Stop/ }).last().click();
  await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
  await go('Vault');
  await take('vault');
  await page.goto(studio.url);
  await take('home');
} catch (error) {
  await page.screenshot({ path: path.join(os.tmpdir(), 'pictures-failed.png') });
  throw error;
} finally {
  await browser.close();
  await studio.stop();
  rmSync(data, { recursive: true, force: true });
}
