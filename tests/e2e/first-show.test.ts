/** Somebody's own studio, from an empty folder: Home, the first show, the first broadcast; then a second show beside it. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Browser, Locator, Page } from 'playwright-core';
import { expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { startStudio } from '../../scripts/lib/studio.mjs';
import { en } from '../../app/words/en';
import { freshStart } from '../lib/fresh-start';
import { NginxRtmp } from '../lib/nginx-rtmp';
import { pull } from '../lib/pull';
import { eventually } from '../lib/relay-process';
import { growing } from '../lib/studio-fixture';
import { waited } from '../lib/waits';

let data: string;
let studio: Awaited<ReturnType<typeof startStudio>>;
let browser: Browser;
let nginx: NginxRtmp;
let page: Page;
const errors: string[] = [];

async function newPage(): Promise<Page> {
  const made = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
  growing(made);
  made.on('pageerror', (error: Error) => errors.push(error.message));
  return made;
}

freshStart(
  async () => {
    data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-own-'));
    [studio, browser, nginx] = await Promise.all([
      waited('studio', () => startStudio({ data, quiet: true, demonstration: false })),
      waited('browser', () => launchBrowser()),
      NginxRtmp.start(),
    ]);
    page = await newPage();
  },
  async () => {
    await browser?.close();
    await studio?.stop();
    await nginx?.stop();
    rmSync(data, { recursive: true, force: true });
  },
);

const { home, start, archive, backups } = en;
const next = (name: string) => page.getByRole('button', { name: start.next.replace('{{name}}', name) });
const card = (name: string) =>
  page.getByRole('listitem').filter({ has: page.getByRole('heading', { name, exact: true }) });
const liveButton = () => page.getByRole('button', { name: 'Go live' });

/** Stops the broadcast of the page. */
async function stop(): Promise<void> {
  await page.getByRole('button', { name: /Stop the broadcast$/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stop the broadcast' }).click();
  await liveButton().waitFor();
}

test('from nothing to live on a real server in at most twelve actions; the recording and Home know of it', async () => {
  let actions = 0;
  const press = async (what: Locator) => {
    actions += 1;
    await what.click();
  };
  const type = async (label: string, words: string) => {
    actions += 1;
    await page.getByLabel(label, { exact: true }).fill(words);
  };
  await page.goto(studio.url);
  await page.getByText(home.none).waitFor();
  const began = Date.now();
  await press(page.getByRole('button', { name: home.withCamera }));
  await page.getByRole('radio', { name: /fake/i, checked: true }).waitFor();
  await type(start.me.handle, 'lampwright');
  await press(next(start.names.voice));
  await page.getByRole('radio', { name: /fake/i, checked: true }).waitFor();
  await page.getByRole('meter').waitFor();
  await press(next(start.names.also));
  await press(page.getByRole('radio', { name: start.also.screen }));
  await page.getByRole('button', { name: start.also.chosen }).waitFor();
  await press(next(start.names.where));
  await type(start.where.server, nginx.url);
  await type(start.where.key, 'hut-nine');
  await press(page.getByRole('button', { name: start.where.save }));
  await page.getByText(/^[\d.]+ Mbps$/).waitFor();
  await press(page.getByRole('button', { name: start.finish }));
  await press(liveButton());
  await page.getByRole('button', { name: /^On air for/ }).waitFor();
  const api = await studio.owner();
  const showId = /show\/([\w-]+)\//.exec(page.url())![1];
  const destination = async () =>
    (await api.json(`/show/${showId}/health`)).relay?.session?.destinations[0] ?? null;
  await eventually(async () => (await destination())?.state === 'live');
  console.log(`first broadcast after ${actions} actions and ${Math.round((Date.now() - began) / 1000)} s`);
  expect(actions).toBeLessThanOrEqual(12);

  const pulled = path.join(data, 'pulled.flv');
  await pull(`${nginx.url}/hut-nine`, pulled, 5);
  const result = analyse(pulled);
  expect(result.video).toMatchObject({ codec: 'h264' });
  expect(result.audio).toMatchObject({ codec: 'aac', sampleRate: 48_000, channels: 2 });
  expect(result.keyframePictures.length).toBeGreaterThan(0);
  expect(decodesCleanly(pulled)).toEqual({ clean: true, complaints: '' });

  // Another show of the same studio, in a window of its own: it cannot take this broadcast over, nor change it.
  const first = page;
  page = await newPage();
  await page.goto(studio.url);
  await card(home.firstName).getByText(home.onAir).waitFor();
  await page.getByRole('button', { name: home.blank, exact: true }).click();
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  const secondId = /show\/([\w-]+)\//.exec(page.url())![1];
  expect(await liveButton().isDisabled()).toBe(true);
  const other = await studio.owner(`/show/${secondId}`);
  for (const intent of ['stop', 'start', 'cover'])
    expect((await (await other.form('/broadcast', { intent, on: 'true' })).json()).message).toMatch(
      new RegExp(`^${home.firstName} is on air`),
    );
  expect((await other.json('/health')).broadcast).toBe('off');
  const { records } = await other.json('/edits');
  await other.edit({
    name: 'A destination',
    put: [
      {
        ...(await api.json(`/show/${showId}/edits`)).records.find(
          (r: { kind: string }) => r.kind === 'destination',
        ),
        id: 'other-dest',
        showId: secondId,
      },
    ],
    removed: [],
  });
  expect(records.some((r: { kind: string }) => r.kind === 'scene')).toBe(true);
  const session = (await api.json(`/show/${showId}/health`)).relay.session;
  expect([session.destinations.length, session.destinations[0].reconnects]).toEqual([1, 0]);
  await page.close();
  page = first;
  await stop();

  await page.goto(`${studio.url}show/${showId}/vault`);
  await page.getByRole('region', { name: 'Recordings' }).getByText(/wide/).first().waitFor();
  await page.goto(studio.url);
  await card(home.firstName)
    .getByText(/ · 0:0\d:\d\d/)
    .waitFor();
  await card(home.firstName).locator('img').waitFor();
});

test('shows are renamed, copied with their keys, archived, deleted and brought back', async () => {
  await page.goto(studio.url);
  if ((await page.getByRole('listitem').count()) === 0) {
    await page.getByRole('button', { name: home.blank, exact: true }).click();
    await page.getByRole('navigation', { name: 'Places' }).waitFor();
    await page.goto(studio.url);
  }
  const name = (await page.getByRole('listitem').first().getByRole('heading').textContent())!;
  const choose = async (of: string, what: string) => {
    await page.getByRole('button', { name: home.menu.replace('{{name}}', of) }).click();
    await page.getByRole('menuitem', { name: what }).click();
  };
  await choose(name, home.rename);
  await page.getByLabel(home.newName.replace('{{name}}', name)).fill('Signal School');
  await page.keyboard.press('Enter');
  await card('Signal School').waitFor();
  await choose('Signal School', home.copy);
  await card('Signal School copy').waitFor();
  await choose('Signal School copy', home.remove);
  await card('Signal School copy').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: home.undo }).click();
  await card('Signal School copy').waitFor();
  await choose('Signal School copy', home.archive);
  await card('Signal School copy').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: home.showMore }).click();
  await card('Signal School copy').getByText(home.archived).waitFor();
  await choose('Signal School copy', home.unarchive);
  await choose('Signal School copy', home.plan);
  await page.getByLabel(home.planWhen).fill('2999-12-05T20:00');
  await page.getByRole('button', { name: home.planSet, exact: true }).click();
  await card('Signal School copy')
    .getByText(/^Next 5 Dec 2999, 20:00$/)
    .waitFor();
  await choose('Signal School copy', home.plan);
  await page.getByRole('button', { name: home.planNone }).click();
  await card('Signal School copy').getByText(home.neverOnAir).waitFor();
  await page.getByRole('button', { name: home.demonstration }).click();
  await card('Night Signal Box').waitFor();
  expect(errors).toEqual([]);
});

