import { mkdtempSync, rmSync } from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
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
let nowMs: number;
/** What the platform answers, by method and path. */
let answers: Record<string, Answer | (() => Answer)>;
const asked: { call: string; body: string; authorization: string }[] = [];

const server = http.createServer((request, response) => {
  let body = '';
  request.on('data', (part: Buffer) => (body += part.toString()));
  request.on('end', () => {
    const call = `${request.method} ${request.url}`;
    asked.push({ call, body, authorization: request.headers.authorization ?? '' });
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
  standIn: 'larch',
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
  accounts = new PlatformAccounts({
    secrets,
    apiUrls: new Map([['larch', `http://127.0.0.1:${(server.address() as { port: number }).port}`]]),
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
  await vi.waitFor(() => expect(accounts.state(larch.id).state).toBe('signedIn'));
};

test('waits for the user, then has the key and keeps the tokens sealed', async () => {
  let tries = 0;
  answers['POST /oauth/token'] = () => {
    tries += 1;
    return tries < 3 ? { status: 400, body: { error: 'authorization_pending' } } : tokens(1);
  };
  expect(await accounts.begin(larch)).toMatchObject({ state: 'waiting', userCode: 'BCDF-GHJK' });
  await vi.waitFor(() => expect(accounts.state(larch.id)).toEqual({ state: 'signedIn' }));
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
  await vi.waitFor(() => expect(accounts.state(larch.id)).toMatchObject({ state: 'failed' }));
  expect((accounts.state(larch.id) as { message: string }).message).toMatch(words);
});

test('a code that is not entered in time is given up', async () => {
  answers['POST /oauth/token'] = () => {
    nowMs += 700_000;
    return { status: 400, body: { error: 'authorization_pending' } };
  };
  await accounts.begin(larch);
  await vi.waitFor(() =>
    expect(accounts.state(larch.id)).toMatchObject({ state: 'failed', message: /in time/ }),
  );
});

test('before going live title and category are set, and a fresh key is fetched where one is wanted', async () => {
  await signIn();
  await accounts.prepare({ ...larch, details: { ...larch.details, title: 'Snow' } });
  expect(asked.at(-1)).toMatchObject({ call: 'PUT /api/broadcast', authorization: 'Bearer access-1' });
  expect(JSON.parse(asked.at(-1)!.body)).toMatchObject({ title: 'Snow' });
  expect(secrets.get(`stream-key:${larch.id}`)).toBe('live_key');
  await accounts.prepare({ ...larch, details: { ...larch.details, thumbnailId: 'pic' } });
  expect(asked.at(-1)).toMatchObject({ call: 'PUT /api/thumbnail', body: '\u0001\u0002\u0003' });
  await accounts.prepare({ ...larch, details: { ...larch.details, thumbnailId: 'gone' } });
  expect(asked.at(-1)!.call).toBe('PUT /api/broadcast');
  await accounts.prepare({ ...larch, keyUse: 'fresh' });
  expect(secrets.get(`stream-key:${larch.id}`)).toBe('new_key');
});

test('a token that runs out is renewed; one that cannot be is a sign-out, said so', async () => {
  await signIn();
  nowMs += 4_000_000;
  answers['POST /oauth/token'] = tokens(2);
  await accounts.prepare(larch);
  expect(asked.at(-1)!.authorization).toBe('Bearer access-2');
  expect(asked.find((a) => a.body.includes('grant_type=refresh_token'))!.body).toContain('refresh-1');
  nowMs += 4_000_000;
  answers['POST /oauth/token'] = { status: 400, body: { error: 'invalid_grant' } };
  await expect(accounts.prepare(larch)).rejects.toThrow(/run out/);
  expect(accounts.state(larch.id)).toEqual({ state: 'none' });
});

test('a revoked sign-in, a broken answer and silence are told apart', async () => {
  await signIn();
  answers['PUT /api/broadcast'] = { status: 401, body: {} };
  await expect(accounts.prepare(larch)).rejects.toThrow(/sign in again/);
  await signIn();
  answers['PUT /api/broadcast'] = { status: 503, body: {} };
  await expect(accounts.prepare(larch)).rejects.toThrow(/answered 503/);
  answers['POST /oauth/device'] = { status: 200, body: '<html>' };
  await expect(accounts.begin(larch)).rejects.toThrow(/did not answer as a platform does/);
  answers['POST /oauth/device'] = { status: 200, body: { user_code: 'x' } };
  await expect(accounts.begin(larch)).rejects.toThrow(/no code/);
  await expect(accounts.begin({ ...larch, standIn: null })).rejects.toThrow(/no account/);
});

test('who is not signed in is left alone', async () => {
  await accounts.prepare(larch);
  expect(asked).toEqual([]);
});
