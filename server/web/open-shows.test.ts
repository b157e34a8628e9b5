import { EventEmitter } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { WebSocket } from 'ws';
import { sampleMessage } from '../../core/audience/sample-audience';
import type { LayerRecord, SceneRecord, ShowRecord } from '../../core/show/records';
import { sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import type { BusFromServer } from '../../protocol/bus';
import { openDatabase, type Database } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { SettingRepository } from '../db/setting-repository';
import { ShowRepository } from '../db/show-repository';
import { OpenShows } from './open-shows';

let folder: string;
let database: Database;
let shows: ShowRepository;
let open: OpenShows;
let onAir: string | null;
let empty: number;
const edited: string[] = [];

beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-open-'));
  database = openDatabase(':memory:', path.resolve(import.meta.dirname, '../../db/migrations'));
  shows = new ShowRepository(database);
  for (const id of ['one', 'two']) {
    const mine = { showId: id };
    shows.create([
      { ...sampleShow, id, name: `Show ${id}`, ...mine } as ShowRecord,
      { ...sampleScene(`${id}-scene`), ...mine } as SceneRecord,
      { ...sampleLayer(`${id}-layer`, `${id}-scene`, 0), ...mine } as LayerRecord,
    ]);
  }
  onAir = null;
  empty = 0;
  edited.length = 0;
  open = new OpenShows({
    settings: new SettingRepository(database),
    shows,
    database,
    secrets: new SecretRepository(database, path.join(folder, 'key')),
    feeds: () => [],
    chats: () => [],
    chatLogin: () => Promise.reject(new Error('nobody is signed in')),
    token: () => Promise.reject(new Error('nobody is signed in')),
    log: pino({ level: 'silent' }),
    writes: { do: (write) => write() },
    guests: {
      standing: () => ({
        ...{ show: null, onAir: 'off', scene: null, startedAtMs: null, nowMs: 0 },
        ...{ destinations: [], desk: false },
      }),
      ice: () => [],
      sendOut: () => undefined,
    },
    greet: () => [],
    edited: (show) => edited.push(show.id),
    programmeChanged: () => {},
    onAir: () => onAir,
    empty: () => (empty += 1),
  });
});
afterEach(() => {
  open.close();
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

class FakeSocket extends EventEmitter {
  readonly OPEN = 1;
  readyState = 1;
  said: BusFromServer[] = [];
  send(text: string): void {
    this.said.push(JSON.parse(text) as BusFromServer);
  }
  terminate(): void {
    this.emit('close');
  }
}

function page(showId: string): FakeSocket {
  const socket = new FakeSocket();
  open.use(showId, 1).bus.accept(socket as unknown as WebSocket, 'owner');
  return socket;
}
const told = (socket: FakeSocket) => socket.said.flatMap((m) => (m.type === 'edit' ? m.change : []));
const layer = (showId: string) => open.get(showId).document.get(`${showId}-layer`) as LayerRecord;

test('an edit is told to every page of its show, in order, and to no page of another', () => {
  const [a, b, other] = [page('one'), page('one'), page('two')];
  const before = layer('one');
  const rename = { id: 'e1', name: 'Rename', put: [{ ...before, name: 'Lamp' }], removed: [] };
  expect(open.get('one').edit(rename, [before])).toEqual({ revision: 1, gone: [] });
  open.get('one').edit({ id: 'e2', name: 'Remove', put: [], removed: ['one-scene'] }, []);
  for (const socket of [a, b]) {
    expect(told(socket).map(({ revision, id }) => [revision, id])).toEqual([
      [1, 'e1'],
      [2, 'e2'],
    ]);
    // All that went with the scene.
    expect(new Set(told(socket)[1].removed)).toEqual(new Set(['one-scene', 'one-layer']));
  }
  expect(told(other)).toEqual([]);
  expect(edited).toEqual(['one', 'one']);
  expect(shows.document('one').size).toBe(1);
  expect(layer('two').name).toBe('two-layer');
});

test('an edit sent twice counts once, also when the show was closed meanwhile', () => {
  const before = layer('one');
  const edit = { id: 'e1', name: 'Rename', put: [{ ...before, name: 'Lamp' }], removed: [] };
  expect(open.get('one').edit(edit, [before]).revision).toBe(1);
  open.drop('one');
  expect(open.get('one').edit(edit, [before]).revision).toBe(1);
  expect(open.get('one').revision).toBe(1);
});

test('what came together from two windows is checked as a whole, and refused when it is no good record', () => {
  const show = open.get('one').document.get('one') as ShowRecord;
  const edit = { id: 'e1', name: 'x', put: [{ ...show, fields: { 'not a name!': 'x' } }], removed: [] };
  expect(() => open.get('one').edit(edit, [show])).toThrow(/not a name/);
  expect(() => open.get('one').edit({ ...edit, id: 'e2', put: [{ ...layer('two') }] }, [])).toThrow(
    /another show/,
  );
  expect(open.get('one').revision).toBe(0);
  expect(open.get('one').document.get('one')).toEqual(show);
});

test('what viewers did in one show is not in the other', () => {
  const message = sampleMessage('hello');
  for (const id of ['one', 'two']) {
    open.get(id).audience.hub.take(message);
    open.get(id).audience.hub.flush();
  }
  open.get('one').audience.hub.take(sampleMessage('only here'));
  open.get('one').audience.hub.flush();
  const all = { search: '', show: 'all', platform: '', before: null, after: null } as const;
  const words = (id: string) =>
    open
      .get(id)
      .audience.entries.page(all)
      .map(({ event }) => event.type === 'chat' && event.text);
  expect(words('one')).toEqual(['hello', 'only here']);
  expect(words('two')).toEqual(['hello']);
  open.get('one').audience.hub.beginEvening();
  expect(open.get('two').audience.entries.lastSeq()).toBe(2);
  open.drop('one');
  shows.stamp('one', 'removed', 1);
  shows.sweep(2);
  expect(words('two')).toEqual(['hello']);
});

test('the one that was used last and the one on air stay open; a deleted one is gone, and its pages are told', () => {
  onAir = 'one';
  page('one').terminate();
  const second = page('two');
  expect(open.all().map((show) => show.id)).toEqual(['one', 'two']);
  onAir = null;
  const first = page('one');
  first.terminate();
  page('two');
  // Nobody works on it, it is not on air, and another was used since.
  expect(open.find('one')).toBeNull();
  open.drop('two');
  shows.stamp('two', 'removed', 1);
  expect(second.said.some((m) => m.type === 'showGone')).toBe(true);
  expect(() => open.get('two')).toThrow(/not here any more/);
  expect(() => open.get('nothing')).toThrow(/not here any more/);
});

test('one that somebody asked for who never came, such as a webhook, is closed again', () => {
  vi.useFakeTimers();
  try {
    open.use('one', 1);
    open.get('two');
    vi.advanceTimersByTime(5 * 60_000 + 1);
    expect(open.all().map((show) => show.id)).toEqual(['one']);
  } finally {
    vi.useRealTimers();
  }
});