test('a show goes into a file and comes out of it as another; a backup brings one back', async () => {
  await page.goto(studio.url);
  if ((await page.getByRole('listitem').count()) === 0)
    await page.getByRole('button', { name: home.demonstration }).click();
  const name = (await page.getByRole('listitem').first().getByRole('heading').textContent())!;
  await page.getByRole('button', { name: home.menu.replace('{{name}}', name), exact: true }).click();
  await page.getByRole('menuitem', { name: home.toFile }).click();
  await page.getByLabel(archive.withKeys).check();
  await page.getByLabel(archive.passphrase).fill('a long passphrase');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: archive.make }).click(),
  ]);
  const file = path.join(data, 'show.zip');
  await download.saveAs(file);
  expect(download.suggestedFilename()).toBe(`${name}.dolomite.zip`);
  // What others make of it.
  const listed = spawnSync('python3', ['-m', 'zipfile', '-t', file]);
  expect([listed.status, String(listed.stdout).trim()]).toEqual([0, 'Done testing']);

  await page.getByRole('button', { name: home.bringIn }).click();
  await page.getByLabel(archive.choose).setInputFiles({
    ...{ name: 'letter.zip', mimeType: 'application/zip', buffer: Buffer.from('no archive at all') },
  });
  await page.getByText(/no whole ZIP archive/).waitFor();
  await page.getByLabel(archive.choose).setInputFiles(file);
  await page.getByText(archive.lockedKeys).waitFor();
  await page.getByRole('button', { name: archive.close }).click();
  await card(`${name} 2`).waitFor();

  await page.getByRole('link', { name: home.backups }).click();
  await page.getByRole('button', { name: backups.now }).click();
  await page.getByRole('button', { name: backups.restore }).first().click();
  await page.getByRole('menuitem', { name: `${name} 2`, exact: true }).click();
  await page.getByText(backups.restored_one.replace('{{count}}', '1')).waitFor();
  await page.getByRole('button', { name: backups.drillNow }).click();
  await page.getByText(/^Yes: on .* restored/).waitFor();
  await page.getByRole('link', { name: home.title }).click();
  await page.getByRole('heading', { name: new RegExp(`^${name} 2 \\(\\d{4}-`) }).waitFor();
  expect(errors).toEqual([]);
});
