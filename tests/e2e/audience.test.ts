/** Audience in the real application: what viewers do, and what is seen of it in the pulled stream. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { Webhook } from 'standardwebhooks';
import { WebSocket } from 'ws';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { START_AUDIENCE } from '../../core/audience/settings';
import { PLAIN_ALERT_RULE, type AlertRuleRecord } from '../../core/show/audience-records';
import { DEFAULT_TEXT_STYLE, type AnyRecord } from '../../core/show/records';
import type { ListedEntry } from '../../protocol/audience-bus';
import { eventually } from '../lib/relay-process';
import { halfLottie, rgbaPng } from '../lib/sample-files';
import { ffmpeg, silences } from '../lib/sound-files';
import { StreamWatcher } from '../lib/stream-watcher';
import { goLive, goTo, SHOW, stopLive, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;

/** Where things stand in the game scene, in the 640 × 360 of the stream. */
const ALERT = { x: 230, y: 96, width: 180, height: 20 };
const LEFT_HALF = { x: 200, y: 92, width: 90, height: 30 };
const RIGHT_HALF = { x: 350, y: 92, width: 90, height: 30 };
const CHAT = { x: 470, y: 244, width: 154, height: 98 };
const READ_OUT = { x: 122, y: 146, width: 40, height: 80 };
/** Ten colours that no picture here has, far from each other. */
const COLOURS = [
  '#ff0000',
  '#00ff00',
  '#0000ff',
  '#ffff00',
  '#ff00ff',
  '#00ffff',
  '#ff8800',
  '#8800ff',
  '#ffffff',
  '#88ff88',
];

const LARGE_DONATION = { kind: 'donation', viewer: 'mossbell', amount: '75.00', currency: 'EUR' };

const records = async (): Promise<AnyRecord[]> =>
  ((await (await fetch(`${fixture.api}/edits`)).json()) as { records: AnyRecord[] }).records;
const rules = async () => (await records()).filter((r): r is AlertRuleRecord => r.kind === 'alertRule');
const standIn = (name: string) => {
  const facts = fixture.studio.platforms().find((p: { name: string }) => p.name === name)!;
  const base = facts.watchUrl.replace(/\/watch$/, '');
  return {
    playUrl: facts.playUrl as string,
    post: (what: string, form: Record<string, string>) =>
      fetch(`${base}/${what}`, { method: 'POST', body: new URLSearchParams(form) }),
  };
};
async function entries(query: Record<string, string> = {}): Promise<ListedEntry[]> {
  const all: ListedEntry[] = [];
  for (let before = ''; ;) {
    const search = new URLSearchParams({ ...query, ...(before && { before }) });
    const page = (await (await fetch(`${fixture.api}/entries?${search}`)).json()) as {
      entries: ListedEntry[];
    };
    all.unshift(...page.entries);
    if (page.entries.length === 0) return all;
    before = String(page.entries[0].event.seq);
  }
}
const quiet = (on: boolean) => standIn('larch').post('quiet', { on: on ? 'yes' : 'no' });
const log = () => page.getByRole('log', { name: 'Chat and events' });
const tab = (name: string) => page.getByRole('radio', { name, exact: true }).click();
const onAir = async () => (await fixture.health()).desk?.onAirSceneId ?? null;

const PICTURES = ['png', 'gif', 'apng', 'webp', 'webm', 'lottie'] as const;

function makeHalfPicture(kind: Exclude<(typeof PICTURES)[number], 'lottie'>, file: string): void {
  const still = path.join(fixture.data, 'half.png');
  writeFileSync(
    still,
    rgbaPng(400, 80, (x) => (x < 200 ? [255, 0, 255, 255] : [0, 0, 0, 0])),
  );
  const how = {
    png: '-frames:v 1',
    gif: '-filter_complex split[a][b];[a]palettegen=reserve_transparent=1[p];[b][p]paletteuse',
    apng: '-plays 0 -f apng',
    webp: '-c:v libwebp_anim -lossless 1 -loop 0',
    webm: '-c:v libvpx-vp9 -pix_fmt yuva420p -auto-alt-ref 0',
  }[kind];
  ffmpeg(`-loop 1 -t 1 -r 10 -i ${still} ${how} ${file}`.split(' '));
}

