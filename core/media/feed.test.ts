import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { FEED_BUFFER_SECONDS, FeedPlayout } from './feed-playout';
import { aacFacts, avcCodecName, readFeedTag } from './feed-tags';

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
