import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { Connector } from '../../core/connectors/connector';
import { PLAIN_DESTINATION } from '../../core/delivery/settings';
import type { DestinationRecord } from '../../core/show/records';
import { openDatabase, type Database } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { createLog } from '../log';
import { PlatformAccounts } from './platform-accounts';

type Answer = { status: number; body: unknown };
let folder: string;
let database: Database;
let secrets: SecretRepository;
let accounts: PlatformAccounts;
let connector: Connector;
let nowMs: number;
/** What the platform answers, by method and path. */
let answers: Record<string, Answer | (() => Answer)>;
let moved = '';
const asked: { call: string; body: string; authorization: string }[] = [];

const server = http.createServer((request, response) => {
  let body = '';
  request.on('data', (part: Buffer) => (body += part.toString()));
  request.on('end', () => {
    const call = `${request.method} ${request.url}`;
    asked.push({ call, body, authorization: request.headers.authorization ?? '' });
    if (moved && request.method === 'PUT') return response.writeHead(307, { location: moved }).end();
    const answer = answers[call];
    const { status, body: out } =
      typeof answer === 'function' ? answer() : (answer ?? { status: 404, body: {} });
    response.writeHead(status, { 'content-type': 'application/json' });
    response.end(typeof out === 'string' ? out : JSON.stringify(out));
  });
});

const larch: DestinationRecord = {
  kind: 'destination',
  id: 'dest-larch',
  showId: 's',
  name: 'Larch',
  position: 0,
  url: 'rtmp://127.0.0.1/larch',
  frame: 'wide',
  enabled: true,
  connector: 'larch',
  ...PLAIN_DESTINATION,
};
const tokens = (n: number) => ({
  status: 200,
  body: { access_token: `access-${n}`, refresh_token: `refresh-${n}`, expires_in: 3600 },
});

beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-accounts-'));
  database = openDatabase(
    path.join(folder, 'dolomite.sqlite'),
    path.resolve(import.meta.dirname, '../../db/migrations'),
  );
  secrets = new SecretRepository(database, path.join(folder, 'secrets.key'));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  nowMs = 1_000_000;
  asked.length = 0;
  answers = {
    'POST /oauth/device': {
      status: 200,
      body: {
        device_code: 'device',
        user_code: 'BCDF-GHJK',
        verification_uri: 'http://127.0.0.1/device',
        expires_in: 600,
        interval: 0,
      },
    },
    'POST /oauth/token': tokens(1),
    'GET /api/key': { status: 200, body: { key: 'live_key' } },
    'POST /api/key': { status: 200, body: { key: 'new_key' } },
    'PUT /api/broadcast': { status: 200, body: {} },
    'PUT /api/thumbnail': { status: 200, body: {} },
  };
  const at = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
  connector = {
    ...{ format: 'dolomite-connector', version: 1, id: 'larch', name: 'Larch' },
    ingest: { servers: [{ name: 'Valley', url: 'rtmp://127.0.0.1/larch' }] },
    signIn: {
      ...{ type: 'device', clientId: 'dolomite', scope: 'broadcast' },
      ...{ deviceUrl: `${at}/oauth/device`, tokenUrl: `${at}/oauth/token` },
    },
    key: {
      read: { method: 'GET', url: `${at}/api/key`, value: '/key' },
      renew: { method: 'POST', url: `${at}/api/key`, value: '/key' },
    },
    details: {
      set: [
        {
          ...{ method: 'PUT', url: `${at}/api/broadcast` },
          json: { title: '{{title}}', show: '{{show}}', for: '{{visibility}}', latency: '{{latency}}' },
        },
      ],
      picture: { method: 'PUT', url: `${at}/api/thumbnail` },
      visibility: ['everybody', 'friends'],
      latency: { low: 'swift' },
    },
  };
  accounts = new PlatformAccounts({
    secrets,
    connectors: { find: (id) => (id === 'larch' ? connector : null) },
    picture: (id) => (id === 'pic' ? { bytes: new Uint8Array([1, 2, 3]), mime: 'image/png' } : null),
    now: () => nowMs,
    log: createLog('test'),
  });
});
afterEach(async () => {
  accounts.close();
  await new Promise((resolve) => server.close(resolve));
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

const signIn = async () => {
  await accounts.begin(larch);
  await vi.waitFor(() => expect(accounts.state(larch).state).toBe('signedIn'));
};

test('waits for the user, then has the key and keeps the tokens sealed', async () => {
  let tries = 0;
  answers['POST /oauth/token'] = () => {
    tries += 1;
    return tries < 3 ? { status: 400, body: { error: 'authorization_pending' } } : tokens(1);
  };
  expect(await accounts.begin(larch)).toMatchObject({ state: 'waiting', userCode: 'BCDF-GHJK' });
  await vi.waitFor(() => expect(accounts.state(larch)).toEqual({ state: 'signedIn' }));
  expect(secrets.get(`stream-key:${larch.id}`)).toBe('live_key');
  const raw = JSON.stringify(database.prepare('SELECT * FROM secret').all());
  expect(raw).not.toContain('access-1');
});

test.each([
  ['access_denied', /refused on the platform/],
  ['expired_token', /said no/],
])('%s is said', async (error, words) => {
  answers['POST /oauth/token'] = { status: 400, body: { error } };
  await accounts.begin(larch);
  await vi.waitFor(() => expect(accounts.state(larch)).toMatchObject({ state: 'failed' }));
  expect((accounts.state(larch) as { message: string }).message).toMatch(words);
});

test('a code that is not entered in time is given up', async () => {
  answers['POST /oauth/token'] = () => {
    nowMs += 700_000;
    return { status: 400, body: { error: 'authorization_pending' } };
  };
  await accounts.begin(larch);
  await vi.waitFor(() =>
    expect(accounts.state(larch)).toMatchObject({ state: 'failed', message: /in time/ }),
  );
});

test('before going live title and category are set, and a fresh key is fetched where one is wanted', async () => {
  await signIn();
  await accounts.prepare({ ...larch, details: { ...larch.details, title: 'Snow' } }, 'Night Signal Box');
  expect(asked.at(-1)).toMatchObject({ call: 'PUT /api/broadcast', authorization: 'Bearer access-1' });
  expect(JSON.parse(asked.at(-1)!.body)).toMatchObject({ title: 'Snow' });
  expect(secrets.get(`stream-key:${larch.id}`)).toBe('live_key');
  await accounts.prepare({ ...larch, details: { ...larch.details, thumbnailId: 'pic' } }, 'Night Signal Box');
  expect(asked.at(-1)).toMatchObject({ call: 'PUT /api/thumbnail', body: '\u0001\u0002\u0003' });
  await accounts.prepare(
    { ...larch, details: { ...larch.details, thumbnailId: 'gone' } },
    'Night Signal Box',
  );
  expect(asked.at(-1)!.call).toBe('PUT /api/broadcast');
  await accounts.prepare({ ...larch, keyUse: 'fresh' }, 'Night Signal Box');
  expect(secrets.get(`stream-key:${larch.id}`)).toBe('new_key');
});

test('a token that runs out is renewed; one that cannot be is a sign-out, said so', async () => {
  await signIn();
  nowMs += 4_000_000;
  answers['POST /oauth/token'] = tokens(2);
  await accounts.prepare(larch, 'Night Signal Box');
  expect(asked.at(-1)!.authorization).toBe('Bearer access-2');
  expect(asked.find((a) => a.body.includes('grant_type=refresh_token'))!.body).toContain('refresh-1');
  nowMs += 4_000_000;
  answers['POST /oauth/token'] = { status: 400, body: { error: 'invalid_grant' } };
  await expect(accounts.prepare(larch, 'Night Signal Box')).rejects.toThrow(/run out/);
  expect(accounts.state(larch)).toEqual({ state: 'none' });
});

test('a revoked sign-in, a broken answer and silence are told apart', async () => {
  await signIn();
  answers['PUT /api/broadcast'] = { status: 401, body: {} };
  await expect(accounts.prepare(larch, 'Night Signal Box')).rejects.toThrow(/sign in again/);
  await signIn();
  answers['PUT /api/broadcast'] = { status: 503, body: {} };
  await expect(accounts.prepare(larch, 'Night Signal Box')).rejects.toThrow(/answered 503/);
  answers['POST /oauth/device'] = { status: 200, body: '<html>' };
  await expect(accounts.begin(larch)).rejects.toThrow(/did not answer as a platform does/);
  answers['POST /oauth/device'] = { status: 200, body: { user_code: 'x' } };
  await expect(accounts.begin(larch)).rejects.toThrow(/no code/);
  await expect(accounts.begin({ ...larch, connector: null })).rejects.toThrow(/no account/);
  await expect(accounts.begin({ ...larch, connector: 'gone' })).rejects.toThrow(/import its file/);
  connector = { ...connector, signIn: undefined };
  await expect(accounts.begin(larch)).rejects.toThrow(/no account/);
});

test('what viewers read is said in the words of the platform', async () => {
  await signIn();
  await accounts.prepare(larch, 'Night Signal Box');
  expect(JSON.parse(asked.at(-1)!.body)).toEqual({
    ...{ title: '', show: 'Night Signal Box', for: 'everybody', latency: 'normal' },
  });
  const details = { ...larch.details, visibility: 'friends', latency: 'low' as const };
  await accounts.prepare({ ...larch, details }, 'Night Signal Box');
  expect(JSON.parse(asked.at(-1)!.body)).toMatchObject({ for: 'friends', latency: 'swift' });
});

test('a platform in trouble has not signed anybody out; one that gives no renewal has, once its token is over', async () => {
  await signIn();
  nowMs += 4_000_000;
  answers['POST /oauth/token'] = { status: 503, body: {} };
  await expect(accounts.prepare(larch, '')).rejects.toThrow(/answered 503 to a renewal/);
  expect(accounts.state(larch)).toEqual({ state: 'signedIn' });
  answers['POST /oauth/token'] = { status: 200, body: { access_token: 'access-3' } };
  await accounts.prepare(larch, '');
  expect(asked.at(-1)!.authorization).toBe('Bearer access-3');
  // It kept the renewal of before, and an hour where none was named.
  nowMs += 3_500_000;
  await accounts.prepare(larch, '');
  expect(asked.at(-1)!.authorization).toBe('Bearer access-3');
  accounts.signOut(larch.id);
  answers['POST /oauth/token'] = { status: 200, body: { access_token: 'access-4', expires_in: 60 } };
  await signIn();
  nowMs += 61_000;
  await expect(accounts.prepare(larch, '')).rejects.toThrow(/run out/);
});

describe('in the browser', () => {
  const inBrowser = () => {
    const { tokenUrl } = connector.signIn!;
    connector = {
      ...connector,
      signIn: {
        ...{ type: 'browser', clientId: 'dolomite', scope: 'a b', tokenUrl },
        authorizeUrl: 'https://larch.example/authorize?lang=en',
      },
    };
  };
  const begin = async () => {
    inBrowser();
    const state = await accounts.begin(larch);
    if (state.state !== 'away') throw new Error(state.state);
    return new URL(state.url);
  };
  /** The browser comes back from the platform's page. */
  const back = (url: URL, query: Record<string, string>) => {
    const to = new URL(url.searchParams.get('redirect_uri')!);
    for (const [name, value] of Object.entries(query)) to.searchParams.set(name, value);
    return fetch(to);
  };

  test('the browser is sent with a proof, comes back to this computer, and the token is asked for with what was proved', async () => {
    const url = await begin();
    expect(url.origin + url.pathname).toBe('https://larch.example/authorize');
    const { redirect_uri, state, code_challenge, ...rest } = Object.fromEntries(url.searchParams);
    expect(rest).toEqual({
      ...{
        lang: 'en',
        response_type: 'code',
        client_id: 'dolomite',
        scope: 'a b',
        code_challenge_method: 'S256',
      },
    });
    expect(redirect_uri).toMatch(/^http:\/\/127\.0\.0\.1:\d+\/$/);
    // Somebody else who found the port.
    expect((await back(url, { code: 'stolen', state: 'guessed' })).status).toBe(404);
    expect(accounts.state(larch).state).toBe('away');
    const page = await back(url, { code: 'the-code', state });
    expect(await page.text()).toMatch(/^Signed in to Larch\./);
    await vi.waitFor(() => expect(accounts.state(larch)).toEqual({ state: 'signedIn' }));
    const form = Object.fromEntries(
      new URLSearchParams(asked.find(({ call }) => call === 'POST /oauth/token')!.body),
    );
    expect(form).toMatchObject({
      ...{ grant_type: 'authorization_code', code: 'the-code', client_id: 'dolomite', redirect_uri },
    });
    // RFC 7636 §4.6
    expect(createHash('sha256').update(form.code_verifier).digest('base64url')).toBe(code_challenge);
    expect(form.code_verifier.length).toBeGreaterThanOrEqual(43);
    expect(secrets.get(`stream-key:${larch.id}`)).toBe('live_key');
    // The port is closed again.
    await vi.waitFor(() => expect(back(url, { code: 'again', state })).rejects.toThrow());
  });

  test('what was refused there is said; a platform that takes no code, too; what is given up is over', async () => {
    const url = await begin();
    const state = url.searchParams.get('state')!;
    expect(await (await back(url, { error: 'access_denied', state })).text()).toMatch(/^Not signed in/);
    await vi.waitFor(() =>
      expect(accounts.state(larch)).toEqual({
        ...{ state: 'failed', message: 'It was refused on the service’s page.' },
      }),
    );
    answers['POST /oauth/token'] = { status: 400, body: { error: 'invalid_grant' } };
    const again = await begin();
    await back(again, { code: 'old', state: again.searchParams.get('state')! });
    await vi.waitFor(() =>
      expect(accounts.state(larch)).toMatchObject({ message: 'The platform said no (invalid_grant).' }),
    );
    const third = await begin();
    accounts.signOut(larch.id);
    await vi.waitFor(() => expect(back(third, { code: 'x' })).rejects.toThrow());
    expect(accounts.state(larch)).toEqual({ state: 'none' });
  });
});

describe('servers', () => {
  const list = (more: object = {}) => ({
    ...connector,
    ingest: {
      serversFrom: {
        ...{ method: 'GET' as const, url: connector.key!.read.url.replace('key', 'servers') },
        ...{ value: '/data', name: '/title', address: '/at/url', region: '/region' },
      },
      ...more,
    },
  });

  test('are those of the file, or those the platform lists now, without what cannot be used', async () => {
    expect(await accounts.servers(connector, null)).toEqual(connector.ingest.servers);
    answers['GET /api/servers'] = {
      status: 200,
      body: {
        data: [
          { title: 'Valley', at: { url: 'rtmps://v.example/live' }, region: 'valley' },
          { title: 'Page', at: { url: 'https://v.example/live' } },
          { at: { url: 'rtmps://nameless.example/live' } },
          7,
          { title: 'Abroad', at: { url: 'rtmps://a.example/live' }, region: 'abroad' },
        ],
      },
    };
    const names = async (of: Connector) => (await accounts.servers(of, null)).map(({ name }) => name);
    expect(await names(list())).toEqual(['Valley', 'Abroad']);
    expect(await names(list({ regions: ['abroad'] }))).toEqual(['Abroad']);
    await expect(accounts.servers(list({ regions: ['moon'] }), null)).rejects.toThrow(
      /no server that can be used/,
    );
    await signIn();
    await accounts.servers(list(), larch);
    expect(asked.at(-1)).toMatchObject({ call: 'GET /api/servers', authorization: 'Bearer access-1' });
  });

  test('a list that is none, or without end, is said', async () => {
    for (const [status, body] of [
      [200, { data: 'x' }],
      [404, { data: [] }],
      [200, '<html>'],
    ] as const) {
      answers['GET /api/servers'] = { status, body };
      await expect(accounts.servers(list(), null)).rejects.toThrow(/gave no list of servers/);
    }
    answers['GET /api/servers'] = { status: 200, body: 'x'.repeat(600_000) };
    await expect(accounts.servers(list(), null)).rejects.toThrow(/the answer is too long/);
  });
});

test('followers are told where the platform has a way for it, and the user is signed in', async () => {
  const url = connector.key!.read.url.replace('key', 'announcement');
  answers['POST /api/announcement'] = { status: 200, body: {} };
  expect(await accounts.announce(larch, 'Night', 'Live now')).toBe(false);
  connector = { ...connector, announcement: { method: 'POST', url, form: { say: '{{show}}: {{text}}' } } };
  expect(await accounts.announce(larch, 'Night', 'Live now')).toBe(false);
  await signIn();
  expect(await accounts.announce(larch, 'Night', 'Live now')).toBe(true);
  expect(asked.at(-1)).toMatchObject({
    ...{ call: 'POST /api/announcement', body: 'say=Night%3A+Live+now', authorization: 'Bearer access-1' },
  });
});

test('a sign-in is for one service alone: another connector, or other hosts in its file, are not shown its token', async () => {
  await signIn();
  const before = connector;
  connector = { ...before, id: 'larch', announcement: { method: 'POST', url: 'https://elsewhere.example/' } };
  expect(accounts.state(larch)).toEqual({ state: 'none' });
  asked.length = 0;
  await accounts.prepare(larch, '');
  expect(await accounts.announce(larch, '', 'Live now')).toBe(false);
  expect(asked).toEqual([]);
  connector = { ...before, id: 'cairn' };
  expect(accounts.state(larch)).toEqual({ state: 'none' });
  connector = { ...before, name: 'Larch, newly worded' };
  expect(accounts.state(larch)).toEqual({ state: 'signedIn' });
});

test('nobody is followed elsewhere: a token reaches only whom it is for', async () => {
  await signIn();
  const elsewhere = http.createServer((_request, response) => {
    asked.push({ call: 'elsewhere', body: '', authorization: '' });
    response.end('{}');
  });
  await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve));
  moved = `http://127.0.0.1:${(elsewhere.address() as { port: number }).port}/`;
  await expect(accounts.prepare(larch, '')).rejects.toThrow(/did not answer/);
  moved = '';
  elsewhere.close();
  expect(asked.some(({ call }) => call === 'elsewhere')).toBe(false);
});

