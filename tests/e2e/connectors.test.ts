/** A service that nobody here knows: its file is brought in, signed in to in a browser, and is a destination like others. */
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { en } from '../../app/words/en';
import type { Connector } from '../../core/connectors/connector';
import type { AnyRecord, DestinationRecord } from '../../core/show/records';
import { eventually } from '../lib/relay-process';
import { growing, SELDOM, showDestinations, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;
beforeAll(async () => {
  fixture = await StudioFixture.start({}, { fps: SELDOM });
  page = await fixture.open('delivery');
  await showDestinations(page);
});
afterAll(async () => {
  await fixture?.stop();
});

const { services } = en;
/** Cairn as if it were somebody else's: it signs in in the browser, and lists its servers. */
const file = (more: Partial<Connector> = {}) => {
  const { connector } = fixture.standIn('cairn').facts as { connector: Connector };
  return { ...connector, id: 'night-post', name: 'Night Post', ...more };
};
const choose = (connector: object | string, name = 'night-post.json') =>
  page.getByLabel(services.file).setInputFiles({
    name,
    mimeType: 'application/json',
    buffer: Buffer.from(typeof connector === 'string' ? connector : JSON.stringify(connector)),
  });
const destination = async () =>
  (await fixture.records()).find(
    (r): r is DestinationRecord => r.kind === 'destination' && r.name === 'Night Post',
  );
const ofMenu = async (item: string) => {
  await page.getByRole('button', { name: services.open }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
};

test('a file says whom the studio will talk to; the destination signs in in the browser; it is one without its file, too', async () => {
  // A try before may have left some.
  const left = (await fixture.records()).filter((r) => r.kind === 'destination' && r.name === 'Night Post');
  await fixture.edit(
    'Begin anew',
    [],
    left.map(({ id }) => id),
  );
  await choose(file());
  const dialog = page.getByRole('dialog', { name: /Night Post/ });
  await dialog
    .getByText(/^127\.0\.0\.1:\d+$/)
    .first()
    .waitFor();
  await dialog.getByText(/^localhost:\d+$/).waitFor();
  expect(await destination()).toBeUndefined();
  await dialog.getByRole('button', { name: services.take }).click();
  await eventually(async () => (await destination()) !== undefined);
  const made = (await destination())!;
  expect([made.connector, made.capKbps, made.frame, made.url]).toEqual([
    ...['night-post', 9000, 'wide', made.servers[0].url],
  ]);
  // The one abroad is not among its regions.
  expect(made.servers.map(({ name }) => name)).toEqual(['Valley', 'Far ridge']);
  const group = page.getByRole('group', { name: 'Night Post', exact: true });
  const account = group.getByRole('group', { name: 'Account of Night Post' });
  await account.getByRole('button', { name: 'Sign in to Night Post' }).click();
  const link = account.getByRole('link', { name: services.goThere.replace('{{name}}', 'Night Post') });
  const href = (await link.getAttribute('href'))!;
  // What is not right is not allowed.
  const wrong = await fixture.browser.newPage();
  growing(wrong);
  await wrong.goto(href.replace('S256', 'plain'));
  await wrong.getByText('code_challenge must be there, by S256').waitFor();
  await wrong.goto(href);
  await wrong.getByRole('button', { name: 'Allow' }).click();
  await wrong.getByText('Signed in to Night Post. Close this page and go back to the studio.').waitFor();
  await wrong.close();
  await account.getByText('Signed in.').waitFor();
  await group.getByLabel('Stream key of Night Post').waitFor();
  await group.getByText('Stream key (saved)').first().waitFor();
  expect(await page.content()).not.toContain(fixture.standIn('cairn').facts.key);
  await group.getByLabel(services.visibility).click();
  await page.getByRole('option', { name: 'whoever has the link' }).click();
  await eventually(async () => (await destination())?.details.visibility === 'whoever has the link');
  await ofMenu(services.remove.replace('{{name}}', 'Night Post'));
  await group.getByText(services.gone.replace('{{connector}}', 'night-post')).waitFor();
  await group.getByText('Stream key (saved)').first().waitFor();
  await choose(file());
  await page.getByRole('dialog').getByRole('button', { name: services.take }).click();
  await group.nth(1).waitFor();
  await group.first().getByRole('button', { name: 'Settings of Night Post' }).click();
  await group.first().getByText('Signed in.').waitFor();
  // One more at a service that is known.
  const before = (await fixture.records()).filter(({ kind }) => kind === 'destination').length;
  await ofMenu('Larch');
  await eventually(
    async () => (await fixture.records()).filter(({ kind }) => kind === 'destination').length === before + 1,
  );
  expect(fixture.pageErrors).toEqual([]);
});

test('a file that is wrong, cut off or something else is refused with what is wrong in it', async () => {
  await choose(file({ events: { url: 'ws://night-post.example/feed' } }));
  await page.getByText(/"events\.url" must begin with wss:/).waitFor();
  await choose('{"format":');
  await page.getByText(/cut off or no JSON/).waitFor();
  await choose({ format: 'something' }, 'other.json');
  await page.getByText(/the file is no connector/).waitFor();
  await choose(file({ id: 'cairn' }));
  await page.getByRole('dialog').getByRole('button', { name: services.take }).click();
  await page.getByText(/give the connector another id/).waitFor();
  await page.getByRole('dialog').getByRole('button', { name: services.cancel }).click();
  await page.getByRole('dialog').waitFor({ state: 'detached' });
});

test('the first steps of a show sign in to a service, too: its key comes by itself, and the upload is measured', async () => {
  const { home, start } = en;
  const own = await fixture.browser.newPage({ viewport: { width: 1280, height: 800 } });
  await fixture.studio.signIn(own.context());
  growing(own);
  await own.goto(fixture.studio.url);
  await own.getByRole('button', { name: home.blank, exact: true }).click();
  await own.getByRole('navigation', { name: 'Places' }).waitFor();
  const showId = /show\/([\w-]+)\//.exec(own.url())![1];
  await own.goto(`${fixture.studio.url}show/${showId}/start?step=where`);
  await own.getByRole('radio', { name: /^Larch/ }).click();
  await own.getByRole('button', { name: start.where.use.replace('{{name}}', 'Larch') }).click();
  const account = own.getByRole('group', { name: 'Account of Larch' });
  await account.getByRole('button', { name: 'Sign in to Larch' }).click();
  const code = await account.locator('b').innerText();
  const device = await account.getByRole('link', { name: 'Larch' }).getAttribute('href');
  await fixture.client.form(device!, { code, allow: 'yes' });
  await account.getByText('Signed in.').waitFor();
  await own.getByLabel(start.where.broadcastTitle).fill('Snow on the pass');
  await own.getByRole('button', { name: start.where.save }).click();
  await own.getByText(/^[\d.]+ Mbps$/).waitFor();
  await own.getByRole('button', { name: start.finish }).waitFor();
  const api = await fixture.studio.owner(`/show/${showId}`);
  const { records } = (await api.json('/edits')) as { records: AnyRecord[] };
  const made = records.find((r): r is DestinationRecord => r.kind === 'destination')!;
  expect([made.connector, made.enabled, made.details.title]).toEqual(['larch', true, 'Snow on the pass']);
  // Another address is no service's.
  await own.getByRole('radio', { name: new RegExp(`^${start.where.send}`) }).click();
  await own.getByLabel(start.where.server).fill(`${made.url}x`);
  await own.getByRole('button', { name: start.where.save }).click();
  await eventually(async () =>
    ((await api.json('/edits')) as { records: AnyRecord[] }).records.some(
      (r) => r.kind === 'destination' && r.connector === null,
    ),
  );
  await own.context().close();
});
