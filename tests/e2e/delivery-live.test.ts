/** Delivery and Vault while live, through the interface: three platforms, a slow line, cover, looking back, copies, reports. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { Webhook } from 'standardwebhooks';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { recordingsOf, setLine, signIn, startDelivery } from '../lib/delivery-driver';
import { pull } from '../lib/pull';
import { eventually } from '../lib/relay-process';
import { goLive, goTo, offAir, showDestinations, stopLive, type StudioFixture } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

/** Of the plan. */
const FPS = 15;

let fixture: StudioFixture;
let page: Page;

beforeAll(async () => {
  ({ fixture, page } = await startDelivery());
  const cairn = (await fixture.records()).find((r) => r.kind === 'destination' && r.name === 'Cairn');
  if (cairn?.kind !== 'destination') throw new Error('The demonstration has lost Cairn.');
  await fixture.edit('Cairn has a rate of its own', [{ ...cairn, capKbps: 300 }]);
  await page.reload();
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
});
afterAll(async () => {
  await fixture?.stop();
});

const sentTo = async (name: string): Promise<number> =>
  (await fixture.health()).relay?.session?.destinations.find((d) => d.name === name)?.framesSent ?? 0;

/** Goes live to all three, unless a test before has done so: each stands on its own, and none pays for what is there. */
async function broadcasting(): Promise<void> {
  if (!(await fixture.health()).relay?.session) {
    await goTo(page, 'Delivery');
    await goLive(page);
  }
  for (const name of ['Larch', 'Cairn', 'Marmot'])
    await eventually(async () => (await sentTo(name)) > 2 * FPS, 45_000);
}

test('three destinations, two frames, three encodes; announced by a signed hook; one is added while live', async () => {
  const got: { headers: http.IncomingHttpHeaders; body: string }[] = [];
  const hook = http.createServer((request, response) => {
    let body = '';
    request.on('data', (part: Buffer) => (body += part.toString()));
    request.on('end', () => {
      got.push({ headers: request.headers, body });
      response.end();
    });
  });
  await new Promise<void>((resolve) => hook.listen(0, '127.0.0.1', resolve));
  const { port } = hook.address() as { port: number };
  await offAir(page);
  await goTo(page, 'Delivery');
  await showDestinations(page);
  await signIn(fixture, page, 'Snow on the pass');
  await page.getByRole('radio', { name: 'Recording', exact: true }).click();
  await page.getByLabel('Address of the hook').fill(`http://127.0.0.1:${port}/hidden-token`);
  await page.getByRole('button', { name: 'Store' }).click();
  const secret = await page.getByText('shown this once').locator('code').innerText();
  await page.getByRole('switch', { name: /Tell 127\.0\.0\.1/ }).setChecked(true);
  await goLive(page);
  const watch = await fixture.client.text(fixture.studio.platforms()[0].watchUrl);
  expect(watch).toContain('Snow on the pass');
  expect(watch).toContain('for everybody');
  // Its followers are told in its own way, too, once the broadcast is there.
  const announced = new URL('announced', fixture.studio.platforms()[0].watchUrl).href;
  await eventually(async () => (await fixture.client.text(announced)).includes('Night Signal Box'), 45_000);
  await stopLive(page);
  await showDestinations(page);
  await page.getByRole('switch', { name: 'Send to Larch' }).setChecked(false);
  got.length = 0;
  await goLive(page);
  // What viewers read was set on the platform before the first picture.
  const state = async (name: string) =>
    (await fixture.health()).relay?.session?.destinations.find((d) => d.name === name);
  await eventually(
    async () =>
      ((await state('Cairn'))?.framesSent ?? 0) > 30 && ((await state('Marmot'))?.framesSent ?? 0) > 30,
    45_000,
  );
  await eventually(() => Promise.resolve(got.length === 1), 10_000);
  const payload = new Webhook(secret).verify(got[0].body, got[0].headers as Record<string, string>);
  expect(payload).toMatchObject({ type: 'broadcast.started', data: { show: 'Night Signal Box' } });
  expect(await page.content()).not.toContain('hidden-token');
  // Larch while live: it wants the plan's rate, which nobody else has.
  const before = (await state('Cairn'))!;
  await page.getByRole('switch', { name: 'Send to Larch' }).click();
  await eventually(async () => ((await state('Larch'))?.framesSent ?? 0) > 60, 45_000);
  const encodes = (await fixture.health()).desk!.encodes.map((e) => e.encode);
  // What Cairn gets goes on untouched; Larch has one of its own at the plan's rate.
  expect(encodes.sort()).toEqual(['tall', 'wide', 'wide-2']);
  await page
    .getByRole('group', { name: 'Cairn', exact: true })
    .getByRole('button', { name: 'Settings of Cairn' })
    .click();
  const title = page.getByRole('group', { name: 'Cairn', exact: true }).getByLabel('Title');
  await title.fill('Second part');
  await title.press('Enter');
  await page.getByText('saved', { exact: true }).waitFor();
  // A connection made anew would count from nothing.
  expect((await state('Cairn'))!.framesSent).toBeGreaterThan(before.framesSent);
  expect((await state('Cairn'))!.state).toBe('live');
  expect((await state('Cairn'))!.framesSent).toBeGreaterThan(before.framesSent + 30);
  hook.close();
});

