import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fullPlacement, type Placement } from '../show/records';
import {
  cropPlacement,
  resizePlacement,
  roundPlacement,
  scaleWithin,
  turnPlacement,
  visibleCrop,
} from './gestures';
import { boundsOfPlacement, turned, unionOf } from './rect';
import { RESIZE_HANDLES, type ResizeHandle } from './snapping';

const box = (more: Partial<Placement> = {}): Placement => ({
  ...fullPlacement({ width: 1920, height: 1080 }),
  cx: 500,
  cy: 400,
  width: 320,
  height: 180,
  ...more,
});

/** A point of the box given in parts of its sides (−1…1), on the frame. */
const pointOf = (p: Placement, u: number, v: number) => {
  const d = turned((u * p.width) / 2, (v * p.height) / 2, p.rotationDeg);
  return { x: p.cx + d.x, y: p.cy + d.y };
};
const opposite = (handle: ResizeHandle) => ({
  u: handle.includes('w') ? 1 : handle.includes('e') ? -1 : 0,
  v: handle.includes('n') ? 1 : handle.includes('s') ? -1 : 0,
});

describe('resizing', () => {
  test.each(RESIZE_HANDLES)('%s: the opposite side stays, however the layer is turned', (handle) => {
    fc.assert(
      fc.property(
        fc.integer({ min: -170, max: 170 }),
        fc.integer({ min: -100, max: 100 }),
        fc.integer({ min: -60, max: 60 }),
        (deg, dx, dy) => {
          const start = box({ rotationDeg: deg });
          const { placement } = resizePlacement(start, handle, dx, dy, null, [], 0);
          const { u, v } = opposite(handle);
          const [before, after] = [pointOf(start, u, v), pointOf(placement, u, v)];
          expect(after.x).toBeCloseTo(before.x, 6);
          expect(after.y).toBeCloseTo(before.y, 6);
          expect(placement.rotationDeg).toBe(deg);
        },
      ),
      { seed: 3, numRuns: 40 },
    );
  });

  test('a turned layer grows along its own sides', () => {
    const { placement } = resizePlacement(box({ rotationDeg: 90 }), 'e', 0, 50, null, [], 0);
    expect(placement.width).toBeCloseTo(370);
    expect(placement.height).toBeCloseTo(180);
    expect(placement.cy).toBeCloseTo(425);
  });
});

describe('cropping', () => {
  const picture = { width: 1600, height: 900 };
  /** Where a point of the picture (0…1) lies on the frame. */
  const onFrame = (p: Placement, s: number, t: number) => {
    const { crop } = p;
    const u = ((s - crop.left) / (1 - crop.left - crop.right)) * 2 - 1;
    const v = ((t - crop.top) / (1 - crop.top - crop.bottom)) * 2 - 1;
    return pointOf(p, p.flipX ? -u : u, p.flipY ? -v : v);
  };

  test('an edge dragged in cuts as much, and the picture stays where it is', () => {
    const cropped = cropPlacement(box(), picture, 'fill', 'e', -80, 0);
    expect(cropped.width).toBe(240);
    expect(cropped.crop.right).toBeCloseTo(0.25);
    expect(onFrame(cropped, 0.3, 0.4)).toEqual(onFrame(box(), 0.3, 0.4));
  });

  test('any drag at any turn and flip keeps the picture in its place', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RESIZE_HANDLES),
        fc.integer({ min: -150, max: 150 }),
        fc.integer({ min: -90, max: 90 }),
        fc.integer({ min: -180, max: 180 }),
        fc.boolean(),
        fc.boolean(),
        (handle, dx, dy, rotationDeg, flipX, flipY) => {
          const start = box({
            rotationDeg,
            flipX,
            flipY,
            crop: { left: 0.1, right: 0.2, top: 0.05, bottom: 0.1 },
          });
          const after = cropPlacement(start, picture, 'stretch', handle, dx, dy);
          for (const [s, t] of [
            [0.3, 0.4],
            [0.6, 0.7],
          ]) {
            const [a, b] = [onFrame(start, s, t), onFrame(after, s, t)];
            expect(b.x).toBeCloseTo(a.x, 4);
            expect(b.y).toBeCloseTo(a.y, 4);
          }
          for (const side of Object.values(after.crop)) expect(side).toBeGreaterThanOrEqual(0);
          expect(after.width).toBeGreaterThan(0);
        },
      ),
      { seed: 5, numRuns: 300 },
    );
  });

  test('outward it stops where the picture ends', () => {
    const cropped = cropPlacement(
      box({ crop: { left: 0.1, right: 0, top: 0, bottom: 0 } }),
      picture,
      'stretch',
      'w',
      -500,
      0,
    );
    expect(cropped.crop.left).toBe(0);
    expect(cropped.width).toBeCloseTo(320 / 0.9);
  });

  test('a box of another shape has cut already what is over', () => {
    const crop = visibleCrop(box({ width: 180, height: 180 }), picture, 'fill');
    expect(crop.left).toBeCloseTo((1 - 9 / 16) / 2);
    expect(crop.left).toBe(crop.right);
    expect(crop.top).toBe(0);
  });
});

test('corners are rounded by dragging inwards, at most to half', () => {
  expect(roundPlacement(box(), 20, 20).cornerPx).toBe(20);
  expect(roundPlacement(box({ cornerPx: 30 }), -100, -100).cornerPx).toBe(0);
  expect(roundPlacement(box(), 900, 900).cornerPx).toBe(90);
});

describe('turning', () => {
  const start = box();
  test.each([
    [500, 100, 0],
    [900, 400, 90],
    [500, 900, 180],
    [100, 400, -90],
  ])('towards (%i, %i) is %i degrees', (x, y, deg) => {
    expect(turnPlacement(start, x, y, 'none').rotationDeg).toBeCloseTo(deg);
  });
  test('near a step it snaps, in steps always, else never', () => {
    const angle = ((47 - 90) * Math.PI) / 180;
    const [x, y] = [500 + Math.cos(angle) * 200, 400 + Math.sin(angle) * 200];
    expect(turnPlacement(start, x, y, 'near').rotationDeg).toBeCloseTo(45);
    expect(turnPlacement(start, x, y, 'none').rotationDeg).toBeCloseTo(47);
    expect(turnPlacement(start, 600, 390, 'steps').rotationDeg % 15).toBeCloseTo(0);
  });
});

test('several layers scaled together stand alike in the new rectangle', () => {
  const two = [box(), box({ cx: 900, cy: 700, width: 100, height: 100 })];
  const from = unionOf(two.map(boundsOfPlacement))!;
  const to = { x: 0, y: 0, width: from.width * 2, height: from.height * 2 };
  const scaled = scaleWithin(two, from, to);
  expect(unionOf(scaled.map(boundsOfPlacement))).toEqual(to);
  expect(scaled[1]).toMatchObject({ width: 200, height: 200 });
});
