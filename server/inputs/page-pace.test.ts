import { describe, expect, test } from 'vitest';
import { PagePace, type PictureCounts } from './page-pace';

/** A desk that makes thirty pictures a second, of which so many are late or missing. */
function desk() {
  const counts: PictureCounts = { due: 0, composed: 0, late: 0 };
  const pace = new PagePace();
  const seconds = (n: number, late = 0, missing = 0) => {
    for (let i = 0; i < n; i++) {
      counts.due += 30;
      counts.composed += 30 - missing;
      counts.late += late;
      pace.look({ ...counts });
    }
    return pace.factor;
  };
  return { pace, counts, seconds };
}

describe('the pace of pages', () => {
  test('is what their settings say while pictures are in time, and while nobody is live', () => {
    const { pace, seconds } = desk();
    expect(seconds(60)).toBe(1);
    for (let i = 0; i < 20; i++) pace.look(null);
    expect(pace.factor).toBe(1);
  });

  test('halves while pictures are late or missing, to a quarter', () => {
    expect(desk().seconds(2, 3)).toBe(2);
    expect(desk().seconds(2, 0, 3)).toBe(2);
    expect(desk().seconds(20, 3)).toBe(4);
    // One in thirty is neither many nor few.
    expect(desk().seconds(20, 1)).toBe(1);
  });

  test('comes back by steps, later each time it was too early, and starts over when nobody is live', () => {
    const { pace, seconds } = desk();
    seconds(1);
    const until = (factor: number) => {
      let n = 0;
      while (pace.factor !== factor && n < 500) {
        seconds(1);
        n += 1;
      }
      return n;
    };
    seconds(1, 5);
    const first = until(1);
    expect(first).toBeGreaterThanOrEqual(6);
    seconds(1, 5);
    const second = until(1);
    expect(second).toBeGreaterThan(first);
    seconds(1, 5);
    pace.look(null);
    expect(pace.factor).toBe(1);
  });

  test('a new broadcast, whose counts begin anew, is no flood of late pictures', () => {
    const { pace, seconds } = desk();
    seconds(30);
    pace.look({ due: 5, composed: 0, late: 5 });
    expect(pace.factor).toBe(1);
    pace.look({ due: 40, composed: 35, late: 5 });
    expect(pace.factor).toBe(1);
  });

  test('looks between two words of the desk change nothing', () => {
    const { pace, counts, seconds } = desk();
    seconds(5);
    expect(seconds(1, 5)).toBe(2);
    for (let i = 0; i < 3; i++) pace.look({ ...counts });
    expect(pace.factor).toBe(2);
    // Counts that stand still for longer are those of a broadcast that is over.
    for (let i = 0; i < 3; i++) pace.look({ ...counts });
    expect(pace.factor).toBe(1);
  });
});
