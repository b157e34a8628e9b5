import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { lighterTarget, mediaCost } from './media-cost';

const shown = { width: 1280, height: 720 };

describe('what a file costs', () => {
  test('a film in four times the size and twice the rate is eight times what is seen', () => {
    const cost = mediaCost({ width: 2560, height: 1440, fps: 60, kind: 'clips' }, shown, 30);
    expect(cost.excess).toBeCloseTo(8);
    expect(cost.heavy).toBe(true);
    // Ten pictures of 4:2:0, and 1 MB of sound.
    expect(cost.bytes).toBe(2560 * 1440 * 15 + 1_048_576);
  });
  test('one of the size that is sent, and a small one, are light', () => {
    expect(mediaCost({ ...shown, fps: 30, kind: 'clips' }, shown, 30).heavy).toBe(false);
    expect(mediaCost({ width: 640, height: 360, fps: 60, kind: 'clips' }, shown, 30).heavy).toBe(false);
    expect(mediaCost({ ...shown, fps: 30, kind: 'clips' }, { width: 320, height: 180 }, 30).heavy).toBe(
      false,
    );
  });
  test('a still costs its points once', () => {
    const cost = mediaCost({ width: 4000, height: 3000, fps: 0, kind: 'still' }, shown, 30);
    expect(cost).toMatchObject({ bytes: 48_000_000, pointsPerSecond: 0, heavy: false });
  });
});

describe('a lighter copy', () => {
  test('is as large as it is shown, and no faster than is sent', () => {
    const target = lighterTarget({ width: 3840, height: 2160, fps: 60, kind: 'clips' }, shown, 30);
    expect(target).toEqual({ width: 1280, height: 720, fps: 30 });
  });
  test('of a tall film fills a wide box', () => {
    const target = lighterTarget({ width: 2160, height: 3840, fps: 25, kind: 'clips' }, shown, 30);
    expect(target).toEqual({ width: 1280, height: 2276, fps: 25 });
  });
  test('is never larger, has even sides, and keeps its shape', () => {
    const side = fc.integer({ min: 16, max: 8000 });
    fc.assert(
      fc.property(side, side, side, side, (width, height, w, h) => {
        const target = lighterTarget({ width, height, fps: 30, kind: 'clips' }, { width: w, height: h }, 30);
        expect((target.width % 2) + (target.height % 2)).toBe(0);
        expect(target.width).toBeLessThanOrEqual(width + 1);
        expect(target.height).toBeLessThanOrEqual(height + 1);
        expect(Math.abs(target.width / width - target.height / height)).toBeLessThan(
          2 / Math.min(width, height) + 1e-9,
        );
      }),
    );
  });
});
