import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import Sqlite from 'better-sqlite3';
import { Webhook } from 'standardwebhooks';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { Incoming } from '../../core/audience/events';
import { sampleEvent, sampleGoal, sampleMessage } from '../../core/audience/sample-audience';
import { START_AUDIENCE } from '../../core/audience/settings';
import type { AudienceFromServer } from '../../protocol/audience-bus';
import { openDatabase, type Database } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { AudienceHub } from './audience-hub';
import { ChatServerRepository } from './chat-server-repository';
import { EntryRepository, searchExpression } from './entry-repository';
import { HookDoor } from './hook-door';
import { HookRepository } from './hook-repository';
import { emotesOf } from './irc-client';

const MIGRATIONS = path.resolve('db/migrations');
const closing: (() => void)[] = [];
afterEach(() => closing.splice(0).forEach((close) => close()));

function addShow(to: Database): void {
  to.prepare(
    "INSERT INTO show (id, show_id, name, position, data) VALUES ('show', 'show', 'Night', 0, '{}')",
  ).run();
}

function database(): Database {
  const opened = openDatabase(':memory:', MIGRATIONS);
  closing.push(() => opened.close());
  addShow(opened);
  return opened;
}

function hub(db = database(), goals = [sampleGoal()]) {
  const said: AudienceFromServer[] = [];
  const troubles: unknown[] = [];
  const made = new AudienceHub({
    entries: new EntryRepository(db, 'show'),
    say: (message) => said.push(message),
    counting: () => ({ goals, settings: START_AUDIENCE }),
    now: () => 2_000_000,
    onViewers: () => {},
    onRejection: () => {},
    onTrouble: (error) => troubles.push(error),
    onSetAside: () => {},
  });
  return { hub: made, said, troubles, entries: made.parts.entries };
}

