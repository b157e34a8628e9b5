/** Lets somebody in at the door as the owner does, for pages and programs of tests. */
import type { Page } from 'playwright-core';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { growing, type StudioFixture } from './studio-fixture';

/** @returns the token of a link that anybody may use until it is revoked */
export async function linkFor(
  fixture: StudioFixture,
  role: 'operator' | 'watcher',
  name: string,
): Promise<string> {
  const owner = (await fixture.studio.owner('')) as StudioClient;
  const answer = await owner.form('/computer.data', { intent: 'link', role, name, hours: '0', uses: '0' });
  const token = /"token","([\w-]{40,})"/.exec(await answer.text())?.[1];
  if (!token) throw new Error('no link was made');
  return token;
}

/** A phone with its own browser, at the door of this computer. */
export async function padAt(fixture: StudioFixture, token: string): Promise<Page> {
  const context = await fixture.browser.newContext({ viewport: { width: 360, height: 740 }, hasTouch: true });
  const page = await context.newPage();
  growing(page);
  page.on('pageerror', (error) => fixture.pageErrors.push(error.message));
  await page.goto(`http://127.0.0.1:${fixture.studio.doorPort}/#${token}`);
  return page;
}

/** A program that came in by a link, and keeps its cookie. */
export async function programAt(fixture: StudioFixture, token: string): Promise<StudioClient> {
  const door = `http://127.0.0.1:${fixture.studio.doorPort}`;
  const answer = await new StudioClient(door).send('/come-in', { token });
  const cookie = answer.headers.get('set-cookie')!.split(';')[0];
  return new StudioClient(door, { cookie });
}
