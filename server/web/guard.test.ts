import type { IncomingMessage } from 'node:http';
import { describe, expect, test } from 'vitest';
import { ACCESS_TABLE, type AccessRule } from '../../core/access/access-table';
import { ROLES, type Role } from '../../core/access/roles';
import { Guard } from './guard';

const PORT = 4800;
const HOST = `127.0.0.1:${PORT}`;
const guard = new Guard({
  hosts: [HOST],
  port: PORT,
  secure: false,
  uplinkUrl: 'ws://127.0.0.1:4801/uplink',
  // Whoever carries the name of a role has it.
  access: {
    who: (cookie) =>
      ROLES.includes(cookie as Role)
        ? { id: cookie!, role: cookie as Role, name: 'somebody', seatId: null }
        : null,
  },
});
const request = (headers: Record<string, string | undefined>) => ({ headers }) as unknown as IncomingMessage;
const as = (role: Role | null) => (role === null ? {} : { cookie: `other=1; dolomite-${PORT}=${role}` });
/** Any path that a rule is about. */
const exampleOf = ({ path }: AccessRule) => path.replace(/:\w+/g, 'x1').replace('*', 'some/file.js');
const status = (rule: AccessRule, role: Role | null, headers: Record<string, string | undefined> = {}) =>
  guard.refusal(request({ host: HOST, ...as(role), ...headers }), rule.how, exampleOf(rule))?.status ?? 200;

describe('who may go where', () => {
  const cases = ACCESS_TABLE.map((rule) => [`${rule.how} ${rule.path}`, rule] as const);

  test.each(cases)('%s', (_, rule) => {
    const may = (role: Role) => rule.who === 'all' || rule.who.includes(role);
    expect(status(rule, null)).toBe(rule.who === 'all' ? 200 : 401);
    for (const role of ROLES) {
      expect([role, status(rule, role)]).toEqual([role, may(role) ? 200 : 403]);
      // By another name of this computer, or lured by another page, the owner has no right either.
      expect(status(rule, role, { host: 'evil.example:4800' })).toBe(421);
      expect(status(rule, role, { host: undefined })).toBe(421);
      expect(status(rule, role, { host: `127.0.0.1:${PORT + 1}` })).toBe(421);
      if (rule.how === 'read') continue;
      for (const origin of [
        'http://evil.example',
        `http://127.0.0.1:${PORT + 1}`,
        `https://${HOST}`,
        `http://localhost:${PORT}`,
      ])
        expect([origin, status(rule, role, { origin })]).toEqual([origin, 403]);
      expect(status(rule, role, { origin: 'null' })).toBe(rule.path === '/sign-in' ? 200 : 403);
      expect(status(rule, role, { 'sec-fetch-site': 'cross-site' })).toBe(403);
      expect(status(rule, role, { 'sec-fetch-site': 'same-site' })).toBe(403);
      expect(status(rule, role, { origin: `http://${HOST}` })).toBe(may(role) ? 200 : 403);
      expect(status(rule, role, { 'sec-fetch-site': 'same-origin' })).toBe(may(role) ? 200 : 403);
    }
  });

  test.each([
    ['read', '/show/x/unheard-of'],
    ['read', '/show/x/stage/'],
    ['read', '/SHOW/x/stage'],
    ['read', '/show/x/../x/stage'],
    ['read', '/show/%2e%2e/stage'],
    ['read', '/show/a%2fb/stage'],
    ['read', '/show/a%00/stage'],
    ['read', '/show/%zz/stage'],
    ['read', '//show/x/stage'],
    ['read', '/show//stage'],
    ['read', '/assets/'],
    ['read', '/assets/../files/recordings/x'],
    ['write', '/show/x/stage'],
    ['write', '/files/assets/x'],
    ['socket', '/uplink/x'],
    ['socket', '/bus'],
  ] as const)('%s %s is closed to the owner too', (how, path) => {
    expect(guard.refusal(request({ host: HOST, ...as('owner') }), how, path)?.status).toBe(403);
  });

  test('what a page asks for its data is as closed as the page; names may hold any sign', () => {
    for (const path of ['/show/x/stage.data', '/_root.data', '/files/emotes/hut%20%26%20co/bell']) {
      expect(guard.refusal(request({ host: HOST }), 'read', path)?.status).toBe(401);
      expect(guard.refusal(request({ host: HOST, ...as('owner') }), 'read', path)).toBeNull();
    }
  });

  test('a body is refused by its length before it is read, as each way takes it', () => {
    const send = (path: string, headers: Record<string, string>) =>
      guard.refusal(request({ host: HOST, ...as('owner'), ...headers }), 'write', path)?.status ?? 200;
    const megabytes = (n: number) => ({ 'content-length': String(n * 1024 * 1024) });
    expect(send('/show/x/keys', {})).toBe(200);
    expect(send('/show/x/keys', megabytes(0.05))).toBe(200);
    expect(send('/show/x/keys', megabytes(0.1))).toBe(413);
    expect(send('/show/x/edits', megabytes(7))).toBe(200);
    expect(send('/show/x/edits', megabytes(64))).toBe(413);
    expect(send('/show/x/assets', megabytes(4000))).toBe(200);
    for (const [path, status] of [
      ['/show/x/keys', 411],
      ['/show/x/assets', 200],
    ] as const)
      expect(send(path, { 'transfer-encoding': 'chunked' })).toBe(status);
  });

  test('a cookie of another port, or of a name that only ends so, is no cookie', () => {
    for (const cookie of [
      `dolomite-${PORT + 1}=owner`,
      `x-dolomite-${PORT}=owner`,
      `dolomite-${PORT}`,
      `dolomite-${PORT}=`,
    ])
      expect(guard.refusal(request({ host: HOST, cookie }), 'read', '/')?.status).toBe(401);
  });
});
