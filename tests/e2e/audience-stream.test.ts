/** Alerts, chat and read-out in the real application: what viewers do, and what is seen of it in the pulled stream. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import path from 'node:path';
import { expect, test } from 'vitest';
import { DEFAULT_TEXT_STYLE } from '../../core/show/records';
import {
  closeAudience,
  entries,
  fixture,
  log,
  openAudience,
  page,
  records,
  rules,
  standIn,
} from '../lib/audience-driver';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import { silences } from '../lib/sound-files';
import { StreamWatcher } from '../lib/stream-watcher';
import { bringOn, goLive, goTo } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

let watcher: StreamWatcher;

/** Where things stand in the game scene, in the 320 × 180 of the stream. */
const ALERT = { x: 115, y: 48, width: 90, height: 10 };
const CHAT = { x: 235, y: 122, width: 77, height: 49 };
const READ_OUT = { x: 61, y: 73, width: 20, height: 40 };
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

/** Alerts that stay until they are skipped. */
const BY_HAND = ['rule-follow', 'rule-large'];

async function skipIt(colour: string): Promise<void> {
  await page.getByRole('button', { name: 'Skip', exact: true }).click();
  await watcher.until('the alert gone', () => watcher.share(ALERT, colour, 60) < 0.1);
}

/** Rules that are short and plain, each in a colour of its own. */
async function rulesToBeToldApart(): Promise<void> {
  await fixture.edit(
    'Alerts to be told apart',
    (await rules()).map((rule, i) => ({
      ...rule,
      // Long where a test is to end it by hand: until then it must not have gone by itself.
      seconds: BY_HAND.includes(rule.id) ? 30 : 1,
      sound: null,
      motionSeconds: 0,
      coolDownSeconds: 0,
      perViewerSeconds: 0,
      style: { ...DEFAULT_TEXT_STYLE, sizePx: 14, colour: COLOURS[i], box: COLOURS[i] },
    })),
  );
}

freshStart(
  async () => {
    await openAudience(rulesToBeToldApart, 15);
    await goTo(page, 'On air');
    await bringOn(page, 'Game');
    await goLive(page);
    await goTo(page, 'Audience');
    await eventually(
      async () => ((await fixture.health()).relay?.session.destinations[0]?.framesSent ?? 0) > 60,
      60_000,
    );
    watcher = new StreamWatcher(standIn('larch').playUrl, 320, 180);
    await watcher.until('a picture', () => true, 30_000);
  },
  async () => {
    watcher?.close();
    await closeAudience();
  },
);

test('every test button brings its own alert to viewers', async () => {
  for (const [i, rule] of (await rules()).filter((r) => r.id.startsWith('rule-')).entries()) {
    await page.getByRole('button', { name: `Test ${rule.name}`, exact: true }).click();
    await watcher.until(rule.name, () => watcher.share(ALERT, COLOURS[i], 60) > 0.8);
    if (BY_HAND.includes(rule.id)) await skipIt(COLOURS[i]);
  }
  await watcher.until('the alert gone', () => watcher.share(ALERT, COLOURS[9], 60) < 0.1);
  await log().getByText('gives', { exact: false }).or(log().getByText('donated').first()).first().waitFor();
});

test('what happens on a platform becomes an alert by its amount', async () => {
  const large = (await rules()).findIndex((r) => r.id === 'rule-large');
  await standIn('cairn').post('event', LARGE_DONATION);
  await watcher.until('the large donation', () => watcher.share(ALERT, COLOURS[large], 60) > 0.8);
  await skipIt(COLOURS[large]);
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
  await page.getByRole('button', { name: 'Resume', exact: true }).click();
  await watcher.until('the alert', () => watcher.share(ALERT, COLOURS[0], 60) > 0.8);
  await skipIt(COLOURS[0]);
});

test('what waits outlives a reload of the page, and so does the pause', async () => {
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  await standIn('cairn').post('event', { ...LARGE_DONATION, viewer: 'wetslate' });
  await page.getByText('1 waiting').waitFor();
  // Written down within the second.
  await pause(1000);
  await page.reload();
  await page.getByText('1 waiting').waitFor();
  await page.mouse.click(640, 795);
  const large = (await rules()).findIndex((r) => r.id === 'rule-large');
  await page.getByRole('button', { name: 'Resume', exact: true }).click();
  await watcher.until('the alert that waited', () => watcher.share(ALERT, COLOURS[large], 60) > 0.8);
  await skipIt(COLOURS[large]);
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

test('the sound of an alert goes through the channel of the effects, and not when it is muted', async () => {
  const rule = (await rules()).find((r) => r.id === 'rule-follow')!;
  await fixture.edit('With a whistle', [
    { ...rule, sound: { type: 'simulated', effect: 'whistle' }, soundGainDb: 0 },
  ]);
  await page.reload();
  await page.mouse.click(640, 795);
  // Nothing but effects is on the strip. It is looked at while the alert begins: after three seconds it forgets.
  const level = page.getByRole('group', { name: 'Effects', exact: true }).locator('.channel-lufs');
  const happens = async () => {
    await goTo(page, 'Sound');
    await level.waitFor();
    await fixture.client.send('/test-event', { ruleId: rule.id, count: 1 });
  };
  const seen = () => watcher.share(ALERT, COLOURS[0], 60) > 0.8;
  await page.getByRole('button', { name: 'Mute', exact: true }).click();
  await happens();
  await watcher.until('the alert', seen);
  // Its sound would be in what is measured for three seconds from now.
  const levels = new Set<string | null>();
  for (let i = 0; i < 20; i++) {
    levels.add(await level.textContent());
    await pause(100);
  }
  expect([...levels]).toEqual(['—']);
  await goTo(page, 'Audience');
  await skipIt(COLOURS[0]);
  await page.getByRole('button', { name: 'Unmute', exact: true }).click();
  await happens();
  await level.filter({ hasText: /\d/ }).waitFor();
  await watcher.until('the alert', seen);
  await goTo(page, 'Audience');
  await skipIt(COLOURS[0]);
});

test('words of an alert are read aloud through the mixer, and viewers hear them', async () => {
  const all = await records();
  const rule = (await rules()).find((r) => r.id === 'rule-follow')!;
  const effects = all.find((r) => r.kind === 'channel' && r.source.type === 'effects');
  if (effects?.kind !== 'channel') throw new Error('no channel of effects');
  await fixture.edit('Only speech is heard', [
    ...all.flatMap((r) => (r.kind === 'channel' ? [{ ...r, muted: true }] : [])),
    { ...effects, id: 'ch-speech', name: 'Speech', source: { type: 'speech' }, muted: false },
    { ...rule, sound: null, spoken: true },
  ]);
  await page.reload();
  await page.getByRole('button', { name: 'Test Follow', exact: true }).waitFor();
  await page.mouse.click(640, 795);
  await pause(3000);
  const file = path.join(fixture.data, 'speech.wav');
  const args = `-v error -y -i ${standIn('larch').playUrl} -t 10 -vn ${file}`.split(' ');
  const pulled = once(spawn('ffmpeg', args, { stdio: 'ignore' }), 'exit');
  await pause(3000);
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
