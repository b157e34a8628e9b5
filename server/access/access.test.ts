import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { openDatabase, type Database } from '../db/database';
import { Access } from './access';
import { AccessRepository } from './access-repository';
import { browserName } from './browser-name';

const OWNER = 'owner-token-of-forty-and-more-characters-0';
const HOUR_MS = 3_600_000;
let database: Database;
let nowMs: number;
let revoked: string[];
let access: Access;

const open = (ownerToken = OWNER) =>
  new Access({
    repository: new AccessRepository(database),
    writes: { do: (write) => write() },
    ownerToken,
    now: () => nowMs,
    onRevoked: (ids) => void revoked.push(...ids),
  });
beforeEach(() => {
  database = openDatabase(':memory:', path.resolve(import.meta.dirname, '../../db/migrations'));
  nowMs = 1_000_000_000;
  revoked = [];
  access = open();
});
afterEach(() => database.close());

const notes = () => access.audited().map(({ who, what, about }) => [who, what, about]);

describe('the owner', () => {
  test('comes in by the token of this start, and stays one over restarts by the cookie', () => {
    const { cookie, visitor } = access.signIn(OWNER, 'Firefox on Linux');
    expect(visitor).toMatchObject({ role: 'owner', name: 'Firefox on Linux' });
    expect(access.who(cookie)).toMatchObject({ id: visitor.id, role: 'owner' });
    const next = open('another-token-of-another-start-000000000000');
    expect(next.who(cookie)?.role).toBe('owner');
    expect(() => next.signIn(OWNER, 'x')).toThrow(/not good, or not any more/);
    // Nothing that lets anybody in lies in the database.
    const kept = JSON.stringify(database.prepare('SELECT * FROM access').all());
    for (const secret of [cookie, OWNER]) expect(kept).not.toContain(secret);
  });

  test('strangers, tokens in the place of cookies, and nonsense are nobody', () => {
    const { cookie } = access.signIn(OWNER, 'x');
    for (const other of [null, '', 'x', OWNER, cookie.slice(1), `${cookie}=`, 'a'.repeat(5000)])
      expect(access.who(other)).toBeNull();
    expect(() => access.signIn(cookie, 'x')).toThrow(/not good/);
  });

  test('a browser that was not seen for over a year signs in again; one that is seen stays', () => {
    const { cookie } = access.signIn(OWNER, 'x');
    for (let i = 0; i < 4; i++) {
      nowMs += 300 * 24 * HOUR_MS;
      expect(access.who(cookie)).not.toBeNull();
    }
    nowMs += 401 * 24 * HOUR_MS;
    expect(access.who(cookie)).toBeNull();
  });
});

describe('links', () => {
  test('let in so many browsers, for so long, in their role; what they let in ends with them', () => {
    const { visitor } = access.signIn(OWNER, 'owner');
    const { entry, token } = access.makeLink(visitor, {
      ...{ role: 'operator', seatId: null, name: 'Ida’s phone' },
      ...{ expiresMs: nowMs + HOUR_MS, usesLeft: 2 },
    });
    const first = access.comeIn(token, 'Safari on iOS');
    expect(first.visitor).toMatchObject({ role: 'operator', seatId: null, name: 'Ida’s phone' });
    const second = access.comeIn(token, 'x');
    expect(() => access.comeIn(token, 'x')).toThrow(/not good/);
    expect(access.list().map(({ kind, role }) => [kind, role])).toEqual([
      ['browser', 'operator'],
      ['browser', 'operator'],
      ['browser', 'owner'],
    ]);
    access.revoke(visitor, second.visitor.id);
    expect([access.who(second.cookie), access.who(first.cookie)?.role]).toEqual([null, 'operator']);
    nowMs += HOUR_MS;
    expect(access.who(first.cookie)).toBeNull();
    expect(() => access.revoke(visitor, 'nobody')).toThrow(/revoked already/);
    expect(revoked).toEqual([second.visitor.id]);
    expect(entry).not.toHaveProperty('tokenHash');
    expect(notes()).toEqual([
      ['owner', 'revoked', 'operator: Ida’s phone'],
      ['a stranger', 'signInRefused', 'x'],
      ['Ida’s phone', 'signedIn', 'operator, x'],
      ['Ida’s phone', 'signedIn', 'operator, Safari on iOS'],
      ['owner', 'linkMade', 'operator: Ida’s phone'],
      ['owner', 'signedIn', 'owner'],
    ]);
  });

  test('one that is revoked takes everybody with it who came by it', () => {
    const { visitor } = access.signIn(OWNER, 'owner');
    const { entry, token } = access.makeLink(visitor, {
      ...{ role: 'watcher', seatId: null, name: 'wall', expiresMs: null, usesLeft: null },
    });
    const wall = access.comeIn(token, 'x');
    access.revoke(visitor, entry.id);
    expect(access.who(wall.cookie)).toBeNull();
    expect(revoked.sort()).toEqual([entry.id, wall.visitor.id].sort());
    expect(() => access.comeIn(token, 'x')).toThrow(/not good/);
  });
});

test('after ten wrong tries each costs more, up to half a minute, and the right one is still taken', () => {
  const guess = () => {
    try {
      access.signIn(`guess-${nowMs}-of-twenty-and-more`, 'x');
      return 'in';
    } catch (error) {
      return (error as { code: string }).code;
    }
  };
  expect(Array.from({ length: 10 }, guess)).toEqual(Array(10).fill('access.token'));
  const waits: number[] = [];
  for (let n = 0; n < 8; n++) {
    let seconds = 0;
    while (guess() === 'access.slow') {
      nowMs += 500;
      seconds += 0.5;
    }
    waits.push(seconds);
  }
  expect(waits).toEqual([1, 2, 4, 8, 16, 30, 30, 30]);
  expect(guess()).toBe('access.slow');
  expect(access.signIn(OWNER, 'x').visitor.role).toBe('owner');
  expect(guess()).toBe('access.token');
});

test.each([
  [
    'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/142.0 Safari/537.36',
    'Chromium or Chrome on Linux',
  ],
  [
    'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 Version/18.0 Mobile Safari/604.1',
    'Safari on iOS',
  ],
  ['Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0', 'Firefox on Windows'],
  ['<script>alert(1)</script>', 'A program'],
  ['', 'A program'],
])('a browser is called by a name of ours: %s', (agent, name) => expect(browserName(agent)).toBe(name));
