import { describe, expect, test } from 'vitest';
import { mp4Head, NumberRow, type Chunks, type Mp4Track } from './mp4-head';

const row = (...values: number[]) => {
  const made = new NumberRow((length) => new Float64Array(length));
  for (const value of values) made.push(value);
  return made;
};
const flags = (...values: number[]) => {
  const made = new NumberRow((length) => new Uint8Array(length));
  for (const value of values) made.push(value);
  return made;
};
const video = (ms: number[], more: Partial<Mp4Track> = {}): Mp4Track => ({
  ...{ kind: 'video', codecPrivate: Uint8Array.of(1, 2, 3), name: 'Wide', width: 320, height: 180 },
  ...{ sampleRate: 0, channels: 0, pictureNs: null },
  sizes: row(...ms.map((_, i) => 100 + i)),
  ms: row(...ms),
  keyframes: flags(...ms.map((_, i) => (i % 2 === 0 ? 1 : 0))),
  ...more,
});
const audio = (ms: number[], more: Partial<Mp4Track> = {}): Mp4Track => ({
  ...{ kind: 'audio', codecPrivate: Uint8Array.of(0x11, 0x90), name: 'Programme', width: 0, height: 0 },
  ...{ sampleRate: 48_000, channels: 2, pictureNs: null },
  sizes: row(...ms.map(() => 7)),
  ms: row(...ms),
  keyframes: flags(...ms.map(() => 1)),
  ...more,
});
const chunks = (offsets: number[], counts: number[]): Chunks => ({
  offsets: row(...offsets),
  counts: row(...counts),
});

interface Box {
  path: string;
  body: Uint8Array;
}
const HOLDERS = ['moov', 'trak', 'edts', 'mdia', 'minf', 'dinf', 'stbl'];

