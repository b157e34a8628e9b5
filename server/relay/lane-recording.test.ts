import { mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { ALL_ROOM, type RecordingRoom } from '../../core/delivery/recording-room';
import type { RecordedPicture } from '../../core/delivery/settings';
import type { MediaPacket } from '../../core/media/interleaver';
import type { RecordOrder } from '../../protocol/relay-orders';
import { DrivenClock } from '../../core/time/driven-clock';
import { LaneRecording } from './lane-recording';
import type { RecordingConfig } from './recorder';

const NOW = Date.UTC(2026, 10, 23, 20, 15, 30);
const CONFIG: RecordingConfig = {
  video: {
    facts: { codec: 'avc1.42001e', width: 640, height: 360, fps: 30, kbps: 1000 },
    codecConfig: Uint8Array.of(1, 0x42, 0, 0x1e, 0xff, 0xe1, 0, 4, 0x67, 0x42, 0, 0x1e, 1, 0, 3, 0x68, 1, 2),
  },
  audio: {
    facts: {
      ...{ codec: 'mp4a.40.2', sampleRate: 48_000, channels: 2, kbps: 128 },
      ...{ soundTrack: 1, name: 'Programme', tracksBeside: 0 },
    },
    codecConfig: Uint8Array.of(0x11, 0x90),
  },
  tracks: [],
};

let folder: string;
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-lane-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const recording = (picture: RecordedPicture, order: RecordOrder | null, into = folder) =>
  new LaneRecording(
    { folder: into, sessionId: '0123456789ab', picture, order, tracks: true },
    new DrivenClock(NOW),
  );
const order = (pattern: string, splitMinutes = 0, splitMb = 0): RecordOrder => ({
  ...{ frames: ['wide', 'tall', 'clean'], splitMinutes, splitMb, pattern },
});
const picture = (seconds: number, keyframe: boolean): MediaPacket => ({
  ...{ track: 'video', keyframe, durationUs: 33_333 },
  timestampUs: seconds * 1e6,
  payload: Uint8Array.of(0, 0, 0, 2, keyframe ? 0x65 : 0x41, 1),
});

test.each<[RecordedPicture, RecordOrder | null, string]>([
  ['wide', null, '2026-11-23T20-15-30-01234567.mkv'],
  ['tall', null, '2026-11-23T20-15-30-01234567-tall.mkv'],
  ['wide', order('{date} {time} Night {frame}'), '2026-11-23 20-15-30 Night wide 01234567.mkv'],
  ['clean', order('{date} Night {frame}'), '2026-11-23 Night clean 01234567.mkv'],
  // Without the picture in its name two of them would fall on one.
  ['tall', order('Night'), 'Night tall 01234567.mkv'],
  ['clean', order('Night'), 'Night clean 01234567.mkv'],
  ['wide', order('Night'), 'Night 01234567.mkv'],
])('%s, by %o, is called %s', async (of, by, name) => {
  const lane = recording(of, by);
  lane.begin(CONFIG);
  await lane.end();
  expect(lane.files).toEqual([name]);
  expect(readdirSync(folder)).toEqual([name]);
});

test('a new part begins with the first keyframe after the time is up, after a pause, and with other headers', async () => {
  const lane = recording('wide', order('Night', 1));
  lane.begin(CONFIG);
  for (let s = 0; s <= 130; s++) lane.add(picture(s, s % 2 === 0));
  expect(lane.files).toEqual(['Night 01234567.mkv', 'Night 01234567-2.mkv', 'Night 01234567-3.mkv']);
  lane.pause(true);
  expect(lane.recorder).toBeNull();
  lane.add(picture(132, true));
  lane.pause(false);
  // Not in the middle of a group.
  lane.add(picture(133, false));
  expect(lane.recorder).toBeNull();
  lane.add(picture(134, true));
  expect(lane.files).toHaveLength(4);
  lane.begin({ ...CONFIG });
  expect(lane.files).toHaveLength(5);
  await lane.end();
  expect(readdirSync(folder)).toHaveLength(5);
});

test('a new part begins with the first keyframe after a file has its size', async () => {
  const lane = recording('wide', order('Night', 0, 1));
  lane.begin(CONFIG);
  // 100 kB a picture, a keyframe every fifth: 1 MB is there after ten.
  const large = (n: number): MediaPacket => ({
    ...picture(n / 10, n % 5 === 0),
    payload: Uint8Array.from({ length: 100_000 }, (_, i) => (i < 4 ? [0, 1, 0x86, 0x9c][i] : 0x41)),
  });
  for (let n = 0; n < 40; n++) lane.add(large(n));
  await lane.end();
  const sizes = lane.files.map((file) => statSync(path.join(folder, file)).size);
  expect(sizes.length).toBeGreaterThanOrEqual(3);
  for (const size of sizes.slice(0, -1)) {
    expect(size).toBeGreaterThanOrEqual(1e6);
    expect(size).toBeLessThan(1.7e6);
  }
});

test('a file or folder that is deleted while it is written is followed by a new one with the next keyframe', async () => {
  const lane = recording('wide', order('Night'));
  lane.begin(CONFIG);
  for (let s = 0; s <= 4; s++) lane.add(picture(s, s % 2 === 0));
  rmSync(folder, { recursive: true });
  lane.add(picture(5, false));
  expect(lane.files).toHaveLength(1);
  for (let s = 6; s <= 12; s++) lane.add(picture(s, s % 2 === 0));
  await lane.end();
  expect(lane.files).toHaveLength(2);
  expect(readdirSync(folder)).toEqual([lane.files[1]]);
  expect(statSync(path.join(folder, lane.files[1])).size).toBeGreaterThan(200);
});

test('a pause before anything came keeps the folder empty', async () => {
  const lane = recording('wide', order('Night'));
  lane.pause(true);
  lane.begin(CONFIG);
  lane.add(picture(0, true));
  await lane.end();
  expect(readdirSync(folder)).toEqual([]);
});

test('a folder that cannot be made is said, and nothing throws', async () => {
  const lane = recording('wide', order('Night'), '/dev/null/nowhere');
  lane.begin(CONFIG);
  lane.add(picture(0, true));
  expect(lane.recorder!.message).not.toBe('');
  await lane.end();
});

describe('while the disk fills up', () => {
  const room = (more: Partial<RecordingRoom> = {}): RecordingRoom => ({ ...ALL_ROOM, ...more });
  const WITH_TRACKS: RecordingConfig = {
    ...CONFIG,
    tracks: [{ ...CONFIG.audio, facts: { ...CONFIG.audio.facts, soundTrack: 2, name: 'Voices' } }],
  };

  test('the tracks go with a file of their own, and come back with another; the clean picture stops and begins', async () => {
    const wide = recording('wide', order('Night'));
    const clean = recording('clean', order('Night'));
    for (const lane of [wide, clean]) lane.begin(WITH_TRACKS);
    const step = (seconds: number, now: RecordingRoom) => {
      for (const lane of [wide, clean]) {
        lane.setRoom(now);
        lane.add(picture(seconds, true));
      }
      return [
        wide.recorder?.tracks.length ?? null,
        wide.files.length,
        clean.recorder === null,
        clean.files.length,
      ];
    };
    expect(step(0, room())).toEqual([1, 1, false, 1]);
    expect(step(2, room({ tracks: false }))).toEqual([0, 2, false, 2]);
    expect(step(4, room({ tracks: false, clean: false }))).toEqual([0, 2, true, 2]);
    expect(step(6, room({ tracks: false, clean: false }))).toEqual([0, 2, true, 2]);
    expect(step(8, room())).toEqual([1, 3, false, 3]);
    await Promise.all([wide.end(), clean.end()]);
  });

  test('one that stopped begins again where there is room, with a keyframe, and not more often than every ten seconds', async () => {
    const clock = new DrivenClock(NOW);
    const into = path.join(folder, 'gone');
    writeFileSync(into, 'a file where the folder should be');
    const lane = new LaneRecording(
      { folder: into, sessionId: '0123456789ab', picture: 'wide', order: order('Night'), tracks: true },
      clock,
    );
    lane.begin(CONFIG);
    expect(lane.recorder!.message).toMatch(/^Recording stopped/);
    lane.setRoom(room({ resume: false }));
    lane.add(picture(0, true));
    expect(lane.files).toHaveLength(1);
    lane.setRoom(room());
    lane.add(picture(1, false));
    expect(lane.files).toHaveLength(1);
    lane.add(picture(2, true));
    expect([lane.files.length, lane.recorder!.message === '']).toEqual([2, false]);
    rmSync(into);
    lane.setRoom(room());
    lane.add(picture(4, true));
    expect(lane.files).toHaveLength(2);
    clock.advance(10_000);
    lane.setRoom(room());
    lane.add(picture(6, true));
    expect([lane.files.length, lane.recorder!.message]).toEqual([3, '']);
    await lane.end();
    expect(readdirSync(into)).toEqual(['Night 01234567-3.mkv']);
  });
});
