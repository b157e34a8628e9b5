import fc from 'fast-check';
import { expect, test } from 'vitest';
import { NO_CROP, TURNS } from '../show/records';
import { adjustedSize, sourcePart } from './adjust';

const SIZE = { width: 400, height: 200 };

test('a turn by a quarter exchanges the sides, a crop takes its part', () => {
  const crop = { left: 0.25, right: 0, top: 0, bottom: 0.5 };
  expect(adjustedSize(SIZE, { crop, turnDeg: 0, mirrored: false })).toEqual({ width: 300, height: 100 });
  expect(adjustedSize(SIZE, { crop, turnDeg: 90, mirrored: true })).toEqual({ width: 100, height: 300 });
});

test('the upper left quarter comes from where the turn has taken it', () => {
  const from = (turnDeg: (typeof TURNS)[number], mirrored = false) => {
    const after = adjustedSize(SIZE, { crop: NO_CROP, turnDeg, mirrored });
    const part = { x: 0, y: 0, width: after.width / 2, height: after.height / 2 };
    const { x, y } = sourcePart(SIZE, { crop: NO_CROP, turnDeg, mirrored }, part);
    return [x, y];
  };
  expect(from(0)).toEqual([0, 0]);
  // Turned right: what was the lower left corner is the upper left one.
  expect(from(90)).toEqual([0, 100]);
  expect(from(180)).toEqual([200, 100]);
  expect(from(270)).toEqual([200, 0]);
  expect(from(0, true)).toEqual([200, 0]);
});

test('any part lies within what the crop leaves, with the same area', () => {
  const share = fc.double({ min: 0, max: 0.4, noNaN: true });
  fc.assert(
    fc.property(
      fc.record({ left: share, right: share, top: share, bottom: share }),
      fc.constantFrom(...TURNS),
      fc.boolean(),
      share,
      share,
      (crop, turnDeg, mirrored, x, y) => {
        const adjustment = { crop, turnDeg, mirrored };
        const after = adjustedSize(SIZE, adjustment);
        const part = {
          x: x * after.width,
          y: y * after.height,
          width: after.width * 0.5,
          height: after.height * 0.3,
        };
        const inner = sourcePart(SIZE, adjustment, part);
        expect(inner.width * inner.height).toBeCloseTo(part.width * part.height, 3);
        expect(inner.x).toBeGreaterThanOrEqual(SIZE.width * crop.left - 1e-6);
        expect(inner.x + inner.width).toBeLessThanOrEqual(SIZE.width * (1 - crop.right) + 1e-6);
        expect(inner.y).toBeGreaterThanOrEqual(SIZE.height * crop.top - 1e-6);
        expect(inner.y + inner.height).toBeLessThanOrEqual(SIZE.height * (1 - crop.bottom) + 1e-6);
      },
    ),
    { seed: 9, numRuns: 200 },
  );
});
