import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { CUT } from '../../core/show/motion-records';
import { momentWords, type EveningMoment } from '../../core/delivery/evening';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import { documentOf } from '../../core/show/document';
import type { AnyRecord, PlanRecord } from '../../core/show/records';
import { sampleShow } from '../../core/show/sample-show';
import { EventEmitter } from 'node:events';
import pino from 'pino';
import { describe, expect, test, vi } from 'vitest';
import type { WebSocket } from 'ws';
import type { BusFromPage, BusFromServer } from '../../protocol/bus';
import type { RelayStatus } from '../../protocol/relay-orders';
import { Broadcast } from './broadcast';
import { BusServer } from './bus-server';

const log = pino({ level: 'silent' });

/** As much of a WebSocket as the bus uses. */
class FakeSocket extends EventEmitter {
  readonly OPEN = 1;
  readyState = 1;
  said: BusFromServer[] = [];
  closedWith: number | null = null;
  send(text: string): void {
    this.said.push(JSON.parse(text) as BusFromServer);
  }
  ping(): void {}
  terminate(): void {
    this.emit('close');
  }
  close(code: number): void {
    this.closedWith = code;
  }
  tell(message: BusFromPage | string): void {
    this.emit('message', Buffer.from(typeof message === 'string' ? message : JSON.stringify(message)));
  }
  get lease(): BusFromServer | undefined {
    return this.said.filter((m) => m.type === 'lease').at(-1);
  }
}

function open(bus: BusServer, visitorId = 'owner'): FakeSocket {
  const socket = new FakeSocket();
  bus.accept(socket as unknown as WebSocket, visitorId);
  return socket;
}

describe('the lease', () => {
  const make = () => {
    const scenes: string[] = [];
    return {
      bus: new BusServer(
        log,
        () => [],
        (message) => {
          if (message.type === 'programme') scenes.push(message.state.onAir!.sceneId);
        },
      ),
      scenes,
    };
  };
  const taken = (sceneId: string): BusFromPage => ({
    type: 'programme',
    entry: {
      ...{ seq: 1, atMs: 1000, revision: 1, by: 'page' },
      commands: [{ type: 'take', sceneId, poseId: null, transition: CUT }],
    },
    state: { ...NO_PROGRAMME, seq: 1, onAir: { sceneId, poseId: null, sinceMs: 1000 } },
  });
  const claim = (deskId: string, takeOver = false): BusFromPage => ({ type: 'claim', deskId, takeOver });

  test('goes to the first, passes on when it is gone or somebody takes over, and comes back to a reload', () => {
    const { bus } = make();
    const first = open(bus);
    const second = open(bus);
    first.tell(claim('desk-one-1'));
    second.tell(claim('desk-two-2'));
    expect(first.lease).toEqual({ type: 'lease', held: true, byOther: false });
    expect(second.lease).toEqual({ type: 'lease', held: false, byOther: true });
    second.tell(claim('desk-two-2', true));
    expect(first.lease).toMatchObject({ held: false, byOther: true });
    expect(second.lease).toMatchObject({ held: true });
    const reloaded = open(bus);
    reloaded.tell(claim('desk-two-2'));
    expect(reloaded.lease).toMatchObject({ held: true });
    reloaded.terminate();
    expect(first.lease).toMatchObject({ held: false, byOther: false });
    first.tell(claim('desk-one-1'));
    expect(first.lease).toMatchObject({ held: true });
    bus.close();
  });

  test('only its holder says what is on air; garbage closes the connection', () => {
    const { bus, scenes } = make();
    const desk = open(bus);
    const other = open(bus);
    desk.tell(claim('desk-one-1'));
    other.tell(taken('sc-x'));
    desk.tell(taken('sc-game'));
    expect(scenes).toEqual(['sc-game']);
    other.tell('{');
    expect(other.closedWith).toBe(1008);
    desk.tell('{"type":"claim"}');
    expect(desk.closedWith).toBe(1008);
    bus.close();
  });

  test('who is revoked is sent out at once, and nobody else', () => {
    const { bus } = make();
    const [stays, goes] = [open(bus, 'a'), open(bus, 'b')];
    bus.sendOut(['b', 'c']);
    expect([stays.closedWith, goes.closedWith]).toEqual([null, 1008]);
    bus.close();
  });
});