test('who is not signed in is left alone', async () => {
  await accounts.prepare(larch, 'Night Signal Box');
  expect(asked).toEqual([]);
});

test('the chat of a service is joined by name and token; before a sign-in it is said what to do', async () => {
  const at = connector.key!.read.url.replace('/api/key', '');
  connector.chat = {
    ...{ host: '127.0.0.1', port: 6667, tls: false, channel: '#{{nick}}' },
    account: { method: 'GET', url: `${at}/api/me`, value: '/login' },
    password: 'oauth:{{token}}',
  };
  await expect(accounts.chatLogin(larch)).rejects.toThrow(/sign in to Larch first/);
  await signIn();
  await expect(accounts.chatLogin(larch)).rejects.toThrow(/answered 404/);
  answers['GET /api/me'] = { status: 200, body: { login: 7 } };
  await expect(accounts.chatLogin(larch)).rejects.toThrow(/no name of the account/);
  answers['GET /api/me'] = { status: 200, body: { login: 'Lampwright' } };
  expect(await accounts.chatLogin(larch)).toEqual({
    ...{ nick: 'Lampwright', password: 'oauth:access-1', channels: ['#lampwright'] },
  });
  expect(asked.at(-1)).toMatchObject({ call: 'GET /api/me', authorization: 'Bearer access-1' });
});
