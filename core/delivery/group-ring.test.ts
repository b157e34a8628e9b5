import { describe, expect, test } from 'vitest';
import { packetsFromBytes, packetsToBytes } from '../media/packet-bytes';
import { GroupRing, type GroupStore, type RingPacket } from './group-ring';

class MemoryStore implements GroupStore<number> {
  readonly kept = new Map<number, Uint8Array>();
  full = false;
  #next = 0;
  write(packets: readonly RingPacket[]): number {
    if (this.full) throw new Error('the disk is full');
    this.kept.set(++this.#next, packetsToBytes(packets));
    return this.#next;
  }
  read(ref: number): RingPacket[] {
    return packetsFromBytes(this.kept.get(ref)!);
  }
  drop(ref: number): void {
    this.kept.delete(ref);
  }
}

const SECOND = 1e6;

/** Groups of two seconds, ten pictures and some sound each. */
function fill(ring: GroupRing<number>, seconds: number, fromSecond = 0): RingPacket[] {
  const all: RingPacket[] = [];
  for (let i = fromSecond * 5; i < (fromSecond + seconds) * 5; i++) {
    const timestampUs = i * 200_000;
    all.push({
      track: 'video',
      keyframe: i % 10 === 0,
      timestampUs,
      durationUs: 200_000,
      payload: new Uint8Array(100).fill(i % 251),
      headers: 0,
    });
    all.push({
      track: 'audio',
      keyframe: true,
      timestampUs: timestampUs + 1000,
      durationUs: 21_333,
      payload: new Uint8Array(10).fill(i % 251),
      headers: 0,
    });
  }
  for (const packet of all) ring.add(packet);
  return all;
}

describe('what went out lately', () => {
  test('is given back from the keyframe at or before a moment, byte for byte, from memory and from the store', () => {
    const store = new MemoryStore();
    const ring = new GroupRing(30 * SECOND, 3000, store);
    const all = fill(ring, 20);
    expect(store.kept.size).toBeGreaterThan(5);
    const got = [...ring.range(5 * SECOND, 13 * SECOND)];
    expect(got).toEqual(all.filter((p) => p.timestampUs >= 4 * SECOND && p.timestampUs < 13 * SECOND));
    expect(got[0]).toMatchObject({ track: 'video', keyframe: true });
  });

  test('stays within its bound of memory and its span', () => {
    const store = new MemoryStore();
    const ring = new GroupRing(10 * SECOND, 3000, store);
    for (let i = 0; i < 30; i++) {
      fill(ring, 10, i * 10);
      expect(ring.memoryBytes).toBeLessThanOrEqual(3000 + 1100);
      expect(ring.endUs - ring.startUs!).toBeLessThanOrEqual(14 * SECOND);
    }
    expect(store.kept.size).toBeLessThan(8);
    ring.clear();
    expect([ring.memoryBytes, ring.storedBytes, store.kept.size]).toEqual([0, 0, 0]);
  });

  test('before the first keyframe there is nothing to show', () => {
    const ring = new GroupRing(10 * SECOND, 3000, new MemoryStore());
    ring.add({
      track: 'audio',
      keyframe: true,
      timestampUs: 0,
      durationUs: 1,
      payload: new Uint8Array(1),
      headers: 0,
    });
    expect(ring.startUs).toBeNull();
    expect([...ring.range(0, SECOND)]).toEqual([]);
    expect(ring.groupAt(0)).toBeNull();
  });

  test('a full disk costs the past, says so, and comes back', () => {
    const store = new MemoryStore();
    const ring = new GroupRing(30 * SECOND, 3000, store);
    store.full = true;
    fill(ring, 20);
    expect(ring.problem).toBe('the disk is full');
    expect(ring.memoryBytes).toBeLessThanOrEqual(4200);
    // What is left is still whole.
    expect([...ring.range(0, 20 * SECOND)][0]).toMatchObject({ keyframe: true });
    store.full = false;
    fill(ring, 20, 20);
    expect(ring.problem).toBe('');
  });

  test('goes on for somebody who reads slowly while the oldest is forgotten', () => {
    const ring = new GroupRing(8 * SECOND, 100_000, new MemoryStore());
    fill(ring, 8);
    const reader = ring.range(0, 40 * SECOND);
    expect(reader.next().value).toMatchObject({ timestampUs: 0 });
    fill(ring, 30, 8);
    const stamps = [...reader].map((p) => p.timestampUs);
    expect([...stamps].sort((a, b) => a - b)).toEqual(stamps);
  });
});

test('packets put aside come back as they were; damaged ones are refused', () => {
  const packets: RingPacket[] = [
    {
      track: 'video',
      keyframe: true,
      timestampUs: 123456789012,
      durationUs: 33333,
      payload: new Uint8Array([1, 2, 3]),
      headers: 4,
    },
    {
      track: 'audio',
      soundTrack: 3,
      keyframe: true,
      timestampUs: 5,
      durationUs: 21333,
      payload: new Uint8Array([9]),
      headers: 0,
    },
  ];
  const bytes = packetsToBytes(packets);
  expect(packetsFromBytes(bytes)).toEqual(packets);
  for (const length of [1, 19, bytes.length - 1])
    expect(() => packetsFromBytes(bytes.subarray(0, length))).toThrow(/damaged/);
});

test('a stretch over other headers is told in parts, each with headers of one kind', () => {
  const ring = new GroupRing<number>(60 * SECOND, 1e9, new MemoryStore());
  const add = (second: number, headers: number, keyframe = true) =>
    ring.add({
      ...{ track: 'video', keyframe, timestampUs: second * SECOND, durationUs: SECOND },
      ...{ payload: new Uint8Array(10), headers },
    });
  for (const [second, headers] of [
    [0, 0],
    [2, 0],
    [4, 1],
    [6, 1],
    [8, 0],
  ]) {
    add(second, headers);
    add(second + 1, headers, false);
  }
  expect(ring.runs(0, Infinity)).toEqual([
    { headers: 0, fromUs: 0, toUs: 4 * SECOND },
    { headers: 1, fromUs: 4 * SECOND, toUs: 8 * SECOND },
    { headers: 0, fromUs: 8 * SECOND, toUs: Infinity },
  ]);
  // From the keyframe before the wish, and no further than the wish.
  expect(ring.runs(5 * SECOND, 7 * SECOND)).toEqual([{ headers: 1, fromUs: 4 * SECOND, toUs: 7 * SECOND }]);
  for (const { headers, fromUs, toUs } of ring.runs(0, 10 * SECOND)) {
    const packets = [...ring.range(fromUs, toUs)];
    expect(packets[0]).toMatchObject({ keyframe: true, timestampUs: fromUs });
    expect(packets.every((packet) => packet.headers === headers)).toBe(true);
  }
  expect(new GroupRing<number>(SECOND, 1e9, new MemoryStore()).runs(0, 1)).toEqual([]);
});
