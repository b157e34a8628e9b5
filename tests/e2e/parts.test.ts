/** Parts are taken over: from kits that come with it, from other shows, from files; and taken out again. */
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { en } from '../../app/words/en';
import { recordsOf, documentOf } from '../../core/show/document';
import type { AnyRecord, LayerRecord } from '../../core/show/records';
import { meanColour } from '../lib/mean-colour';
import { eventually } from '../lib/relay-process';
import { growing, StudioFixture } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

let fixture: StudioFixture;
let page: Page;
beforeAll(async () => {
  fixture = await StudioFixture.start();
}, 120_000);
let seed: readonly AnyRecord[] = [];
beforeEach(async () => {
  for (const context of fixture.browser.contexts()) await context.close();
  // What a test before, or its first try, has left is taken away.
  const now = await fixture.records();
  if (seed.length === 0) seed = now;
  const ids = new Set(seed.map(({ id }) => id));
  await fixture.edit(
    'As at first',
    [...seed],
    now.map(({ id }) => id).filter((id) => !ids.has(id)),
  );
  page = await fixture.open('stage');
});
afterAll(async () => {
  const errors = fixture?.pageErrors ?? [];
  await fixture?.stop();
  expect(errors).toEqual([]);
});

const words = en.parts;
const dialog = () => page.getByRole('dialog');
const sceneNames = (records: readonly AnyRecord[]) =>
  recordsOf(documentOf(records), 'scene').map(({ name }) => name);
const openDialog = async () => {
  await page.getByRole('button', { name: words.open }).click();
  await dialog().getByRole('heading', { name: words.title }).waitFor();
};
/** A show of its own, blank, open in Stage in a page of its own. @returns its id */
async function openBlank(name: string): Promise<string> {
  const home = await fixture.studio.owner();
  await home.form('/?index', { intent: 'blank', name });
  page = await fixture.studio.page(fixture.browser, { viewport: { width: 1280, height: 800 } });
  growing(page);
  await page.goto(fixture.studio.url);
  await page.getByRole('link', { name: `Open ${name}` }).click();
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  await page.getByRole('link', { name: /^Stage/ }).click();
  return /show\/([^/]+)/.exec(page.url())![1];
}
const saved = () => page.getByText(/· saved/).waitFor();

test('a kit comes whole, in one’s own colour and words, and goes again by one undo or when it is taken out', async () => {
  const before = await fixture.records();
  await openDialog();
  await dialog()
    .getByRole('button', { name: /^Fell lines/ })
    .click();
  await dialog().getByLabel('Lamp').fill('#22cc88');
  await dialog().getByLabel('show-title').fill('Levers and legends');
  // One is left behind.
  await dialog()
    .getByRole('checkbox', { name: /^Fell lines: raid/ })
    .click();
  await dialog().getByRole('button', { name: 'Bring in 7 parts' }).click();
  await page.getByText(/7 parts of “Fell lines” were brought in/).waitFor();
  await saved();
  const after = await fixture.records();
  expect(sceneNames(after)).toEqual([
    ...sceneNames(before),
    ...['Before the start', 'Short break', 'Goodbye', 'Name, lower third'],
  ]);
  const lamp = after.find((r): r is LayerRecord => r.kind === 'layer' && r.name === 'Lamp')!;
  expect(lamp.content).toMatchObject({ colour: '#22CC88' });
  const [show] = recordsOf(documentOf(after), 'show');
  expect(show.fields).toMatchObject({ 'show-title': 'Levers and legends' });
  expect(after.some((r) => r.kind === 'alertRule' && r.name === 'Fell lines: raid')).toBe(false);
  // It is seen.
  await page.getByRole('button', { name: 'Edit Before the start' }).click();
  await page.getByRole('heading', { name: 'Before the start' }).waitFor();

  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await fixture.records()).length).toBe(before.length);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(async () => (await fixture.records()).length).toBe(after.length);

  // Taken out, but for the scene in which something was changed, and what that needs.
  const title = recordsOf(documentOf(after), 'layer').find(({ name }) => name === 'Handle')!;
  await fixture.edit('By hand', [{ ...title, visible: false }]);
  await openDialog();
  await dialog().getByRole('button', { name: 'Take out Fell lines' }).click();
  await page.getByText(/was taken out, but for what you changed or use: .*Goodbye/).waitFor();
  await dialog().getByRole('button', { name: words.close }).click();
  await saved();
  expect(sceneNames(await fixture.records())).toEqual([...sceneNames(before), 'Goodbye']);
});

