/** The door and the studio's end of its line, joined as they are in earnest: real sockets, made-up access. */
import http from 'node:http';
import type { PadState } from '../../protocol/pad';
import type { AddressInfo } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { WebSocket } from 'ws';
import { DOOR_TABLE, isSigned } from '../../core/access/door-table';
import { HOOK } from '../../core/access/limits';
import { ROLES, type Role } from '../../core/access/roles';
import { Fault } from '../../core/fault';
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { DOOR_VERSION, type FromDoor } from '../../protocol/door';
import { Door } from '../door/door';
import { doorPages } from '../door/pages';
import { StudioLine } from '../door/studio-line';
import { createLog } from '../log';
import { DoorLine } from './door-line';
import type { VisitorParts } from './visitors';
import { Wings } from './wings';

const TOKEN = 'token-between-door-and-studio';
const log = createLog('door test', 'silent');

const NO_PAD: PadState = {
  ...{ nowMs: 1, show: 'The Night Signal Box', name: '', onAir: 'off', startedAtMs: null, desk: true },
  ...{
    overSeconds: null,
    voiceBandDb: [-16, -6],
    next: null,
    on: null,
    viewers: null,
    trouble: null,
    pages: [],
    standing: [],
    chat: [],
  },
};
const heard: string[] = [];
const calls: { id: string; body: string; signature: string | undefined }[] = [];
const gone: string[] = [];
let left = 0;
let version = DOOR_VERSION;

/** What guests say is looked at where the wings are; here it matters who gets to them. */
const wings = new Wings({
  document: () => new Map(),
  programme: () => NO_PROGRAMME,
  standing: () => visitors.standing(),
  ice: () => [],
  broadcast: () => undefined,
  sayToDesk: () => true,
  hasDesk: () => true,
  sendOut: () => undefined,
  now: () => 1,
});

const visitorOf = (cookie: string | null) =>
  ROLES.includes(cookie as Role)
    ? { id: `id-${cookie}`, role: cookie as Role, name: 'Ida', seatId: 'seat' }
    : null;
const visitors: VisitorParts = {
  forPads: () => null,
  wings: () => wings,
  padsChanged: () => undefined,
  access: {
    who: visitorOf,
    program: (token) =>
      token === 'a-program' ? { id: 'p', role: 'operator', name: 'Deck', seatId: null } : null,
    comeIn: (token) => {
      if (token !== 'a-link-of-twenty-letters') throw new Fault('access.token', 'This link is not good.');
      return { cookie: 'watcher', visitor: visitorOf('watcher')! };
    },
    leave: ({ id }) => void gone.push(id),
  },
  hooks: {
    call: (id, header, body) => {
      calls.push({ id, body, signature: header('webhook-signature') });
      return { status: 202, body: { taken: 1, problems: [] } };
    },
    opening: (_, header) =>
      header('webhook-signature') === 'good'
        ? null
        : { status: 401, body: { code: 'hook.signature', message: '' } },
    connected: () => () => (left += 1),
    message: (id, _, text) => void heard.push(`${id}: ${text}`),
    tooLarge: (id) => void heard.push(`${id}: too large`),
  },
  pad: (name) => ({ ...NO_PAD, name }),
  press: () => Promise.resolve(null),
  standing: () => ({
    ...{ show: 'The Night Signal Box', onAir: 'off', scene: 'Game', startedAtMs: null },
    ...{ nowMs: 1, destinations: [], desk: true },
  }),
};

let server: http.Server;
let door: Door;
let line: StudioLine;
let studio: DoorLine | null = null;
let port = 0;
const until = async (what: () => unknown, why: string) => {
  for (let i = 0; i < 500; i++) {
    if (what()) return;
    await sleep(10);
  }
  throw new Error(why);
};
const connect = async (token = TOKEN) => {
  studio = new DoorLine({ url: `http://127.0.0.1:${port}/`, token, fingerprint: null, log, visitors });
  await until(() => studio!.connected || studio!.problem, 'the studio did not come');
};

