/** What a Matroska file says of its tracks and samples, element by element, and what is made of wrong ones. */
import { describe, expect, test } from 'vitest';
import { faultWords as fault } from '../fault-words';
import { concatBytes } from './bytes';
import { MatroskaReader, type ByteSource } from './matroska-reader';

type Bytes = readonly number[] | Uint8Array;
const bytesOf = (bytes: Bytes) => Uint8Array.from(bytes);
/** An element with a size of one byte where it fits, else of four. */
function element(id: Bytes, contents: Bytes): Uint8Array {
  const { length } = contents;
  const size =
    length < 127 ? [0x80 | length] : [0x10, (length >> 16) & 255, (length >> 8) & 255, length & 255];
  return concatBytes([bytesOf(id), bytesOf(size), bytesOf(contents)]);
}
const ascii = (text: string) => new TextEncoder().encode(text);
const float64 = (value: number) => {
  const view = new DataView(new ArrayBuffer(8));
  view.setFloat64(0, value);
  return new Uint8Array(view.buffer);
};
const float32 = (value: number) => {
  const view = new DataView(new ArrayBuffer(4));
  view.setFloat32(0, value);
  return new Uint8Array(view.buffer);
};
const EBML = element([0x1a, 0x45, 0xdf, 0xa3], element([0x42, 0x86], [1]));
const segment = (...parts: Uint8Array[]) =>
  concatBytes([bytesOf([0x18, 0x53, 0x80, 0x67, 0x01, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff]), ...parts]);
const scale = (nanoseconds: Bytes) =>
  element([0x15, 0x49, 0xa9, 0x66], element([0x2a, 0xd7, 0xb1], nanoseconds));
const tracks = (...entries: Uint8Array[]) => element([0x16, 0x54, 0xae, 0x6b], concatBytes(entries));
const entry = (...parts: Uint8Array[]) => element([0xae], concatBytes(parts));
const number = (value: number) => element([0xd7], [value]);
const type = (value: number) => element([0x83], [value]);
const cluster = (ticks: Bytes, ...blocks: Uint8Array[]) =>
  element([0x1f, 0x43, 0xb6, 0x75], concatBytes([element([0xe7], ticks), ...blocks]));
const block = (track: Bytes, ticks: number, flags: number, payload: Bytes) =>
  element([0xa3], [...track, (ticks >> 8) & 255, ticks & 255, flags, ...payload]);

const VIDEO = entry(
  number(1),
  type(1),
  element([0x86], ascii('V_MPEG4/ISO/AVC\0\0')),
  element([0x63, 0xa2], [1, 100, 0, 31]),
  element([0x23, 0xe3, 0x83], [0x01, 0xfc, 0xa0, 0x55]),
  element([0x53, 0x6e], ascii('Wide')),
  element([0xe0], concatBytes([element([0xb0], [5, 0]), element([0xba], [2, 0xd0])])),
);
const AUDIO = entry(
  number(2),
  type(2),
  element([0x86], ascii('A_OPUS')),
  element([0x56, 0xaa], [0x63, 0x2e, 0xa0]),
  element([0x23, 0xe3, 0x83], [0x01, 0x31, 0x2d, 0x00]),
  element([0x53, 0x6e], ascii('Voices')),
  element([0xe1], concatBytes([element([0xb5], float64(48_000)), element([0x9f], [2])])),
);
const source = (bytes: Uint8Array): ByteSource => ({
  size: bytes.length,
  read: (at, length) => bytes.subarray(at, at + length),
});
const read = (...parts: Uint8Array[]) => new MatroskaReader(source(concatBytes([EBML, segment(...parts)])));
const samplesOf = (...parts: Uint8Array[]) =>
  [...read(...parts).samples()].map(({ track, ms, keyframe, payload }) => [
    track,
    ms,
    keyframe,
    [...payload],
  ]);

