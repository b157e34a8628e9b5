/** What a desk and a server refuse, and how they say so. */
import http from 'node:http';
import os from 'node:os';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { fullPlacement, PLAIN_INPUT, PLAIN_LAYER, type LayerRecord } from '../../core/show/records';
import { SELDOM, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;

beforeAll(async () => {
  fixture = await StudioFixture.start({}, { fps: SELDOM });
});
afterAll(async () => {
  await fixture?.stop();
});

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
    const second = await fixture.studio.page(fixture.browser);
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
  const page = await fixture.studio.page(fixture.browser);
  await page.addInitScript(() => delete (globalThis as Record<string, unknown>).VideoEncoder);
  await page.goto(`${fixture.api}/stage`);
  await page.getByRole('heading', { name: 'This browser cannot run the studio' }).waitFor();
  await page.getByText('encoding pictures').waitFor();
  await page.close();
});

test('a camera that is refused is named, with the reason, and nothing else stops', async () => {
  const context = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
  await fixture.studio.signIn(context);
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
        controls: {},
        deinterlace: false,
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

describe('borders', () => {
  test('another host, another origin and foreign paths are refused', async () => {
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
    const { cookie } = fixture.client.headers;
    for (const target of ['/files/assets/..%2F..%2Fsecrets.key', '/files/recordings/..%2Fdolomite.sqlite']) {
      expect(await ask({}, 'GET', target)).toBe(401);
      expect(await ask({ cookie }, 'GET', target)).toBe(403);
    }
    expect(await ask({ cookie }, 'GET', '/files/assets/nothing')).toBe(404);
  });

  test('garbage edits are refused and change nothing', async () => {
    const send = (body: string) => fixture.client.send('/edits', body);
    for (const body of [
      '',
      '{',
      '[]',
      '{"put":[{"kind":"scene"}]}',
      JSON.stringify({ id: 'x', name: 'x', put: [], removed: ['night-signal-box'], seen: [] }),
    ])
      expect((await send(body)).status).toBeGreaterThanOrEqual(400);
  });

  test('no page threw an error', () => {
    expect(fixture.pageErrors).toEqual([]);
  });
});
