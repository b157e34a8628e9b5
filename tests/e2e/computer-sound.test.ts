/** A program of this computer as a channel: added from the list, heard by viewers, gone with a word, and back. */
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { en } from '../../app/words/en';
import { PulseAudio } from '../lib/pulse-audio';
import { SELDOM, StudioFixture } from '../lib/studio-fixture';

let pulse: PulseAudio;
let fixture: StudioFixture;
let page: Page;
const before = process.env.PULSE_SERVER;
beforeAll(async () => {
  pulse = await PulseAudio.start();
  // The studio's server has it from here.
  process.env.PULSE_SERVER = pulse.address;
  fixture = await StudioFixture.start({}, { fps: SELDOM });
  await fixture.quiet();
  // What the test plays alone is to be heard.
  const channels = (await fixture.records()).filter((r) => r.kind === 'channel');
  await fixture.edit(
    'Silence',
    channels.map((channel) => ({ ...channel, muted: true })),
  );
  page = await fixture.open('sound');
  await page.mouse.click(640, 795);
});
afterAll(async () => {
  await fixture?.stop();
  await pulse?.stop();
  if (before === undefined) delete process.env.PULSE_SERVER;
  else process.env.PULSE_SERVER = before;
});

const momentary = () => page.getByTestId('momentary');
const silent = () => momentary().filter({ hasText: /^(—|−[5-9]\d)/ });
const sounding = () => momentary().filter({ hasText: /^−[1-4]\d/ });
const item = (words: string, name: string) =>
  page.getByRole('menuitem', { name: words.replace('{{name}}', name), exact: true });

test('a program that plays is a channel by two presses; it goes with a word and comes back by itself', async () => {
  const stop = await pulse.play('Night radio', 660);
  await silent().waitFor();
  await page.getByRole('button', { name: 'Add channel' }).click();
  await item(en.computerSound.output, 'Hut').waitFor();
  await item(en.computerSound.program, 'Night radio').click();
  const row = page.getByRole('group', { name: 'Night radio', exact: true });
  await row.getByText(/^This computer/).waitFor();
  await sounding().waitFor();
  stop();
  await page
    .getByText(/Night radio (has stopped playing|plays nothing at present)/)
    .first()
    .waitFor();
  await silent().waitFor();
  await pulse.play('Night radio', 440);
  await sounding().waitFor();
  await page.reload();
  await page.mouse.click(640, 795);
  await sounding().waitFor();
  expect(fixture.pageErrors).toEqual([]);
});