describe('tracks', () => {
  test('everything that is said of them', () => {
    expect(read(tracks(VIDEO, AUDIO)).tracks).toEqual([
      {
        ...{ number: 1, kind: 'video', codec: 'V_MPEG4/ISO/AVC', codecPrivate: bytesOf([1, 100, 0, 31]) },
        ...{ name: 'Wide', width: 1280, height: 720, sampleRate: 8000, channels: 1, delayMs: 0 },
        pictureNs: 33_333_333,
      },
      {
        ...{ number: 2, kind: 'audio', codec: 'A_OPUS', codecPrivate: new Uint8Array(0), name: 'Voices' },
        ...{ width: 0, height: 0, sampleRate: 48_000, channels: 2, delayMs: 6.5, pictureNs: null },
      },
    ]);
  });
  test('what is not said is as the format has it', () => {
    expect(read(tracks(entry(number(7), type(2)))).tracks).toEqual([
      {
        ...{ number: 7, kind: 'audio', codec: '', codecPrivate: new Uint8Array(0), name: '' },
        ...{ width: 0, height: 0, sampleRate: 8000, channels: 1, delayMs: 0, pictureNs: null },
      },
    ]);
    const zero = entry(number(1), type(1), element([0x23, 0xe3, 0x83], [0]));
    expect(read(tracks(zero)).tracks[0].pictureNs).toBeNull();
  });
  test('a rate of four bytes, and of a length no number has', () => {
    const rate = (bytes: Uint8Array) => entry(number(1), type(2), element([0xe1], element([0xb5], bytes)));
    expect(read(tracks(rate(float32(44_100)))).tracks[0].sampleRate).toBe(44_100);
    expect(read(tracks(rate(bytesOf([1, 2])))).tracks[0].sampleRate).toBe(0);
  });
  test('pictures and sound alone are tracks', () => {
    expect(read(tracks(entry(number(1), type(17)), VIDEO)).tracks.map((t) => t.number)).toEqual([1]);
    expect(() => read(tracks(entry(number(1), type(17))))).toThrow(
      'this is no Matroska file, or it is damaged at byte 0',
    );
  });
  test('what they are encoded by outlives what was read', () => {
    const bytes = concatBytes([EBML, segment(tracks(VIDEO))]);
    const reader = new MatroskaReader(source(bytes));
    bytes.fill(0);
    expect([...reader.tracks[0].codecPrivate]).toEqual([1, 100, 0, 31]);
  });
});

describe('samples', () => {
  test('times count in the file’s own steps, less what a decoder throws away', () => {
    const parts = [
      scale([0x07, 0xa1, 0x20]),
      tracks(VIDEO, AUDIO),
      cluster([1, 0], block([0x81], 4, 0x80, [1]), block([0x82], 4, 0x80, [2])),
    ];
    expect(samplesOf(...parts)).toEqual([
      [0, 130, true, [1]],
      [1, 123.5, true, [2]],
    ]);
    // A step of a millisecond where nothing is said.
    expect(samplesOf(tracks(VIDEO), cluster([9], block([0x81], 1, 0, [])))).toEqual([[0, 10, false, []]]);
  });
  test('a track’s number may take two bytes', () => {
    expect(samplesOf(tracks(VIDEO, AUDIO), cluster([0], block([0x40, 0x02], 1, 0x80, [5])))).toEqual([
      [1, -5.5, true, [5]],
    ]);
  });
  test('a group is a keyframe unless it refers to another; one without a block is none', () => {
    const group = (...parts: Uint8Array[]) => element([0xa0], concatBytes(parts));
    const inner = element([0xa1], [0x81, 0, 3, 0, 8]);
    const blocks = [
      group(inner),
      group(element([0xfb], [1]), inner),
      group(element([0xfb], [1])),
      group(inner, element([0x9b], [1])),
    ];
    expect(samplesOf(tracks(VIDEO), cluster([0], ...blocks))).toEqual([
      [0, 3, true, [8]],
      [0, 3, false, [8]],
      [0, 3, true, [8]],
    ]);
  });
  test('what is none of it is passed over, before the clusters and in them', () => {
    const other = element([0xec], [1, 2, 3]);
    expect(
      samplesOf(
        other,
        scale([0x0f, 0x42, 0x40]),
        other,
        tracks(other, VIDEO),
        cluster([0], other, block([0x81], 1, 0x80, [1])),
      ),
    ).toEqual([[0, 1, true, [1]]]);
    expect(samplesOf(tracks(VIDEO))).toEqual([]);
  });
  test('the same elements elsewhere say nothing', () => {
    // A scale among the tracks, a track in what describes the file.
    const odd = [
      tracks(element([0x2a, 0xd7, 0xb1], [0x07, 0xa1, 0x20]), VIDEO),
      element([0x15, 0x49, 0xa9, 0x66], AUDIO),
    ];
    const reader = read(...odd, cluster([4], block([0x81], 0, 0x80, [1])));
    expect(reader.tracks).toHaveLength(1);
    expect([...reader.samples()].map(({ ms }) => ms)).toEqual([4]);
  });
});

