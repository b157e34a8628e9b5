/** What goes wrong while live, and what the studio makes of it. */
import { readdirSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { fullPlacement, PLAIN_INPUT, PLAIN_LAYER, type LayerRecord } from '../../core/show/records';
import { analyse } from '../../scripts/lib/analyse.mjs';
import { eventually } from '../lib/relay-process';
import { goLive, goTo, stopLive, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;

beforeAll(async () => {
  // Real throttling of hidden pages, as a user's browser has it.
  fixture = await StudioFixture.start({ throttling: true });
});
afterAll(async () => {
  await fixture?.stop();
});

const session = async () => (await fixture.health()).relay?.session ?? null;
const allLive = async () =>
  ((await session())?.destinations ?? []).filter((d) => d.state === 'live' && d.framesSent > 10).length === 2;

test('what serves the studio ranks behind the browser that makes its pictures', () => {
  const ranks = ['relay', 'web', 'standins'].map((name) =>
    os.getPriority(fixture.studio.children.get(name)!.pid!),
  );
  // Nobody ranks higher than what started it.
  expect(ranks).toEqual([3, 6, 9].map((rank) => Math.max(rank, os.getPriority())));
});

describe('one desk at a time', () => {
  test('a second window says so and can take over; the first then steps back', async () => {
    const first = await fixture.open();
    const second = await fixture.browser.newPage();
    await second.goto(`${fixture.api}/stage`);
    await second.getByRole('heading', { name: 'The desk is open in another window' }).waitFor();
    await second.getByRole('button', { name: 'Take over here' }).click();
    await second.getByRole('navigation', { name: 'Places' }).waitFor();
    await first.getByRole('heading', { name: 'The desk is open in another window' }).waitFor();
    await first.close();
    await second.close();
  });
});

test('a browser without what is needed gets a clear page', async () => {
  const page = await fixture.browser.newPage();
  await page.addInitScript(() => delete (globalThis as Record<string, unknown>).VideoEncoder);
  await page.goto(`${fixture.api}/stage`);
  await page.getByRole('heading', { name: 'This browser cannot run the studio' }).waitFor();
  await page.getByText('encoding pictures').waitFor();
  await page.close();
});

test('a camera that is refused is named, with the reason, and nothing else stops', async () => {
  const context = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () =>
      Promise.reject(new DOMException('Permission denied', 'NotAllowedError'));
  });
  await page.goto(`${fixture.api}/stage`);
  await page.getByRole('button', { name: 'Add layer' }).click();
  await page.getByRole('menuitem', { name: 'Camera…' }).click();
  await page.getByText(/The camera was not allowed: allow it in the browser/).waitFor();
  await fixture.edit('Camera', [
    {
      kind: 'input',
      id: 'in-denied',
      showId: 'night-signal-box',
      name: 'Roof camera',
      position: 9,
      source: {
        type: 'camera',
        deviceId: '',
        deviceLabel: 'Roof camera',
        width: 640,
        height: 360,
        fps: 30,
      },
      ...PLAIN_INPUT,
    },
    layerOf('ly-denied'),
  ]);
  await page.reload();
  await page
    .getByTestId('layer-Roof camera')
    .getByText(/Roof camera was not allowed/)
    .waitFor();
  await fixture.edit('Camera gone', [], ['in-denied']);
  await context.close();
});

function layerOf(id: string): LayerRecord {
  return {
    kind: 'layer',
    id,
    showId: 'night-signal-box',
    name: 'Roof camera',
    position: 9,
    sceneId: 'sc-game',
    ...PLAIN_LAYER,
    content: { type: 'input', inputId: 'in-denied', fit: 'fill' },
    placements: {
      wide: { ...fullPlacement({ width: 400, height: 225 }), cx: 300, cy: 300 },
    },
  };
}

