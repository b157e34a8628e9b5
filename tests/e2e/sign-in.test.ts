/** Who gets in: the owner by the printed address, nobody else, whoever and wherever they are. */
import { en } from '../../app/words/en';
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { WebSocket } from 'ws';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { openBrowser } from '../../scripts/lib/open-browser.mjs';
import { growing, SHOW, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
beforeAll(async () => {
  fixture = await StudioFixture.start();
}, 120_000);
afterAll(() => fixture?.stop());

const token = () => fixture.studio.signInUrl.split('#')[1];

test('the printed address signs a browser in, leaves the address bar, and is not asked for again', async () => {
  const context = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  growing(page);
  await page.goto(`${fixture.studio.url}show/${SHOW}/delivery`);
  await page.getByRole('heading', { name: 'Sign in to your studio' }).waitFor();
  // What is wrong is said, and the field is ready for the next try.
  await page.getByLabel('Or paste the token').fill('a-token-that-nobody-ever-made-here');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByText(/This token is not good, or not any more/).waitFor();
  await page.getByLabel('Or paste the token').fill(fixture.studio.signInUrl);
  await page.keyboard.press('Enter');
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  // Where one wanted to go in the first place.
  expect(page.url()).toBe(`${fixture.studio.url}show/${SHOW}/delivery`);
  const cookies = await context.cookies();
  expect(cookies).toMatchObject([
    { name: `dolomite-${fixture.studio.webPort}`, httpOnly: true, sameSite: 'Strict', domain: '127.0.0.1' },
  ]);
  await context.clearCookies();
  await page.goto(fixture.studio.signInUrl);
  await page.getByRole('region', { name: en.home.list }).waitFor();
  expect(page.url()).not.toContain(token());
  await page.goBack();
  expect(page.url()).not.toContain(token());
  // By the other name of this computer one lands on the one that cookies know.
  // It is led on while it loads.
  await page.goto(`http://localhost:${fixture.studio.webPort}/show/${SHOW}/vault`, { waitUntil: 'commit' });
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  expect(page.url()).toContain('127.0.0.1');
  await context.close();
});

test('a file that only its owner can read opens a browser signed in; the token stands in no argument', async () => {
  const said = path.join(fixture.data, 'opened');
  // What opens it in the place of a browser writes down what it was given.
  const script = `require('fs').writeFileSync(${JSON.stringify(said)}, process.argv.slice(1).join())`;
  const opener = [process.execPath, '-e', script];
  expect(await openBrowser(fixture.data, fixture.studio.signInUrl, opener)).toBe(true);
  const file = path.join(fixture.data, 'open.html');
  await expect.poll(() => existsSync(said) && readFileSync(said, 'utf8')).toBe(file);
  expect((statSync(file).mode & 0o777).toString(8)).toBe('600');
  const context = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  growing(page);
  await page.goto(`file://${file}`);
  await page.getByRole('region', { name: en.home.list }).waitFor();
  expect(page.url()).not.toContain(token());
  await context.close();
  expect(await openBrowser(fixture.data, fixture.studio.signInUrl, ['/nowhere/opener'])).toBe(false);
});

test('This computer lists who is signed in; one that is revoked is sent out at once', async () => {
  const owner = await fixture.studio.page(fixture.browser);
  growing(owner);
  const context = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const other = await context.newPage();
  growing(other);
  await other.goto(fixture.studio.signInUrl);
  await other.getByRole('link', { name: /Night Signal Box/ }).click();
  await other.getByRole('navigation', { name: 'Places' }).waitFor();
  await owner.goto(`${fixture.studio.url}computer`);
  const rows = owner.getByRole('region', { name: 'Who may do what' }).getByRole('listitem');
  await rows.filter({ hasText: 'this browser' }).waitFor();
  await owner.getByRole('region', { name: 'What was done' }).getByText('Signed in').first().waitFor();
  const before = await rows.count();
  // The newest first.
  await rows
    .first()
    .getByRole('button', { name: /^Revoke/ })
    .click();
  await expect.poll(() => rows.count()).toBe(before - 1);
  await owner.getByRole('region', { name: 'What was done' }).getByText('Revoked').waitFor();
  // The page that was open there says so by itself.
  await other.getByRole('heading', { name: 'Sign in to your studio' }).waitFor();
  await context.close();
  await owner.close();
});

test('everything of one viewer is found, given out as a file, and deleted for good', async () => {
  const said = { kind: 'follow', viewer: 'lamp_keeper' };
  await fixture.standIn('larch').post('event', said);
  const listed = async () => JSON.stringify(await fixture.client.json('/entries?search=&show=events'));
  await expect.poll(listed).toContain('lamp_keeper');
  const page = await fixture.studio.page(fixture.browser);
  await page.goto(`${fixture.studio.url}computer`);
  const panel = page.getByRole('region', { name: 'What is kept of viewers' });
  await panel.getByLabel('Find a viewer').fill('LAMP_');
  await panel.getByRole('button', { name: 'Find' }).click();
  const row = panel.getByRole('listitem').filter({ hasText: 'lamp_keeper' });
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    row.getByRole('link', { name: /^Export everything/ }).click(),
  ]);
  const lines = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\n');
  expect(lines.map((line) => JSON.parse(line) as object)).toMatchObject([
    { type: 'follow', viewer: 'lamp_keeper' },
  ]);
  await row.getByRole('button', { name: /^Delete everything/ }).click();
  await row.getByRole('button', { name: /^Delete everything/ }).click();
  await row.getByText('Deleted: 1').waitFor();
  expect(await listed()).not.toContain('lamp_keeper');
  await page.close();
});

