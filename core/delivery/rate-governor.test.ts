import { describe, expect, test } from 'vitest';
import { ClockAnchor } from './clock-anchor';
import { PictureGrid } from './picture-grid';
import { RateGovernor, type PictureOrder } from './rate-governor';

function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1664525 + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/**
 * An encoder as bad as those seen: wanted bits rise with difficulty, obeys its target only down to a floor, keyframes
 * several times a picture, detail lost by softening makes pictures smaller. `hard` is the floor in shares of the plan.
 */
function drive(
  governor: RateGovernor,
  seconds: number,
  hardAt: (second: number) => number,
  delay = 3,
  seed = 1,
  lineAt: (second: number) => number = () => 1,
  /** What a sharp picture fills at most, in shares of the plan; a softer one has less to say. */
  most = Infinity,
) {
  const next = random(seed);
  const { fps, planKbps } = governor;
  const sent = new Float64Array(seconds * fps);
  const queue: { index: number; bytes: number; key: boolean }[] = [];
  const orders: PictureOrder[] = [];
  for (let i = 0; i < seconds * fps; i++) {
    const order = governor.next(i, false, lineAt(i / fps));
    orders.push(order);
    if (order.encode) {
      const hard = hardAt(i / fps) / 3.5 ** Math.log2(order.softening);
      const wish = order.targetKbps / planKbps;
      const share = (planKbps * 1000) / 8 / fps;
      const fills = Math.min(most / 3.5 ** Math.log2(order.softening), wish * (0.85 + 0.3 * next()));
      const bytes = share * Math.max(hard, fills) * (order.keyframe ? 3 : 0.95);
      sent[i] = bytes;
      queue.push({ index: i, bytes, key: order.keyframe });
    }
    while (queue.length > delay) {
      const done = queue.shift()!;
      governor.encoded(done.index, done.bytes, done.key);
    }
  }
  let worst = 0;
  for (let i = 0; i < sent.length; i++) {
    let sum = 0;
    for (let k = Math.max(0, i - 2 * fps + 1); k <= i; k++) sum += sent[k];
    worst = Math.max(worst, (sum * 8) / 1000 / 2);
  }
  return { worst, orders, sent };
}

test('a keyframe is due on the grid, and until it was made', () => {
  const governor = new RateGovernor(3000, 30, 60);
  expect(governor.keyframeDue(0)).toBe(true);
  governor.next(0, false);
  expect([1, 59, 60, 61].map((index) => governor.keyframeDue(index))).toEqual([false, false, true, true]);
  expect(governor.next(64, false).keyframe).toBe(true);
  expect(governor.keyframeDue(65)).toBe(false);
  // Late, but the next one is on the grid again.
  expect([119, 120].map((index) => governor.keyframeDue(index))).toEqual([false, true]);
});

