import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { FEED_BUFFER_SECONDS, FeedPlayout } from './feed-playout';
import { aacFacts, avcCodecName, readFeedTag } from './feed-tags';
import type { FlvTag } from './flv-stream';

describe('a tag of a feed', () => {
  const video = (...body: number[]) =>
    readFeedTag({ kind: 'video', timestampMs: 1000, body: Uint8Array.from(body) });
  const audio = (...body: number[]) =>
    readFeedTag({ kind: 'audio', timestampMs: 1000, body: Uint8Array.from(body) });
  test('is a description, a picture or sound', () => {
    expect(video(0x17, 0, 0, 0, 0, 1, 2)).toEqual({ type: 'videoConfig', config: Uint8Array.of(1, 2) });
    expect(video(0x17, 1, 0, 0, 80, 9)).toEqual({
      type: 'picture',
      keyframe: true,
      seconds: 1.08,
      data: Uint8Array.of(9),
    });
    // Shown 20 ms before it is decoded: some encoders say so.
    expect(video(0x27, 1, 0xff, 0xff, 0xec, 9)).toMatchObject({ keyframe: false, seconds: 0.98 });
    expect(audio(0xaf, 0, 0x11, 0x90)).toMatchObject({ type: 'audioConfig' });
    expect(audio(0xaf, 1, 5)).toEqual({ type: 'sound', seconds: 1, data: Uint8Array.of(5) });
  });
  test('of another codec is named', () => {
    expect(video(0x12, 0, 0)).toEqual({ type: 'foreign', kind: 'video', codec: 'H.263' });
    expect(video(0x90, ...[...'hvc1'].map((c) => c.charCodeAt(0)), 0)).toMatchObject({ codec: 'HEVC' });
    expect(audio(0x2f, 0xff)).toMatchObject({ type: 'foreign', codec: 'MP3' });
  });
  test('is nothing when it is cut short, whatever is in it', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 12 }),
        fc.constantFrom('video', 'audio', 'data'),
        (body, kind) => {
          expect(readFeedTag({ kind, timestampMs: 0, body }).type).toBeTruthy();
        },
      ),
    );
    expect(video(0x17, 1, 0).type).toBe('nothing');
    expect(audio(0xaf, 1).type).toBe('nothing');
    expect(video(0x17, 2, 0, 0, 0, 0).type).toBe('nothing');
  });
  test('tells what a decoder wants to know', () => {
    expect(avcCodecName(Uint8Array.of(1, 0x64, 0, 0x1f, 0xff, 0xe1, 0))).toBe('avc1.64001f');
    expect(avcCodecName(Uint8Array.of(2, 0x64, 0, 0x1f, 0xff, 0xe1, 0))).toBeNull();
    // ISO/IEC 14496-3: AAC-LC, 48 kHz, two channels is 0x1190.
    expect(aacFacts(Uint8Array.of(0x11, 0x90))).toEqual({
      codec: 'mp4a.40.2',
      sampleRate: 48_000,
      channels: 2,
    });
    expect(aacFacts(Uint8Array.of(0x12, 0x08))).toEqual({
      codec: 'mp4a.40.2',
      sampleRate: 44_100,
      channels: 1,
    });
    expect(aacFacts(Uint8Array.of(0))).toBeNull();
    expect(aacFacts(Uint8Array.of(0x17, 0x90))).toBeNull();
  });
});

