/** Somebody comes in by a link from another device: over TLS, in their role, until they are sent out. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import jsQR from 'jsqr';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Webhook } from 'standardwebhooks';
import { en } from '../../app/words/en';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { eventually } from '../lib/relay-process';
import { growing, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let owner: Page;
beforeAll(async () => {
  fixture = await StudioFixture.start();
  owner = await fixture.studio.page(fixture.browser, { viewport: { width: 1280, height: 800 } });
  growing(owner);
}, 120_000);
afterAll(() => fixture?.stop());

const words = en.computer;
const panel = (name: string) => owner.getByRole('region', { name, exact: true });

/** Makes a link as the owner does. @returns what the dialog shows, as words and as a code read by a decoder we did not write */
async function makeLink(
  name: string,
): Promise<{ link: string; code: string | undefined; fingerprint: string }> {
  await owner.goto(`${fixture.studio.url}computer`);
  await owner.getByRole('button', { name: words.letIn }).click();
  await owner.getByLabel(words.linkName).fill(name);
  await owner.getByRole('button', { name: words.makeLink }).click();
  const picture = owner.getByRole('img', { name: words.code });
  await picture.waitFor();
  const { data, width, height } = await picture.evaluate((img: HTMLImageElement) => {
    const canvas = document.createElement('canvas');
    canvas.width = img.naturalWidth;
    canvas.height = img.naturalHeight;
    const context = canvas.getContext('2d')!;
    context.drawImage(img, 0, 0);
    return {
      ...{ width: canvas.width, height: canvas.height },
      data: [...context.getImageData(0, 0, canvas.width, canvas.height).data],
    };
  });
  const link = (await owner.locator('.link-words').textContent())!;
  const fingerprint = (await owner.locator('.fingerprint').textContent())!;
  await owner.getByRole('button', { name: words.done }).click();
  return { link, code: jsQR(new Uint8ClampedArray(data), width, height)?.data, fingerprint };
}

/** Another device, which was told to accept the studio's certificate. */
async function phone(): Promise<Page> {
  const context = await fixture.browser.newContext({
    ignoreHTTPSErrors: true,
    viewport: { width: 390, height: 844 },
  });
  const page = await context.newPage();
  growing(page);
  return page;
}

