/** Getting somewhere: found by what people call it, dropped where it belongs, and a place that cannot be shown. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { expect, test } from 'vitest';
import type { LayerRecord } from '../../core/show/records';
import { en } from '../../app/words/en';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import { goTo, SELDOM, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;
freshStart(
  async () => {
    fixture = await StudioFixture.start({}, { fps: SELDOM });
    page = await fixture.open('audience');
  },
  async () => {
    const { pageErrors } = fixture;
    await fixture.stop();
    expect(pageErrors).toEqual([]);
  },
);

const box = () => page.getByRole('combobox', { name: en.palette.title });
/** Opens the palette by its keys, types, and takes what is first. */
async function find(words: string): Promise<void> {
  await page.keyboard.press('Control+k');
  await box().fill(words);
  await page.getByRole('option').first().waitFor();
  await page.keyboard.press('Enter');
  await box().waitFor({ state: 'detached' });
}

test('a channel, a scene, a setting by the trade’s word and a command are found from any place', async () => {
  await find('night mus');
  await page
    .getByRole('region', { name: 'Chosen channel' })
    .getByText('Night music', { exact: true })
    .waitFor();
  await find('take break');
  await eventually(async () => (await fixture.health()).desk?.onAirSceneId === 'sc-break');
  await find('fps');
  await page.getByRole('region', { name: 'Flow' }).waitFor();
  await find('lever camera');
  await page
    .getByRole('heading', { name: 'Inputs of the show' })
    .or(page.getByText('Inputs of the show'))
    .first()
    .waitFor();
  await page.keyboard.press('Control+k');
  await box().fill('no such thing');
  await page.getByText(en.palette.none.replace('{{typed}}', 'no such thing')).waitFor();
  await page.keyboard.press('Escape');
  await box().waitFor({ state: 'detached' });
});

test('a file that is dropped on the Stage becomes a layer, and is not opened by the browser', async () => {
  await goTo(page, 'Stage');
  const bytes = readFileSync(path.resolve('docs/screenshots/vault.png')).toString('base64');
  const files = await page.evaluateHandle((base64) => {
    const transfer = new DataTransfer();
    const data = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
    transfer.items.add(new File([data], 'badge.png', { type: 'image/png' }));
    return transfer;
  }, bytes);
  for (const type of ['dragover', 'drop'])
    await page.getByTestId('stage').dispatchEvent(type, { dataTransfer: files });
  await page.getByTestId('layer-badge').waitFor();
  const layer = (await fixture.records()).find(
    (r): r is LayerRecord => r.name === 'badge' && r.kind === 'layer',
  )!;
  expect(Object.keys(layer.placements)).toEqual(['wide', 'tall']);
});

test('a place that cannot be shown says so, and the desk goes on around it', async () => {
  const deskRun = async () => (await fixture.health()).desk?.run;
  await eventually(async () => (await deskRun()) !== undefined);
  const run = await deskRun();
  // One handler from beginning to end: taking it away while the page asks could lose what it asked.
  let broken = true;
  await page.route(/vault\.data/, (route) => (broken ? route.abort() : route.continue()));
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: /Vault/ }).click();
  const said = page.getByRole('alert').getByText(/The desk continues/);
  await said.waitFor();
  broken = false;
  await page.getByRole('button', { name: 'Try again' }).click();
  await said.waitFor({ state: 'detached' });
  await page
    .getByText(/No recording yet|Recordings/)
    .first()
    .waitFor();
  expect(await deskRun()).toBe(run);
});
