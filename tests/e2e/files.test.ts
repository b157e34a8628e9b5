/** Files that were brought into shows: where they are used, what is removed and comes back, what takes another's place. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { PLAIN_INPUT, type AnyRecord } from '../../core/show/records';
import { sampleLayer, sampleScene } from '../../core/show/sample-show';
import { SHOW, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;
let logo: string;

/** A picture of one colour. */
function colour(name: string, of: string): Buffer {
  const file = path.join(fixture.data, name);
  const made = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `color=${of}:s=64x36`, '-frames:v', '1', file],
  ]);
  if (made.status !== 0) throw new Error(String(made.stderr));
  return readFileSync(file);
}
const row = (name: string) => page.getByRole('row').filter({ hasText: name });
const inMenu = async (name: string, what: string) => {
  await page.getByRole('button', { name: `More for ${name}` }).click();
  await page.getByRole('menuitem', { name: what }).click();
};
const sourceOf = async (id: string) => {
  const records = await fixture.records();
  const input = records.find((r) => r.id === id);
  return input?.kind === 'input' && input.source.type === 'picture' ? input.source.assetId : null;
};

beforeAll(async () => {
  fixture = await StudioFixture.start();
  logo = await fixture.client.upload('logo.png', colour('logo.png', 'red'));
  await fixture.client.upload('spare.png', colour('spare.png', 'blue'));
  await fixture.client.upload('second spare.png', colour('second spare.png', 'green'));
  const input = (id: string): AnyRecord => ({
    ...{ kind: 'input', id, showId: SHOW, name: `Badge ${id}`, position: 40, ...PLAIN_INPUT },
    source: { type: 'picture', assetId: logo, loop: true },
  });
  await fixture.edit('Pictures', [
    input('in-one'),
    input('in-two'),
    { ...sampleScene('sc-badge', { position: 40, name: 'Badge' }), showId: SHOW },
    {
      ...sampleLayer('ly-badge', 'sc-badge', 0, {
        content: { type: 'input', inputId: 'in-one', fit: 'fill' },
      }),
      showId: SHOW,
    },
  ]);
  page = await fixture.open();
  await page.goto(new URL('/files', page.url()).href);
});
afterAll(async () => {
  await fixture?.stop();
});

test('each file says which show uses it, and by what', async () => {
  await row('logo.png').getByText('Night Signal Box: Badge in-one and Badge in-two').waitFor();
  await row('second spare.png').getByText('Not used').waitFor();
  await page.getByLabel('Search files').fill('LOGO');
  expect(await page.getByRole('row').count()).toBe(2);
  await page.getByLabel('Search files').fill('');
  // One that is used is not removed from here.
  await page.getByRole('button', { name: 'More for logo.png' }).click();
  expect(await page.getByRole('menuitem', { name: 'Remove' }).getAttribute('aria-disabled')).toBe('true');
  await page.keyboard.press('Escape');
});

test('what is not used goes in one press, and comes back', async () => {
  await page.getByRole('button', { name: /^Remove the 2 that are not used/ }).click();
  await page.getByText('2 files were removed. They can be brought back for thirty days.').waitFor();
  expect(await page.getByRole('row').count()).toBe(2);
  await page.getByRole('radio', { name: 'Removed' }).click();
  await row('second spare.png')
    .getByText(/^Removed on/)
    .waitFor();
  await inMenu('second spare.png', 'Bring back');
  await page.getByText('1 file is back.').waitFor();
  await page.getByRole('radio', { name: 'Not used' }).click();
  await row('second spare.png').waitFor();
  expect(await page.getByRole('row').count()).toBe(2);
});

test('another file takes its place everywhere, while a studio is open, and can be taken back the same way', async () => {
  const studio = await fixture.open();
  await page.getByRole('radio', { name: 'All' }).click();
  const choosing = page.waitForEvent('filechooser');
  await inMenu('logo.png', 'Replace everywhere…');
  await (
    await choosing
  ).setFiles({ name: 'fresh.png', mimeType: 'image/png', buffer: colour('fresh.png', 'yellow') });
  await page.getByText('Replaced in 1 show. To take it back, replace it by the file of before.').waitFor();
  await row('fresh.png').getByText('Night Signal Box: Badge in-one and Badge in-two').waitFor();
  await row('logo.png').getByText('Not used').waitFor();
  expect(await sourceOf('in-one')).not.toBe(logo);
  expect(await sourceOf('in-two')).toBe(await sourceOf('in-one'));
  const back = page.waitForEvent('filechooser');
  await inMenu('fresh.png', 'Replace everywhere…');
  await (await back).setFiles({ name: 'logo.png', mimeType: 'image/png', buffer: colour('logo.png', 'red') });
  await row('logo.png').getByText('Night Signal Box: Badge in-one and Badge in-two').waitFor();
  expect([await sourceOf('in-one'), await sourceOf('in-two')]).toEqual([logo, logo]);
  await studio.close();
  // Another kind of file is refused in words, and nothing is changed.
  const again = page.waitForEvent('filechooser');
  await inMenu('logo.png', 'Replace everywhere…');
  const table = Buffer.from('TITLE "x"\nLUT_1D_SIZE 2\n0 0 0\n1 1 1\n');
  await (await again).setFiles({ name: 'x.cube', mimeType: 'text/plain', buffer: table });
  await page.getByText(/“x.cube” is another kind of file than “logo.png”/).waitFor();
});

test('the rule is kept', async () => {
  await page.getByLabel('Remove what is not used').click();
  await page.getByRole('option', { name: 'After 90 days' }).click();
  await page.reload();
  await page.getByText('After 90 days').waitFor();
});