describe('rate governor', () => {
  test.each([1, 2, 3, 4, 5])('easy content keeps every picture, sharp, near the plan (seed %d)', (seed) => {
    const governor = new RateGovernor(1500, 30, 60);
    const { worst, orders } = drive(governor, 20, () => 0.2, 3, seed);
    expect(worst).toBeLessThan(1500 * 1.1);
    expect(orders.every((o) => o.encode)).toBe(true);
    expect(governor.report().meanKbps).toBeGreaterThan(1500 * 0.75);
    expect(orders.slice(30).every((o) => o.softening === 1)).toBe(true);
  });

  test.each([0.1, 0.25, 0.5])(
    'noise follows a line that carries %d of the plan, softer, without a picture left out; and comes back',
    (line) => {
      const governor = new RateGovernor(4000, 30, 60);
      // An encoder that gives no less than three tenths of the plan while the picture is sharp.
      const lineAt = (second: number) => (second >= 10 && second < 30 ? line : 1);
      const { orders, sent } = drive(governor, 60, () => 0.3, 3, 1, lineAt);
      const share = (from: number, to: number) =>
        (sent.slice(from * 30, to * 30).reduce((sum, bytes) => sum + bytes, 0) * 8) /
        1000 /
        (to - from) /
        4000;
      // Three seconds after the line became slow it is kept to, but for tries to be sharper, and used.
      expect(share(13, 30)).toBeLessThan(line * 1.25);
      expect(share(13, 30)).toBeGreaterThan(line * 0.6);
      expect(orders.slice(13 * 30, 30 * 30).every(({ encode }) => encode)).toBe(true);
      // Sharp again, and at the plan, soon after the line is.
      expect(share(33, 40)).toBeGreaterThan(0.7);
      expect(orders.at(-1)!.softening).toBe(1);
      expect(share(45, 60)).toBeGreaterThan(0.8);
    },
  );

  test('pictures that were softened for a line are sharp again as soon as it carries them', () => {
    const governor = new RateGovernor(4000, 30, 60);
    const lineAt = (second: number) => (second >= 10 && second < 30 ? 0.1 : 1);
    const { orders } = drive(governor, 45, () => 0.3, 3, 1, lineAt, 1.2);
    expect(orders[29 * 30].softening).toBeGreaterThan(1);
    const sharp = orders.findIndex(({ softening }, i) => i > 30 * 30 && softening === 1);
    expect((sharp - 30 * 30) / 30).toBeLessThan(5);
    expect(orders.slice(sharp + 60).every(({ softening }) => softening === 1)).toBe(true);
  });

  test('an encoder that obeys is not softened for the line', () => {
    const governor = new RateGovernor(4000, 30, 60);
    const { orders } = drive(
      governor,
      30,
      () => 0.02,
      3,
      1,
      (second) => (second < 10 ? 1 : 0.25),
    );
    expect(orders.slice(30).every(({ softening }) => softening === 1)).toBe(true);
  });

  test.each([2, 6, 13])('content that wants %d times the plan stays below it', (hard) => {
    const governor = new RateGovernor(1500, 30, 60);
    const { worst, orders } = drive(governor, 20, () => hard);
    expect(worst).toBeLessThan(1500 * 1.1);
    expect(governor.report().worstKbps).toBeLessThan(1500 * 1.1);
    expect(orders.filter((o) => o.keyframe && !o.encode)).toEqual([]);
  });

  test('comes back to sharp pictures when the content is easy again', () => {
    const governor = new RateGovernor(1500, 30, 60);
    const { orders, worst } = drive(governor, 30, (s) => (s > 8 && s < 14 ? 8 : 0.2), 1);
    expect(orders.slice(9 * 30, 14 * 30).some((o) => o.softening > 1)).toBe(true);
    expect(orders.slice(24 * 30).every((o) => o.encode && o.softening === 1)).toBe(true);
    expect(worst).toBeLessThan(1500 * 1.25); // it came without warning: what was in the encoder then could not be called back
  });

  test('a cut into hard content is announced, and then the bound holds', () => {
    const governor = new RateGovernor(1500, 30, 60);
    const original = governor.next.bind(governor);
    governor.next = (index, force, line) => {
      if (index === 250) governor.cut();
      return original(index, force, line);
    };
    const { worst } = drive(governor, 20, (s) => (s >= 250 / 30 ? 6 : 0.2));
    expect(worst).toBeLessThan(1500 * 1.1);
  });

  test('a slower line lowers what is asked for', () => {
    const governor = new RateGovernor(3000, 30, 60);
    let last: PictureOrder | null = null;
    for (let i = 0; i < 90; i++) {
      last = governor.next(i, false, i > 30 ? 0.4 : 1);
      governor.encoded(i, 3000, last.keyframe);
    }
    expect(last!.targetKbps).toBeLessThanOrEqual(3000 * 0.4);
  });

  test('keyframes stand on the interval, and where asked for besides', () => {
    const governor = new RateGovernor(1500, 30, 60);
    const keys: number[] = [];
    for (let i = 0; i < 200; i++) {
      const order = governor.next(i, i === 77);
      governor.encoded(i, 4000, order.keyframe);
      if (order.keyframe) keys.push(i);
    }
    expect(keys).toEqual([0, 60, 77, 120, 180]);
  });
});

describe('picture grid', () => {
  test('is exact and does not drift', () => {
    const grid = new PictureGrid(30);
    expect(grid.timeUs(30 * 3600)).toBe(3600e6);
    const ntsc = new PictureGrid(29.97);
    expect(ntsc.timeUs(30_000)).toBe(1001e6);
    expect(ntsc.interval(2)).toBe(60);
    for (const g of [grid, ntsc, new PictureGrid(60), new PictureGrid(25)])
      for (const i of [0, 1, 2, 3, 999, 107_892]) expect(g.indexAt(g.seconds(i))).toBe(i);
  });
});

describe('clock anchor', () => {
  test('finds the true offset behind bursts and late readings', () => {
    const anchor = new ClockAnchor(48_000);
    const next = random(3);
    for (let ms = 0; ms < 4000; ms += 7) {
      const rendered = Math.floor(ms / 200) * 9600; // bursts of 200 ms
      anchor.observe(100 + ms / 1000 + next() * 0.002, rendered);
    }
    expect(anchor.programmeTime(104)).toBeCloseTo(4, 1);
    expect(Math.abs(anchor.programmeTime(104) - 4)).toBeLessThan(0.02);
    expect(anchor.slips).toBe(0);
  });
  test('takes over and counts lost time', () => {
    const anchor = new ClockAnchor(48_000);
    for (let ms = 0; ms < 3000; ms += 5) anchor.observe(ms / 1000, ms * 48);
    for (let ms = 3000; ms < 7000; ms += 5) anchor.observe(ms / 1000, (ms - 400) * 48);
    expect(anchor.programmeTime(7)).toBeCloseTo(6.6, 3);
    expect(anchor.slips).toBe(1);
  });
});
