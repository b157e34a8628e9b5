/** Guests: invited by a link, seen and heard by viewers from when they are brought on, without themselves in what they hear. */
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { recordsOf, documentOf } from '../../core/show/document';
import { Coturn } from '../lib/coturn';
import { comeIn, guestAt, guestBrowser, heardBy } from '../lib/guest-page';
import { firefoxPage } from '../lib/firefox';
import { pull } from '../lib/pull';
import { eventually, settles } from '../lib/relay-process';
import { meanDb } from '../lib/sound-files';
import { StreamWatcher } from '../lib/stream-watcher';
import { bringOn, goLive, stopLive, StudioFixture } from '../lib/studio-fixture';

/** Tones that no sound of the demonstration has for long. */
const [ADA_HZ, BEN_HZ] = [937, 1523];
const ADA_COLOUR = '#e07020';
let fixture: StudioFixture;
let desk: Page;
let adasBrowser: Browser;
let bensBrowser: Browser;
let ada: Page;
let ben: Page;

beforeAll(async () => {
  fixture = await StudioFixture.start();
  await fixture.quiet();
  // Nothing else sounds: what is left of a tone in somebody's own ears is to be measured.
  const channels = recordsOf(documentOf(await fixture.records()), 'channel');
  await fixture.edit(
    'All silent',
    channels.map((channel) => ({ ...channel, muted: true })),
  );
  const context = await fixture.browser.newContext({
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write'],
  });
  desk = await fixture.open('air', context);
  adasBrowser = await guestBrowser(fixture.data, { colour: '0xe07020', hz: ADA_HZ });
  bensBrowser = await guestBrowser(fixture.data, { colour: '0x2060c0', hz: BEN_HZ });
}, 180_000);
afterAll(async () => {
  const { pageErrors } = fixture;
  await adasBrowser?.close();
  await bensBrowser?.close();
  await fixture?.stop();
  expect(pageErrors).toEqual([]);
});

const people = () => desk.getByRole('region', { name: 'Audience', exact: true });
const seat = (name: string) => people().getByRole('region', { name, exact: true });

/** Two actions of the host: invite, and copy. @param name of a seat; null for whoever comes */
async function invite(name: string | null): Promise<string> {
  const button = name === null ? 'Invite anyone' : `Invite to ${name}`;
  await people().getByRole('button', { name: button }).click();
  const dialog = desk.getByRole('dialog', {
    name: name === null ? 'A link for guests' : `A link to ${name}`,
  });
  await dialog.getByRole('button', { name: 'Copy link' }).click();
  await dialog.getByRole('button', { name: 'Copied' }).waitFor();
  const link = await desk.evaluate(() => navigator.clipboard.readText());
  await dialog.getByRole('button', { name: 'Done' }).click();
  return link;
}

test('two seats, a scene for them, a link each: both wait in the wings, and the host sees and names them', async () => {
  await people().getByRole('radio', { name: 'Guests' }).click();
  await people().getByRole('button', { name: 'Add seat' }).click();
  await people().getByRole('button', { name: 'Add seat' }).click();
  await people().getByRole('button', { name: 'Scene for them' }).click();
  await desk.getByRole('menuitem', { name: 'Side by side' }).click();
  ada = await guestAt(fixture, adasBrowser, await invite('Guest 1'));
  await ada.getByText('You are a guest of Night Signal Box').waitFor();
  await ada.getByText('Your place: Guest 1').waitFor();
  await comeIn(ada, 'Ada');
  await seat('Guest 1').getByText('Ada', { exact: true }).waitFor();
  await seat('Guest 1').getByText('In the wings').waitFor();
  ben = await guestAt(fixture, bensBrowser, await invite('Guest 2'));
  await comeIn(ben, 'Ben');
  await seat('Guest 2').getByText('In the wings').waitFor();
  await ada.getByText('Also here: Ben').waitFor();
  // Each name is a field of the show, and stands in the scene that was made.
  const fields = async () => recordsOf(documentOf(await fixture.records()), 'show')[0].fields;
  await settles(fields, (found) => expect(found).toMatchObject({ 'Guest-1': 'Ada', 'Guest-2': 'Ben' }));
  // What the host makes of it stays, whatever the guest does.
  const show = recordsOf(documentOf(await fixture.records()), 'show')[0];
  await fixture.edit('Her whole name', [{ ...show, fields: { ...show.fields, 'Guest-1': 'Ada, miller' } }]);
  await ada.getByRole('button', { name: 'Raise a hand' }).click();
  await desk.getByText('Ada raises a hand.').waitFor();
  await ada.getByRole('button', { name: 'Raise a hand' }).click();
  expect(await fields()).toMatchObject({ 'Guest-1': 'Ada, miller' });
});

