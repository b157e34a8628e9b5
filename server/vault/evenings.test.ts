import { momentWords } from '../../core/delivery/evening';
import { documentAt, stateAt } from '../../core/programme/moment';
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { documentOf, findRecord } from '../../core/show/document';
import { CUT } from '../../core/show/motion-records';
import { sampleScene, sampleShow } from '../../core/show/sample-show';
import type { DeskHealth } from '../../protocol/relay-orders';
import path from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import type { LineTest } from '../../protocol/vault';
import type { DestinationStatus, RelayStatus } from '../../protocol/relay-orders';
import { openDatabase, type Database } from '../db/database';
import { LateWrites } from '../db/late-writes';
import { createLog } from '../log';
import { EveningLog } from './evening-log';
import { EveningRepository } from './evening-repository';
import { LineTestRepository } from './line-test-repository';

let database: Database;
let evenings: EveningRepository;
let nowMs: number;
let log: EveningLog;

beforeEach(() => {
  database = openDatabase(':memory:', path.resolve(import.meta.dirname, '../../db/migrations'));
  evenings = new EveningRepository(database);
  nowMs = 1_000_000;
  log = new EveningLog(
    evenings,
    new LateWrites(database, createLog('test')),
    () => nowMs,
    () => ({
      lastSeq: () => 7,
      countsAfter: (seq) => ({ chat: seq, events: 2 }),
    }),
  );
});
afterEach(() => database.close());

const talk = sampleScene('talk', { name: 'Talk' });
const SHOW = documentOf([sampleShow, talk]);
const ON_AIR = { ...NO_PROGRAMME, onAir: { sceneId: 'talk', poseId: null, sinceMs: 1 } };
const hutNine = () => ({ id: 'e', showId: 's', startedMs: nowMs, title: 'Hut Nine' });

type Session = NonNullable<RelayStatus['session']>;
const larch = (state: DestinationStatus['state'], message = ''): DestinationStatus => ({
  id: 'larch',
  name: 'Larch',
  frame: 'wide',
  encode: 'wide',
  state,
  message,
  kbps: 1500,
  framesSent: 10,
  framesDropped: 3,
  reconnects: 0,
  lagMs: 20,
  line: 'clear',
  delaySeconds: 0,
});
const session = (more: Partial<Session> = {}): Session => ({
  id: 'e',
  state: 'live',
  startedAtMs: 1,
  message: '',
  secondsToFinish: 0,
  coverReady: true,
  coverHeld: false,
  destinations: [larch('live')],
  recording: null,
  lookback: null,
  line: { cause: 'none', shares: {} },
  seconds: 1,
  awaySeconds: 0,
  received: { video: 1, audio: 1, kbps: 1600 },
  sent: null,
  ...more,
});
const kinds = () => evenings.moments('e').map(({ moment }) => moment.kind);

test('an evening notes changes once and figures every five seconds', () => {
  log.begin(hutNine(), SHOW, ON_AIR);
  for (let second = 0; second < 11; second++) {
    log.look(session(), null, 30);
    nowMs += 1000;
  }
  expect(kinds()).toEqual(['begin', 'scene', 'destination', 'sample', 'sample', 'sample']);
  expect(evenings.reached('e', 'Larch')).toBe(true);
  expect(evenings.reached('e', 'Cairn')).toBe(false);
  log.look(session({ destinations: [larch('unreachable', 'the connection was lost')] }), null, 30);
  log.look(
    session({ destinations: [larch('connecting')], line: { cause: 'line', shares: { wide: 0.5 } } }),
    null,
    30,
  );
  log.look(
    session({ state: 'covered', message: 'The desk is gone', line: { cause: 'line', shares: {} } }),
    null,
    30,
  );
  expect(kinds().slice(6)).toEqual(['destination', 'destination', 'line', 'destination', 'session']);
  log.end();
  log.moment({ kind: 'marker', words: 'too late' });
  expect(kinds().at(-1)).toBe('end');
  expect(evenings.find('e')?.endedMs).toBe(nowMs);
});

test('an evening notes when the computer was short of time, and when it was over', () => {
  log.begin(hutNine(), SHOW, NO_PROGRAMME);
  const words = () =>
    evenings.moments('e').flatMap(({ moment }) => (moment.kind === 'pace' ? momentWords(moment) : []));
  const look = (pace: number, planned = 30, scale = 1) =>
    log.look(session(), { pace, scale } as DeskHealth, planned);
  for (const pace of [0, 30, 15, 15, 10, 30, 30]) look(pace);
  expect(words()).toEqual([
    'Computer overloaded: 15 of 30 fps',
    'Computer overloaded: 10 of 30 fps',
    'Back at 30 fps',
  ]);
  for (const scale of [0.75, 0.75, 1]) look(30, 30, scale);
  expect(words().slice(3)).toEqual([
    'Computer overloaded: 30 of 30 fps, drawn at 75% of its size',
    'Back at 30 fps',
  ]);
  // Another plan is no shortage.
  look(25, 25);
  log.look(session(), null, 30);
  expect(words()).toHaveLength(5);
});