/** A rule whose picture is magenta on its left half and clear on its right, as a file of this kind. */
async function pictureRule(kind: (typeof PICTURES)[number], position: number): Promise<AlertRuleRecord> {
  const name = kind === 'lottie' ? 'half.json' : `${kind}.${kind === 'apng' ? 'png' : kind}`;
  const file = path.join(fixture.data, name);
  if (kind === 'lottie') writeFileSync(file, halfLottie(400, 80));
  else makeHalfPicture(kind, file);
  const response = await fetch(`${fixture.api}/assets`, {
    method: 'POST',
    headers: { 'x-file-name': name, 'content-type': 'application/octet-stream' },
    body: new Uint8Array(readFileSync(file)),
  });
  const { id } = (await response.json()) as { id: string };
  return {
    kind: 'alertRule',
    id: `picture-${kind}`,
    showId: SHOW,
    name: `Picture ${kind}`,
    position,
    ...PLAIN_ALERT_RULE,
    event: 'other',
    title: kind,
    text: '·',
    seconds: 3,
    motionSeconds: 0,
    layout: 'behind',
    style: { ...DEFAULT_TEXT_STYLE, sizePx: 10, colour: '#00000000', box: 'none' },
    picture: { assetId: id, name, as: kind === 'webm' ? 'clip' : kind === 'lottie' ? 'lottie' : 'picture' },
  };
}

beforeAll(async () => {
  fixture = await StudioFixture.start();
  // Short and plain, each in a colour of its own.
  await fixture.edit(
    'Alerts to be told apart',
    (await rules()).map((rule, i) => ({
      ...rule,
      seconds: 3,
      sound: null,
      motionSeconds: 0,
      coolDownSeconds: 0,
      perViewerSeconds: 0,
      style: { ...DEFAULT_TEXT_STYLE, sizePx: 14, colour: COLOURS[i], box: COLOURS[i] },
    })),
  );
  for (const [i, kind] of PICTURES.entries())
    await fixture.edit(`Picture ${kind}`, [await pictureRule(kind, 20 + i)]);
  page = await fixture.open('audience');
  await quiet(true);
});
afterAll(async () => {
  expect(fixture?.pageErrors ?? []).toEqual([]);
  await fixture?.stop();
});

