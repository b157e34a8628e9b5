/** What is done by hand to clips, and what goes out to other programs: through the buttons, to a server that is not ours. */
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { Webhook } from 'standardwebhooks';
import { eventually } from '../lib/relay-process';
import { goTo, makeClip, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;
let lights: http.Server;
let port = 0;
const asked: { url: string; body: string; headers: http.IncomingHttpHeaders }[] = [];

beforeAll(async () => {
  lights = http.createServer((request, response) => {
    let body = '';
    request.on('data', (part: Buffer) => (body += part.toString('utf8')));
    request.on('end', () => {
      asked.push({ url: request.url!, body, headers: request.headers });
      response.end('ok');
    });
  });
  await new Promise<void>((resolve) => lights.listen(0, '127.0.0.1', resolve));
  ({ port } = lights.address() as AddressInfo);
  fixture = await StudioFixture.start();
  page = await fixture.open('stage');
}, 120_000);
afterAll(async () => {
  const { pageErrors } = fixture;
  await fixture?.stop();
  lights.closeAllConnections();
  lights.close();
  expect(pageErrors).toEqual([]);
});

/** Seconds that the transport says are left. */
async function left(): Promise<number> {
  const words = await page.getByRole('group', { name: 'Clips: clip' }).locator('.figure').innerText();
  const [, minutes, seconds] = /(\d+):(\d\d) left/.exec(words) ?? [];
  return Number(minutes) * 60 + Number(seconds);
}

test('clips are paused, played, begun anew, and tried ten seconds before their end', async () => {
  const file = path.join(fixture.data, 'clip.mp4');
  makeClip(file, 40);
  await page.getByLabel('Files to bring in').setInputFiles(file);
  await page.getByTestId('layer-clip').waitFor();
  await page.getByRole('radio', { name: 'Inputs of the show' }).click();
  await page.getByTestId('input-clip').getByRole('button').first().click();
  const transport = page.getByRole('group', { name: 'Clips: clip' });
  await transport.getByRole('button', { name: 'Pause clip' }).click();
  await transport.getByRole('button', { name: 'Play clip' }).waitFor();
  const stood = await left();
  await transport.getByRole('button', { name: 'To 10 s before the end' }).click();
  await eventually(async () => (await left()) <= 10);
  expect(stood).toBeGreaterThan(10);
  await transport.getByRole('button', { name: 'From the start' }).click();
  await eventually(async () => (await left()) >= 39);
  // It stands: what is left does not become less.
  await transport.getByRole('button', { name: 'Play clip' }).click();
  await eventually(async () => (await left()) < 39);
});

test('a request goes out with fields in it, signed, to a host inside the house that was allowed by name', async () => {
  await goTo(page, 'Plan');
  await page.getByRole('radio', { name: 'Cues', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Requests to other programs' });
  await panel.getByRole('button', { name: 'Add request' }).click();
  const request = panel.getByRole('region', { name: 'New request' });
  const commit = async (label: string, words: string) => {
    const field = request.getByLabel(label, { exact: true });
    await field.fill(words);
    await field.blur();
  };
  await commit('Address', `http://127.0.0.1:${port}/lights?of={{host}}`);
  await commit('Body', '{"who":"{{host}}"}');
  await expect.poll(() => request.getByRole('button', { name: 'Send test' }).isDisabled()).toBe(true);
  await request.getByRole('button', { name: `Allow 127.0.0.1:${port}` }).click();
  // An address inside the house wants a word of its own.
  await panel.getByRole('alert').getByRole('button', { name: 'Allow it' }).click();
  await panel
    .getByRole('region', { name: 'Hosts allowed on this computer' })
    .getByText('inside this house')
    .waitFor();
  await request.getByLabel('Signed (Standard Webhooks)').click();
  await request.getByRole('button', { name: 'New secret' }).click();
  const secret = await request.locator('code').innerText();
  await request.getByRole('button', { name: 'Send test' }).click();
  await page.getByText('New request was sent.').waitFor();
  const { host } = (await fixture.records()).find((r) => r.kind === 'show')!.fields;
  expect(asked).toHaveLength(1);
  expect(asked[0].url).toBe(`/lights?of=${encodeURIComponent(host)}`);
  expect(JSON.parse(asked[0].body)).toEqual({ who: host });
  expect(() =>
    new Webhook(secret).verify(asked[0].body, asked[0].headers as Record<string, string>),
  ).not.toThrow();
  // Not allowed any more, it does not go.
  await panel.getByRole('button', { name: `Remove 127.0.0.1:${port}` }).click();
  await expect.poll(() => request.getByRole('button', { name: 'Send test' }).isDisabled()).toBe(true);
});