beforeEach(async () => {
  for (const list of [heard, calls, gone]) list.length = 0;
  left = 0;
  version = DOOR_VERSION;
  door = new Door({
    say: (message) => line.say(message),
    page: doorPages('<svg/>', { pad: '', guest: '' }),
    now: () => performance.now(),
  });
  line = new StudioLine({
    token: TOKEN,
    log,
    greet: () => ({ type: 'hello', version, addresses: [], house: false, problem: null }),
    take: (message) => message.type !== 'listen' && door.hear(message),
    lost: () => door.lost(),
  });
  server = http.createServer((request, response) => door.request(request, response, { secure: false, port }));
  server.on('upgrade', (request, socket, head) => {
    if (request.url === '/studio') {
      if (line.knows(request)) line.accept(request, socket, head);
      else socket.end('HTTP/1.1 401 Unauthorized\r\nConnection: close\r\n\r\n');
    } else door.upgrade(request, socket, head, { secure: false, port });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  ({ port } = server.address() as AddressInfo);
});
afterEach(async () => {
  studio?.close();
  studio = null;
  door.close();
  line.close();
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
});

const as = (role: Role | null): Record<string, string> =>
  role === null ? {} : { cookie: `dolomite-door-${port}=${role}` };
const ask = (path: string, method: string, headers: Record<string, string> = {}, body = '{}') =>
  fetch(`http://127.0.0.1:${port}${path}`, { method, headers, ...(method === 'GET' ? {} : { body }) });
function open(path: string, headers: Record<string, string> = {}, protocols: string[] = []) {
  const socket = new WebSocket(`ws://127.0.0.1:${port}${path}`, protocols, { headers });
  const said: string[] = [];
  let closed: { code: number; why: string } | null = null;
  const outcome = new Promise<number>((resolve) => {
    socket.on('open', () => resolve(101));
    socket.on('unexpected-response', (_, { statusCode }) => resolve(statusCode ?? 0));
    socket.on('error', () => resolve(0));
  });
  socket.on('message', (data: Buffer) => said.push(data.toString('utf8')));
  socket.on('close', (code, why) => (closed = { code, why: why.toString('utf8') }));
  return { socket, said, outcome, closed: () => closed };
}

describe('who may what at the door', () => {
  const rows = DOOR_TABLE.map((rule) => [`${rule.how} ${rule.path}`, rule] as const);
  test.each(rows)('%s', async (_, rule) => {
    await connect();
    const path = rule.path.replace(':hookId', 'hook-1');
    const bodies: Record<string, object> = {
      '/come-in': { token: 'a-link-of-twenty-letters' },
      '/press': { command: 'take', params: {} },
    };
    const body = JSON.stringify(bodies[path] ?? {});
    // Somebody who may, where somebody else asks for them.
    const known = rule.who === 'all' || rule.who.includes('watcher') ? 'watcher' : rule.who[0];
    const status = async (headers: Record<string, string>) => {
      if (rule.how !== 'socket')
        return (await ask(path, rule.how === 'read' ? 'GET' : 'POST', headers, body)).status;
      const opened = open(path, { ...headers, ...(isSigned(rule) && { 'webhook-signature': 'good' }) });
      const outcome = await opened.outcome;
      opened.socket.terminate();
      return outcome;
    };
    const good = rule.how === 'socket' ? 101 : isSigned(rule) ? 202 : 200;
    for (const role of [null, ...ROLES]) {
      const may = rule.who === 'all' || (role !== null && rule.who.includes(role));
      expect([role, await status(as(role))]).toEqual([role, may ? good : role === null ? 401 : 403]);
    }
    if (rule.how === 'read' || isSigned(rule)) return;
    for (const origin of [
      'http://evil.example',
      `https://127.0.0.1:${port}`,
      `http://127.0.0.1:${port + 1}`,
      'null',
    ])
      expect([origin, await status({ ...as(known), origin })]).toEqual([origin, 403]);
    expect(await status({ ...as(known), 'sec-fetch-site': 'cross-site' })).toBe(403);
    expect(await status({ ...as(known), origin: `http://127.0.0.1:${port}` })).toBe(good);
  });

  test.each([
    ['GET', '/show/x/stage'],
    ['GET', '/sign-in'],
    ['POST', '/sign-in'],
    ['POST', '/'],
    ['PUT', '/come-in'],
    ['DELETE', '/hooks/x'],
    ['GET', '/hooks/x'],
    ['POST', '/hooks/%2e%2e'],
    ['POST', '/hooks/a%2fb'],
    ['GET', '//standing'],
  ])('%s %s is closed to everybody', async (method, path) => {
    await connect();
    expect((await ask(path, method, as('watcher'))).status).toBe(404);
    expect(calls).toEqual([]);
  });
});

describe('what comes by the door', () => {
  test.each([
    ['undo', 403],
    ['keepAsStart', 403],
    ['cough', 400],
    ['take', 200],
  ])('another program that presses %s is answered %i', async (command, status) => {
    await connect();
    const body = JSON.stringify({ command, params: {} });
    expect((await ask('/press', 'POST', as('operator'), body)).status).toBe(status);
  });

  test('a link lets a browser in; its cookie is for pages of the door alone; leaving takes it away', async () => {
    await connect();
    const json = { 'content-type': 'application/json' };
    const refused = await ask(
      '/come-in',
      'POST',
      json,
      JSON.stringify({ token: 'another-of-twenty-letters' }),
    );
    expect([refused.status, await refused.json()]).toEqual([
      401,
      { code: 'access.token', message: 'This link is not good.' },
    ]);
    expect((await ask('/come-in', 'POST', json, 'garbage')).status).toBe(400);
    const letIn = await ask('/come-in', 'POST', json, JSON.stringify({ token: 'a-link-of-twenty-letters' }));
    expect(letIn.headers.get('set-cookie')).toMatch(
      new RegExp(`^dolomite-door-${port}=watcher; HttpOnly; SameSite=Strict; Path=/; Max-Age=\\d+$`),
    );
    const standing = (await (await ask('/standing', 'GET', as('watcher'))).json()) as object;
    expect(standing).toMatchObject({ role: 'watcher', name: 'Ida', show: 'The Night Signal Box' });
    const leaving = await ask('/leave', 'POST', { ...as('watcher'), ...json });
    expect(leaving.headers.get('set-cookie')).toMatch(/=; .*Max-Age=0/);
    expect(gone).toEqual(['id-watcher']);
  });

  test('nothing of a request is passed on but what is named', async () => {
    await connect();
    await ask('/hooks/hook-1', 'POST', {
      'webhook-signature': 'v1,abc',
      'x-forwarded-for': '203.0.113.9',
      'ce-id': 'e1',
    });
    expect(calls).toEqual([{ id: 'hook-1', body: '{}', signature: 'v1,abc' }]);
  });

  test('a call that is too large is not read to its end, with its length told or not; its owner learns of it', async () => {
    await connect();
    const body = 'x'.repeat(HOOK.bytes + 1);
    expect((await ask('/hooks/hook-1', 'POST', {}, body)).status).toBe(413);
    const chunked = await new Promise<number>((resolve, reject) => {
      const request = http.request({ port, path: '/hooks/hook-1', method: 'POST' }, ({ statusCode }) =>
        resolve(statusCode!),
      );
      request.on('error', reject);
      request.write(body.slice(0, 1000));
      request.end(body);
    });
    expect(chunked).toBe(413);
    expect(heard).toEqual(['hook-1: too large', 'hook-1: too large']);
    expect(calls).toEqual([]);
    expect((await ask('/come-in', 'POST', {}, 'x'.repeat(5000))).status).toBe(413);
  });

  test('a program’s socket is passed on with its protocol; what it says arrives in order; it is told when it must go', async () => {
    await connect();
    const program = open('/hooks/hook-1', { 'webhook-signature': 'good' }, ['cloudevents.json']);
    expect(await program.outcome).toBe(101);
    expect(program.socket.protocol).toBe('cloudevents.json');
    for (let i = 0; i < 20; i++) program.socket.send(`m${i}`);
    await until(() => heard.length === 20, 'the messages did not arrive');
    expect(heard).toEqual(Array.from({ length: 20 }, (_, i) => `hook-1: m${i}`));
    program.socket.close();
    await until(() => left === 1, 'its end was not told');
    const wrong = open('/hooks/hook-1', { 'webhook-signature': 'bad' });
    expect(await wrong.outcome).toBe(401);
  });

  test('who looks is told every second, and sent out when revoked; who speaks there is sent out too', async () => {
    await connect();
    const watching = open('/standing', as('watcher'));
    await until(() => watching.said.length >= 2, 'it was not told twice');
    expect(JSON.parse(watching.said[0])).toMatchObject({ role: 'watcher', scene: 'Game' });
    studio!.visitors.sendOut(['id-somebody']);
    expect(watching.closed()).toBeNull();
    studio!.visitors.sendOut(['id-watcher']);
    await until(() => watching.closed(), 'it was not sent out');
    expect(watching.closed()).toEqual({ code: 1008, why: 'revoked' });
    const talking = open('/standing', as('operator'));
    await talking.outcome;
    talking.socket.send('hello?');
    await until(() => talking.closed(), 'it was not sent out');
  });

  test('many who send slowly are refused before they fill the memory, and leave nothing behind', async () => {
    await connect();
    const statuses: number[] = [];
    const slow = Array.from({ length: 80 }, () => {
      const request = http.request({ port, path: '/hooks/hook-1', method: 'POST' }, (response) => {
        statuses.push(response.statusCode!);
        response.resume();
      });
      request.on('error', () => undefined);
      // Less than one may bring, and never the end of it.
      request.write('x'.repeat(HOOK.bytes - 1000));
      return request;
    });
    await until(() => statuses.includes(503), 'nobody was refused');
    expect(new Set(statuses)).toEqual(new Set([503]));
    for (const request of slow) request.destroy();
    await sleep(100);
    expect((await ask('/hooks/hook-1', 'POST')).status).toBe(202);
  });

  test('a hook of an impossible name is one that is not there', async () => {
    await connect();
    const odd = '/hooks/%E2%80%AE%E2%80%AD';
    expect((await ask(odd, 'POST')).status).toBe(404);
    expect(await open(odd).outcome).toBe(404);
    expect(calls).toEqual([]);
  });

  test('a flood over one socket ends it, and no other', async () => {
    await connect();
    const flood = open('/hooks/hook-1', { 'webhook-signature': 'good' });
    const calm = open('/hooks/hook-2', { 'webhook-signature': 'good' });
    await Promise.all([flood.outcome, calm.outcome]);
    for (let i = 0; i < 5000; i++) flood.socket.send('x');
    await until(() => flood.closed(), 'the flood went on');
    expect(calm.closed()).toBeNull();
    calm.socket.send('still here');
    await until(() => heard.includes('hook-2: still here'), 'the other one was not heard');
  });

  test('a guest is shut out for good when the same person opens another page, and to come again when the show is closed', async () => {
    await connect();
    const first = open('/guest', as('guest'));
    expect(await first.outcome).toBe(101);
    const second = open('/guest', as('guest'));
    await until(() => first.closed(), 'the first page went on');
    expect(first.closed()).toEqual({ code: 1008, why: 'replaced' });
    wings.close();
    await until(() => second.closed(), 'the second page went on');
    expect(second.closed()!.code).toBe(1013);
  });

  test('one household that asks without end is told to wait', async () => {
    await connect();
    const statuses: number[] = [];
    // A slow machine asks too slowly for a few hundred to be a flood.
    for (let i = 0; i < 8 && !statuses.includes(429); i++) {
      const answers = await Promise.all(Array.from({ length: 400 }, () => ask('/favicon.svg', 'GET')));
      statuses.push(...answers.map(({ status }) => status));
    }
    expect(statuses.filter((status) => status === 200).length).toBeGreaterThanOrEqual(300);
    expect(statuses).toContain(429);
  });
});

describe('the line to the studio', () => {
  test('without a studio its pages are there, and everything else says why not', async () => {
    expect((await ask('/', 'GET')).status).toBe(200);
    const answer = await ask('/standing', 'GET', as('watcher'));
    expect(answer.status).toBe(503);
    expect(((await answer.json()) as { message: string }).message).toMatch(/not connected/);
    expect(await open('/standing', as('watcher')).outcome).toBe(503);
  });

  test('another token is no studio, and the studio says what to do', async () => {
    await connect('another-token-of-that-length');
    expect(studio!.connected).toBe(false);
    expect(studio!.problem).toMatch(/does not know this studio/);
    expect(line.connected).toBe(false);
  });

  test('a studio that goes leaves nobody waiting, and is found again when it comes', async () => {
    await connect();
    const watching = open('/standing', as('watcher'));
    await watching.outcome;
    studio!.close();
    await until(() => watching.closed(), 'the page was not told');
    expect(watching.closed()!.code).toBe(1013);
    expect((await ask('/standing', 'GET', as('watcher'))).status).toBe(503);
    await connect();
    expect((await ask('/standing', 'GET', as('watcher'))).status).toBe(200);
  });

  test('a second studio with the token takes the place of the first, as one does whose network broke', async () => {
    await connect();
    const first = studio!;
    await connect();
    await until(() => !first.connected, 'both stayed');
    first.close();
    expect((await ask('/standing', 'GET', as('watcher'))).status).toBe(200);
  });

  test('a door of another version is not used, and that is said', async () => {
    version = DOOR_VERSION + 1;
    await connect();
    expect(studio!.problem).toMatch(/another version/);
    expect(studio!.connected).toBe(false);
  });

  test('what is no message of a door changes nothing', async () => {
    await connect();
    for (const message of [{ type: 'ask', id: 1 }, { type: 'x' }, { type: 'said', id: 99, text: 'x' }])
      line.say(message as FromDoor);
    expect((await ask('/standing', 'GET', as('watcher'))).status).toBe(200);
  });
});