describe('the hub', () => {
  test('what comes twice is passed on once; numbers rise; nothing is lost in a storm', () => {
    const { hub: it, said } = hub();
    const events = Array.from({ length: 1000 }, () => sampleMessage('x'));
    for (const event of [...events, ...events]) it.take(event);
    it.flush();
    const passed = said.flatMap((m) => (m.type === 'audience' ? m.events : []));
    expect(passed.map((e) => e.id)).toEqual(events.map((e) => e.id));
    expect(passed.every((e, i) => i === 0 || e.seq > passed[i - 1].seq)).toBe(true);
    it.take(events[5]);
    it.flush();
    expect(said.flatMap((m) => (m.type === 'audience' ? m.events : []))).toHaveLength(1000);
  });

  test('what a locked database does not take is kept, in order, and moderation with it', () => {
    vi.useFakeTimers();
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-locked-'));
    const file = path.join(folder, 'a.sqlite');
    const db = openDatabase(file, MIGRATIONS);
    addShow(db);
    db.pragma('busy_timeout = 0');
    const other = new Sqlite(file);
    closing.push(() => {
      other.close();
      db.close();
      rmSync(folder, { recursive: true });
      vi.useRealTimers();
    });
    const { hub: it, said, troubles, entries } = hub(db);
    other.exec('BEGIN IMMEDIATE');
    const events = Array.from({ length: 5 }, (_, i) => sampleMessage('x', { id: `m${i}` }));
    it.take(events[0]);
    it.take(events[1]);
    vi.advanceTimersByTime(100);
    it.take({ type: 'removed', platform: 'larch', id: 'm1', atMs: 1 });
    it.take(events[2]);
    vi.advanceTimersByTime(5000);
    expect(troubles.length).toBeGreaterThan(3);
    // It left the picture already.
    expect(said.map((m) => m.type)).toEqual(['moderation']);
    other.exec('COMMIT');
    vi.advanceTimersByTime(1100);
    expect(said.map((m) => m.type)).toEqual(['moderation', 'audience', 'moderation']);
    const passed = said.flatMap((m) => (m.type === 'audience' ? m.events : []));
    expect(passed.map((e) => e.id)).toEqual(['m0', 'm1', 'm2']);
    expect(entries.newestChat(10).map((m) => m.id)).toEqual(['m0', 'm2']);
    const told = troubles.length;
    it.take(events[3]);
    vi.advanceTimersByTime(5000);
    expect(troubles).toHaveLength(told);
    expect(entries.newestChat(10).map((m) => m.id)).toEqual(['m0', 'm2', 'm3']);
  });

  test('one event that can never be kept is set aside with its reason; the others go on, also when the database is locked meanwhile', () => {
    const { hub: it, said, troubles, entries } = hub();
    const aside: string[] = [];
    Object.assign(it.parts, { onSetAside: ({ id }: { id: string }) => aside.push(id) });
    const [first, last] = [sampleMessage('x'), sampleMessage('y')];
    for (const event of [first, sampleMessage('z', { id: 'odd', atMs: Number.NaN }), last]) it.take(event);
    it.flush();
    const passed = () => said.flatMap((m) => (m.type === 'audience' ? m.events.map((e) => e.id) : []));
    expect(passed()).toEqual([first.id, last.id]);
    expect([aside, troubles]).toEqual([['odd'], []]);
    expect(it.rejections).toMatchObject([{ source: 'larch', count: 1 }]);
    expect(it.rejections[0].reason).toMatch(/could not be kept: NOT NULL/);
    // A database that gives up in the middle of going one by one takes none of them: all come again.
    const [a, c] = [sampleMessage('a'), sampleMessage('c')];
    const add = entries.add.bind(entries);
    entries.add = (events) => {
      if (events.length === 1 && events[0].id === c.id)
        throw new Sqlite.SqliteError('database is locked', 'SQLITE_BUSY');
      return add(events);
    };
    for (const event of [a, sampleMessage('b', { id: 'odd-2', atMs: Number.NaN }), c]) it.take(event);
    it.flush();
    expect(passed()).toEqual([first.id, last.id]);
    entries.add = add;
    it.flush();
    expect(passed()).toEqual([first.id, last.id, a.id, c.id]);
    it.close();
  });

  test('a flood goes out in fewer messages, a single event at once', () => {
    vi.useFakeTimers();
    closing.push(() => vi.useRealTimers());
    let now = 0;
    const { hub: it, said } = hub();
    Object.assign(it.parts, { now: () => now });
    const run = (perSecond: number, seconds: number) => {
      said.length = 0;
      for (let i = 0; i < perSecond * seconds; i++) {
        it.take(sampleMessage('x'));
        now += 1000 / perSecond;
        vi.advanceTimersByTime(1000 / perSecond);
      }
      return said.length / seconds;
    };
    expect(run(10, 3)).toBe(10);
    expect(run(200, 4)).toBeLessThan(25);
    // A chat that goes on calmly is told at once again.
    run(5, 3);
    said.length = 0;
    it.take(sampleMessage('x'));
    vi.advanceTimersByTime(16);
    expect(said).toHaveLength(1);
  });

  test('after a restart the book is as it was, and a goal that is new counts what was before', () => {
    const db = database();
    const first = hub(db);
    const give = (minor: number) =>
      sampleEvent('donation', { atMs: 3_000_000, money: { currency: 'EUR', minor } });
    for (const event of [give(500), sampleMessage('hi', { atMs: 3_000_000 }), give(700)])
      first.hub.take(event);
    const bookOf = (it: AudienceHub) => {
      const message = it.greeting()[0];
      if (message.type !== 'book') throw new Error('no book');
      return message;
    };
    const before = bookOf(first.hub);
    const again = bookOf(hub(db).hub);
    expect(again.book).toEqual(before.book);
    expect(again.chat.map((m) => m.text)).toEqual(['hi']);
    expect(bookOf(hub(db, [sampleGoal({ id: 'new' })]).hub).book.goals).toEqual([['new', 1200]]);
    first.hub.beginEvening();
    expect(bookOf(first.hub).book).toMatchObject({ sinceMs: 2_000_000, goals: [['goal-roof', 1200]] });
  });

  test('a removed message leaves list, picture and read-out, also when both come at once', () => {
    const { hub: it, said, entries } = hub();
    const message = sampleMessage('rude', { atMs: 1000 });
    it.take(message);
    it.readOut('show', 1);
    it.take({ type: 'removed', platform: 'larch', id: message.id, atMs: 2000 });
    expect(said.at(-1)).toMatchObject({ type: 'readOut', readOut: { shown: null } });
    expect(said.some((m) => m.type === 'moderation')).toBe(true);
    expect(entries.find(1)).toMatchObject({ hidden: true });
    expect(entries.newestChat(10)).toEqual([]);
  });

  test('read-out: show, queue, next, previous, clear', () => {
    const { hub: it, said } = hub();
    for (const text of ['a', 'b', 'c']) it.take(sampleMessage(text));
    const shown = () => {
      const message = said.filter((m) => m.type === 'readOut').at(-1);
      return message?.type === 'readOut'
        ? [message.readOut.shown?.text ?? null, message.readOut.queue.length]
        : null;
    };
    it.readOut('show', 1);
    expect(shown()).toEqual(['a', 0]);
    it.readOut('queue', 2);
    it.readOut('queue', 2);
    it.readOut('queue', 3);
    expect(shown()).toEqual(['a', 2]);
    it.readOut('next', null);
    expect(shown()).toEqual(['b', 1]);
    it.readOut('previous', null);
    expect(shown()).toEqual(['a', 2]);
    it.readOut('clear', null);
    expect(shown()).toEqual([null, 2]);
    it.readOut('show', 999);
    expect(shown()).toEqual([null, 2]);
  });
});