describe('when a feed is played', () => {
  test('a steady one is shown one buffer after it arrives, without a jump', () => {
    const playout = new FeedPlayout();
    for (let i = 0; i < 3000; i++) playout.arrived(i / 50, 100 + i / 50);
    expect(playout.offset).toBeCloseTo(100 + FEED_BUFFER_SECONDS);
    expect(playout.delaySeconds).toBeCloseTo(FEED_BUFFER_SECONDS, 1);
    expect(playout.jumps).toBe(0);
  });
  test('a burst at the beginning does not become delay', () => {
    const playout = new FeedPlayout();
    // Four seconds that were kept for who comes late, at once; then as they come.
    for (let i = 0; i < 200; i++) playout.arrived(i / 50, 10);
    const first = playout.offset!;
    for (let i = 200; i < 2000; i++) playout.arrived(i / 50, 10 + (i - 199) / 50);
    expect(199 / 50 + playout.offset! - 10).toBeLessThan(FEED_BUFFER_SECONDS * 2.1);
    expect(first).toBeDefined();
  });
  test('a line that trembles within the buffer is not heard', () => {
    const playout = new FeedPlayout();
    for (let i = 0; i < 3000; i++) playout.arrived(i / 50, i / 50 + (i % 7) * 0.04);
    expect(playout.jumps).toBeLessThanOrEqual(1);
  });
  test('a pause of two seconds is one jump, and stamps that jump are followed', () => {
    const playout = new FeedPlayout();
    for (let i = 0; i < 500; i++) playout.arrived(i / 50, i / 50);
    for (let i = 500; i < 1000; i++) playout.arrived(i / 50, i / 50 + 2);
    expect(playout.jumps).toBe(1);
    for (let i = 0; i < 500; i++) playout.arrived(50_000 + i / 50, 22 + i / 50);
    expect(playout.jumps).toBe(2);
    expect(50_010 + playout.offset! - 32).toBeCloseTo(FEED_BUFFER_SECONDS, 1);
  });
  test('a clock that is a little fast or slow jumps rarely', () => {
    for (const rate of [0.9999, 1.0001]) {
      const playout = new FeedPlayout();
      // Half an hour.
      for (let i = 0; i < 90_000; i++) playout.arrived((i / 50) * rate, i / 50);
      expect(playout.jumps).toBeLessThan(3);
    }
  });
});

