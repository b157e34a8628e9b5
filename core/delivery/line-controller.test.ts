import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decideRates, LineController, type LineVerdict } from './line-controller';
import { runLine } from './simulated-line';

/** Numerical Recipes' linear congruential generator: the same line every time. */
function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (state * 1664525 + 1013904223) >>> 0) / 2 ** 32;
}

/** 8 → 3 → down for 5 s → 1 → 6 Mbps. */
const script = (s: number) => (s < 30 ? 8000 : s < 60 ? 3000 : s < 65 ? 0 : s < 95 ? 1000 : 6000);

describe('on the script 8 → 3 → outage → 1 → 6 Mbps', () => {
  test.each([
    [2500, 0],
    [2500, 0.02],
    [5000, 0],
    [5000, 0.02],
    [7500, 0],
    [7500, 0.02],
  ])('a plan of %i kbps with %f loss stalls under 3 s beyond the outage and uses the line', (plan, loss) => {
    for (const seed of [1, 5, 23]) {
      const run = runLine(plan, 140, { kbpsAt: script, loss, roundTripMs: 60 }, seeded(seed));
      expect(run.stalledSeconds).toBeLessThan(5 + 3);
      expect(run.meanKbps / run.possibleKbps).toBeGreaterThan(0.8);
    }
  });

  test('it is down at what the line carries within two seconds', () => {
    const run = runLine(
      5000,
      60,
      { kbpsAt: (s) => (s < 30 ? 8000 : 2000), loss: 0, roundTripMs: 40 },
      seeded(3),
    );
    expect(run.asked[295]).toBe(5000);
    expect(run.asked[320]).toBeLessThan(2000);
  });
});

test('another plan is followed: up where all was carried, and no further than the line where it was not', () => {
  const free = new LineController(2000);
  free.plan(3000);
  expect(free.verdict.kbps).toBe(3000);
  free.plan(1000);
  expect([free.verdict.kbps, free.leastKbps]).toEqual([1000, 150]);
  const slow = new LineController(4000);
  for (let i = 0; i < 40; i++)
    slow.sample({
      ...{ atMs: i * 100, waitingMs: 200 + i * 60 },
      ...{ deliveredBytes: i * 12_500, waitingBytes: 40_000 + i * 12_500 },
    });
  const carried = slow.verdict.kbps;
  expect(carried).toBeLessThan(4000);
  slow.plan(8000);
  expect(slow.verdict.kbps).toBe(Math.max(carried, slow.leastKbps));
  expect(slow.verdict.kbps).toBeLessThan(1000);
  slow.plan(200);
  expect(slow.verdict.kbps).toBe(200);
});

test('on a line that carries the plan nothing is ever lowered', () => {
  const run = runLine(4000, 120, { kbpsAt: () => 6000, loss: 0.01, roundTripMs: 80 }, seeded(9));
  expect(Math.min(...run.asked)).toBe(4000);
  expect(run.stalledSeconds).toBe(0);
});

test('on a steady line below the plan it does not oscillate: few tries to go above, each small', () => {
  const run = runLine(6000, 300, { kbpsAt: () => 2500, loss: 0, roundTripMs: 50 }, seeded(4));
  const settled = run.asked.slice(300);
  // Changes of direction from down to up: one for each try that failed.
  let tries = 0;
  for (let i = 2; i < settled.length; i++)
    if (settled[i] > settled[i - 1] && settled[i - 1] < settled[i - 2]) tries += 1;
  expect(Math.max(...settled)).toBeLessThan(2500 * 1.45);
  expect(tries).toBeLessThan(20);
  expect(run.stalledSeconds).toBeLessThan(3);
  expect(run.meanKbps).toBeGreaterThan(2500 * 0.8);
});

test('what it asks for stays between the least and the plan, whatever it is told', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          ms: fc.integer({ min: 1, max: 3000 }),
          bytes: fc.integer({ min: 0, max: 5_000_000 }),
          waitingMs: fc.integer({ min: 0, max: 60_000 }),
          waitingBytes: fc.integer({ min: 0, max: 50_000_000 }),
        }),
        { maxLength: 200 },
      ),
      (steps) => {
        const controller = new LineController(3000, 300);
        let atMs = 0;
        let deliveredBytes = 0;
        for (const step of steps) {
          atMs += step.ms;
          deliveredBytes += step.bytes;
          const { kbps } = controller.sample({ atMs, deliveredBytes, ...step });
          expect(kbps).toBeGreaterThanOrEqual(300);
          expect(kbps).toBeLessThanOrEqual(3000);
        }
      },
    ),
  );
});

describe('who follows a slow way', () => {
  const at = (encode: string, kbps: number, state: LineVerdict['state'] = 'slow') => ({
    encode,
    planKbps: 2000,
    verdict: { kbps, state },
  });
  const fine = (encode: string) => at(encode, 2000, 'clear');

  test('nobody when all is well', () =>
    expect(decideRates([fine('wide'), fine('tall')])).toEqual({
      cause: 'none',
      shares: { wide: 1, tall: 1 },
    }));

  test('one of several that share an encode is its own trouble', () =>
    expect(decideRates([fine('wide'), fine('wide'), at('wide', 500)])).toEqual({
      cause: 'destination',
      shares: { wide: 1 },
    }));

  test('the only one of its encode is followed, the others are left alone', () =>
    expect(decideRates([fine('wide'), fine('wide'), at('tall', 500)])).toEqual({
      cause: 'destination',
      shares: { wide: 1, tall: 0.25 },
    }));

  test('most of them slow is the line: every encode follows its slowest', () =>
    expect(decideRates([at('wide', 1000), at('wide', 1400), at('tall', 500), fine('tall')])).toEqual({
      cause: 'line',
      shares: { wide: 0.5, tall: 0.25 },
    }));

  test('no destinations, no shares', () => expect(decideRates([])).toEqual({ cause: 'none', shares: {} }));
});