describe('the list', () => {
  test('search, kinds, platforms, pages, marks, notes', () => {
    const entries = new EntryRepository(database(), 'show');
    entries.add([
      sampleMessage('the left spur floods', { viewer: 'Quarry.Kid' }),
      sampleMessage('snow on the pass', { platform: 'cairn' }),
      sampleEvent('donation', {
        viewer: 'mossbell',
        message: 'for the röof',
        money: { currency: 'EUR', minor: 1 },
      }),
      ...Array.from({ length: 150 }, (_, i) => sampleMessage(`line ${i}`)),
    ]);
    const page = (more: Partial<Parameters<EntryRepository['page']>[0]>) =>
      entries
        .page({ search: '', show: 'all', platform: '', before: null, after: null, ...more })
        .map((e) => e.event.seq);
    expect(page({ search: 'flo spur' })).toEqual([1]);
    expect(page({ search: 'quarry' })).toEqual([1]);
    expect(page({ search: 'roof' })).toEqual([3]);
    expect(page({ search: '"; DROP TABLE x; --' })).toEqual([]);
    expect(page({ search: '***' })).toEqual([]);
    expect(page({ platform: 'cairn' })).toEqual([2]);
    expect(page({ show: 'events' })).toEqual([3]);
    const last = page({});
    expect([last.length, last.at(-1)]).toEqual([40, 153]);
    const older = page({ before: last[0] });
    expect([older.length, older.at(-1)]).toEqual([25, last[0] - 1]);
    expect(page({ before: 4 })).toEqual([1, 2, 3]);
    expect(page({ after: older.at(-1)! })).toEqual(last.slice(0, 25));
    expect(page({ after: 151 })).toEqual([152, 153]);
    expect(page({ after: 153 })).toEqual([]);
    const found = page({ search: 'line' });
    expect(page({ search: 'line', before: found[0] })).toEqual(older);
    expect(page({ search: 'line', after: older.at(-1)! })).toEqual(found.slice(0, 25));
    entries.mark(3, 'done');
    entries.mark(1, 'pinned');
    expect([page({ show: 'open' }), page({ show: 'pinned' })]).toEqual([[], [1]]);
    entries.setNote('larch', 'MossBell', 'keeps bees');
    expect(entries.note('larch', 'mossbell')).toBe('keeps bees');
    expect(searchExpression('a OR "b')).toBe('"a"* "OR"* "b"*');
  });
});