test('nobody is seen or heard before they are brought on; then they are, and hear all but themselves', async () => {
  await bringOn(desk, 'Guests');
  await goLive(desk);
  const { playUrl } = fixture.studio.platforms()[0];
  const watcher = new StreamWatcher(playUrl, 160, 90);
  // The middle of three places side by side.
  const place = { x: 66, y: 20, width: 28, height: 30 };
  const sees = () => watcher.share(place, ADA_COLOUR, 45);
  const tone = async (hz: number) => {
    const file = path.join(fixture.data, `heard-${hz}.flv`);
    await pull(playUrl, file, 4);
    return meanDb(file, { filter: `bandpass=f=${hz}:width_type=h:w=20` });
  };
  try {
    await watcher.until('the scene with an empty seat', () => watcher.seen > 20);
    expect(sees()).toBeLessThan(0.1);
    const before = await tone(ADA_HZ);
    await seat('Guest 1').getByRole('button', { name: 'Bring on' }).click();
    await ada.getByRole('heading', { name: 'You are on air' }).waitFor();
    await ada.getByText('Viewers see you').waitFor();
    await watcher.until('the guest', () => sees() > 0.8);
    const on = await tone(ADA_HZ);
    expect(on).toBeGreaterThan(before + 20);

    // What Ada hears: not herself, and not Ben, who waits; Ben in the wings hears her.
    const [own, other] = await heardBy(ada, [ADA_HZ, BEN_HZ]);
    const [adaByBen] = await heardBy(ben, [ADA_HZ]);
    expect(adaByBen).toBeGreaterThan(-40);
    expect(own).toBeLessThan(adaByBen - 60);
    expect(other).toBeLessThan(adaByBen - 40);
    await seat('Guest 2').getByRole('button', { name: 'Bring on' }).click();
    await ben.getByRole('heading', { name: 'You are on air' }).waitFor();
    await settles(
      async () => (await heardBy(ada, [BEN_HZ]))[0],
      (found) => expect(found).toBeGreaterThan(-40),
    );

    // The guest's own mute wins over everything.
    await ben.getByRole('button', { name: 'Mute me' }).click();
    await seat('Guest 2')
      .getByRole('img', { name: 'Muted themselves' })
      .or(seat('Guest 2').locator('title', { hasText: 'Muted themselves' }))
      .first()
      .waitFor({ state: 'attached' });
    await settles(
      async () => (await heardBy(ada, [BEN_HZ]))[0],
      (found) => expect(found).toBeLessThan(-80),
    );
    await ben.getByRole('button', { name: 'Mute me' }).click();

    await seat('Guest 1').getByRole('button', { name: 'Take off' }).click();
    await ada.getByRole('heading', { name: 'In the wings' }).waitFor();
    await watcher.until('the empty seat again', () => sees() < 0.1);
    // What is pulled begins up to a group of pictures before now.
    await settles(
      () => tone(ADA_HZ),
      (found) => expect(found).toBeLessThan(on - 20),
    );
  } finally {
    watcher.close();
    await stopLive(desk);
  }
});

test('words, a raised hand, talking to one who waits', async () => {
  await seat('Guest 1').getByLabel('Words to Ada').fill('You are on after the vote.');
  await desk.keyboard.press('Enter');
  await ada.getByText('You are on after the vote.').waitFor();
  await ada.getByRole('button', { name: 'Raise a hand' }).click();
  await desk.getByText('Ada raises a hand.').waitFor();
  const talk = seat('Guest 1').getByRole('button', { name: 'Talk', exact: true });
  await talk.hover();
  await desk.mouse.down();
  await ada.getByText('The host talks to you').waitFor();
  await expect.poll(() => talk.getAttribute('aria-pressed')).toBe('true');
  await desk.mouse.up();
  await ada.getByText('The host talks to you').waitFor({ state: 'hidden' });
});

