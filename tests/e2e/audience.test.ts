/** Audience in the real application: where events come from, the list of them, and alerts of one's own. */
import { once } from 'node:events';
import { Webhook } from 'standardwebhooks';
import { WebSocket } from 'ws';
import { expect, test } from 'vitest';
import { START_AUDIENCE } from '../../core/audience/settings';
import { PLAIN_ALERT_RULE } from '../../core/show/audience-records';
import type { AnyRecord } from '../../core/show/records';
import {
  closeAudience,
  fixture,
  log,
  openAudience,
  page,
  records,
  rules,
  standIn,
  tab,
} from '../lib/audience-driver';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import { bringOn, goTo } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

const onAir = async () => (await fixture.health()).desk?.onAirSceneId ?? null;

freshStart(() => openAudience(), closeAudience);

test('a countdown at zero brings on the next scene by itself', async () => {
  const count = (await records()).find((r) => r.id === 'ly-start-count');
  if (count?.kind !== 'layer' || count.content.type !== 'widget' || count.content.widget.of !== 'countdown')
    throw new Error('no countdown');
  await goTo(page, 'On air');
  await fixture.edit('A short countdown', [
    {
      ...count,
      content: { ...count.content, widget: { ...count.content.widget, seconds: 3, thenNext: true } },
    },
  ]);
  await page.reload();
  await bringOn(page, 'Countdown');
  await eventually(async () => (await onAir()) === 'sc-start', 10_000);
  await eventually(async () => (await onAir()) === 'sc-credits', 15_000);
  await bringOn(page, 'Game');
  await goTo(page, 'Audience');
});
test('a hook: its secret is shown once, a signed call appears, a forged one is counted and explained', async () => {
  await tab('Sources');
  await page.getByLabel('Name of the sender').fill('Till');
  await page.getByRole('button', { name: 'Add webhook' }).click();
  const dialog = page.getByRole('dialog', { name: 'Secret of Till' });
  const secret = (await dialog.locator('code').textContent())!;
  expect(secret).toMatch(/^whsec_/);
  await dialog.getByRole('button', { name: 'I have it' }).click();
  const address = (await page.locator('.source-row code').last().textContent())!;
  expect(await page.content()).not.toContain(secret);
  const call = (key: string, data: object) => {
    const body = JSON.stringify({
      specversion: '1.0',
      id: crypto.randomUUID(),
      source: 'till',
      type: 'live.order',
      data,
    });
    const id = crypto.randomUUID();
    return fixture.client.ask(address, {
      method: 'POST',
      headers: {
        'content-type': 'application/cloudevents+json',
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(Date.now() / 1000)),
        'webhook-signature': new Webhook(key).sign(id, new Date(), body),
      },
      body,
    });
  };
  expect((await call(secret, { viewer: 'copperkettle', title: 'brass whistle number nine' })).status).toBe(
    202,
  );
  await log().getByText('ordered brass whistle number nine').waitFor();
  const forged = `whsec_${Buffer.from('0'.repeat(32)).toString('base64')}`;
  expect((await call(forged, { viewer: 'x', title: 'free mug' })).status).toBe(401);
  await page.getByText(/Till: not signed as it should be/).waitFor();
  expect((await fixture.client.ask(address, { method: 'POST', body: 'x'.repeat(300_000) })).status).toBe(413);

  // The same door as a connection: one event a message, its opening signed.
  const open = (key: string) => {
    const id = crypto.randomUUID();
    return new WebSocket(address.replace(/^http/, 'ws'), 'cloudevents.json', {
      headers: {
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(Date.now() / 1000)),
        'webhook-signature': new Webhook(key).sign(id, new Date(), ''),
      },
    });
  };
  const socket = open(secret);
  await once(socket, 'open');
  expect(socket.protocol).toBe('cloudevents.json');
  socket.send('{');
  socket.send(
    JSON.stringify({
      specversion: '1.0',
      id: 'ws-1',
      source: 'till',
      type: 'live.donation',
      data: { viewer: 'oxbow_lane', currency: 'EUR', amount: '7.00' },
    }),
  );
  await log().getByText('donated €7').waitFor();
  socket.close();
  const refused = open(forged);
  const [error] = (await once(refused, 'error')) as [Error];
  expect(error.message).toContain('401');
});

test('what a platform sends wrongly is counted and explained, and the rest goes on', async () => {
  await standIn('larch').post('raw', { text: '{"specversion":"1.0"}' });
  await page.getByText(/Larch: larch sent an event that cannot be read/).waitFor();
  const name = `${'W'.repeat(120)}‮<img src=x onerror=alert(1)>`;
  await standIn('larch').post('chat', { viewer: 'fogwhistle', text: name });
  await log().getByText('<img src=x onerror=alert(1)>').first().waitFor();
  expect(await page.locator('img[src="x"]').count()).toBe(0);
});