describe('live', () => {
  // One test that fails must not take the others with it.
  afterEach(() => fixture.clear());

  test('a hidden page keeps its rate', async () => {
    const page = await fixture.open('air');
    await goLive(page);
    await eventually(allLive, 45_000);
    const cover = await fixture.browser.newPage();
    await cover.goto('about:blank');
    await cover.bringToFront();
    await cover.waitForTimeout(1000);
    const before = (await fixture.health()).desk!;
    await cover.waitForTimeout(6000);
    const after = (await fixture.health()).desk!;
    await cover.close();
    const due = after.due - before.due;
    // A throttled page would come to one a second; a busy machine may cost some, but not that.
    expect(due).toBeGreaterThan(90);
    expect(after.composed - before.composed).toBeGreaterThan(due / 3);
    await page.bringToFront();
    await stopLive(page);
    await page.close();
  });

  test('the page is closed: viewers get the cover, the recording goes on; opened again, the desk goes on by itself', async () => {
    const page = await fixture.open('air');
    await goLive(page);
    await eventually(allLive, 45_000);
    await eventually(async () => (await session())?.coverReady === true, 30_000);
    await page.close();
    await eventually(async () => (await session())?.state === 'covered', 20_000);
    const during = (await session())!.destinations.map((d) => d.framesSent);
    await new Promise((resolve) => setTimeout(resolve, 2500));
    const covered = (await session())!.destinations;
    covered.forEach((d, i) => {
      expect(d.state).toBe('live');
      expect(d.framesSent).toBeGreaterThan(during[i] + 30);
    });
    const again = await fixture.open('air');
    await again.mouse.click(640, 795);
    await eventually(async () => (await session())?.state === 'live', 30_000);
    await again.waitForTimeout(2500);
    await stopLive(again);
    const files = readdirSync(path.join(fixture.data, 'recordings')).sort();
    const result = analyse(path.join(fixture.data, 'recordings', files.at(-1)!));
    expect(result.stampsRise).toBe(true);
    expect(result.largestGapSeconds).toBeLessThan(2.5);
    await again.close();
  });

  test('the relay is killed: it is started again, the broadcast is opened anew, what was recorded is kept', async () => {
    const page = await fixture.open('air');
    await goLive(page);
    await eventually(allLive, 45_000);
    await page.waitForTimeout(3000);
    const before = readdirSync(path.join(fixture.data, 'recordings')).length;
    fixture.studio.children.get('relay')!.kill('SIGKILL');
    await eventually(
      async () =>
        readdirSync(path.join(fixture.data, 'recordings')).length === before + 1 && (await allLive()),
      30_000,
    );
    await page
      .getByRole('navigation', { name: 'Places' })
      .getByText(/kbps · /)
      .waitFor();
    await stopLive(page);
    await goTo(page, 'Vault');
    await page.getByText(new RegExp(`^${before + 1} files?$`)).waitFor();
    for (const file of readdirSync(path.join(fixture.data, 'recordings')).sort().slice(-2)) {
      const result = analyse(path.join(fixture.data, 'recordings', file));
      expect(result.video.codec).toBe('h264');
      expect(result.stampsRise).toBe(true);
    }
    await page.close();
  });

  test('a revoked key is said plainly where the user looks, and the other destination goes on', async () => {
    const page = await fixture.open('delivery');
    const account = fixture.studio.platforms()[0].accountUrl;
    await fetch(account.replace('/account', '/mood'), {
      method: 'POST',
      body: new URLSearchParams({ mood: 'refuse' }),
      redirect: 'manual',
    });
    await goLive(page);
    const larch = page.getByRole('group', { name: 'Larch' });
    await larch.getByText(/The key is probably wrong or revoked/).waitFor({ timeout: 45_000 });
    await page.getByRole('group', { name: 'Cairn' }).getByText(/kbps/).waitFor();
    await page.getByRole('navigation', { name: 'Places' }).getByText('Larch refused').waitFor();
    await fetch(account.replace('/account', '/mood'), {
      method: 'POST',
      body: new URLSearchParams({ mood: 'normal' }),
      redirect: 'manual',
    });
    await larch.getByRole('button', { name: 'Try again' }).click();
    await larch.getByText(/kbps/).waitFor({ timeout: 40_000 });
    await stopLive(page);
    await page.close();
  });
});

describe('borders', () => {
  test('another host, another origin and foreign paths are refused', async () => {
    const { default: http } = await import('node:http');
    const ask = (headers: Record<string, string>, method = 'GET', target = '/') =>
      new Promise<number>((resolve) =>
        http
          .request({ host: '127.0.0.1', port: fixture.studio.webPort, method, path: target, headers }, (r) =>
            resolve(r.statusCode!),
          )
          .end(),
      );
    expect(await ask({ host: 'evil.example' })).toBe(421);
    expect(await ask({ origin: 'http://evil.example' }, 'POST', '/show/night-signal-box/broadcast')).toBe(
      403,
    );
    expect(await ask({}, 'GET', '/files/assets/..%2F..%2Fsecrets.key')).toBe(404);
    expect(await ask({}, 'GET', '/files/recordings/..%2Fdolomite.sqlite')).toBe(404);
  });

  test('garbage edits are refused and change nothing', async () => {
    const send = (body: string) =>
      fetch(`${fixture.api}/edits`, {
        method: 'POST',
        body,
        headers: { 'content-type': 'application/json' },
      });
    for (const body of [
      '',
      '{',
      '[]',
      '{"put":[{"kind":"scene"}]}',
      JSON.stringify({ id: 'x', name: 'x', put: [], removed: ['night-signal-box'], baseRevision: 1e6 }),
    ])
      expect((await send(body)).status).toBeGreaterThanOrEqual(400);
  });

  test('no page threw an error', () => {
    expect(fixture.pageErrors).toEqual([]);
  });
});