test('a page that closes is said, its seat is kept, and it comes back to it by itself', async () => {
  const context = ada.context();
  await ada.close();
  await seat('Guest 1').getByText('Away: comes back by itself').waitFor();
  ada = await context.newPage();
  await ada.goto(`http://127.0.0.1:${fixture.studio.doorPort}/guest`);
  // The name is still there.
  await ada.getByRole('button', { name: 'I am ready' }).click();
  await desk.getByText('Ada is back.').waitFor();
  await seat('Guest 1').getByText('In the wings').waitFor();
});

test('the desk’s page is loaded anew: guests are connected again by themselves, on the same seats', async () => {
  await desk.reload();
  await people().getByRole('radio', { name: 'Guests' }).click();
  for (const name of ['Guest 1', 'Guest 2'])
    await seat(name).locator('.seat-state[data-trouble=false]').waitFor();
  // Ben is still on, and Ada hears the programme.
  await seat('Guest 2').getByRole('button', { name: 'Take off' }).waitFor();
  await settles(
    async () => (await heardBy(ada, [BEN_HZ]))[0],
    (found) => expect(found).toBeGreaterThan(-45),
  );
});

test('the studio server is killed: between guest and desk everything goes on, and the seat stays theirs', async () => {
  const stream = (page: Page) =>
    page.evaluate(
      () => ((document.getElementById('return') as HTMLVideoElement).srcObject as MediaStream).id,
    );
  const before = await stream(ben);
  fixture.studio.children.get('web')!.kill('SIGKILL');
  await ben.getByText('No connection to the studio').waitFor();
  await ben.getByText('No connection to the studio').waitFor({ state: 'hidden' });
  await ben.getByText('Also here: Ada').waitFor();
  await seat('Guest 2').locator('.seat-state[data-trouble=false]').waitFor();
  await seat('Guest 2').getByRole('button', { name: 'Take off' }).waitFor();
  // The same connection as before: another one would have brought another stream.
  expect(await stream(ben)).toBe(before);
  await settles(
    async () => (await heardBy(ada, [BEN_HZ]))[0],
    (found) => expect(found).toBeGreaterThan(-45),
  );
});

test('Firefox is a guest like any other: seen and heard by the host, and sent the show back', async () => {
  const { browser, page } = await firefoxPage(390, 844);
  try {
    await seat('Guest 1').getByRole('button', { name: 'More for Ada' }).click();
    await desk.getByRole('menuitem', { name: 'Off the seat' }).click();
    await page.goto(await invite('Guest 1'));
    await page.waitForFunction(() => !(document.getElementById('ready') as HTMLButtonElement).disabled);
    await page.type('#name', 'Kim');
    await page.click('#ready');
    await seat('Guest 1').getByText('Kim', { exact: true }).waitFor();
    await seat('Guest 1').locator('.seat-state[data-trouble=false]').waitFor();
    const video = seat('Guest 1').getByLabel('Picture of Kim');
    await eventually(() => video.evaluate((one) => (one as HTMLVideoElement).videoWidth > 0));
    await page.waitForFunction(() => (document.getElementById('return') as HTMLVideoElement).videoWidth > 0);
    // Its return is a picture of the show, and its sound comes over the same way.
    expect(
      await page.evaluate(() =>
        ((document.getElementById('return') as HTMLVideoElement).srcObject as MediaStream)
          .getTracks()
          .map(({ kind }) => kind)
          .sort(),
      ),
    ).toEqual(['audio', 'video']);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  } finally {
    await browser.close();
  }
  await seat('Guest 1').getByText('Away: comes back by itself').waitFor();
});