describe('chat servers', () => {
  test('are kept; their passwords go in, are used, and do not come out with the rest', () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-chat-'));
    closing.push(() => rmSync(folder, { recursive: true }));
    const db = database();
    const servers = new ChatServerRepository(db, new SecretRepository(db, path.join(folder, 'key')), 'show');
    const server = {
      id: 's',
      name: 'hut',
      host: 'irc.hut.example',
      port: 6697,
      tls: true,
      nick: 'box',
      channels: ['#a', '#b'],
    };
    servers.put(server, 'lamp oil', 1);
    expect(servers.list()).toEqual([server]);
    expect(JSON.stringify(servers.list())).not.toContain('lamp oil');
    servers.put({ ...server, port: 6667, tls: false }, null, 2);
    expect([servers.password('s'), servers.list()[0].port]).toEqual(['lamp oil', 6667]);
    servers.put(server, '', 3);
    expect(servers.password('s')).toBeNull();
    servers.remove('s');
    expect(servers.list()).toEqual([]);
  });
});

describe('hooks', () => {
  function door() {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-hooks-'));
    closing.push(() => rmSync(folder, { recursive: true }));
    const db = database();
    const hooks = new HookRepository(db, new SecretRepository(db, path.join(folder, 'key')));
    const taken: Incoming[] = [];
    const refused: string[] = [];
    const made = new HookDoor(
      hooks,
      (_, incoming) => taken.push(...incoming),
      (_, reason) => refused.push(reason),
      Date.now,
    );
    const { hook, secret } = hooks.create('show', 'Till', Date.now());
    const call = (
      body: string,
      change: Record<string, string> = {},
      atMs = Date.now(),
      id: string = crypto.randomUUID(),
    ) => {
      const stamp = new Date(atMs);
      const headers: Record<string, string> = {
        'content-type': 'application/cloudevents+json',
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(stamp.getTime() / 1000)),
        'webhook-signature': new Webhook(secret).sign(id, stamp, body),
        ...change,
      };
      return made.call(hook.id, (name) => headers[name], body);
    };
    /** The opening of a connection. */
    const open = (id: string = crypto.randomUUID(), by = secret) => {
      const stamp = new Date();
      const headers: Record<string, string> = {
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(stamp.getTime() / 1000)),
        'webhook-signature': new Webhook(by).sign(id, stamp, ''),
      };
      return made.opening(hook.id, (name) => headers[name]);
    };
    return { door: made, hooks, hook, secret, taken, refused, call, open };
  }
  const body = JSON.stringify({
    specversion: '1.0',
    id: '1',
    source: 'till',
    type: 'live.order',
    data: { viewer: 'a', title: 'mug' },
  });

  test('a signed call is taken in', () => {
    const { call, taken } = door();
    expect(call(body)).toEqual({ status: 202, body: { taken: 1, problems: [] } });
    expect(taken).toMatchObject([{ type: 'order', platform: 'Till', title: 'mug' }]);
  });

  test('the signature is that of the published example of the specification', () => {
    // Standard Webhooks, "Verifying webhook authenticity": key, id, stamp and payload of the reference implementations' tests.
    const signed = new Webhook('whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw').sign(
      'msg_p5jXN8AQM9LWM0D4loKWxJek',
      new Date(1_614_265_330_000),
      '{"test": 2432232314}',
    );
    expect(signed).toBe('v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=');
  });

  test.each([
    ['forged', { 'webhook-signature': 'v1,AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA=' }, 0],
    ['not signed', { 'webhook-signature': '' }, 0],
    ['with another id than signed', { 'webhook-id': 'other' }, 0],
    ['too old', {}, -6 * 60_000],
    ['from the future', {}, 6 * 60_000],
  ])('%s: refused, counted, nothing taken', (_, change, off) => {
    const { call, taken, refused } = door();
    expect(call(body, change, Date.now() + off).status).toBe(401);
    expect(taken).toEqual([]);
    expect(refused).toHaveLength(1);
  });

  test('the same call again is not taken again', () => {
    const { call, taken } = door();
    const now = Date.now();
    expect(call(body, {}, now, 'same').status).toBe(202);
    expect(call(body, {}, now, 'same')).toMatchObject({ status: 200, body: { taken: 0 } });
    expect(taken).toHaveLength(1);
  });

  test('half a batch: what is good is taken, what is not is named', () => {
    const { call, taken } = door();
    const good = JSON.parse(body) as object;
    const batch = JSON.stringify([good, { ...good, data: {} }]);
    const answer = call(batch, { 'content-type': 'application/cloudevents-batch+json' });
    expect(answer).toMatchObject({
      status: 202,
      body: { taken: 1, problems: [expect.stringContaining('viewer')] },
    });
    expect(taken).toHaveLength(1);
  });

  test('a flood is told to come again', () => {
    vi.useFakeTimers({ now: 1_800_000_000_000 });
    closing.push(() => vi.useRealTimers());
    const { call, taken } = door();
    const answers = Array.from({ length: 130 }, () => call(body).status);
    expect(answers.filter((s) => s === 429)).toHaveLength(30);
    expect(taken).toHaveLength(100);
  });

  test('a connection is opened by a signature that is good once', () => {
    const { open, refused } = door();
    expect(open('one')).toBeNull();
    expect(open('one')).toMatchObject({ status: 401, body: { code: 'hook.replayed' } });
    expect(open('two', 'whsec_' + Buffer.alloc(32).toString('base64'))).toMatchObject({ status: 401 });
    // A signature that was not good does not use up its number.
    expect(open('two')).toBeNull();
    expect(refused).toHaveLength(2);
  });

  test('connections end with the hook or its secret; no more of them than a program needs', () => {
    const { door: it, hook, open, hooks } = door();
    const closed: string[] = [];
    const connection = (name: string) => ({ close: () => void closed.push(name) });
    it.connected(hook.id, connection('a'));
    const left = it.connected(hook.id, connection('b'));
    left();
    it.shut(hook.id);
    expect(closed).toEqual(['a']);
    for (const name of ['c', 'd', 'e', 'f']) it.connected(hook.id, connection(name));
    expect(open()).toMatchObject({ status: 429 });
    hooks.remove(hook.id);
    const late = connection('late');
    it.message(hook.id, late, body);
    expect(closed).toEqual(['a', 'late']);
  });

  test('a burst over a connection is cut off at a hundred a second; one that goes on is closed', () => {
    const { door: it, hook, taken, refused } = door();
    Object.assign(it, { now: () => 5000 });
    let closed = 0;
    const connection = { close: () => void (closed += 1) };
    for (let i = 0; i < 1000; i++) it.message(hook.id, connection, body);
    expect([taken.length, refused.length, closed]).toEqual([100, 900, 0]);
    it.message(hook.id, connection, body);
    expect(closed).toBe(1);
    Object.assign(it, { now: () => 6000 });
    it.message(hook.id, connection, '{');
    it.message(hook.id, connection, body);
    expect([taken.length, refused.at(-1)]).toEqual([101, 'Till sent something that is not JSON']);
  });

  test('a new secret makes the old one worthless, a removed hook is gone', () => {
    const { hooks, hook, call } = door();
    const second = hooks.renew(hook.id, Date.now());
    expect(second).toMatch(/^whsec_/);
    expect(call(body).status).toBe(401);
    hooks.remove(hook.id);
    expect(call(body).status).toBe(404);
  });
});

test('emote ranges that are no ranges are left out', () => {
  expect(emotesOf('bell:0-5,9-12/../a b:1-2/snow:x-y/:1-2/train:3-9')).toEqual([
    { from: 0, to: 5, id: 'bell' },
    { from: 9, to: 12, id: 'bell' },
    { from: 3, to: 9, id: 'train' },
  ]);
});