describe('to the last number', () => {
  const tag = (kind: FlvTag['kind'], timestampMs: number, ...body: number[]) =>
    readFeedTag({ kind, timestampMs, body: Uint8Array.from(body) });

  test('codecs that are not taken have their names', () => {
    const sounds = Array.from({ length: 16 }, (_, format) => tag('audio', 0, format << 4, 0, 1));
    expect(sounds.map((part) => (part.type === 'foreign' ? part.codec : part.type))).toEqual([
      ...[
        'PCM',
        'ADPCM',
        'MP3',
        'PCM',
        'Nellymoser',
        'Nellymoser',
        'Nellymoser',
        'G.711',
        'G.711',
        'format 9',
      ],
      ...['audioConfig', 'Speex', 'format 12', 'format 13', 'MP3', 'format 15'],
    ]);
    const pictures = Array.from({ length: 9 }, (_, codec) => tag('video', 0, 0x10 | codec, 1, 0, 0, 0, 9));
    expect(pictures.map((part) => (part.type === 'foreign' ? part.codec : part.type))).toEqual([
      ...['codec 0', 'codec 1', 'H.263', 'Screen video', 'VP6', 'VP6', 'Screen video', 'picture', 'codec 8'],
    ]);
    const named = (name: string) => tag('video', 0, 0x90, ...new TextEncoder().encode(name), 1);
    expect(['hvc1', 'av01', 'vp09', 'xxxx'].map((name) => (named(name) as { codec: string }).codec)).toEqual([
      ...['HEVC', 'AV1', 'VP9', 'xxxx'],
    ]);
    expect(tag('audio', 0, 0x20, 0)).toEqual({ type: 'foreign', kind: 'audio', codec: 'MP3' });
  });

  test('parts have their time, and pictures when they are shown', () => {
    expect(tag('audio', 1500, 0xaf, 1, 7)).toEqual({ type: 'sound', seconds: 1.5, data: Uint8Array.of(7) });
    const picture = (...later: number[]) => tag('video', 1000, 0x27, 1, ...later, 5);
    expect(picture(0, 0, 40)).toEqual({
      ...{ type: 'picture', keyframe: false, seconds: 1.04, data: Uint8Array.of(5) },
    });
    expect(picture(0xff, 0xff, 0xd8)).toMatchObject({ seconds: 0.96 });
    expect(picture(1, 2, 3)).toMatchObject({ seconds: 67.051 });
    expect(tag('video', 0, 0x17, 1, 0, 0, 0, 5)).toMatchObject({ keyframe: true });
    expect(tag('video', 0, 0x17, 0, 0, 0, 0, 5)).toEqual({ type: 'videoConfig', config: Uint8Array.of(5) });
  });

  test('what is cut short, an end of a sequence, and data say nothing', () => {
    const nothing = { type: 'nothing' };
    expect(tag('data', 0, 2, 0, 10)).toEqual(nothing);
    expect(tag('audio', 0, 0xaf)).toEqual(nothing);
    expect(tag('audio', 0, 0xaf, 1)).toEqual(nothing);
    expect(tag('video', 0, 0x17)).toEqual(nothing);
    expect(tag('video', 0, 0x17, 1, 0, 0, 0)).toEqual(nothing);
    expect(tag('video', 0, 0x17, 2, 0, 0, 0, 1)).toEqual(nothing);
  });

  test('names and facts of configurations', () => {
    expect(avcCodecName(Uint8Array.of(1, 0x42, 0xc0, 0x0d, 0, 0, 0))).toBe('avc1.42c00d');
    expect(avcCodecName(Uint8Array.of(1, 0x42, 0xc0, 0x0d, 0, 0))).toBeNull();
    expect(avcCodecName(Uint8Array.of(0, 0x42, 0xc0, 0x0d, 0, 0, 0))).toBeNull();
    // Object type, index of the rate, channels.
    const facts = (type: number, rate: number, channels: number) =>
      aacFacts(Uint8Array.of((type << 3) | (rate >> 1), ((rate & 1) << 7) | (channels << 3)));
    expect(Array.from({ length: 16 }, (_, rate) => facts(2, rate, 2)?.sampleRate ?? null)).toEqual([
      ...[96_000, 88_200, 64_000, 48_000, 44_100, 32_000, 24_000, 22_050, 16_000, 12_000, 11_025, 8000, 7350],
      ...[null, null, null],
    ]);
    expect(Array.from({ length: 9 }, (_, channels) => facts(5, 3, channels)?.channels ?? null)).toEqual([
      ...[null, 1, 2, 3, 4, 5, 6, 8, null],
    ]);
    expect(facts(5, 3, 1)?.codec).toBe('mp4a.40.5');
    expect(facts(0, 3, 1)).toBeNull();
    expect(aacFacts(Uint8Array.of(0x11))).toBeNull();
  });

  test('an offset is kept between its bounds, and taken back when it was never used', () => {
    const playout = new FeedPlayout();
    expect([playout.offset, playout.delaySeconds, playout.jumps]).toEqual([null, 0, 0]);
    expect(playout.arrived(10, 100)).toBe(true);
    expect([playout.offset, playout.delaySeconds, playout.jumps]).toEqual([90.35, 0.35, 0]);
    // So little is left, and so much.
    expect(playout.arrived(10.03, 100.355)).toBe(false);
    expect(playout.arrived(10, 100.34)).toBe(true);
    expect(playout.offset).toBeCloseTo(90.69);
    expect(playout.jumps).toBe(1);
    expect(playout.arrived(11.7, 101)).toBe(false);
    expect(playout.arrived(11.8, 101)).toBe(true);
    expect(playout.jumps).toBe(2);
    playout.reset();
    expect([playout.offset, playout.delaySeconds]).toEqual([null, 0]);

    const early = new FeedPlayout();
    early.arrived(0, 0);
    // Half a second more than the buffer is always there: after eight seconds it is taken back.
    for (let at = 1; at < 8; at++) expect(early.arrived(at + 0.5, at)).toBe(false);
    expect(early.delaySeconds).toBeCloseTo(0.35 + 0.5 * (1 - 0.95 ** 7));
    expect(early.arrived(8.5, 8)).toBe(true);
    expect([early.offset, early.jumps]).toEqual([expect.closeTo(-0.15) as number, 1]);
    // And no more than that afterwards.
    for (let at = 9; at < 30; at++) expect(early.arrived(at + 0.5, at)).toBe(false);
    expect(early.jumps).toBe(1);
  });
});