test('through a relay that is not ours: tested with one button, and the only way where a guest wants it', async () => {
  const coturn = await Coturn.start();
  const owner = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
  await fixture.studio.signIn(owner);
  const settings = await owner.newPage();
  try {
    await settings.goto(`${fixture.studio.url}computer`);
    const ways = settings.getByRole('region', { name: 'Ways to guests' });
    await ways.getByLabel('STUN servers').fill('http://stun.example');
    await ways.getByRole('button', { name: 'Save' }).click();
    await ways.getByText(/is no address of a STUN server/).waitFor();
    await ways.getByLabel('STUN servers').fill(coturn.address);
    await ways.getByLabel('TURN servers').fill(coturn.address);
    await ways.getByLabel('TURN password').fill('wrong');
    await ways.getByRole('button', { name: 'Save' }).click();
    await ways.getByLabel('TURN password or shared secret (saved)').waitFor();
    await ways.getByRole('button', { name: 'Test the ways' }).click();
    await ways.getByText(/STUN: yes.*The relay did not let us in/).waitFor();
    await ways.getByLabel('TURN password').fill(Coturn.secret);
    await ways.getByRole('button', { name: 'Save' }).click();
    await ways.getByLabel('TURN password or shared secret (saved)').waitFor();
    await eventually(async () => (await ways.getByLabel('TURN password').inputValue()) === '');
    await ways.getByRole('button', { name: 'Test the ways' }).click();
    await ways.getByText(/Through the relay: yes/).waitFor();
    expect(await settings.content()).not.toContain(Coturn.secret);

    const link = await invite(null);
    const context = await adasBrowser.newContext({ permissions: ['camera', 'microphone'] });
    const page = await context.newPage();
    // What its connection does is looked at from within.
    await page.addInitScript(() => {
      const Own = RTCPeerConnection;
      const made: RTCPeerConnection[] = [];
      Object.assign(window, {
        made,
        RTCPeerConnection: function (this: unknown, ...of: [RTCConfiguration]) {
          const one = new Own(...of);
          made.push(one);
          return one;
        },
      });
    });
    await page.goto(link);
    await page.getByLabel('Do not show my network address').check();
    await comeIn(page, 'Lee');
    const way = () =>
      page.evaluate(async () => {
        const all = (window as unknown as { made: RTCPeerConnection[] }).made;
        const stats = [...((await all.at(-1)?.getStats()) ?? new Map()).values()] as Record<
          string,
          unknown
        >[];
        const pair = stats.find((one) => one.type === 'candidate-pair' && one.nominated === true);
        return stats.find((one) => one.id === pair?.localCandidateId)?.candidateType ?? null;
      });
    await settles(way, (found) => expect(found).toBe('relay'));
    await people().getByText('Lee', { exact: true }).first().waitFor();
    await context.close();
  } finally {
    await owner.close();
    await coturn.stop();
  }
});

test('removed, they are out, and their link lets them in no more', async () => {
  await seat('Guest 2').getByRole('button', { name: 'More for Ben' }).click();
  await desk.getByRole('menuitem', { name: 'Remove from the show' }).click();
  await ben.getByRole('heading', { name: 'Come in' }).waitFor();
  await seat('Guest 2').getByText('Nobody yet').waitFor();
});

test('made-up guests: over real connections, one freezes, drops and comes back; gone with the same button', async () => {
  for (const name of ['Guest 1', 'Guest 2']) {
    const more = seat(name).getByRole('button', { name: /^More for/ });
    if ((await more.count()) === 0) continue;
    await more.click();
    await desk.getByRole('menuitem', { name: 'Off the seat' }).click();
  }
  const button = people().getByRole('button', { name: 'Made-up guests' });
  await button.click();
  const one = seat('Guest 1');
  await one.getByText('copperkettle', { exact: true }).waitFor();
  await one.locator('.seat-state[data-trouble=false]').waitFor();
  await seat('Guest 2').locator('.seat-state[data-trouble=false]').waitFor();
  const misbehave = async (how: RegExp) => {
    await one.getByRole('button', { name: 'More for copperkettle' }).click();
    await desk.getByRole('menuitem', { name: how }).click();
  };
  await misbehave(/freeze/);
  await one.getByText('Picture stands still').waitFor();
  await misbehave(/freeze/);
  await one.locator('.seat-state[data-trouble=false]').waitFor();
  await misbehave(/drop/);
  await one.getByText('Away: comes back by itself').waitFor();
  await desk.getByText('copperkettle is back.').waitFor();
  await one.locator('.seat-state[data-trouble=false]').waitFor();
  await button.click();
  await one.getByText('Nobody yet').waitFor();
});
