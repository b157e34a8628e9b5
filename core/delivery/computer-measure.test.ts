import { describe, expect, test } from 'vitest';
import {
  carriesPlan,
  computerMeasure,
  encodersOf,
  measuredRows,
  pixelsCarried,
  readMeasure,
  type EncoderTrial,
} from './computer-measure';

const trial = (
  width: number,
  height: number,
  msPerPicture: number,
  encoder: 'cpu' | 'gpu' = 'cpu',
): EncoderTrial => ({
  ...{ width, height, encoder, msPerPicture },
});
/** 10 ms a megapixel at the middle size, 2 for composing. */
const TRIALS = [trial(1920, 1080, 16), trial(1280, 720, 9.216), trial(640, 360, 4)];
const COMPOSE = 2;
const measure = (trials = TRIALS, cores = 4) => computerMeasure(trials, COMPOSE, cores, 7)!;

describe('what was measured', () => {
  test('is kept as it was, without ways that are not offered', () => {
    expect(measure([...TRIALS, trial(1920, 1080, 0, 'gpu')])).toEqual({
      ...{ version: 1, atMs: 7, cores: 4, composeMsPerMegapixel: 2 },
      trials: TRIALS,
    });
    expect(computerMeasure(TRIALS, COMPOSE, 0, 7)!.cores).toBe(1);
  });
  test('is nothing without a way to encode, or without a picture', () => {
    expect(computerMeasure([trial(10, 10, 0)], COMPOSE, 4, 7)).toBeNull();
    expect(computerMeasure([], COMPOSE, 4, 7)).toBeNull();
    expect(computerMeasure(TRIALS, null, 4, 7)).toBeNull();
  });
  test('names its encoders, the processor first', () => {
    expect(encodersOf(measure([trial(640, 360, 1, 'gpu'), ...TRIALS]))).toEqual(['cpu', 'gpu']);
    expect(encodersOf(measure([trial(640, 360, 1, 'gpu')]))).toEqual(['gpu']);
  });
});

describe('what it carries', () => {
  test('pixels for half a core, by the middle of the sizes', () => {
    expect(pixelsCarried(measure())).toBeCloseTo((500 / 12) * 1e6, -3);
    const both = measure([...TRIALS, trial(1000, 1000, 3, 'gpu')]);
    expect(pixelsCarried(both)).toBeCloseTo((500 / 12) * 1e6, -3);
    expect(pixelsCarried(both, 'cpu')).toBeCloseTo((500 / 12) * 1e6, -3);
    expect(pixelsCarried(both, 'gpu')).toBeCloseTo((500 / 5) * 1e6, -3);
    // A chip that is not there is no reason to promise more.
    expect(pixelsCarried(measure(), 'gpu')).toBeCloseTo((500 / 12) * 1e6, -3);
  });

  test('a plan: with room up to half a core, tight up to 85 hundredths, and not beyond', () => {
    const plan = (pixels: number, fps = 10) =>
      carriesPlan(measure(), {
        frames: {
          wide: { width: pixels / 1000, height: 500, videoKbps: 1 },
          tall: { width: pixels / 1000, height: 500, videoKbps: 1 },
        },
        ...{ fps, encoder: 'any' },
      });
    expect(plan(4.16e6)).toMatchObject({ verdict: 'room' });
    expect(plan(4.16e6).share).toBeCloseTo(0.4992);
    expect(plan(4.18e6).verdict).toBe('tight');
    expect(plan(7.08e6).verdict).toBe('tight');
    expect(plan(7.1e6).verdict).toBe('no');
    expect(plan(1e6, 60).share).toBeCloseTo(0.72);
  });

  test('what is left of the computer for a game', () => {
    const left = (cores: number) =>
      carriesPlan(measure(TRIALS, cores), {
        frames: { wide: { width: 1000, height: 1000, videoKbps: 1 } },
        ...{ fps: 100 / 6, encoder: 'any' },
      }).left;
    expect(left(4)).toBeCloseTo(1 - 1 / 4);
    expect(left(2)).toBeCloseTo(0.5);
    expect(left(1)).toBe(0);
  });
});

describe('the table', () => {
  test('has a row for each size that was tried, at both rates, by each encoder', () => {
    const rows = measuredRows(measure([...TRIALS, trial(640, 360, 2, 'gpu')]), false);
    expect(
      rows.map(({ width, cells }) => [width, cells.map(({ fps, encoder }) => `${fps} ${encoder}`)]),
    ).toEqual([
      [1920, ['30 cpu', '60 cpu']],
      [1280, ['30 cpu', '60 cpu']],
      [640, ['30 cpu', '30 gpu', '60 cpu', '60 gpu']],
    ]);
    const [, hd, small] = rows;
    expect(hd.cells[0].carried.share).toBeCloseTo(((9.216 + 1.8432) * 30) / 1000);
    expect(hd.cells[1].carried).toMatchObject({ verdict: 'tight' });
    expect(small.cells[1].carried.share).toBeCloseTo(((2 + 0.4608) * 30) / 1000);
  });

  test('with Tall both are made', () => {
    const [, hd] = measuredRows(measure(), true);
    expect(hd.cells[0].carried.share).toBeCloseTo(((9.216 + 4 + 1.8432 + 0.4608) * 30) / 1000);
    // Where the small size was not tried, nothing is said of it.
    expect(measuredRows(measure(TRIALS.slice(0, 2)), true)).toEqual([]);
  });
});

describe('kept as text', () => {
  test('is what was written', () => {
    expect(readMeasure(JSON.stringify(measure()))).toEqual(measure());
  });
  test('is nothing when it is something else', () => {
    const wrong = (part: object) => readMeasure(JSON.stringify({ ...measure(), ...part }));
    const [first] = TRIALS;
    for (const text of ['', 'null', '7', '[]', '{}', '{"version":1}']) expect(readMeasure(text)).toBeNull();
    expect(wrong({ version: 2 })).toBeNull();
    expect(wrong({ atMs: 'today' })).toBeNull();
    expect(wrong({ atMs: -1 })).toBeNull();
    expect(wrong({ cores: 0 })).toBeNull();
    expect(wrong({ composeMsPerMegapixel: null })).toBeNull();
    expect(wrong({ trials: [] })).toBeNull();
    expect(wrong({ trials: 'none' })).toBeNull();
    expect(wrong({ trials: [null] })).toBeNull();
    expect(wrong({ trials: [first, { ...first, encoder: 'any' }] })).toBeNull();
    expect(wrong({ trials: [{ ...first, msPerPicture: 0 }] })).toBeNull();
    expect(wrong({ trials: [{ ...first, width: 0 }] })).toBeNull();
    expect(wrong({ trials: [{ ...first, height: '90' }] })).toBeNull();
    expect(wrong({ trials: [{ ...first, encoder: 'gpu' }] })).not.toBeNull();
  });
});