/** As the rate governor's: whoever changes a number sees here what it does. What is asked for each second, kbps. */
describe('recorded runs', () => {
  const recorded = (plan: number, seconds: number, line: Parameters<typeof runLine>[2], seed: number) => {
    const run = runLine(plan, seconds, line, seeded(seed));
    const asked = run.asked.filter((_, i) => i % 10 === 9);
    return [
      asked.map((kbps) => Math.round(kbps)).join(' '),
      `stood still ${run.stalledSeconds.toFixed(1)} s, ${Math.round(run.meanKbps)} of ${Math.round(run.possibleKbps)} kbps, ${run.dropped} dropped`,
    ];
  };
  const steady = (kbps: number) => ({ kbpsAt: () => kbps, loss: 0, roundTripMs: 60 });

  test('on lines that change', () => {
    expect(recorded(5000, 140, { kbpsAt: script, loss: 0.02, roundTripMs: 60 }, 5)).toMatchInlineSnapshot(`
      [
        "5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 1650 1650 2570 2570 2570 2699 2834 2975 3124 3124 1633 2409 2409 2409 2409 2409 2409 2530 2656 2789 2929 3222 3222 1998 2538 2538 2538 2538 2538 2538 500 500 500 500 500 500 500 500 500 891 891 891 935 982 1031 1082 1082 1082 711 900 900 900 900 900 900 945 992 1042 1042 682 846 846 846 846 846 846 846 846 846 846 846 846 888 933 979 1028 1131 1357 1697 2121 2651 3314 4142 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000 5000",
        "stood still 4.2 s, 2944 of 3536 kbps, 101 dropped",
      ]
    `);
    expect(recorded(2500, 60, { kbpsAt: (s) => (s < 20 ? 4000 : 800), loss: 0, roundTripMs: 200 }, 2))
      .toMatchInlineSnapshot(`
      [
        "2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 2500 525 360 331 331 722 722 722 758 796 836 878 966 548 548 720 720 720 720 720 720 756 794 833 875 963 556 720 720 720 720 720 720 720 720 720 720 720 720 756 794",
        "stood still 0.0 s, 1334 of 1367 kbps, 0 dropped",
      ]
    `);
    expect(recorded(6000, 90, steady(2500), 4)).toMatchInlineSnapshot(`
      [
        "1000 1000 2250 2250 2250 2363 2481 2605 2735 2735 1787 2250 2250 2250 2250 2250 2250 2363 2481 2605 2735 3008 3008 1681 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2363 2481 2605 2735 2735 2735 1714 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2363 2481 2605 2735 3008 3008 1703 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2250 2363 2481 2605 2735 2735 2735 1692 2250 2250 2250 2250 2250 2250 2250 2250 2250",
        "stood still 0.0 s, 2337 of 2500 kbps, 0 dropped",
      ]
    `);
    expect(
      recorded(
        3000,
        60,
        { kbpsAt: (s) => (Math.floor(s / 10) % 2 ? 1500 : 3500), loss: 0.01, roundTripMs: 30 },
        8,
      ),
    ).toMatchInlineSnapshot(`
      [
        "3000 3000 3000 3000 3000 3000 3000 3000 3000 3000 951 816 816 1350 1350 1350 1418 1489 1563 1563 1641 1806 2167 2708 3000 3000 3000 3000 3000 3000 1008 856 820 1318 1318 1318 1383 1453 1525 1601 1762 2114 2642 3000 3000 3000 3000 3000 3000 3000 956 863 863 1330 1330 1330 1396 1466 1539 1616",
        "stood still 0.0 s, 2089 of 2250 kbps, 0 dropped",
      ]
    `);
    expect(recorded(400, 40, steady(90), 1)).toMatchInlineSnapshot(`
      [
        "150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150 150",
        "stood still 5.6 s, 90 of 90 kbps, 191 dropped",
      ]
    `);
  });

  test('step by step, told by hand', () => {
    const controller = new LineController(2000);
    const told: string[] = [];
    let delivered = 0;
    const say = (seconds: number, kbps: number, waitingMs: number) => {
      for (let i = 0; i < seconds * 4; i++) {
        delivered += (kbps * 1000) / 8 / 4;
        const { state, kbps: wanted } = controller.sample({
          ...{ atMs: told.length * 250, deliveredBytes: delivered, waitingMs },
          waitingBytes: (waitingMs * kbps) / 8,
        });
        told.push(`${state[0]}${wanted}`);
      }
    };
    say(3, 2000, 40);
    say(2, 1200, 500);
    say(3, 1200, 60);
    say(2, 0, 2500);
    say(8, 1500, 50);
    say(6, 2000, 45);
    expect(told.join(' ')).toMatchInlineSnapshot(
      `"c2000 c2000 c2000 c2000 c2000 c2000 c2000 c2000 c2000 c2000 c2000 c2000 c2000 c2000 s960 s933 s910 s891 s874 s860 c1160 c1160 c1160 c1160 c1160 c1160 c1160 c1160 c1160 c1160 c1160 c1160 c1160 c1160 s270 b200 b200 b200 b200 b200 s203 c203 c203 c203 c203 c203 c203 c203 c203 c203 c203 c203 c203 c213 c213 c213 c213 c223 c223 c223 c223 c234 c234 c234 c234 c246 c246 c246 c246 c271 c271 c271 c271 c325 c325 c325 c325 c406 c406 c406 c406 c508 c508 c508 c508 c635 c635 c635 c635 c793 c793 c793 c793 c992 c992 c992"`,
    );
    // The line’s own delay is the least of the last twenty seconds.
    expect(controller.floorMs).toBe(45);
  });
});