test('one press covers everything in the same stream, another one takes the cover off', async () => {
  await broadcasting();
  await goTo(page, 'On air');
  const session = async () => (await fixture.health()).relay!.session;
  const before = (await session()).destinations;
  await page.getByRole('button', { name: 'Cover', exact: true }).click();
  await eventually(async () => (await session()).state === 'covered');
  // The card is another picture than the desk's: the stream goes on with it, over the same connections.
  await eventually(async () =>
    (await session()).destinations.every((d, i) => d.framesSent > before[i].framesSent + 40),
  );
  expect((await session()).state).toBe('covered');
  await page.mouse.click(640, 795);
  await page.keyboard.press('Shift+V');
  await eventually(async () => (await session()).state === 'live', 10_000);
  expect((await session()).destinations.map((d) => d.reconnects)).toEqual(before.map((d) => d.reconnects));
  await page.getByRole('button', { name: 'Cover', exact: true }).waitFor();
});

/** Marks a place and keeps the last seconds, as a user does from the keys. */
async function markAndKeep(): Promise<void> {
  await broadcasting();
  await goTo(page, 'On air');
  await page.getByRole('group', { name: 'At hand' }).getByRole('button', { name: 'Add marker' }).click();
  await page.getByText('Marked.').waitFor();
  await page.mouse.click(640, 795);
  await page.keyboard.press('k');
  await page.getByText(/^Kept the last \d+ s: both frames are in the Vault\.$/).waitFor();
}
/** A cover with other headers begins a file of its own. */
const newestWide = () => {
  const names = readdirSync(recordingsOf(fixture));
  const wide = names.filter((name) => / wide .*\.mkv$/.test(name) && !name.startsWith('Clip'));
  return path.join(recordingsOf(fixture), wide.sort().at(-1)!);
};
const clips = () => readdirSync(recordingsOf(fixture)).filter((name) => name.startsWith('Clip '));

test('the last seconds are kept from a key, in both frames, and a place is marked', async () => {
  const before = clips();
  await markAndKeep();
  const kept = clips().filter((name) => !before.includes(name));
  expect(kept).toHaveLength(2);
  for (const clip of kept)
    expect(decodesCleanly(path.join(recordingsOf(fixture), clip))).toEqual({ clean: true, complaints: '' });
});

