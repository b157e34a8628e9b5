import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isFault } from '../fault';
import { concatBytes } from './bytes';
import { MatroskaReader, type ByteSource } from './matroska-reader';

const source = (bytes: Uint8Array): ByteSource => ({
  size: bytes.length,
  read: (at, length) => bytes.subarray(at, at + length),
});

/** An element with a size of four bytes, or of unknown size. */
function element(id: number[], contents: Uint8Array | number[], unknown = false): Uint8Array {
  const body = Uint8Array.from(contents);
  const size = unknown
    ? [0x1f, 0xff, 0xff, 0xff]
    : [0x10 | (body.length >>> 24), (body.length >>> 16) & 255, (body.length >>> 8) & 255, body.length & 255];
  return concatBytes([Uint8Array.from(id), Uint8Array.from(size), body]);
}

const track = (number: number, type: number, codec: string) =>
  element(
    [0xae],
    concatBytes([
      element([0xd7], [number]),
      element([0x83], [type]),
      element([0x86], new TextEncoder().encode(codec)),
      element([0x63, 0xa2], [1, 2, 3]),
    ]),
  );
const block = (number: number, ms: number, flags: number, payload: number[]) =>
  element([0xa3], [0x80 | number, (ms >> 8) & 255, ms & 255, flags, ...payload]);

function file(clusters: Uint8Array[]): Uint8Array {
  return concatBytes([
    element([0x1a, 0x45, 0xdf, 0xa3], [0x42, 0x86, 0x81, 1]),
    element(
      [0x18, 0x53, 0x80, 0x67],
      concatBytes([
        element([0x15, 0x49, 0xa9, 0x66], element([0x2a, 0xd7, 0xb1], [0x0f, 0x42, 0x40])),
        element(
          [0x16, 0x54, 0xae, 0x6b],
          concatBytes([track(1, 1, 'V_MPEG4/ISO/AVC'), track(2, 2, 'A_AAC'), track(3, 17, 'S_TEXT/UTF8')]),
        ),
        ...clusters,
      ]),
      true,
    ),
  ]);
}

const cluster = (ms: number, blocks: Uint8Array[], unknown = false) =>
  element([0x1f, 0x43, 0xb6, 0x75], concatBytes([element([0xe7], [ms >> 8, ms & 255]), ...blocks]), unknown);

const whole = file([
  cluster(0, [block(1, 0, 0x80, [1]), block(2, 5, 0x80, [2, 2]), block(3, 6, 0x80, [9])]),
  cluster(
    1000,
    [
      block(1, -10, 0, [3]),
      element([0xa0], concatBytes([element([0xa1], [0x81, 0, 7, 0, 4]), element([0xfb], [1])])),
    ],
    true,
  ),
  cluster(2000, [element([0xa0], element([0xa1], [0x82, 0, 0, 0, 5, 5, 5]))]),
]);

test('reads clusters of known and unknown size, simple blocks and groups, negative times; leaves other tracks out', () => {
  const reader = new MatroskaReader(source(whole));
  expect(reader.tracks.map((t) => [t.number, t.kind, t.codec])).toEqual([
    [1, 'video', 'V_MPEG4/ISO/AVC'],
    [2, 'audio', 'A_AAC'],
  ]);
  expect([...reader.samples()].map((s) => [s.track, s.ms, s.keyframe, [...s.payload]])).toEqual([
    [0, 0, true, [1]],
    [1, 5, true, [2, 2]],
    [0, 990, false, [3]],
    [0, 1007, false, [4]],
    [1, 2000, true, [5, 5, 5]],
  ]);
});

test('cut off anywhere it gives the whole samples before, or says that it is damaged', () => {
  const all = [...new MatroskaReader(source(whole)).samples()].map((s) => s.ms);
  for (let length = 0; length < whole.length; length++) {
    let got: number[];
    try {
      got = [...new MatroskaReader(source(whole.subarray(0, length))).samples()].map((s) => s.ms);
    } catch (error) {
      expect(isFault(error)).toBe(true);
      continue;
    }
    expect(got).toEqual(all.slice(0, got.length));
  }
});

test('blocks of several samples are refused by name, and garbage always ends in a fault or an end', () => {
  const laced = file([cluster(0, [block(1, 0, 0x86, [1, 2, 3])])]);
  expect(() => [...new MatroskaReader(source(laced)).samples()]).toThrow(/several samples/);
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), fc.integer({ min: 0, max: whole.length }), (noise, at) => {
      const bytes = concatBytes([whole.subarray(0, at), noise]);
      try {
        let count = 0;
        for (const sample of new MatroskaReader(source(bytes)).samples()) {
          count += sample.payload.length;
          expect(count).toBeLessThanOrEqual(bytes.length * 2);
        }
      } catch (error) {
        expect(isFault(error)).toBe(true);
      }
    }),
  );
});