describe('in the stream', () => {
  let watcher: StreamWatcher;
  beforeAll(async () => {
    await goTo(page, 'On air');
    await page.getByRole('button', { name: /^Game/ }).click();
    await goLive(page);
    await goTo(page, 'Audience');
    await eventually(
      async () => ((await fixture.health()).relay?.session.destinations[0]?.framesSent ?? 0) > 60,
      60_000,
    );
    watcher = new StreamWatcher(standIn('larch').playUrl, 640, 360);
    await watcher.until('a picture', () => true, 30_000);
  });
  afterAll(async () => {
    watcher?.close();
    await stopLive(page);
  });

  test('every test button brings its own alert to viewers', async () => {
    for (const [i, rule] of (await rules()).filter((r) => r.id.startsWith('rule-')).entries()) {
      await page.getByRole('button', { name: `Test ${rule.name}`, exact: true }).click();
      await watcher.until(rule.name, () => watcher.share(ALERT, COLOURS[i], 60) > 0.8);
    }
    await watcher.until('the alert gone', () => watcher.share(ALERT, COLOURS[9], 60) < 0.1);
    await log().getByText('gives', { exact: false }).or(log().getByText('donated').first()).first().waitFor();
  });

  test('what happens on a platform becomes an alert by its amount', async () => {
    const large = (await rules()).findIndex((r) => r.id === 'rule-large');
    await standIn('cairn').post('event', LARGE_DONATION);
    await watcher.until('the large donation', () => watcher.share(ALERT, COLOURS[large], 60) > 0.8);
    const found = await entries({ show: 'events', platform: 'cairn' });
    expect(found.at(-1)?.event).toMatchObject({ type: 'donation', money: { currency: 'EUR', minor: 7500 } });
    // The goal on the picture is kept up, and the list says who it was.
    await log().getByText('donated €75').first().waitFor();
  });

  test('pause holds alerts back, skip ends one', async () => {
    await page.getByRole('button', { name: 'Pause', exact: true }).click();
    await page.getByRole('button', { name: 'Test Follow', exact: true }).click();
    await page.getByText('1 waiting').waitFor();
    expect(watcher.share(ALERT, COLOURS[0], 60)).toBeLessThan(0.1);
    await page.getByRole('button', { name: 'Go on', exact: true }).click();
    await watcher.until('the alert', () => watcher.share(ALERT, COLOURS[0], 60) > 0.8);
    await page.getByRole('button', { name: 'Skip', exact: true }).click();
    await watcher.until('the alert gone', () => watcher.share(ALERT, COLOURS[0], 60) < 0.1, 8000);
  });

  test('what waits outlives a reload of the page, and so does the pause', async () => {
    await page.getByRole('button', { name: 'Pause', exact: true }).click();
    await standIn('cairn').post('event', { ...LARGE_DONATION, viewer: 'wetslate' });
    await page.getByText('1 waiting').waitFor();
    // Written down within the second.
    await page.waitForTimeout(1000);
    await page.reload();
    await page.getByText('1 waiting').waitFor();
    await page.mouse.click(640, 795);
    const large = (await rules()).findIndex((r) => r.id === 'rule-large');
    await page.getByRole('button', { name: 'Go on', exact: true }).click();
    await watcher.until('the alert that waited', () => watcher.share(ALERT, COLOURS[large], 60) > 0.8);
    await page.getByRole('button', { name: 'Skip', exact: true }).click();
    await watcher.until('the alert gone', () => watcher.share(ALERT, COLOURS[large], 60) < 0.1, 8000);
  });

  test('a message comes on the picture; removed, it leaves the picture and the platform is asked', async () => {
    const id = `bright ${'█'.repeat(24)}`;
    await standIn('cairn').post('chat', { viewer: 'gravelpath', text: id });
    await log().getByText(id).first().waitFor();
    const white = () => watcher.share(CHAT, '#ece8e1', 60);
    await watcher.until('the message', () => white() > 0.06);
    await log().locator('.entry').filter({ hasText: id }).hover();
    await log()
      .locator('.entry')
      .filter({ hasText: id })
      .getByRole('button', { name: 'More for gravelpath' })
      .click();
    await page.getByRole('menuitem', { name: 'Remove on cairn' }).click();
    await page.getByText('The message is removed on cairn').waitFor();
    await watcher.until('the message gone', () => white() < 0.04);
    expect((await entries({ search: 'bright' })).at(-1)).toMatchObject({ hidden: true });
  });

  test('read-out puts a message on the picture and takes it off', async () => {
    await standIn('larch').post('chat', { viewer: 'wetslate', text: 'is the roof done yet?' });
    const row = log().locator('.entry').filter({ hasText: 'is the roof done yet?' });
    await row.first().hover();
    await row.first().getByRole('button', { name: 'Read out wetslate' }).click();
    const bar = () => watcher.share(READ_OUT, '#e2ae45', 60);
    await watcher.until('the card', () => bar() > 0.02);
    await page
      .getByRole('group', { name: 'Read-out' })
      .getByRole('button', { name: 'Clear', exact: true })
      .click();
    await watcher.until('the card gone', () => bar() < 0.005);
  });

  test.each(PICTURES)('a picture of its own, %s: solid where it is, clear where it is not', async (kind) => {
    await page.getByRole('button', { name: `Test Picture ${kind}`, exact: true }).click();
    await watcher.until('the picture', () => watcher.share(LEFT_HALF, '#ff00ff', 70) > 0.9);
    expect(watcher.share(RIGHT_HALF, '#ff00ff', 70)).toBeLessThan(0.02);
    await watcher.until('the picture gone', () => watcher.share(LEFT_HALF, '#ff00ff', 70) < 0.02);
  });

  test('an alert is heard by viewers, and not when it is muted', async () => {
    const all = await records();
    const rule = (await rules()).find((r) => r.id === 'rule-follow')!;
    await fixture.edit('Only effects are heard', [
      ...all.flatMap((r) =>
        r.kind === 'channel' && r.source.type !== 'effects' ? [{ ...r, muted: true }] : [],
      ),
      { ...rule, sound: { type: 'simulated', effect: 'whistle' }, soundGainDb: 0 },
    ]);
    await page.reload();
    await page.getByRole('button', { name: 'Test Follow', exact: true }).waitFor();
    await page.mouse.click(640, 795);
    await page.waitForTimeout(3000);
    const file = path.join(fixture.data, 'alerts.wav');
    const args = `-v error -y -i ${standIn('larch').playUrl} -t 14 -vn ${file}`.split(' ');
    const pulled = once(spawn('ffmpeg', args, { stdio: 'ignore' }), 'exit');
    await page.waitForTimeout(3000);
    await page.getByRole('button', { name: 'Test Follow', exact: true }).click();
    await page.waitForTimeout(5000);
    await page.getByRole('button', { name: 'Mute', exact: true }).click();
    await page.getByRole('button', { name: 'Test Follow', exact: true }).click();
    await pulled;
    const quietTimes = silences(file, 1);
    // Quiet, one whistle of less than three seconds, quiet again: the muted one is not heard.
    const quietSeconds = quietTimes.reduce((sum, q) => sum + q.length, 0);
    expect(quietTimes.length).toBe(2);
    expect(quietSeconds).toBeGreaterThan(10);
    expect(quietSeconds).toBeLessThan(13.9);
    await page.getByRole('button', { name: 'Sound on', exact: true }).click();
  });

  test('words of an alert are read aloud through the mixer, and viewers hear them', async () => {
    const all = await records();
    const rule = (await rules()).find((r) => r.id === 'rule-follow')!;
    const effects = all.find((r) => r.kind === 'channel' && r.source.type === 'effects');
    if (effects?.kind !== 'channel') throw new Error('no channel of effects');
    await fixture.edit('Only speech is heard', [
      { ...effects, id: 'ch-speech', name: 'Speech', source: { type: 'speech' }, muted: false },
      { ...rule, sound: null, spoken: true },
    ]);
    await page.reload();
    await page.getByRole('button', { name: 'Test Follow', exact: true }).waitFor();
    await page.mouse.click(640, 795);
    await page.waitForTimeout(3000);
    const file = path.join(fixture.data, 'speech.wav');
    const args = `-v error -y -i ${standIn('larch').playUrl} -t 10 -vn ${file}`.split(' ');
    const pulled = once(spawn('ffmpeg', args, { stdio: 'ignore' }), 'exit');
    await page.waitForTimeout(3000);
    await page.getByRole('button', { name: 'Test Follow', exact: true }).click();
    await pulled;
    const quietTimes = silences(file, 1);
    const heard = 10 - quietTimes.reduce((sum, q) => sum + q.length, 0);
    // A few words: between half a second and four.
    expect(quietTimes.length).toBe(2);
    expect(heard).toBeGreaterThan(0.5);
    expect(heard).toBeLessThan(4);
  });

  test('a storm: what was sent is what is listed, once each, and every alert is counted', async () => {
    const before = (await entries()).at(-1)?.event.seq ?? 0;
    const sent = (await (
      await standIn('larch').post('storm', { count: '1000', seconds: '10', seed: '7' })
    ).json()) as Record<string, number>;
    expect(Object.values(sent).reduce((a, b) => a + b)).toBe(1000);
    await eventually(async () => (await entries({ platform: 'larch' })).length >= 1000, 20_000);
    const got: Record<string, number> = {};
    const ids = new Set<string>();
    for (const { event } of await entries({ platform: 'larch' }))
      if (event.seq > before) {
        got[event.type] = (got[event.type] ?? 0) + 1;
        ids.add(event.id);
      }
    expect(got).toEqual(sent);
    expect(ids.size).toBe(1000);
    await page.getByText(/^\d+$/).first().waitFor();
    await page.getByRole('button', { name: 'Clear', exact: true }).last().click();
    await page.getByText('0 waiting').waitFor();
  });
});

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
  await page.getByRole('button', { name: /^Countdown/ }).click();
  await eventually(async () => (await onAir()) === 'sc-start', 10_000);
  await eventually(async () => (await onAir()) === 'sc-credits', 15_000);
  await page.getByRole('button', { name: /^Game/ }).click();
  await goTo(page, 'Audience');
});

