import { expect, test } from 'vitest';
import type { MediaPacket } from '../../core/media/interleaver';
import { CoverPlayer } from './cover-player';
import { RateWindow } from './rate-window';
import { parseSendQueues } from './send-queue';

test('rate window: kbps of the last two seconds, and nothing once it is quiet', () => {
  const rate = new RateWindow();
  for (let ms = 10_000; ms < 14_000; ms += 10) rate.add(1250, ms); // 1000 kbps
  expect(rate.kbps(13_999)).toBe(1000);
  expect(rate.kbps(15_000)).toBeLessThan(600);
  expect(rate.kbps(20_000)).toBe(0);
});

test("send queues are read from the kernel's table", () => {
  const queues = new Map<number, number>();
  parseSendQueues(
    `  sl  local_address rem_address   st tx_queue rx_queue tr tm->when retrnsmt   uid
   0: 0100007F:1F90 0100007F:C350 01 00010A00:00000000 01:00000014 00000000     0
   1: 0100007F:1F91 00000000:0000 0A 00000099:00000000 00:00000000 00000000     0
garbage`,
    queues,
  );
  expect([...queues]).toEqual([[8080, 0x10a00]]);
});

test('the cover loops picture and sound each on their own, stamps rising', () => {
  const cover = new CoverPlayer();
  const packet = (track: 'video' | 'audio', keyframe: boolean, n: number): MediaPacket => ({
    track,
    keyframe,
    timestampUs: n * 1000,
    durationUs: 0,
    payload: new Uint8Array([n]),
  });
  expect(cover.ready).toBe(false);
  for (let i = 0; i < 3; i++) cover.add(packet('video', i === 0, i));
  for (let i = 0; i < 2; i++) cover.add(packet('audio', true, i));
  cover.complete(30, 48_000);
  expect(cover.ready).toBe(false);
  cover.take();
  const out = cover.until(500_000);
  expect(out.filter((p) => p.track === 'video').map((p) => p.payload[0])).toEqual([
    0, 1, 2, 0, 1, 2, 0, 1, 2, 0, 1, 2, 0, 1, 2, 0,
  ]);
  out.forEach((p, i) => i > 0 && expect(p.timestampUs).toBeGreaterThanOrEqual(out[i - 1].timestampUs));
  // Sound that comes after the pictures are complete makes the cover ready too: the two are encoded apart.
  const late = new CoverPlayer();
  late.add(packet('video', true, 0));
  late.complete(30, 48_000);
  late.take();
  expect(late.ready).toBe(false);
  late.add(packet('audio', true, 0));
  expect(late.ready).toBe(true);
  // A new cover takes over only when it is whole.
  cover.add(packet('video', true, 9));
  expect(cover.until(600_000).some((p) => p.payload[0] === 9)).toBe(false);
});