describe('broadcast', () => {
  function setUp() {
    const stored = new Map<string, string>();
    const sessions: string[] = [];
    const moments: EveningMoment[] = [];
    let records: AnyRecord[] = [];
    let known: string | null = null;
    let gone = false;
    /** Seconds that delayed destinations are behind when the broadcast is finished. */
    let behind = 0;
    let finishing = false;
    const answer = async (): Promise<RelayStatus & { pid: number }> => {
      if (gone) throw new Error('connection refused');
      return {
        pid: 1,
        session:
          known === null
            ? null
            : ({
                id: known,
                state: !finishing ? 'live' : behind > 0 ? 'finishing' : 'ended',
                secondsToFinish: behind,
                destinations: [],
              } as unknown as RelayStatus['session']),
      };
    };
    const relay = {
      status: answer,
      begin: async (order: { sessionId: string }) => {
        if (gone) throw new Error('connection refused');
        known = order.sessionId;
        sessions.push(order.sessionId);
        return answer();
      },
      finish: async () => {
        finishing = true;
        return answer();
      },
      end: async () => {
        known = null;
        finishing = false;
        return answer();
      },
    };
    /** @param writesWait gets what is to be written, while the database takes nothing */
    const make = (writesWait?: (() => void)[]) =>
      new Broadcast({
        relay: relay as never,
        uplinkUrl: 'ws://127.0.0.1:1/uplink',
        shows: { document: () => documentOf(records), programme: () => NO_PROGRAMME } as never,
        evening: {
          id: null,
          begin: () => undefined,
          resume: () => undefined,
          end: () => undefined,
          look: () => undefined,
          moment: (moment: EveningMoment) => moments.push(moment),
        } as never,
        announcer: {} as never,
        accounts: { prepare: () => Promise.resolve(), announce: () => Promise.resolve(false) },
        scratchFolder: '/nowhere',
        rehearsalUrl: null,
        health: () => null,
        ended: () => undefined,
        writes: { do: (write: () => void) => void (writesWait ? writesWait.push(write) : write()) },
        secrets: {
          set: (k: string, v: string) => stored.set(k, v),
          get: (k: string) => stored.get(k) ?? null,
          remove: (k: string) => stored.delete(k),
        } as never,
        recordings: {
          place: { usable: '/nowhere', problem: null },
          scan: async () => undefined,
        } as never,
        log,
        now: Date.now,
        changed: () => undefined,
      });
    return {
      make,
      stored,
      sessions,
      moments,
      setRecords: (of: AnyRecord[]) => (records = of),
      forget: () => (known = null),
      setBehind: (seconds: number) => (behind = seconds),
      setGone: (value: boolean) => (gone = value),
    };
  }

  test('a database that takes nothing holds up neither the beginning nor the end', async () => {
    vi.useFakeTimers();
    const t = setUp();
    const held: (() => void)[] = [];
    const broadcast = t.make(held);
    await broadcast.start('show', 'http://127.0.0.1:1');
    expect([broadcast.state.state, t.stored.size]).toEqual(['on', 0]);
    await broadcast.stop();
    expect([broadcast.state.state, t.sessions.length]).toEqual(['off', 1]);
    // Done late and in order, nothing of it is left: no later start of the server takes it up again.
    for (const write of held) write();
    expect(t.stored.size).toBe(0);
    broadcast.close();
    vi.useRealTimers();
  });

  test('the files of a broadcast that is over are entered later when they cannot be at once', async () => {
    vi.useFakeTimers();
    const t = setUp();
    let locked = true;
    const scanned: string[] = [];
    const ended: string[] = [];
    const broadcast = t.make();
    Object.assign(broadcast.options.recordings, {
      scan: async (showId: string) => {
        if (locked) throw new Error('database is locked');
        scanned.push(showId);
      },
    });
    broadcast.options.ended = (showId) => void ended.push(showId);
    await broadcast.start('show', 'http://127.0.0.1:1');
    await broadcast.stop();
    expect([broadcast.state.state, scanned]).toEqual(['off', []]);
    await vi.advanceTimersByTimeAsync(6000);
    locked = false;
    await vi.advanceTimersByTimeAsync(6000);
    expect([scanned, ended]).toEqual([['show'], ['show']]);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(scanned).toEqual(['show']);
    broadcast.close();
    vi.useRealTimers();
  });

  test('starts once, and ends; the wish to stop holds without a relay too', async () => {
    vi.useFakeTimers();
    const t = setUp();
    const broadcast = t.make();
    await broadcast.start('show', 'http://127.0.0.1:1');
    expect(broadcast.state.state).toBe('on');
    await expect(broadcast.start('show', 'http://127.0.0.1:1')).rejects.toThrow(/on already/);
    await broadcast.stop();
    expect(broadcast.state).toEqual({ state: 'off', elsewhere: null });
    expect(t.stored.size).toBe(0);
    broadcast.close();
    vi.useRealTimers();
  });

  test('a relay that forgot is opened anew with the same session; one that is gone is said, and taken up again', async () => {
    vi.useFakeTimers();
    const t = setUp();
    const broadcast = t.make();
    const order = await broadcast.start('show', 'http://127.0.0.1:1');
    t.forget();
    await vi.advanceTimersByTimeAsync(1100);
    expect(t.sessions).toEqual([order.sessionId, order.sessionId]);
    t.setGone(true);
    await vi.advanceTimersByTimeAsync(1100);
    expect(broadcast.state.state).toBe('relayGone');
    t.setGone(false);
    t.forget();
    await vi.advanceTimersByTimeAsync(1100);
    expect(broadcast.state.state).toBe('on');
    expect(t.sessions).toHaveLength(3);
    broadcast.close();
    vi.useRealTimers();
  });

  test('the last seconds of a delay go out before it is off; nothing new begins meanwhile; they can be cut off', async () => {
    vi.useFakeTimers({ now: 50_000 });
    const t = setUp();
    const broadcast = t.make();
    await broadcast.finish();
    expect(broadcast.state.state).toBe('off');
    // Nobody is behind: it is over at once.
    await broadcast.start('show', 'http://127.0.0.1:1');
    await broadcast.finish();
    expect(broadcast.state.state).toBe('off');

    await broadcast.start('show', 'http://127.0.0.1:1');
    t.setBehind(20);
    await broadcast.finish();
    expect(broadcast.state).toEqual({ state: 'ending', endsAtMs: 70_000 });
    expect(t.stored.size).toBe(0);
    await expect(broadcast.start('show', 'http://127.0.0.1:1')).rejects.toThrow(/cut them off first/);
    await vi.advanceTimersByTimeAsync(1100);
    expect(broadcast.state.state).toBe('ending');
    t.setBehind(0);
    await vi.advanceTimersByTimeAsync(1100);
    expect(broadcast.state).toEqual({ state: 'off', elsewhere: null });

    await broadcast.start('show', 'http://127.0.0.1:1');
    t.setBehind(20);
    await broadcast.finish();
    await broadcast.stop();
    expect(broadcast.state).toEqual({ state: 'off', elsewhere: null });
    broadcast.close();
    vi.useRealTimers();
  });

  test('a plan that was changed counts when somebody says so: for every window, and after a restart', async () => {
    vi.useFakeTimers();
    const t = setUp();
    const broadcast = t.make();
    expect(() => broadcast.changePlan('show')).toThrow('nothing is on air');
    const plan: PlanRecord = {
      ...{ kind: 'plan', id: 'plan', showId: 'show', name: 'Home', position: 0, ...PLAIN_PLAN },
      frames: { wide: { width: 1280, height: 720, videoKbps: 3000 } },
    };
    t.setRecords([sampleShow, plan]);
    await broadcast.start('show', 'http://127.0.0.1:1');
    const before = broadcast.state;
    expect(before).toMatchObject({ encodes: [{ width: 1280 }], encoding: { fps: 30 } });
    const smaller = { wide: { width: 640, height: 360, videoKbps: 900 } };
    t.setRecords([sampleShow, { ...plan, fps: 25, frames: smaller }]);
    expect(broadcast.state).toEqual(before);
    broadcast.changePlan('show');
    const sent = {
      encodes: [{ id: 'wide', width: 640, height: 360, videoKbps: 900 }],
      encoding: { fps: 25, keyframeSeconds: 2, effort: 'quick' },
    };
    expect(broadcast.state).toMatchObject(sent);
    expect(t.moments.map(momentWords)).toEqual(['Sent from now on: 640×360 at 900 kbps, 25 fps']);
    broadcast.close();
    const second = t.make();
    second.resume();
    expect(second.state).toMatchObject(sent);
    t.setRecords([sampleShow]);
    expect(() => second.changePlan('show')).toThrow('no delivery plan');
    second.close();
    vi.useRealTimers();
  });

  test('a restarted web server takes a running broadcast up again', async () => {
    vi.useFakeTimers();
    const t = setUp();
    const first = t.make();
    const order = await first.start('show', 'http://127.0.0.1:1');
    first.close();
    const second = t.make();
    second.resume();
    expect(second.state).toMatchObject({ state: 'on', sessionId: order.sessionId, ticket: order.ticket });
    second.close();
    vi.useRealTimers();
  });
});