test('a page of another origin can do nothing with the owner’s browser', async () => {
  const page = await fixture.studio.page(fixture.browser);
  // A stand-in's page: the same computer, another port, and it could be anybody's.
  await page.goto(fixture.standIn('larch').facts.watchUrl);
  const { url, webPort } = fixture.studio;
  const tried = await page.evaluate(
    async ({ url, show, webPort }) => {
      const post = (where: string) =>
        window
          .fetch(where, {
            ...{ method: 'POST', mode: 'no-cors', credentials: 'include' },
            body: new URLSearchParams({ intent: 'start' }),
          })
          .then(
            () => 'sent',
            () => 'failed',
          );
      const read = (where: string) =>
        window.fetch(where, { credentials: 'include' }).then(
          (answer) => answer.text(),
          () => 'unread',
        );
      const bus = (name: string) =>
        new Promise<string>((resolve) => {
          const socket = new globalThis.WebSocket(`ws://${name}:${webPort}/bus`);
          socket.onmessage = () => resolve('told');
          socket.onclose = () => resolve('closed');
        });
      return {
        posts: [
          await post(`${url}show/${show}/broadcast`),
          await post(`http://localhost:${webPort}/show/${show}/broadcast`),
        ],
        reads: [await read(`${url}show/${show}/edits`), await read(`${url}show/${show}/stage`)],
        sockets: [await bus('127.0.0.1'), await bus('localhost')],
      };
    },
    { url, show: SHOW, webPort },
  );
  // The request may leave the browser; what counts is that nothing came of it.
  expect(tried).toMatchObject({ reads: ['unread', 'unread'], sockets: ['closed', 'closed'] });
  expect((await fixture.health()).relay?.session ?? null).toBeNull();
  await page.close();
});

test('a foreign page can put nothing into the show through a stand-in', async () => {
  const { facts } = fixture.standIn('larch');
  const at = new StudioClient(facts.watchUrl.replace(/\/watch$/, ''), { origin: 'http://evil.example' });
  const donation = { kind: 'donation', viewer: 'nobody', amount: '500', currency: 'EUR' };
  expect((await at.form('/event', donation)).status).toBe(403);
  const rebound = new StudioClient(at.origin, { 'sec-fetch-site': 'cross-site' });
  expect((await rebound.form('/event', donation)).status).toBe(403);
  const own = new StudioClient(at.origin, { origin: new URL(at.origin).origin });
  expect((await own.form('/event', { ...donation, viewer: 'somebody' })).status).toBe(200);
  await expect
    .poll(async () => JSON.stringify(await fixture.client.json('/entries?show=events')))
    .toContain('somebody');
  expect(JSON.stringify(await fixture.client.json('/entries?show=events'))).not.toContain('nobody');
});

test('another user of this computer reads no token, and gets nothing without one', async () => {
  const { data, url, webPort } = fixture.studio;
  const script = `
    const { readFileSync, readdirSync } = require('node:fs');
    const tried = (what) => { try { return what(); } catch (error) { return error.code; } };
    const ask = (path, init) => fetch('${url}' + path, { redirect: 'manual', ...init }).then((r) => r.status);
    (async () => console.log(JSON.stringify([
      tried(() => readdirSync('${data}').length),
      tried(() => readFileSync('${data}/sign-in.token', 'utf8')),
      tried(() => readFileSync('${data}/relay.token', 'utf8')),
      await ask('show/${SHOW}/edits'),
      await ask('show/${SHOW}/broadcast', { method: 'POST', body: new URLSearchParams({ intent: 'start' }) }),
      await ask('files/speech?words=hello'),
    ])))();`;
  const asNobody = ['--reuid=65534', '--regid=65534', '--clear-groups', process.execPath, '-e', script];
  const { stdout, stderr } = spawnSync('setpriv', asNobody, { cwd: '/' });
  expect(String(stderr)).toBe('');
  expect(JSON.parse(String(stdout))).toEqual(['EACCES', 'EACCES', 'EACCES', 401, 401, 401]);
  const bus = new WebSocket(`ws://127.0.0.1:${webPort}/bus`);
  const status = await new Promise<number>((resolve) => {
    bus.on('unexpected-response', (_, response) => resolve(response.statusCode!));
    bus.on('open', () => resolve(101));
  });
  expect(status).toBe(401);
});

test('no token stands in how a process was started, nor in what it hands on', () => {
  const secrets = [token(), fixture.studio.relayToken];
  const looked: string[] = [];
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    for (const name of ['cmdline', 'environ']) {
      let text = '';
      try {
        text = readFileSync(path.join('/proc', pid, name), 'utf8');
      } catch {
        // It has ended, or is another user's.
      }
      looked.push(text);
      for (const secret of secrets) expect(text.includes(secret), `${name} of ${pid}`).toBe(false);
    }
  }
  expect(looked.some((text) => text.includes('build/server/web.mjs'))).toBe(true);
});