test('a hook: its secret is shown once, a signed call appears, a forged one is counted and explained', async () => {
  await tab('Where it comes from');
  await page.getByLabel('Name of the sender').fill('Till');
  await page.getByRole('button', { name: 'Make a hook' }).click();
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
    return fetch(address, {
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
  expect((await fetch(address, { method: 'POST', body: 'x'.repeat(300_000) })).status).toBe(413);

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
  await tab('Events');
  await log().getByText('ordered brass whistle number nine').waitFor();
  expect(await log().locator('.entry[data-kind="chat"]').count()).toBe(0);
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
  const order = log().locator('.entry').filter({ hasText: 'brass whistle number nine' });
  await order.hover();
  await order.getByRole('button', { name: 'Done: copperkettle' }).click();
  await order.waitFor({ state: 'detached' });
  await tab('All');
  await tab('What is shown');
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
  // A platform of its own, so that nothing else comes between.
  await page.reload();
  await tab('All');
  const many = 400;
  await page.getByLabel('Search names and words').fill('milepost');
  for (let i = 0; i < many; i++)
    await standIn('marmot').post('chat', { viewer: 'ropeway', text: `milepost ${i}` });
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
    await page.waitForTimeout(120);
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
  await page.waitForTimeout(300);
  const top = () =>
    log().evaluate((box) => {
      const edge = box.getBoundingClientRect().top;
      const row = [...box.querySelectorAll('.entry')].find((e) => e.getBoundingClientRect().top >= edge)!;
      return [row.textContent, Math.round(row.getBoundingClientRect().top - edge)];
    });
  const before = await top();
  await standIn('marmot').post('chat', { viewer: 'ropeway', text: `milepost ${many}` });
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
  await editor.getByLabel('Words', { exact: true }).fill('Welcome {{name}}!');
  await editor.getByLabel('Words', { exact: true }).blur();
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
