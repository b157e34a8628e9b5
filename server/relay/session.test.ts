import { mkdtempSync, rmSync, statSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { MatroskaReader } from '../../core/media/matroska-reader';
import { DrivenClock } from '../../core/time/driven-clock';
import type { DestinationOrder } from '../../protocol/relay-orders';
import type { ConfigMessage, PacketMessage } from '../../protocol/uplink';
import { openSource } from '../vault/fast-mp4';
import { Session } from './session';

/** A minute configuration record: one sequence and one picture parameter set. */
const AVC = Uint8Array.of(1, 0x42, 0, 0x1e, 0xff, 0xe1, 0, 4, 0x67, 0x42, 0, 0x1e, 1, 0, 3, 0x68, 1, 2);
const AAC = Uint8Array.of(0x11, 0x90);
const FRAME_US = 33_333;

const video = (cover = false): ConfigMessage => ({
  ...{ type: 'config', cover, track: 'video', encode: 'wide', codecConfig: AVC },
  facts: { codec: 'avc1.42001e', width: 640, height: 360, fps: 30, kbps: 1000 },
});
const audio = (cover = false, tracksBeside = 0): ConfigMessage => ({
  ...{ type: 'config', cover, track: 'audio', codecConfig: AAC },
  facts: {
    ...{ codec: 'mp4a.40.2', sampleRate: 48_000, channels: 2, kbps: 128 },
    ...{ soundTrack: 1, name: 'Programme', tracksBeside },
  },
});
const picture = (keyframe: boolean, bytes = 40) => {
  const nal = new Uint8Array(4 + bytes);
  nal.set([0, 0, 0, bytes, keyframe ? 0x65 : 0x41]);
  return nal;
};

let clock: DrivenClock;
let session: Session;
let sequence: number;
let n: number;

beforeEach(() => {
  clock = new DrivenClock(1_000_000);
  sequence = 0;
  n = 0;
});
afterEach(async () => {
  await session.end();
  // Whoever ends leaves no timer behind but that of the goodbye.
  clock.advance(2000);
  expect(clock.waiting).toBe(0);
});

function open(more: Partial<Session['order']> = {}): Session {
  session = new Session(
    {
      sessionId: 's-1',
      ticket: 't'.repeat(24),
      origin: 'http://127.0.0.1',
      destinations: [],
      recordingFolder: null,
      lookbackSeconds: 60,
      ...more,
    },
    clock,
    Math.random,
  );
  session.hello('desk-1');
  return session;
}

const packet = (track: 'video' | 'audio', timestampUs: number, keyframe: boolean): PacketMessage => ({
  type: 'packet',
  sequence: (sequence += 1),
  cover: false,
  encode: 'wide',
  packet: {
    ...{ track, timestampUs, keyframe },
    durationUs: track === 'video' ? FRAME_US : 21_333,
    payload: track === 'video' ? picture(keyframe) : Uint8Array.of(1, 2, 3),
  },
});

/** Sends so many pictures with sound, a keyframe every second, while time goes on. */
function play(pictures: number): void {
  for (let i = 0; i < pictures; i++, n++) {
    session.packet(packet('audio', n * FRAME_US, true));
    session.packet(packet('video', n * FRAME_US, n % 30 === 0));
    clock.advance(FRAME_US / 1000);
  }
}

function sendCover(): void {
  session.config(video(true));
  session.config(audio(true));
  for (let i = 0; i < 30; i++)
    session.packet({ ...packet('video', i * FRAME_US, i === 0), cover: true, sequence: 0 });
  session.packet({ ...packet('audio', 0, true), cover: true, sequence: 0 });
  sequence = 0;
  session.coverComplete('wide');
}

describe('what the desk sends', () => {
  test('goes out from the first keyframe on that has both configurations', () => {
    open();
    session.packet(packet('video', 0, true));
    expect(session.state).toBe('waiting');
    session.config(video());
    session.packet(packet('video', FRAME_US, true));
    expect(session.state).toBe('waiting');
    session.config(audio());
    session.packet(packet('video', 2 * FRAME_US, false));
    expect(session.state).toBe('waiting');
    n = 30;
    play(10);
    expect(session.state).toBe('live');
    const { startedAtMs, received, sent, seconds } = session.status()!;
    expect(startedAtMs).toBe(1_000_000);
    expect(received.video).toBe(13);
    expect(sent?.timestampUs).toBe(39 * FRAME_US);
    expect(seconds).toBeGreaterThan(0.25);
  });

  test('what is sent again is counted once; after a gap everything waits for a keyframe', () => {
    open();
    session.config(video());
    session.config(audio());
    play(40);
    const before = session.status()!.received.video;
    session.packet({ ...packet('video', 0, true), sequence: 5 });
    expect(session.status()!.received.video).toBe(before);
    expect(session.lastSequence).toBe(80);
    sequence += 10;
    play(15);
    const { sent } = session.status()!;
    expect(sent!.timestampUs).toBeLessThan(40 * FRAME_US);
    play(10);
    expect(session.status()!.sent!.timestampUs).toBeGreaterThan(60 * FRAME_US);
  });

  test('damaged configurations and pictures are refused, and nothing else stops', () => {
    open();
    expect(() =>
      session.config({ ...video(), codecConfig: Uint8Array.of(1, 2, 3) } as ConfigMessage),
    ).toThrow('H.264');
    session.config(video());
    session.config(audio());
    const wrong = packet('video', 0, true);
    expect(() => session.packet({ ...wrong, packet: { ...wrong.packet, payload: picture(false) } })).toThrow(
      'no IDR',
    );
    sequence = 0;
    play(5);
    expect(session.state).toBe('live');
  });

  test('the desk that comes back is told where it was; another one begins anew', () => {
    open();
    session.config(video());
    session.config(audio());
    play(10);
    expect(session.hello('desk-1')).toEqual({ lastSequence: 20, fresh: false });
    expect(session.hello('desk-2')).toEqual({ lastSequence: 0, fresh: false });
  });
});

describe('while the desk is away', () => {
  test('without a cover it is said; with one it is played, and the desk comes back on a keyframe', () => {
    open();
    session.config(video());
    session.config(audio());
    play(40);
    clock.advance(1500);
    expect(session.state).toBe('away');
    expect(session.status()!.message).toContain('no cover');
    sendCover();
    clock.advance(200);
    expect(session.state).toBe('covered');
    const at = session.status()!.seconds;
    clock.advance(3000);
    expect(session.status()!.seconds - at).toBeGreaterThan(2.5);
    expect(session.hello('desk-2')).toMatchObject({ lastSequence: 0 });
    session.config(video());
    session.config(audio());
    n = 15;
    play(10);
    expect(session.state).toBe('covered');
    play(10);
    expect(session.state).toBe('live');
    expect(session.status()!.message).toBe('');
  });
});

test('a cover that becomes whole while one plays waits: a recording takes nothing from the past', async () => {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-session-'));
  try {
    open({ recordingFolder: folder });
    session.config(video());
    session.config(audio());
    sendCover();
    play(40);
    clock.advance(3000);
    expect(session.state).toBe('covered');
    session.hello('desk-2');
    session.config(video());
    session.config(audio());
    // The new desk's cover is there before its first keyframe.
    sendCover();
    for (let i = 0; i < 10; i++) clock.advance(100);
    [sequence, n] = [0, 0];
    play(60);
    expect(session.state).toBe('live');
    // It is the new one that plays from then on.
    clock.advance(3000);
    expect(session.state).toBe('covered');
    const { recording } = session.status()!;
    // What is written is written step by step, after what came before it.
    await vi.waitFor(() => expect(statSync(recording!.file).size).toBeGreaterThan(3000));
    await session.end();
    expect(session.status()!.recording!.files).toHaveLength(1);
    const source = openSource(recording!.file);
    const at = [...new MatroskaReader(source).samples()].map(({ ms }) => ms / 1000);
    source.close();
    expect(at.at(-1)).toBeGreaterThan(8);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

describe('how long no desk was seen', () => {
  /** As an independent count has it: time of the broadcast that is not a picture of the desk. */
  const away = () => session.status()!.awaySeconds;
  const again = (source: string) => {
    session.hello(source);
    session.config(video());
    session.config(audio());
    [sequence, n] = [0, 0];
  };

  test('is the time between the last picture of one and the first of the next, whatever was shown meanwhile', () => {
    open();
    session.config(video());
    session.config(audio());
    sendCover();
    play(40);
    expect(away()).toBe(0);
    clock.advance(3000);
    expect(session.state).toBe('covered');
    expect(away()).toBeGreaterThan(2.8);
    again('desk-2');
    play(60);
    expect(session.state).toBe('live');
    const first = away();
    // At each change some pictures still wait for their sound, and are never sent.
    const beside = (pictures: number) => Math.abs(away() - (session.status()!.seconds - pictures / 30));
    expect(beside(100)).toBeLessThan(0.1);
    // One that comes within the second before a cover would.
    clock.advance(700);
    again('desk-3');
    play(60);
    expect(away() - first).toBeGreaterThan(0.6);
    expect(beside(160)).toBeLessThan(0.2);
  });

  test('does not count a cover by hand, but the desk that leaves under it after it is taken off', () => {
    open();
    session.config(video());
    session.config(audio());
    sendCover();
    play(40);
    session.cover(true);
    play(90);
    expect(away()).toBeLessThan(0.1);
    session.cover(false);
    clock.advance(2000);
    expect(away()).toBeCloseTo(2, 0);
  });
});

describe('the cover by hand', () => {
  test('comes at once, stays while the desk goes on, and the desk is back with its next keyframe', () => {
    open();
    expect(() => session.cover(true)).toThrow('no cover yet');
    session.config(video());
    session.config(audio());
    sendCover();
    play(40);
    session.cover(true);
    expect([session.state, session.status()!.coverHeld]).toEqual(['covered', true]);
    const { timestampUs } = session.status()!.sent!;
    play(60);
    expect(session.state).toBe('covered');
    // Everything is acknowledged, nothing of it is seen.
    expect(session.lastSequence).toBe(200);
    expect(session.status()!.sent!.timestampUs).toBeLessThan(timestampUs + 3e6);
    session.cover(false);
    expect(session.status()).toMatchObject({ coverHeld: false, message: '' });
    play(15);
    expect(session.state).toBe('covered');
    play(10);
    expect(session.state).toBe('live');
    session.cover(false);
    expect(session.state).toBe('live');
  });

  test('while it is on the desk may go and come; taken off without a desk it stays, and that is said', () => {
    open();
    session.config(video());
    session.config(audio());
    sendCover();
    play(40);
    session.cover(true);
    clock.advance(5000);
    session.hello('desk-2');
    session.config(video());
    session.config(audio());
    sequence = 0;
    n = 0;
    play(20);
    expect(session.state).toBe('covered');
    clock.advance(5000);
    session.cover(false);
    expect(session.state).toBe('covered');
    expect(session.status()!.message).toContain('The desk is gone');
  });

  test('a relay that was started anew does not lift it', () => {
    open({ covered: true });
    session.config(video());
    session.config(audio());
    play(40);
    expect(session.state).toBe('waiting');
    const at = sequence;
    sendCover();
    sequence = at;
    play(5);
    expect(session.state).toBe('covered');
    session.cover(false);
    play(40);
    expect(session.state).toBe('live');
  });
});

describe('destinations', () => {
  const order = (more: Partial<DestinationOrder> = {}): DestinationOrder => ({
    ...{ id: 'd', name: 'Larch', frame: 'wide', url: 'rtmp://127.0.0.1:9/live', key: 'k' },
    ...more,
  });
  const names = () => session.status()!.destinations.map((d) => [d.id, d.name, d.encode]);

  test('the same order again leaves one alone, another one replaces it, and each is in one lane only', () => {
    open({ destinations: [order()] });
    const spy = vi.spyOn(session, 'removeDestination');
    session.addDestination(order({ name: 'Larch, second part' }));
    expect(spy).not.toHaveBeenCalled();
    expect(names()).toEqual([['d', 'Larch, second part', 'wide']]);
    for (const change of [
      { key: 'other' },
      { encode: 'wide-2' as const },
      { delaySeconds: 5 },
      { reencode: { width: 320, height: 180, videoKbps: 300, careful: false } },
    ]) {
      spy.mockClear();
      session.addDestination(order(change));
      expect(spy).toHaveBeenCalledOnce();
      expect(names()).toHaveLength(1);
    }
    session.removeDestination('d');
    expect(names()).toEqual([]);
    session.removeDestination('d');
  });
});

describe('the end', () => {
  test('without delayed destinations it is over at once, also twice', async () => {
    open();
    session.config(video());
    session.config(audio());
    play(40);
    await session.finish();
    expect(session.state).toBe('ended');
    await session.end();
    await session.finish();
    expect(session.state).toBe('ended');
  });

  test('with one that is behind it goes on as long as that is behind, and takes nothing new', async () => {
    open({
      destinations: [
        {
          ...{ id: 'd', name: 'Late', frame: 'wide', url: 'rtmp://127.0.0.1:9/live', key: 'k' },
          delaySeconds: 4,
        },
      ],
    });
    session.config(video());
    session.config(audio());
    play(90);
    await session.finish();
    expect(session.state).toBe('finishing');
    expect(session.status()!.secondsToFinish).toBeCloseTo(4, 0);
    // The last seconds are no broadcast any more that could be covered.
    expect(() => session.cover(true)).toThrow('is over');
    const { received } = session.status()!;
    play(10);
    expect(session.status()!.received.video).toBe(received.video);
    clock.advance(2000);
    expect(session.status()!.secondsToFinish).toBeLessThan(2);
    clock.advance(2500);
    expect(session.state).toBe('ended');
  });
});

describe('looking back', () => {
  test('says how far, and that there is nothing before anything was sent', async () => {
    open();
    await expect(
      session.keep({ fromSecondsAgo: 10, toSecondsAgo: 0, frames: ['wide'], folder: '/nowhere', name: 'x' }),
    ).rejects.toThrow('nothing to keep yet');
    session.config(video());
    session.config(audio());
    play(90);
    const { lookback, line } = session.status()!;
    expect(lookback).toMatchObject({ maxSeconds: 60, diskBytes: 0, message: '' });
    expect(lookback!.seconds).toBeCloseTo(3, 0);
    expect(lookback!.memoryBytes).toBeGreaterThan(90 * 40);
    expect(line).toEqual({ cause: 'none', shares: {} });
  });

  test('is off when it is not wanted', () => {
    open({ lookbackSeconds: 0 });
    expect(session.status()!.lookback).toBeNull();
  });
});
