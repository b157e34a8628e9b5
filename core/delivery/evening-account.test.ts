import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { EMPTY_ACCOUNT, enterLook, totalsOf, type DeskReport } from './evening-account';

const desk = (run: string, more: Partial<DeskReport> = {}): DeskReport => ({
  ...{ run, skipped: 0, leftOut: 0, lineDropped: 0, integratedLufs: null, loudnessBlocks: 0 },
  ...more,
});

describe('what an evening adds up to', () => {
  test('a page that is closed and opened again takes nothing of what it had lost with it', () => {
    let state = EMPTY_ACCOUNT;
    const look = (seconds: number, awaySeconds: number, report: DeskReport | null) =>
      (state = enterLook(state, {
        atMs: 1_000_000 + seconds * 1000,
        desk: report,
        relay: { seconds, awaySeconds },
        fps: 30,
      }));
    look(1, 0, desk('a'));
    look(
      60,
      0,
      desk('a', { skipped: 200, leftOut: 20, lineDropped: 13, integratedLufs: -16, loudnessBlocks: 600 }),
    );
    look(62, 1, null);
    look(70, 9, null);
    expect(totalsOf(state)).toMatchObject({
      due: 2100,
      away: 270,
      skipped: 200,
      leftOut: 20,
      lineDropped: 13,
    });
    look(72, 10, desk('b', { skipped: 1 }));
    look(100, 10, desk('b', { skipped: 2, integratedLufs: -16, loudnessBlocks: 300 }));
    expect(totalsOf(state)).toEqual({
      ...{ due: 3000, away: 300, skipped: 202, leftOut: 20, lineDropped: 13 },
      integratedLufs: expect.closeTo(-16, 9),
    });
  });

  test('a relay that is started anew counts on, and what nobody sent meanwhile is lost', () => {
    let state = enterLook(EMPTY_ACCOUNT, {
      ...{ atMs: 100_000, desk: desk('a'), fps: 30 },
      relay: { seconds: 100, awaySeconds: 2 },
    });
    // Five seconds later one that has been there for two.
    state = enterLook(state, {
      atMs: 105_000,
      desk: desk('a'),
      relay: { seconds: 2, awaySeconds: 0 },
      fps: 30,
    });
    expect(totalsOf(state)).toMatchObject({ due: 105 * 30, away: (2 + 3) * 30 });
  });

  test('a hair less time away than was reckoned before is no relay that was started anew', () => {
    let state = EMPTY_ACCOUNT;
    for (const [seconds, awaySeconds] of [
      [100, 8.0001],
      [101, 8],
    ] as const)
      state = enterLook(state, {
        atMs: seconds * 1000,
        desk: null,
        relay: { seconds, awaySeconds },
        fps: 30,
      });
    expect(totalsOf(state)).toMatchObject({ due: 3030, away: 240 });
  });

  test('what was sent at another rate counts by its own', () => {
    let state = enterLook(EMPTY_ACCOUNT, {
      ...{ atMs: 0, desk: null, fps: 30 },
      relay: { seconds: 10, awaySeconds: 0 },
    });
    state = enterLook(state, { atMs: 10_000, desk: null, relay: { seconds: 20, awaySeconds: 1 }, fps: 60 });
    expect(totalsOf(state)).toMatchObject({ due: 900, away: 60 });
  });

  test('loudness over runs is the mean of their energies, by how long each was heard; unknown before any', () => {
    const of = (...runs: [number | null, number][]) =>
      totalsOf(
        runs.reduce(
          (state, [integratedLufs, loudnessBlocks], i) =>
            enterLook(state, {
              ...{ atMs: i, relay: null, fps: 30 },
              desk: desk(String(i), { integratedLufs, loudnessBlocks }),
            }),
          EMPTY_ACCOUNT,
        ),
      ).integratedLufs;
    expect(of([null, 0], [null, 0])).toBeNull();
    expect(of([-20, 100], [null, 0])).toBeCloseTo(-20, 9);
    expect(of([-20, 100], [-10, 100])).toBeCloseTo(10 * Math.log10((0.01 + 0.1) / 2), 9);
    expect(of([-20, 300], [-10, 100])).toBeCloseTo(10 * Math.log10((3 * 0.01 + 0.1) / 4), 9);
  });

  test('a loudness that is begun anew by hand is gone on with in the report', () => {
    let state = EMPTY_ACCOUNT;
    for (const [integratedLufs, loudnessBlocks] of [
      [-20, 300],
      [null, 0],
      [-10, 100],
    ] as const)
      state = enterLook(state, {
        ...{ atMs: 0, relay: null, fps: 30 },
        desk: desk('a', { integratedLufs, loudnessBlocks, skipped: 5 }),
      });
    expect(totalsOf(state).integratedLufs).toBeCloseTo(10 * Math.log10((3 * 0.01 + 0.1) / 4), 9);
    expect(totalsOf(state).skipped).toBe(5);
  });

  test('however it is cut into runs, the sums are those of one', () => {
    const step = fc.record({
      skipped: fc.nat(20),
      leftOut: fc.nat(20),
      lineDropped: fc.nat(20),
      cut: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 40 }), (steps) => {
        let state = EMPTY_ACCOUNT;
        let [run, own] = [0, { skipped: 0, leftOut: 0, lineDropped: 0 }];
        const all = { ...own };
        for (const [i, { cut, ...more }] of steps.entries()) {
          if (cut) [run, own] = [run + 1, { skipped: 0, leftOut: 0, lineDropped: 0 }];
          for (const name of ['skipped', 'leftOut', 'lineDropped'] as const) {
            own[name] += more[name];
            all[name] += more[name];
          }
          // Stored and read again in between, as by a server that is started anew.
          state = JSON.parse(JSON.stringify(state));
          state = enterLook(state, { atMs: i, desk: desk(String(run), own), relay: null, fps: 30 });
        }
        expect(totalsOf(state)).toMatchObject(all);
      }),
    );
  });
});