test('the list: kinds, search, done, pinned, masked names', async () => {
  // Whatever the tests before have left open.
  await page.reload();
  await standIn('larch').post('chat', { viewer: 'wetslate', text: 'how far is the pass from here?' });
  await standIn('larch').post('event', { kind: 'order', viewer: 'ledger_moth' });
  const order = log().locator('.entry').filter({ hasText: 'ledger_moth' }).filter({ hasText: 'ordered' });
  await tab('Events');
  await order.waitFor();
  await eventually(async () => (await log().locator('.entry[data-kind="chat"]').count()) === 0);
  await tab('All');
  await page.getByLabel('Search names and words').fill('pass far');
  await eventually(async () => (await log().locator('.entry').count()) === 1);
  const row = log().locator('.entry').first();
  await row.hover();
  await row.getByRole('button', { name: 'Pin wetslate' }).click();
  await row.getByText('pinned').waitFor();
  await page.getByLabel('Search names and words').fill('');
  await tab('Pinned');
  await eventually(async () => (await log().locator('.entry').count()) === 1);
  await tab('To thank');
  await order.hover();
  await order.getByRole('button', { name: 'Done: ledger_moth' }).click();
  await order.waitFor({ state: 'detached' });
  await tab('All');
  await tab('Filters');
  await page.getByLabel(/Mask names in my lists/).click();
  await log()
    .getByText(/^viewer \d{3}$/)
    .first()
    .waitFor();
  expect(await log().getByText('wetslate').count()).toBe(0);
  const show = (await records()).find((r) => r.kind === 'show')!;
  await eventually(async () => (await records()).some((r) => r.kind === 'show' && r.audience.maskLists));
  await fixture.edit('Unmasked', [{ ...show, audience: START_AUDIENCE } as AnyRecord]);
  await page.reload();
});

test('scrolled far back and on again: every message once, in order, nothing jumps, and the newest are one press away', async () => {
  // Searched for, so that nothing else comes between.
  await page.reload();
  await tab('All');
  const many = 400;
  await page.getByLabel('Search names and words').fill('milepost');
  for (let i = 0; i < many; i++)
    await standIn('cairn').post('chat', { viewer: 'ropeway', text: `milepost ${i}` });
  await log()
    .getByText(`milepost ${many - 1}`)
    .waitFor();
  const rows = () =>
    log().evaluate((box) =>
      [...box.querySelectorAll('.entry-words')].map((e) => Number(/milepost (\d+)/.exec(e.textContent!)![1])),
    );
  /** Scrolls by a step and waits; the row at the top edge must not jump by more than the step. */
  const seen = new Set<number>();
  const scroll = async (pixels: number) => {
    await log().evaluate((box, by) => (box.scrollTop += by), pixels);
    await pause(120);
    const now = await rows();
    expect(now).toEqual(now.map((_, i) => now[0] + i));
    expect(now.length).toBeLessThanOrEqual(240);
    for (const one of now) seen.add(one);
    return now;
  };
  for (let i = 0; i < 80 && (await scroll(-400))[0] > 0; i++);
  expect([seen.size, (await rows())[0]]).toEqual([many, 0]);
  // What comes in while somebody reads further up moves nothing.
  await log().evaluate((box) => (box.scrollTop = 300));
  await pause(300);
  const top = () =>
    log().evaluate((box) => {
      const edge = box.getBoundingClientRect().top;
      const row = [...box.querySelectorAll('.entry')].find((e) => e.getBoundingClientRect().top >= edge)!;
      return [row.textContent, Math.round(row.getBoundingClientRect().top - edge)];
    });
  const before = await top();
  await standIn('cairn').post('chat', { viewer: 'ropeway', text: `milepost ${many}` });
  const newest = page.getByRole('button', { name: /^\d+ new · to the newest/ });
  await newest.waitFor();
  expect(await top()).toEqual(before);
  // On again to the end, without a gap.
  for (let i = 0; i < 80 && (await scroll(400)).at(-1)! < many; i++);
  expect((await rows()).at(-1)).toBe(many);
  await log().evaluate((box) => (box.scrollTop = 0));
  await page.getByRole('button', { name: /to the newest/i }).click();
  await log().getByText(`milepost ${many}`).waitFor();
  await eventually(async () =>
    log().evaluate((box) => box.scrollHeight - box.scrollTop - box.clientHeight < 4),
  );
  // By keys: a row is chosen, its buttons are there, Tab reaches them.
  await log().focus();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Tab');
  expect(await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe(
    'Read out ropeway',
  );
  await page.getByLabel('Search names and words').fill('');
});
test('an alert of one’s own: added, worded, with picture and sound, undone', async () => {
  await tab('Alerts');
  await page.getByRole('button', { name: 'Add an alert' }).click();
  await page.getByRole('menuitem', { name: 'Raid', exact: true }).click();
  const editor = page.getByRole('region', { name: 'Alert Raid' });
  await editor.getByLabel('Text', { exact: true }).fill('Welcome {{name}}!');
  await editor.getByLabel('Text', { exact: true }).blur();
  await editor.getByLabel('Picture of the alert').setInputFiles({
    name: 'flag.png',
    mimeType: 'image/png',
    buffer: Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==',
      'base64',
    ),
  });
  await editor.getByText('flag.png').waitFor();
  await eventually(async () =>
    (await rules()).some((r) => r.text === 'Welcome {{name}}!' && r.picture?.name === 'flag.png'),
  );
  await page.mouse.click(640, 795);
  await page.keyboard.press('Control+z');
  await eventually(async () =>
    (await rules()).some((r) => r.text === 'Welcome {{name}}!' && r.picture === null),
  );
  expect((await rules()).at(-1)).toMatchObject({ ...PLAIN_ALERT_RULE, event: 'raid' });
});