test('a kit is seen playing before it comes, and takes its colours from a logo', async () => {
  await openDialog();
  await dialog()
    .getByRole('button', { name: /^Fell lines/ })
    .click();
  const preview = dialog().getByRole('region', { name: words.preview });
  const wide = preview.getByTestId('preview-wide');
  // It moves: scenes, transitions and alerts one after the other.
  const colourOf = async (of = wide) => meanColour(await of.screenshot());
  await eventually(async () => (await colourOf()).some((v) => v > 8));
  await preview.getByRole('button', { name: words.pause }).click();
  await preview.getByRole('button', { name: 'Goodbye' }).click();
  await expect
    .poll(() => preview.getByRole('button', { name: 'Goodbye' }).getAttribute('aria-pressed'))
    .toBe('true');
  const before = await dialog().getByLabel('Lamp', { exact: true }).inputValue();

  const logo = dialog().getByLabel(words.logoFile);
  const svg = (inner: string) =>
    Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">${inner}</svg>`);
  const file = (name: string, buffer: Buffer) => ({ name, mimeType: 'image/svg+xml', buffer });
  await logo.setInputFiles(file('grey.svg', svg('<rect width="40" height="20" fill="#777"/>')));
  await dialog().getByText(words.logoGrey.replace('{{name}}', 'grey.svg')).waitFor();
  await logo.setInputFiles(file('letter.svg', Buffer.from('no picture')));
  await dialog()
    .getByText(/“letter.svg” cannot be read/)
    .waitFor();
  expect(await dialog().getByLabel('Lamp', { exact: true }).inputValue()).toBe(before);
  await logo.setInputFiles(
    file(
      'post.svg',
      svg('<rect width="40" height="20" fill="#2255dd"/><circle cx="30" cy="10" r="6" fill="#dd2222"/>'),
    ),
  );
  const lamp = () => dialog().getByLabel('Lamp', { exact: true }).inputValue();
  await eventually(async () => (await lamp()) !== before);
  const taken = (await lamp()).toUpperCase();
  await dialog().getByRole('button', { name: words.kitColours }).click();
  expect(await lamp()).toBe(before);
  await logo.setInputFiles(file('post.svg', svg('<rect width="40" height="20" fill="#2255dd"/>')));
  await eventually(async () => (await lamp()) !== before);
  await dialog()
    .getByRole('button', { name: /^Bring in \d/ })
    .click();
  await page.getByText(/of “Fell lines” were brought in/).waitFor();
  await saved();
  const came = JSON.stringify(await fixture.records()).toUpperCase();
  expect(came).not.toContain(before.toUpperCase());
  expect(taken).toMatch(/^#[0-9A-F]{6}$/);
  expect(fixture.pageErrors).toEqual([]);
});

test('a scene comes back from a backup beside what there is', async () => {
  const home = await fixture.studio.owner();
  const made = await home.form('/backups.data', { intent: 'make' });
  expect(made.ok).toBe(true);
  const levers = recordsOf(documentOf(await fixture.records()), 'scene').find(
    ({ name }) => name === 'Levers',
  )!;
  await fixture.edit('By hand', [{ ...levers, background: '#FF0000' }]);
  await openDialog();
  await dialog().getByLabel(words.backup).click();
  await page.getByRole('option').first().click();
  await dialog()
    .getByRole('heading', { name: /^From “the backup of/ })
    .waitFor();
  await dialog()
    .getByRole('checkbox', { name: /^Levers with/ })
    .click();
  await dialog().getByRole('button', { name: 'Bring in 1 part' }).click();
  await page.getByText(/1 part of “the backup of .*” was brought in/).waitFor();
  await saved();
  const scenes = recordsOf(documentOf(await fixture.records()), 'scene');
  expect(scenes.find(({ name }) => name === 'Levers 2')!.background).toBe(levers.background);
  expect(scenes.find(({ name }) => name === 'Levers')!.background).toBe('#FF0000');
});

test('a scene is made a kit of, which others can open; another show takes it from there, and from the show itself', async () => {
  await openDialog();
  await dialog().getByRole('button', { name: words.make }).click();
  await dialog().getByLabel(words.kitName).fill('Levers: the scene');
  await dialog()
    .getByRole('checkbox', { name: /^Levers with/ })
    .click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog().getByRole('button', { name: words.makeFile }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Levers the scene.kit.zip');
  const file = path.join(fixture.data, 'levers.kit.zip');
  await download.saveAs(file);
  const listed = spawnSync('python3', ['-m', 'zipfile', '-l', file], { encoding: 'utf8' });
  expect(listed.stdout).toMatch(/^kit\.json /m);

  const showId = await openBlank('Second');
  const home = await fixture.studio.owner();
  const records = async () =>
    ((await home.json(`/show/${showId}/edits`)) as { records: AnyRecord[] }).records;
  const before = await records();

  await openDialog();
  await dialog()
    .getByLabel(words.fromFile, { exact: true })
    .setInputFiles({
      ...{ name: 'letter.zip', mimeType: 'application/zip', buffer: Buffer.from('no kit at all') },
    });
  await dialog()
    .getByText(/no whole ZIP archive/)
    .waitFor();
  await dialog().getByLabel(words.fromFile, { exact: true }).setInputFiles(file);
  await dialog()
    .getByRole('button', { name: /^Bring in \d/ })
    .click();
  await page.getByText(/of “Levers: the scene” (was|were) brought in/).waitFor();
  await saved();
  const once = await records();
  expect(sceneNames(once)).toEqual([...sceneNames(before), 'Levers']);

  // Once more from the show: its inputs are there already and are used.
  await openDialog();
  await dialog().getByRole('button', { name: 'Night Signal Box' }).click();
  await dialog()
    .getByRole('checkbox', { name: /^Levers with/ })
    .click();
  await dialog().getByRole('button', { name: 'Bring in 1 part' }).click();
  await page.getByText(/1 part of “Night Signal Box” was brought in/).waitFor();
  await saved();
  const twice = await records();
  expect(sceneNames(twice)).toEqual([...sceneNames(before), 'Levers', 'Levers 2']);
  expect(recordsOf(documentOf(twice), 'input').length).toBe(recordsOf(documentOf(once), 'input').length);
});

test('a scene that is laid out before anybody has come shows made-up viewers; on air it shows who is there: nobody', async () => {
  // A show to which no platform belongs.
  await openBlank('Quiet');
  await openDialog();
  await dialog()
    .getByRole('button', { name: /^Signal cards/ })
    .click();
  await dialog()
    .getByRole('button', { name: /^Bring in \d/ })
    .click();
  await page.getByText(/of “Signal cards” were brought in/).waitFor();
  await page.getByRole('button', { name: 'Edit Card: pause' }).click();
  await page.getByRole('heading', { name: 'Card: pause' }).waitFor();
  const frame = page.getByTestId('frame').first();
  // They go on talking.
  const laidOut = await frame.screenshot();
  await eventually(async () => !(await frame.screenshot()).equals(laidOut));
  await page.getByRole('button', { name: /^Card: pause: bring on air/ }).click();
  // Its way on air over, and a panel in which nobody writes stands still.
  let last = await frame.screenshot();
  await eventually(async () => {
    await pause(6000);
    const now = await frame.screenshot();
    const still = now.equals(last);
    last = now;
    return still;
  }, 60_000);
  expect(last.equals(laidOut)).toBe(false);
});