test('after it: recording, clips and report; a cut in another container is the same sample by sample', async () => {
  await broadcasting();
  if (clips().length === 0) await markAndKeep();
  // Long enough to be cut out of.
  await eventually(() => analyse(newestWide()).seconds > 10);
  await goTo(page, 'Vault');
  await stopLive(page);
  await page
    .getByRole('button', { name: /recording, wide, Matroska/ })
    .first()
    .click();
  const recording = path.basename(newestWide());
  const whole = analyse(path.join(recordingsOf(fixture), recording));
  await page.getByRole('button', { name: 'Make an MP4', exact: true }).click();
  await page.getByRole('region', { name: 'Copies' }).getByText('done and proven').waitFor();
  const mp4 = readdirSync(recordingsOf(fixture)).find((n) => n.endsWith('.mp4'))!;
  expect(decodesCleanly(path.join(recordingsOf(fixture), mp4))).toEqual({ clean: true, complaints: '' });
  const sums = [recording, mp4].map((name) => pictureSums(path.join(recordingsOf(fixture), name)));
  expect(sums[1]).toEqual(sums[0]);
  expect(existsSync(path.join(recordingsOf(fixture), recording))).toBe(true);
  // Cut out of the middle: from the keyframe before.
  const trim = page.getByRole('group', { name: 'Trim' });
  for (const [name, value] of [
    ['In', '5'],
    ['Out', '9'],
  ]) {
    await trim.getByLabel(name, { exact: true }).fill(value);
    await trim.getByLabel(name, { exact: true }).press('Enter');
  }
  await trim.getByRole('button', { name: 'Export clip' }).click();
  await eventually(
    async () =>
      (await page.getByRole('region', { name: 'Copies' }).getByText('done and proven').count()) === 2,
    30_000,
  );
  const cut = readdirSync(recordingsOf(fixture)).find((n) => / 0\.05–0\.09/.test(n))!;
  const result = analyse(path.join(recordingsOf(fixture), cut));
  expect(result.seconds).toBeGreaterThan(3.9);
  expect(result.seconds).toBeLessThan(6.2);
  expect(whole.seconds).toBeGreaterThan(result.seconds);
  // The report.
  await page.getByRole('radio', { name: 'Broadcasts' }).click();
  const evening = page.getByRole('region', { name: /^Broadcast of/ }).first();
  await evening.getByText('Frames dropped').waitFor();
  for (const [name, words] of [
    ['Table (CSV)', /seconds,fps,due[\s\S]*Cairn kbps/],
    ['Everything (JSON Lines)', /"kind":"marker"[\s\S]*"kind":"clip"/],
    ['Chapters (WebVTT)', /^WEBVTT\n\n1\n00:00:00\.000 --> /],
  ] as const) {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      evening.getByRole('link', { name }).click(),
    ]);
    expect(readFileSync((await download.path())!, 'utf8')).toMatch(words);
  }
});

/** From the keys: this place has no button for it. */
async function undo(): Promise<void> {
  await page.mouse.click(640, 795);
  await page.keyboard.press('Control+z');
}

test('health says by cause how it does; a slow line is followed and said', async () => {
  await broadcasting();
  await goTo(page, 'Delivery');
  const health = page.getByRole('region', { name: 'Health' });
  await health.waitFor();
  // Less than sound and the plainest pictures of three platforms come to.
  await setLine(fixture, { kbps: '400' });
  const slow = health.getByText(/The connection carries \d+% of the plan/);
  await slow.waitFor();
  // What helps is one press: less is sent from the next keyframe on, over the same connections.
  const connections = async () =>
    (await fixture.health()).relay!.session.destinations.map((d) => [d.name, d.reconnects]);
  const before = await connections();
  const lower = health.getByRole('button', { name: 'Send 320 × 180, 0.5 Mbps' });
  await lower.click();
  const planned = async () =>
    (await fixture.health()).desk?.encodes.find(({ encode }) => encode === 'wide')?.governor.plannedKbps;
  await eventually(async () => (await planned()) === 450, 20_000);
  await setLine(fixture, {});
  await slow.waitFor({ state: 'detached', timeout: 60_000 });
  expect(await connections()).toEqual(before);
  // Taken back, the plan is one thing and what is sent another, until somebody says so.
  await undo();
  const differs = page.getByRole('status', { name: 'The plan was changed' });
  await differs.getByText('320 × 180, 15 a second, 0.5 Mbps').waitFor();
  expect(await planned()).toBe(450);
  await differs.getByRole('button', { name: 'Send by the plan now' }).click();
  await differs.waitFor({ state: 'detached' });
  await eventually(async () => (await planned()) === 600, 20_000);
  expect(await connections()).toEqual(before);
});

test('another size and another rate of pictures while live: the same connections, and a recording of each', async () => {
  await broadcasting();
  await goTo(page, 'Delivery');
  const before = (await fixture.health()).relay!.session.destinations;
  const files = readdirSync(recordingsOf(fixture)).length;
  await page.getByRole('button', { name: 'The plan', exact: true }).click();
  const values = page.getByRole('region', { name: 'Plan' });
  await values.getByRole('button', { name: 'Edit values' }).click();
  await values.getByLabel('Frame rate').click();
  await page.getByRole('option', { name: '30', exact: true }).click();
  await values.getByRole('button', { name: 'Send by the plan now' }).click();
  const sent = async () => (await fixture.health()).relay!.session;
  /** Pictures a second that are due, whether this machine makes all of them or not. */
  const rate = async () => {
    const [from, began] = [(await fixture.health()).desk!.due, performance.now()];
    await pause(2500);
    return (((await fixture.health()).desk!.due - from) * 1000) / (performance.now() - began);
  };
  await eventually(async () => (await rate()) > 23, 30_000);
  await eventually(async () =>
    (await sent()).destinations.every((d, i) => d.framesSent > before[i].framesSent + 60),
  );
  expect((await sent()).destinations.map((d) => [d.state, d.reconnects])).toEqual(
    before.map((d) => ['live', d.reconnects]),
  );
  expect(readdirSync(recordingsOf(fixture)).length).toBeGreaterThan(files);
  await undo();
  await values.getByRole('button', { name: 'Send by the plan now' }).click();
  await eventually(async () => (await rate()) < 19, 30_000);
  await values.getByRole('button', { name: 'Health' }).click();
  await page.getByRole('region', { name: 'Health' }).waitFor();
});