const health = (run: string, more: Partial<DeskHealth> = {}) =>
  ({
    ...{ run, skipped: 0, leftOut: 0, lineDropped: 0, pace: 30, fps: 30 },
    ...{ lufs: -16, integratedLufs: null, loudnessBlocks: 0 },
    ...more,
  }) as DeskHealth;

test('the report adds up over a page that is closed and a server that is started anew', () => {
  log.begin(hutNine(), SHOW, NO_PROGRAMME);
  let seconds = 0;
  const look = (by: EveningLog, awaySeconds: number, told: DeskHealth | null) => {
    seconds += 6;
    nowMs += 6000;
    by.look(session({ seconds, awaySeconds }), told, 30);
  };
  const first = { skipped: 233, integratedLufs: -18, loudnessBlocks: 50 };
  look(log, 0, health('a', first));
  look(log, 5, null);
  look(log, 8, health('b', { skipped: 1 }));
  const again = new EveningLog(
    evenings,
    new LateWrites(database, createLog('test')),
    () => nowMs,
    log.audience,
  );
  again.resume('e', 's', 7);
  look(again, 8, health('b', { skipped: 2 }));
  again.end();
  expect(evenings.summary(evenings.find('e')!)).toMatchObject({
    due: 24 * 30,
    lost: { machine: 235, encoder: 0, line: 0, away: 240 },
    integratedLufs: -18,
  });
});

test('one that was begun already is gone on with, not begun again', () => {
  log.begin(hutNine(), SHOW, NO_PROGRAMME);
  const again = new EveningLog(
    evenings,
    new LateWrites(database, createLog('test')),
    () => nowMs,
    () => ({
      lastSeq: () => 99,
      countsAfter: () => ({ chat: 0, events: 0 }),
    }),
  );
  again.begin(hutNine(), SHOW, NO_PROGRAMME);
  expect(kinds()).toEqual(['begin']);
  again.resume('e', 's', 7);
  expect(again.fromSeq).toBe(7);
  again.moment({ kind: 'marker', words: 'good one' });
  expect(evenings.summary(evenings.find('e')!).markers).toBeDefined();
  expect(evenings.list('s').map((e) => e.title)).toEqual(['Hut Nine']);
  evenings.remove('e');
  expect([evenings.list('s'), kinds()]).toEqual([[], []]);
});

test('without an evening nothing is written', () => {
  log.look(session(), null, 30);
  log.moment({ kind: 'marker', words: '' });
  log.end();
  expect(database.prepare('SELECT count(*) AS n FROM evening_moment').get()).toEqual({ n: 0 });
});

test('of line tests the fifty newest for each server are kept', () => {
  const tests = new LineTestRepository(database);
  const of = (server: string, n: number): LineTest =>
    ({
      id: `${server}-${n}`,
      destinationId: 'larch',
      server,
      atMs: n,
      kbps: 1000 + n,
    }) as unknown as LineTest;
  for (let n = 0; n < 60; n++) tests.add('s', of('Valley', n));
  tests.add('s', of('Far ridge', 100));
  tests.add('other', of('Valley', 1000));
  const list = tests.list('s');
  expect(list).toHaveLength(51);
  expect(list[0]).toMatchObject({ server: 'Far ridge', kbps: 1100 });
  expect(list.at(-1)).toMatchObject({ server: 'Valley', atMs: 10 });
});

test('any moment can be told again, whatever the show has become since', () => {
  const startedMs = nowMs;
  log.begin(hutNine(), SHOW, ON_AIR);
  nowMs += 2000;
  log.edited(8, {
    put: [{ ...talk, name: 'Long talk' }, sampleScene('play', { name: 'Play' })],
    removed: [],
  });
  nowMs += 1000;
  const take = { type: 'take', sceneId: 'play', poseId: null, transition: CUT } as const;
  const entry = { seq: 1, atMs: nowMs, revision: 8, by: 'page', commands: [take] } as const;
  log.programme(entry);
  log.programme(entry);
  nowMs += 1000;
  log.edited(9, { put: [], removed: ['talk'] });
  log.end();
  log.edited(10, { put: [], removed: ['play'] });
  const told = evenings.told(evenings.find('e')!)!;
  expect(told.edits.map(({ revision }) => revision)).toEqual([8, 9]);
  const at = (ms: number) => {
    const document = documentAt(told, startedMs + ms);
    const { onAir } = stateAt(told, startedMs + ms);
    return [findRecord(document, 'scene', 'talk')?.name, findRecord(document, 'scene', onAir!.sceneId)?.name];
  };
  expect([at(0), at(2500), at(3500), at(4500)]).toEqual([
    ['Talk', 'Talk'],
    ['Long talk', 'Long talk'],
    ['Long talk', 'Play'],
    [undefined, 'Play'],
  ]);
  evenings.remove('e');
  expect(database.prepare('SELECT count(*) AS n FROM evening_edit').get()).toEqual({ n: 0 });
});

test('a broadcast of a version that kept no show has no moments', () => {
  evenings.begin(hutNine());
  expect(evenings.told(evenings.find('e')!)).toBeNull();
});
