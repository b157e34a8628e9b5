/** The owner's side from another computer: over TLS, by the same sign-in, with the desk there. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { spawn } from 'node:child_process';
import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { WebSocket } from 'ws';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { startStudio } from '../../scripts/lib/studio.mjs';
import { eventually } from '../lib/relay-process';
import { goLive, growing, SHOW, SMALL_PLAN } from '../lib/studio-fixture';

/** Another address of this computer, for which a page on it is as far away as one on the next computer. */
const HOST = '127.0.0.2';
const root = path.resolve(import.meta.dirname, '../..');

let data: string;
let studio: Awaited<ReturnType<typeof startStudio>>;
let browser: Browser;
beforeAll(async () => {
  data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-elsewhere-'));
  [studio, browser] = await Promise.all([
    startStudio({ data, quiet: true, ownerHost: HOST }),
    launchBrowser({ args: ['--ignore-certificate-errors'] }),
  ]);
}, 120_000);
afterAll(async () => {
  await browser?.close();
  await studio?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('a desk on another computer signs in, goes live and is seen; its cookie goes over TLS alone', async () => {
  const owner = await studio.owner(`/show/${SHOW}`);
  await owner.edit({ name: 'Small plan', put: [SMALL_PLAN], removed: ['dest-marmot'] });
  const context = await browser.newContext({
    ignoreHTTPSErrors: true,
    viewport: { width: 1280, height: 800 },
  });
  const page = await context.newPage();
  growing(page);
  await page.goto(studio.elsewhere!.signInUrl);
  await page.getByRole('link', { name: /Night Signal Box/ }).click();
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  expect(new URL(page.url()).origin).toBe(new URL(studio.elsewhere!.url).origin);
  expect(await context.cookies()).toMatchObject([
    { secure: true, httpOnly: true, sameSite: 'Strict', domain: HOST },
  ]);
  await goLive(page);
  await eventually(async () => {
    const { relay } = (await owner.json('/health')) as {
      relay: { session: { destinations: { state: string; framesSent: number }[] } | null } | null;
    };
    const destinations = relay?.session?.destinations ?? [];
    return (
      destinations.length > 0 && destinations.every((one) => one.state === 'live' && one.framesSent > 60)
    );
  });
  await owner.form('/broadcast', { intent: 'stop' });
  await context.close();
});

test('nothing of it is to be had without TLS, under another name, or without signing in', async () => {
  const { port } = new URL(studio.elsewhere!.url);
  await expect(new StudioClient(`http://${HOST}:${port}`).ask('/')).rejects.toThrow();
  // The loopback side is on loopback alone.
  await expect(new StudioClient(`http://${HOST}:${studio.webPort}`).ask('/')).rejects.toThrow();
  const status = (headers: Record<string, string>, at = '/uplink') =>
    new Promise<number>((resolve) => {
      const socket = new WebSocket(`wss://${HOST}:${port}${at}`, { headers, rejectUnauthorized: false });
      socket.on('open', () => resolve(101));
      socket.on('unexpected-response', (_, { statusCode }) => resolve(statusCode ?? 0));
      socket.on('error', () => resolve(0));
    });
  expect(await status({})).toBe(401);
  const { cookie } = (await studio.owner()).headers;
  // Cookies of one side are none of the other: they are named by its port.
  expect(await status({ cookie })).toBe(401);
  const own = { cookie: cookie.replace(String(studio.webPort), port) };
  expect(await status({ ...own, origin: `https://${HOST}:1` })).toBe(403);
  expect(await status({ ...own, host: `evil.example:${port}` })).toBe(421);
  expect(await status({ ...own, origin: `https://${HOST}:${port}` })).toBe(101);
});

test.each([
  [['--owner-host', '0.0.0.0'], /is not an address of this computer/],
  [['--owner-host', 'studio.local'], /is not an address of this computer/],
  [['--owner-host', '192.0.2.250'], /is no address of this computer/],
  [['--owner-port', '4444'], /belong to --owner-host/],
  [['--owner-host', HOST, '--cert', '/none'], /go together/],
  [['--owner-host', HOST, '--cert', '/none', '--key', '/none'], /cannot be used/],
])('npm start with %j is refused with words', async (args, words) => {
  const folder = path.join(data, `start-${Math.random().toString(36).slice(2)}`);
  const child = spawn(process.execPath, [path.join(root, 'scripts/start.mjs'), '--data', folder, ...args], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  for (const out of [child.stdout, child.stderr])
    out.on('data', (chunk: Buffer) => (said += chunk.toString('utf8')));
  const code = await new Promise((resolve) => child.once('exit', resolve));
  expect(said).toMatch(words);
  expect(code).toBe(1);
});
