/** Delivery with both frames and all three platforms, small. */
import path from 'node:path';
import type { Page } from 'playwright-core';
import { expect } from 'vitest';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import { eventually } from './relay-process';
import { SHOW, StudioFixture } from './studio-fixture';

export async function startDelivery(): Promise<{ fixture: StudioFixture; page: Page }> {
  const fixture = await StudioFixture.start({}, { tall: true });
  await fixture.edit('Both frames, small', [
    {
      kind: 'plan',
      id: 'plan-home',
      showId: SHOW,
      name: 'Home fibre',
      position: 0,
      ...PLAIN_PLAN,
      fps: 15,
      audioKbps: 96,
      frames: {
        wide: { width: 320, height: 180, videoKbps: 600 },
        tall: { width: 180, height: 320, videoKbps: 400 },
      },
    },
  ]);
  return { fixture, page: await fixture.open('delivery') };
}

export const recordingsOf = (fixture: StudioFixture): string => path.join(fixture.data, 'recordings');

/** How the line to the platforms is; nothing: as it is by itself. */
export const setLine = (fixture: StudioFixture, fields: Record<string, string>) =>
  fixture.client.form(new URL('/line', fixture.studio.platforms()[0].accountUrl).href, fields);

/** Signs in to the account of Larch with a code, as a user does it, and says what its viewers are to read. */
export async function signIn(fixture: StudioFixture, page: Page, words: string): Promise<void> {
  const larch = page.getByRole('group', { name: 'Larch', exact: true });
  await larch.getByRole('button', { name: 'Settings of Larch' }).click();
  await larch.getByRole('button', { name: 'Sign in to Larch' }).click();
  const account = larch.getByRole('group', { name: 'Account of Larch' });
  const code = await account.locator('b').innerText();
  expect(code).toMatch(/^[A-Z]{4}-[A-Z]{4}$/);
  const device = await account.getByRole('link', { name: 'Larch' }).getAttribute('href');
  const enter = (allow: string) => fixture.client.form(device!, { code: code.toLowerCase(), allow });
  expect(await (await enter('yes')).text()).toContain('Done');
  await account.getByText('Signed in.').waitFor();
  const title = larch.getByLabel('Title');
  await title.fill(words);
  await title.press('Enter');
  await eventually(async () => JSON.stringify(await fixture.records()).includes(words));
  await larch.getByRole('button', { name: 'Settings of Larch' }).click();
}