describe('damage', () => {
  test('is said by name and place', () => {
    expect(fault(() => new MatroskaReader(source(new Uint8Array(0))))).toBe(
      'matroska.damaged: this is no Matroska file, or it is damaged at byte 0',
    );
    expect(fault(() => new MatroskaReader(source(bytesOf([0x52, 0x49, 0x46, 0x46, 0, 0, 0, 0]))))).toMatch(
      /damaged at byte 0/,
    );
    const far = concatBytes([EBML, segment(tracks(VIDEO)), bytesOf([0x01, ...Array<number>(14).fill(9)])]);
    expect(fault(() => new MatroskaReader(source(far)))).toBe(
      `matroska.damaged: this is no Matroska file, or it is damaged at byte ${far.length - 15}`,
    );
    const description = concatBytes([
      EBML,
      segment(bytesOf([0x16, 0x54, 0xae, 0x6b, 0x10, 0x20, 0, 0]), new Uint8Array(20)),
    ]);
    expect(fault(() => new MatroskaReader(source(description)))).toMatch(/damaged at byte/);
    const blocks = (...made: Uint8Array[]) => fault(() => samplesOf(tracks(VIDEO), cluster([0], ...made)));
    expect(blocks(element([0xa3], [0x81, 0, 0]))).toBe('matroska.damaged: a block is damaged');
    expect(blocks(element([0xa3], [0x20, 0, 1, 0, 0, 0, 0]))).toBe('matroska.damaged: a block is damaged');
    expect(blocks(element([0xa3], [0x81, 0, 0, 0]))).toBe('fine');
    for (const flags of [0x02, 0x04, 0x06])
      expect(blocks(block([0x81], 0, flags, [1]))).toBe(
        'matroska.lacing: blocks of several samples are not read here',
      );
  });
});

test('a long file is looked at through a window, and read no oftener than it must be', () => {
  const asked: [number, number][] = [];
  const large = Array.from({ length: 30 }, (_, i) => block([0x81], i, 0x80, new Uint8Array(100_000).fill(i)));
  const bytes = concatBytes([EBML, segment(tracks(VIDEO), ...large.map((one) => cluster([0], one)))]);
  const reader = new MatroskaReader({
    size: bytes.length,
    read: (at, length) => {
      asked.push([at, length]);
      return bytes.subarray(at, at + length);
    },
  });
  const got = [...reader.samples()].map(({ ms, payload }) => [
    ms,
    payload.length,
    payload[0],
    payload.at(-1),
  ]);
  expect(got).toEqual(Array.from({ length: 30 }, (_, i) => [i, 100_000, i, i]));
  expect(Math.max(...asked.map(([, length]) => length))).toBe(1024 * 1024);
  expect(asked.every(([at, length]) => at + length <= bytes.length)).toBe(true);
  // Three megabytes in pieces of one, and once more where a sample lies over an edge.
  expect(asked.length).toBeLessThan(9);
});