test('a rehearsal sends everything as planned, and nobody sees it', async () => {
  await offAir(page);
  await goTo(page, 'Delivery');
  await page.getByRole('radio', { name: 'Preflight', exact: true }).click();
  await page.getByRole('button', { name: 'Rehearse privately' }).click();
  await eventually(async () => {
    const destinations = (await fixture.health()).relay?.session?.destinations ?? [];
    return destinations.length === 3 && destinations.every((d) => d.state === 'live' && d.framesSent > 10);
  });
  const [larch] = fixture.studio.platforms();
  expect(await bytesWithin(larch.playUrl, 3000)).toBeLessThan(2000);
  await page.getByRole('button', { name: /Stop the rehearsal/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stop the broadcast' }).click();
  await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
});

test('one of another rate is encoded for on the server, later, to its very end: the desk makes one encode less', async () => {
  await offAir(page);
  await goTo(page, 'Delivery');
  await showDestinations(page);
  await page.getByRole('switch', { name: 'Send to Larch' }).setChecked(true);
  const cairn = page.getByRole('group', { name: 'Cairn', exact: true });
  if ((await cairn.getByLabel('Title').count()) === 0)
    await cairn.getByRole('button', { name: 'Settings of Cairn' }).click();
  await cairn.getByLabel('Bitrate override (0 = plan)').fill('300');
  await cairn.getByLabel('Bitrate override (0 = plan)').press('Enter');
  await cairn.getByRole('combobox', { name: 'Override is encoded by' }).click();
  await page.getByRole('option', { name: /The server/ }).click();
  await page.getByText('by server').waitFor();
  await cairn.getByLabel('Delay').fill('4');
  await cairn.getByLabel('Delay').press('Enter');
  await goLive(page);
  await eventually(async () => (await sentTo('Cairn')) > 90 && (await sentTo('Larch')) > 90, 45_000);
  expect((await fixture.health()).desk!.encodes.map((e) => e.encode).sort()).toEqual(['tall', 'wide']);
  const pulled = path.join(fixture.data, 'cairn.flv');
  const facts = fixture.studio.platforms().find((p: { title: string }) => p.title === 'Cairn')!;
  await pull(facts.playUrl, pulled, 4);
  const { video, stampsRise, keyframeSeconds } = analyse(pulled);
  expect(video.width).toBeLessThanOrEqual(320);
  expect(stampsRise).toBe(true);
  expect(keyframeSeconds).not.toHaveLength(0);
  expect(Math.max(...keyframeSeconds)).toBeLessThan(2.1);
  // It is behind the others: what its viewers have not seen still goes out, when one wants it.
  const before = await sentTo('Cairn');
  await page.getByRole('button', { name: /Stop the broadcast/ }).click();
  await page.getByText('Viewers of Cairn are 4 s behind').waitFor();
  await page.getByRole('button', { name: 'Finish delayed output (4 s)' }).click();
  await page.getByRole('button', { name: /go out to delayed viewers. Cut off/ }).waitFor();
  await eventually(async () => (await sentTo('Cairn')) > before + 60);
  await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
});

test('the last minutes are kept at hand without sending or recording anything', async () => {
  await offAir(page);
  await goTo(page, 'Delivery');
  await page.getByRole('radio', { name: 'Recording', exact: true }).click();
  const before = readdirSync(recordingsOf(fixture)).length;
  await page.getByRole('button', { name: 'Keep them at hand without sending' }).click();
  await page.getByRole('button', { name: /Stop looking back/ }).waitFor();
  await page.getByText(/\d+ of \d+ s; \d+ MB in memory/).waitFor();
  expect((await fixture.health()).relay!.session!.destinations).toEqual([]);
  await pause(6000);
  expect(readdirSync(recordingsOf(fixture))).toHaveLength(before);
  await page.mouse.click(640, 795);
  await page.keyboard.press('k');
  await eventually(() => readdirSync(recordingsOf(fixture)).length > before);
  await page.getByRole('button', { name: /Stop looking back/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stop the broadcast' }).click();
  await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
});

test('recording alone sends nothing anywhere; into a folder of one’s own, with and without alerts', async () => {
  const films = mkdtempSync(path.join(os.tmpdir(), 'dolomite-films-'));
  await offAir(page);
  await goTo(page, 'Delivery');
  await page.getByRole('radio', { name: 'Recording', exact: true }).click();
  const folder = page.getByLabel(/^Folder on this machine/);
  await folder.fill('/nowhere/at/all');
  await folder.press('Enter');
  await page.getByText('/nowhere/at/all is not there: make it').waitFor();
  await folder.fill(films);
  await folder.press('Enter');
  await page.getByText('is not there').waitFor({ state: 'detached' });
  await page.getByRole('switch', { name: /without alerts and chat/ }).click();
  await page.getByRole('radio', { name: 'Preflight', exact: true }).click();
  await page.getByRole('button', { name: 'Record only' }).click();
  await page.getByRole('button', { name: /Stop recording/ }).waitFor();
  await eventually(async () => (await fixture.health()).relay?.session?.state === 'live', 20_000);
  expect((await fixture.health()).relay!.session!.destinations).toEqual([]);
  await goTo(page, 'Audience');
  await page.getByRole('button', { name: 'Test Follow', exact: true }).click();
  await pause(4000);
  await page.getByRole('button', { name: /Stop recording/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stop the broadcast' }).click();
  await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
  // By picture: their names begin with the second each of them began in.
  const kindOf = (name: string) => / (clean|tall|wide) /.exec(name)?.[1] ?? '';
  const files = readdirSync(films).sort((a, b) => kindOf(a).localeCompare(kindOf(b)));
  expect(files.map(kindOf)).toEqual(['clean', 'tall', 'wide']);
  const [clean, , wide] = files.map((name) => path.join(films, name));
  for (const file of [clean, wide]) expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
  expect(analyse(clean).keyframeSeconds).not.toHaveLength(0);
  expect(Math.max(...analyse(clean).keyframeSeconds)).toBeLessThan(2.1);
  expect([alertSeconds(wide) > 1, alertSeconds(clean)]).toEqual([true, 0]);
  await goTo(page, 'Vault');
  await page.getByRole('button', { name: /recording, clean, Matroska/ }).waitFor();
  rmSync(films, { recursive: true });
  expect(fixture.pageErrors).toEqual([]);
});

/** How long the box of an alert is in a recording of 320 × 180. */
function alertSeconds(file: string): number {
  const { stdout } = spawnSync(
    'ffmpeg',
    // prettier-ignore
    ['-v', 'error', '-i', file, '-vf', 'fps=10,crop=100:4:110:42,scale=1:1:flags=area', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
  );
  const box = [0x63, 0xbd, 0xbb];
  let seconds = 0;
  for (let i = 0; i + 2 < stdout.length; i += 3)
    if (box.every((value, c) => Math.abs(stdout[i + c] - value) < 24)) seconds += 0.1;
  return seconds;
}

/** How much a stream gives in so many milliseconds; 0 when there is none. */
async function bytesWithin(url: string, ms: number): Promise<number> {
  let bytes = 0;
  try {
    const response = await new StudioClient(url).ask('', { signal: AbortSignal.timeout(ms) });
    for await (const part of response.body as unknown as AsyncIterable<Uint8Array>) bytes += part.length;
  } catch {
    // The time is up.
  }
  return bytes;
}

/** A sum of every picture's bytes, as ffmpeg reads them without decoding. */
function pictureSums(file: string): string[] {
  const { stdout } = spawnSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      file,
      '-map',
      '0:v',
      '-c',
      'copy',
      '-bsf:v',
      'h264_mp4toannexb',
      '-f',
      'framemd5',
      '-',
    ],
    { encoding: 'utf8' },
  );
  return stdout
    .split('\n')
    .filter((l) => l && !l.startsWith('#'))
    .map((l) => l.split(',').at(-1)!.trim());
}
