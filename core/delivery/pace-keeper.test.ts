import { describe, expect, test } from 'vitest';
import type { PlanSettings } from './settings';
import { PaceKeeper, paceSteps } from './pace-keeper';

/**
 * A machine on which a picture takes so long; `load` may change it over time. Pictures are made as the stage does: the newest
 * that is due, the ones before it are missed.
 */
function run(
  fps: number,
  seconds: number,
  workAt: (second: number, scale: number) => number,
  { interval = 2 * fps, keep = 'sharpness' as PlanSettings['keep'] } = {},
) {
  const keeper = new PaceKeeper(fps, interval, keep);
  const made: { at: number; index: number }[] = [];
  const paces: { at: number; divisor: number; scale: number }[] = [];
  let next = 0;
  let now = 0;
  while (now < seconds) {
    now = Math.max(now, next / fps);
    const d = keeper.divisor;
    const newest = Math.floor(now * fps + 1e-6);
    const due = newest - (newest % d);
    const begun = now;
    now += workAt(now, keeper.scale);
    made.push({ at: begun, index: due });
    if (keeper.made({ at: begun, missed: (due - next) / d, workSeconds: now - begun }))
      paces.push({ at: begun, divisor: keeper.divisor, scale: keeper.scale });
    next = due - (due % keeper.divisor) + keeper.divisor;
  }
  const between = (from: number, to: number) => made.filter(({ at }) => at >= from && at < to);
  const steps = (from: number, to: number) => {
    const part = between(from, to);
    return part.slice(1).map(({ index }, i) => index - part[i].index);
  };
  return { paces, steps, made };
}

describe('a machine that is short of time', () => {
  test.each([
    [60, 0.024, 2],
    [60, 0.045, 3],
    [30, 0.055, 2],
    [30, 0.09, 3],
    [25, 0.07, 2],
  ])('at %i a second, %d s each: every %i. picture, evenly', (fps, work, divisor) => {
    const { steps, paces } = run(fps, 40, () => work);
    expect(paces[0].at).toBeLessThan(4);
    // Tries to do more come seldom; between them nothing is uneven.
    const uneven = steps(10, 40).filter((step) => step % divisor !== 0).length;
    expect(uneven / steps(10, 40).length).toBeLessThan(0.12);
    const sorted = steps(10, 40).sort((a, b) => a - b);
    expect(sorted[Math.floor(sorted.length / 2)]).toBe(divisor);
  });

  test('keyframes are never left out, whatever their distance', () => {
    for (const interval of [60, 50, 48, 45]) {
      for (const keep of ['sharpness', 'rate'] as const) {
        const { made } = run(30, 30, () => 0.2, { interval, keep });
        for (const { divisor } of paceSteps(30, interval, keep)) expect(interval % divisor).toBe(0);
        expect(made.length).toBeGreaterThan(100);
      }
    }
  });

  test('what is given up, one after the other: frames down to 15 a second, then size, then the rest', () => {
    const steps = (fps: number, interval: number, keep: PlanSettings['keep']) =>
      paceSteps(fps, interval, keep).map(({ divisor, scale }) => `${divisor} ${scale}`);
    expect(steps(30, 60, 'sharpness')).toEqual(['1 1', '2 1', '2 0.75', '2 0.5', '3 0.5']);
    expect(steps(59.94, 120, 'sharpness')).toEqual([
      ...['1 1', '2 1', '3 1', '4 1', '4 0.75', '4 0.5', '5 0.5', '6 0.5'],
    ]);
    expect(steps(30, 45, 'sharpness')).toEqual(['1 1', '1 0.75', '1 0.5', '3 0.5']);
    expect(steps(15, 30, 'sharpness')).toEqual(['1 1', '1 0.75', '1 0.5']);
    expect(steps(30, 60, 'rate')).toEqual(['1 1', '1 0.75', '1 0.5', '2 0.5', '3 0.5']);
    expect(steps(60, 120, 'rate')).toEqual([
      ...['1 1', '1 0.75', '1 0.5', '2 0.5', '3 0.5', '4 0.5', '5 0.5', '6 0.5'],
    ]);
  });

  test('where the rate is to stay, what is drawn becomes smaller until it fits, and larger again after', () => {
    // Half of the work depends on how much is drawn.
    const work = (whole: number) => (_: number, scale: number) => whole * (0.4 + 0.6 * scale ** 2);
    const { paces, steps } = run(30, 40, work(0.042), { keep: 'rate' });
    expect(paces[0]).toMatchObject({ divisor: 1, scale: 0.75 });
    expect(paces[0].at).toBeLessThan(4);
    expect(paces.every(({ divisor }) => divisor === 1)).toBe(true);
    const whole = steps(10, 40).filter((step) => step === 1).length;
    expect(whole / steps(10, 40).length).toBeGreaterThan(0.9);
    const after = run(30, 40, (s, scale) => (s > 5 && s < 15 ? work(0.06)(s, scale) : 0.012), {
      keep: 'rate',
    });
    expect(Math.min(...after.paces.map(({ scale }) => scale))).toBe(0.5);
    expect(after.paces.at(-1)).toMatchObject({ divisor: 1, scale: 1 });
    expect(after.paces.at(-1)!.at).toBeLessThan(25);
  });

  test('where sharpness is to stay, frames go first, and size only when fifteen are too many', () => {
    const { paces } = run(30, 40, (_, scale) => 0.09 * (0.4 + 0.6 * scale ** 2));
    expect(paces[0]).toMatchObject({ divisor: 2, scale: 1 });
    expect(paces[1]).toMatchObject({ divisor: 2, scale: 0.75 });
    expect(run(30, 40, () => 0.05).paces.every(({ scale }) => scale === 1)).toBe(true);
  });

  test('back at everything within ten seconds of its end', () => {
    const { paces, steps } = run(30, 40, (s) => (s > 5 && s < 20 ? 0.055 : 0.012));
    expect(paces.map(({ divisor }) => divisor).at(-1)).toBe(1);
    expect(paces.at(-1)!.at).toBeLessThan(30);
    expect(new Set(steps(30, 40))).toEqual(new Set([1]));
  });

  test('tries that fail come ever more seldom', () => {
    // A picture alone takes little; two in a row are too much for what runs beside them.
    let heavy = 0;
    const keeper = new PaceKeeper(30, 60, 'sharpness');
    let [next, now] = [0, 0];
    const ups: number[] = [];
    while (now < 300) {
      now = Math.max(now, next / 30);
      const d = keeper.divisor;
      const newest = Math.floor(now * 30 + 1e-6);
      const due = newest - (newest % d);
      heavy = d === 1 ? heavy + 1 : 0;
      const work = heavy > 5 ? 0.06 : 0.02;
      if (keeper.made({ at: now, missed: (due - next) / d, workSeconds: work }) && keeper.divisor === 1)
        ups.push(now);
      now += work;
      next = due - (due % keeper.divisor) + keeper.divisor;
    }
    const waits = ups.slice(1).map((at, i) => at - ups[i]);
    expect(waits.at(-1)!).toBeGreaterThan(3 * waits[0]);
    expect(ups.length).toBeLessThan(14);
  });
});

describe('no reason to give way', () => {
  test('a machine that has time, a single stumble, and one in a while', () => {
    expect(run(30, 60, () => 0.02).paces).toEqual([]);
    expect(run(60, 30, (s) => (s > 10 && s < 10.02 ? 3 : 0.01)).paces).toEqual([]);
    expect(run(30, 60, (s) => (s % 1 < 0.03 ? 0.05 : 0.01)).paces).toEqual([]);
  });
});