test('the door is opened to the local network; a link as a code lets one device in, for as long as the owner wants', async () => {
  await owner.goto(`${fixture.studio.url}computer`);
  const door = panel(words.door);
  const open = door.getByRole('button', { name: words.openHouse, exact: true });
  await open.or(door.getByRole('button', { name: words.closeHouse })).waitFor();
  if (await open.isVisible()) {
    await door.getByText(words.houseClosed).waitFor();
    await open.click();
  }
  await door.getByText(words.houseOpen).waitFor();
  await door.getByText(/^https:/).waitFor();
  const { link, code, fingerprint } = await makeLink('Ida’s phone');
  expect(link).toMatch(/^https:\/\/(?!127\.)[\w.:[\]-]+:\d+\/#[\w-]{40,}$/);
  expect(code).toBe(link);
  expect(fingerprint).toMatch(/^([0-9A-F]{2}:){31}[0-9A-F]{2}$/);

  const page = await phone();
  await page.goto(link);
  await page.getByRole('heading', { name: 'Night Signal Box' }).waitFor();
  await page.getByText('You are here as watcher: Ida’s phone').waitFor();
  expect(page.url()).not.toContain('#');
  const [cookie] = await page.context().cookies();
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Strict', secure: true });
  expect(await page.locator('#air').textContent()).toBe('Off air');

  // It was for one device.
  const second = await phone();
  await second.goto(link);
  await second.getByText('This link is not good, or not any more').waitFor();

  // What happens is seen there.
  expect((await fixture.client.form('/broadcast', { intent: 'start' })).ok).toBe(true);
  await expect.poll(() => page.locator('#air').textContent()).toBe('On air');
  await expect.poll(() => page.locator('#clock').textContent()).toMatch(/^00:00:\d\d$/);
  await page.getByText('The desk is away: viewers see the cover').waitFor();
  await page.locator('dt', { hasText: /^Larch$/ }).waitFor();
  await fixture.client.form('/broadcast', { intent: 'stop' });
  await expect.poll(() => page.locator('#air').textContent()).toBe('Off air');

  // The studio is away for a moment: it is said, and made good by itself.
  fixture.studio.children.get('web')!.kill('SIGKILL');
  await page.getByText(/^No connection to the studio/).waitFor();
  await page.getByText(/^No connection to the studio/).waitFor({ state: 'hidden' });

  // It has called the door before it listens itself.
  await eventually(() =>
    owner.goto(`${fixture.studio.url}computer`).then(
      () => true,
      () => false,
    ),
  );
  // The newest one: an earlier try may have left its own.
  await owner.getByRole('button', { name: 'Revoke Ida’s phone' }).first().click();
  await page.getByText('Your visit was ended. To come back, you need a new link.').waitFor();
  await panel(words.audit).getByText(words.audited.doorOpened).waitFor();
  await page.context().close();
  await second.context().close();
});

test('who leaves is not let in again by what is left behind', async () => {
  const { link } = await makeLink('Wall');
  const page = await phone();
  await page.goto(link);
  await page.getByRole('button', { name: 'Leave' }).click();
  await page.getByText('You have left. To come back, you need a link.').waitFor();
  expect(await page.context().cookies()).toEqual([]);
  await page.reload();
  await page.getByRole('heading', { name: 'Come in' }).waitFor();
  await page.context().close();
});

test('the owner’s side is not to be had at the door, nor the owner’s token', async () => {
  const at = `http://127.0.0.1:${fixture.studio.doorPort}`;
  const { headers } = await fixture.studio.owner();
  for (const where of ['/show/night-signal-box/stage', '/computer', '/sign-in', '/files/assets/x'])
    expect([where, (await new StudioClient(at, headers).ask(where)).status]).toEqual([where, 404]);
  const token = fixture.studio.signInUrl.split('#')[1];
  expect((await new StudioClient(at).send('/come-in', { token })).status).toBe(401);
  // Nor does a link let anybody in at the owner's side.
  const { link } = await makeLink('Somebody');
  const other = await new StudioClient(fixture.studio.url).send('/sign-in', { token: link.split('#')[1] });
  expect(other.status).toBe(401);
  // The door knows of the studio what it was told, and that is nothing.
  const { pid } = fixture.studio.children.get('door')!;
  const environment = readFileSync(`/proc/${pid}/environ`, 'utf8');
  expect(environment).toContain('DOLOMITE_DOOR_FOLDER');
  expect(environment).not.toMatch(/DOLOMITE_DATA|DOLOMITE_RELAY|STANDIN/);
  expect(environment).not.toContain(readFileSync(path.join(fixture.data, 'relay.token'), 'utf8'));
});

test('other programs send their events through the door; one that ended is open again by itself', async () => {
  const made = (await (
    await fixture.client.send('/event-sources', { what: 'addHook', name: 'lights' })
  ).json()) as { hook: { id: string }; secret: string };
  const sources = (await fixture.client.json('/event-sources')) as { hooksUrl: string };
  const call = async (id: string) => {
    const now = new Date();
    const body = JSON.stringify({
      ...{ specversion: '1.0', id, source: '//lights', type: 'live.donation', time: now.toISOString() },
      data: { viewer: 'flo', amount: '5.00', currency: 'EUR', message: 'for the roof' },
    });
    const answer = await new StudioClient(sources.hooksUrl).ask(`/hooks/${made.hook.id}`, {
      method: 'POST',
      body,
      headers: {
        'content-type': 'application/cloudevents+json',
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(now.getTime() / 1000)),
        'webhook-signature': new Webhook(made.secret).sign(id, now, body),
      },
    });
    return answer.status;
  };
  expect(await call('one')).toBe(202);
  fixture.studio.children.get('door')!.kill('SIGKILL');
  await expect.poll(() => call('two').catch(() => 0), { timeout: 20_000 }).toBe(202);
});
