import fc from 'fast-check';
import { expect, test } from 'vitest';
import { GroupRing, type RingPacket } from '../../core/delivery/group-ring';
import { DelayedFeed } from './delayed-feed';

const SECOND = 1e6;
const packet = (timestampUs: number, keyframe: boolean, headers = 0): RingPacket => ({
  track: 'video',
  timestampUs,
  durationUs: 100_000,
  keyframe,
  payload: new Uint8Array(4),
  headers,
});

/** Ten pictures a second, a keyframe every two. */
function setUp(delaySeconds: number) {
  const ring = new GroupRing<number>(60 * SECOND, 1e6, {
    write: () => 0,
    read: () => [],
    drop: () => undefined,
  });
  const sent: RingPacket[] = [];
  let covered = 0;
  const feed = new DelayedFeed(ring, delaySeconds * SECOND, (p) => sent.push(p), {
    restart: () => (covered = 0),
    until: (elapsedUs) => {
      const out: RingPacket[] = [];
      while (covered * 100_000 <= elapsedUs) {
        out.push(packet(covered * 100_000, covered === 0, 1));
        covered += 1;
      }
      return out;
    },
  });
  let made = 0;
  const run = (seconds: number) => {
    for (const until = made + seconds * 10; made < until; made++) {
      ring.add(packet(made * 100_000, made % 20 === 0));
      feed.tick(ring.endUs);
    }
  };
  return { feed, sent, run, ring };
}

test('everything comes once, in order, as much later as was asked for', () => {
  const { sent, run } = setUp(5);
  run(5);
  expect(sent.length).toBeLessThanOrEqual(1);
  run(25);
  expect(sent[0]).toMatchObject({ keyframe: true, timestampUs: 0 });
  expect(sent.map((p) => p.timestampUs)).toEqual(sent.map((_, i) => i * 100_000));
  expect(sent).toHaveLength(250);
});

test('with sound that ends after the next keyframe begins nothing is lost and nothing comes twice, keyframes above all', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 5, max: 70 }),
      fc.integer({ min: 0, max: 6000 }),
      fc.integer({ min: 0, max: 30_000 }),
      (tickMs, delayMs, soundShiftUs) => {
        const ring = new GroupRing<number>(60 * SECOND, 1e9, {
          write: () => 0,
          read: () => [],
          drop: () => undefined,
        });
        const made: RingPacket[] = [];
        for (let i = 0; i < 300; i++) made.push({ ...packet(Math.round((i * SECOND) / 30), i % 60 === 0) });
        for (let i = 0; i < 470; i++)
          made.push({
            ...packet(soundShiftUs + Math.round((i * 1024 * SECOND) / 48_000), true),
            track: 'audio',
            durationUs: 21_333,
          });
        made.sort((a, b) => a.timestampUs - b.timestampUs);
        const sent: RingPacket[] = [];
        const feed = new DelayedFeed(ring, delayMs * 1000, (p) => sent.push(p), {
          restart: () => undefined,
          until: () => [],
        });
        let at = 0;
        for (let ms = 0; ms < 20_000; ms += tickMs) {
          while (at < made.length && made[at].timestampUs <= ms * 1000) ring.add(made[at++]);
          feed.tick(ms < 10_000 ? ring.endUs : ms * 1000);
        }
        const first = made.findIndex((p) => p.track === 'video');
        expect(sent.map((p) => `${p.track} ${p.timestampUs}`)).toEqual(
          made.slice(first).map((p) => `${p.track} ${p.timestampUs}`),
        );
      },
    ),
    { numRuns: 60 },
  );
});

test('what is cut never goes out: the cover takes its stamps, and the broadcast goes on with a keyframe', () => {
  const { feed, sent, run, ring } = setUp(10);
  run(20);
  const { endUs } = ring;
  const before = sent.length;
  expect(feed.cut(endUs - 4 * SECOND, endUs)).toBe(4 * SECOND);
  run(20);
  const live = sent.filter((p) => p.headers === 0).map((p) => p.timestampUs);
  expect(live.filter((us) => us >= endUs - 4 * SECOND && us < endUs)).toEqual([]);
  const cover = sent.filter((p) => p.headers === 1);
  expect(cover[0]).toMatchObject({ keyframe: true });
  expect(cover.length).toBeGreaterThanOrEqual(40);
  const after = sent[sent.lastIndexOf(cover.at(-1)!) + 1];
  expect(after).toMatchObject({ keyframe: true, headers: 0 });
  const stamps = sent.map((p) => p.timestampUs);
  expect(stamps).toEqual([...stamps].sort((a, b) => a - b));
  expect(sent.length).toBeGreaterThan(before);
});

test('what has gone out already cannot be cut', () => {
  const { feed, run } = setUp(2);
  run(20);
  expect(feed.cut(5 * SECOND, 10 * SECOND)).toBe(0);
  expect(feed.cut(10 * SECOND, 20 * SECOND)).toBeLessThanOrEqual(2.2 * SECOND);
});