/** All boxes, each under its path, as a reader of the format finds them (ISO/IEC 14496-12 §4.2). */
function boxesOf(bytes: Uint8Array, above = ''): Box[] {
  const found: Box[] = [];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const counts = new Map<string, number>();
  for (let at = 0; at + 8 <= bytes.length;) {
    const size = view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (size === 1) {
      found.push({ path: `${above}${type}`, body: bytes.subarray(at + 8) });
      break;
    }
    const n = counts.get(type) ?? 0;
    counts.set(type, n + 1);
    const path = `${above}${type}${n > 0 ? n + 1 : ''}`;
    const body = bytes.subarray(at + 8, at + size);
    found.push({ path, body }, ...(HOLDERS.includes(type) ? boxesOf(body, `${path}/`) : []));
    at += size;
  }
  return found;
}
const hex = (bytes: Uint8Array) => [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');
const words = (bytes: Uint8Array) => {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Array.from({ length: Math.floor(bytes.length / 4) }, (_, i) => view.getUint32(i * 4));
};
const find = (head: Uint8Array, path: string) => boxesOf(head).find((box) => box.path === path)!.body;

const GRID = [0, 33, 67, 100];
const SOUND = [0, 21, 43];

describe('a picture and its sound', () => {
  const head = mp4Head(
    [video(GRID, { pictureNs: 33_333_333 }), audio(SOUND)],
    [chunks([0, 500], [3, 1]), chunks([400, 900, 1000], [1, 1, 1])],
    5_000_000_000,
  );

  test('to the byte', () => {
    const told = boxesOf(head)
      .filter(({ path }) => !HOLDERS.includes(path.split('/').at(-1)!.replace(/\d$/, '')) || path === 'moov')
      .map(({ path, body }) => `${path} ${path === 'moov' ? body.length : hex(body)}`);
    expect(told).toMatchInlineSnapshot(`
      [
        "ftyp 69736f6d0000020069736f6d69736f32617663316d703431",
        "moov 1127",
        "moov/mvhd 000000000000000000000000000003e8000000850001000001000000000000000000000000010000000000000000000000000000000100000000000000000000000000004000000000000000000000000000000000000000000000000000000000000003",
        "moov/trak/tkhd 000000030000000000000000000000010000000000000085000000000000000000000000000000000001000000000000000000000000000000010000000000000000000000000000400000000140000000b40000",
        "moov/trak/mdia/mdhd 0100000000000000000000000000000000000000000075300000000000000fa055c40000",
        "moov/trak/mdia/hdlr 0000000000000000766964650000000000000000000000005769646500",
        "moov/trak/mdia/minf/vmhd 000000010000000000000000",
        "moov/trak/mdia/minf/dinf/dref 00000000000000010000000c75726c2000000001",
        "moov/trak/mdia/minf/stbl/stsd 00000000000000010000006161766331000000000000000100000000000000000000000000000000014000b4004800000048000000000000000100000000000000000000000000000000000000000000000000000000000000000018ffff0000000b61766343010203",
        "moov/trak/mdia/minf/stbl/stts 000000000000000100000004000003e8",
        "moov/trak/mdia/minf/stbl/stsc 0000000000000002000000010000000300000001000000020000000100000001",
        "moov/trak/mdia/minf/stbl/stsz 00000000000000000000000400000064000000650000006600000067",
        "moov/trak/mdia/minf/stbl/co64 0000000000000002000000000000049f0000000000000693",
        "moov/trak/mdia/minf/stbl/stss 00000000000000020000000100000003",
        "moov/trak2/tkhd 000000030000000000000000000000020000000000000040000000000000000000000001010000000001000000000000000000000000000000010000000000000000000000000000400000000000000000000000",
        "moov/trak2/mdia/mdhd 01000000000000000000000000000000000000000000bb800000000000000c0055c40000",
        "moov/trak2/mdia/hdlr 0000000000000000736f756e00000000000000000000000050726f6772616d6d6500",
        "moov/trak2/mdia/minf/smhd 0000000000000000",
        "moov/trak2/mdia/minf/dinf/dref 00000000000000010000000c75726c2000000001",
        "moov/trak2/mdia/minf/stbl/stsd 0000000000000001000000576d703461000000000000000100000000000000000002001000000000bb800000000000336573647300000000038080802200010004808080144015000000000000000000000005808080021190068080800102",
        "moov/trak2/mdia/minf/stbl/stts 00000000000000010000000300000400",
        "moov/trak2/mdia/minf/stbl/stsc 0000000000000001000000010000000100000001",
        "moov/trak2/mdia/minf/stbl/stsz 000000000000000000000003000000070000000700000007",
        "moov/trak2/mdia/minf/stbl/co64 0000000000000003000000000000062f00000000000008230000000000000887",
        "mdat 000000012a05f210",
      ]
    `);
  });

  test('what readers look for is where they look for it', () => {
    const trak = 'moov/trak/mdia/minf/stbl/';
    // 30 a second, exact: four steps of the same length.
    expect(words(find(head, 'moov/trak/mdia/mdhd')).slice(5, 8)).toEqual([30_000, 0, 4000]);
    expect(words(find(head, `${trak}stts`))).toEqual([0, 1, 4, 1000]);
    expect(words(find(head, `${trak}stss`))).toEqual([0, 2, 1, 3]);
    expect(words(find(head, `${trak}stsz`))).toEqual([0, 0, 4, 100, 101, 102, 103]);
    expect(words(find(head, `${trak}stsc`))).toEqual([0, 2, 1, 3, 1, 2, 1, 1]);
    const sound = 'moov/trak2/mdia/minf/stbl/';
    expect(words(find(head, 'moov/trak2/mdia/mdhd')).slice(5, 8)).toEqual([48_000, 0, 3072]);
    expect(words(find(head, `${sound}stts`))).toEqual([0, 1, 3, 1024]);
    expect(words(find(head, `${sound}stsc`))).toEqual([0, 1, 1, 1, 1]);
    expect(boxesOf(head).some(({ path }) => path === `${sound}stss`)).toBe(false);
    // The first samples lie right behind the head; sizes beyond 32 bits have 64.
    expect(words(find(head, `${trak}co64`))).toEqual([0, 2, 0, head.length, 0, head.length + 500]);
    expect(words(find(head, 'mdat'))).toEqual([1, 705_032_720]);
    expect(hex(head.subarray(-16))).toBe('000000016d64617400000001' + '2a05f210');
  });
});

describe('times', () => {
  const steps = (track: Mp4Track) => {
    const head = mp4Head([track], [chunks([0], [track.ms.length])], 1);
    const [, runs, ...list] = words(find(head, 'moov/trak/mdia/minf/stbl/stts'));
    const [scale, , duration] = words(find(head, 'moov/trak/mdia/mdhd')).slice(5, 8);
    return { runs, list, scale, duration };
  };

  test('pictures that are not even, or not as even as the file says, keep their own', () => {
    expect(steps(video([0, 40, 100]))).toEqual({
      ...{ runs: 2, list: [1, 3600, 2, 5400], scale: 90_000, duration: 14_400 },
    });
    expect(steps(video([0, 33, 80], { pictureNs: 33_333_333 })).scale).toBe(90_000);
    expect(steps(video([0, 33, 66], { pictureNs: 33_333_333 }))).toMatchObject({
      ...{ scale: 30_000, list: [3, 1000] },
    });
    // One too many milliseconds is no rounding any more.
    expect(steps(video([0, 33, 68], { pictureNs: 33_333_333 })).scale).toBe(90_000);
    // One alone lasts a thirtieth of a second.
    expect(steps(video([0]))).toEqual({ runs: 1, list: [1, 3000], scale: 90_000, duration: 3000 });
    // A gap is a longer step.
    expect(steps(video([0, 33, 133], { pictureNs: 33_333_333 })).list).toEqual([1, 1000, 1, 3000, 1, 1000]);
  });

  test('29.97 and 59.94 are exact too', () => {
    expect(steps(video([0, 33, 67], { pictureNs: 33_366_667 }))).toMatchObject({
      scale: 30_000,
      list: [3, 1001],
    });
    expect(steps(video([0, 17, 33], { pictureNs: 16_683_333 }))).toMatchObject({
      scale: 60_000,
      list: [3, 1001],
    });
  });

  test('two at the same moment come one after the other', () => {
    expect(steps(video([0, 0, 40])).list).toEqual([1, 1, 2, 3599]);
    expect(steps(video([0, 0, 33], { pictureNs: 33_333_333 })).list).toEqual([1, 1, 1, 999, 1, 1000]);
  });

  test('sound goes on seamlessly but for its rounding, and has a gap where there is one', () => {
    expect(steps(audio([0, 21, 43, 64]))).toMatchObject({ list: [4, 1024], scale: 48_000, duration: 4096 });
    // Three milliseconds beside it is jitter, more is a gap.
    expect(steps(audio([0, 24])).list).toEqual([2, 1024]);
    expect(steps(audio([0, 25])).list).toEqual([1, 1200, 1, 1024]);
    expect(steps(audio([0, 500, 521])).list).toEqual([1, 24_000, 2, 1024]);
  });
});

describe('a track that begins beside the movie', () => {
  const edits = (track: Mp4Track) => {
    const head = mp4Head([track], [chunks([0], [track.ms.length])], 1);
    const box = boxesOf(head).find(({ path }) => path === 'moov/trak/edts/elst');
    return box && words(box.body);
  };
  test('later: first nothing, then all of it; earlier: what comes before is not heard; else nothing is said', () => {
    expect(edits(video([0, 40]))).toBeUndefined();
    expect(edits(video([500, 540]))).toEqual([0, 2, 500, 0xffffffff, 0x10000, 80, 0, 0x10000]);
    expect(edits(audio([-21, 0, 21]))).toEqual([0, 1, 43, 1008, 0x10000]);
  });
  test('its length is that of the movie', () => {
    const head = mp4Head([video([500, 540]), audio([0])], [chunks([0], [2]), chunks([0], [1])], 1);
    expect(words(find(head, 'moov/mvhd'))[4]).toBe(580);
    expect(words(find(head, 'moov/trak/tkhd'))[5]).toBe(580);
    expect(words(find(head, 'moov/trak2/tkhd'))[5]).toBe(21);
  });
});

test('only the first sound is what players take', () => {
  const tracks = [video([0, 40]), audio([0]), audio([0], { name: 'Voices' })];
  const head = mp4Head(
    tracks,
    tracks.map(() => chunks([0], [1])),
    1,
  );
  expect(
    ['trak', 'trak2', 'trak3'].map((trak) => hex(find(head, `moov/${trak}/tkhd`).subarray(0, 4))),
  ).toEqual([...['00000003', '00000003', '00000002']]);
  expect(new TextDecoder().decode(find(head, 'moov/trak3/mdia/hdlr'))).toContain('sounVoices'.slice(0, 4));
  expect(new TextDecoder().decode(find(head, 'moov/trak3/mdia/hdlr'))).toContain('Voices\0');
  // The next track would have this number.
  expect(words(find(head, 'moov/mvhd')).at(-1)).toBe(4);
});

test('a row of numbers grows as it must, and no further', () => {
  const made: number[] = [];
  const values = new NumberRow((length) => (made.push(length), new Uint32Array(length)));
  for (let i = 0; i < 1024; i++) values.push(i);
  expect(made).toEqual([1024]);
  values.push(1024);
  expect(made).toEqual([1024, 2048]);
  expect([values.length, values.at(0), values.at(1023), values.at(1024)]).toEqual([1025, 0, 1023, 1024]);
});

test('a file without a sample is a head all the same', () => {
  const head = mp4Head([video([]), audio([])], [chunks([], []), chunks([], [])], 0);
  expect(words(find(head, 'moov/trak/mdia/minf/stbl/stts'))).toEqual([0, 0]);
  expect(words(find(head, 'moov/trak2/mdia/minf/stbl/stsz'))).toEqual([0, 0, 0]);
});
