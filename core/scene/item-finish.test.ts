import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { PLAIN_FINISH, START_AREA, START_BLUR, START_GLOW, START_SHADOW } from '../show/finish-records';
import { fullPlacement, type Placement } from '../show/records';
import { WIDE } from '../show/sample-show';
import { mixFinish } from '../motion/mix-finish';
import { areaOfRect, finishOf } from './item-finish';

const placement = (more: Partial<Placement>): Placement => ({ ...fullPlacement(WIDE), ...more });

describe('a finish in output pixels', () => {
  test('plain does nothing', () => {
    expect(finishOf(PLAIN_FINISH, placement({}), 0.5)).toEqual({ shadow: null, finish: null, reachPx: 0 });
  });
  test('sizes follow the picture’s size', () => {
    const { finish, reachPx } = finishOf(
      { ...PLAIN_FINISH, outerGlow: { ...START_GLOW, sizePx: 40 }, blur: { ...START_BLUR, px: 10 } },
      placement({}),
      0.5,
    );
    expect(finish?.outerGlow?.sizePx).toBe(20);
    expect(finish?.blur?.px).toBe(5);
    expect(reachPx).toBe(30);
  });
  test('a shadow lies where it falls, seen from the turned layer', () => {
    const shadow = { ...START_SHADOW, angleDeg: 90, distance: 1, softness: 0.5 };
    const { shadow: turned } = finishOf(
      { ...PLAIN_FINISH, shadow },
      placement({ rotationDeg: 90, shadowPx: 10 }),
      1,
    );
    // Down on the frame is to the right of a layer that lies on its side.
    expect(turned?.dxPx).toBeCloseTo(10);
    expect(turned?.dyPx).toBeCloseTo(0);
    expect(turned?.softPx).toBe(5);
  });
  test('what is blurred for privacy stays blurred in the smallest picture, a look may go', () => {
    const blur = { px: 4, areas: [START_AREA] };
    const of = (part: 'inside' | 'outside' | 'whole') =>
      finishOf({ ...PLAIN_FINISH, blur: { ...blur, part } }, placement({}), 0.05).finish;
    expect(of('inside')?.blur?.px).toBe(1);
    expect(of('outside')?.blur?.px).toBe(1);
    expect(of('whole')).toBeNull();
  });
  test('an inside without areas is nothing, an outside without areas is everything', () => {
    const of = (part: 'inside' | 'outside') =>
      finishOf({ ...PLAIN_FINISH, blur: { px: 8, part, areas: [] } }, placement({}), 1).finish;
    expect(of('inside')).toBeNull();
    expect(of('outside')?.blur).not.toBeNull();
  });
});

describe('an area drawn on the frame', () => {
  const layer = placement({ cx: 960, cy: 540, width: 800, height: 400 });
  test('is a part of the layer', () => {
    expect(areaOfRect({ x: 760, y: 440, width: 400, height: 100 }, layer)).toEqual({
      left: 0.25,
      top: 0.25,
      width: 0.5,
      height: 0.25,
    });
  });
  test('is cut at its edges, and nothing beside it', () => {
    expect(areaOfRect({ x: 0, y: 0, width: 760, height: 1080 }, layer)).toEqual({
      left: 0,
      top: 0,
      width: 0.25,
      height: 1,
    });
    expect(areaOfRect({ x: 0, y: 0, width: 500, height: 1080 }, layer)).toBeNull();
  });
  test('of a turned layer is found where it is seen', () => {
    // Turned by 180 degrees, what is drawn at the left above lies at the right below.
    const area = areaOfRect({ x: 560, y: 340, width: 80, height: 40 }, { ...layer, rotationDeg: 180 });
    expect(area?.left).toBeCloseTo(0.9);
    expect(area?.top).toBeCloseTo(0.9);
  });
  test('lies within the layer, whatever is drawn', () => {
    const side = fc.double({ min: -3000, max: 3000, noNaN: true });
    const length = fc.double({ min: 1, max: 3000, noNaN: true });
    fc.assert(
      fc.property(side, side, length, length, fc.integer({ min: -360, max: 360 }), (x, y, w, h, turn) => {
        const area = areaOfRect({ x, y, width: w, height: h }, { ...layer, rotationDeg: turn });
        if (!area) return;
        expect(area.left).toBeGreaterThanOrEqual(0);
        expect(area.left + area.width).toBeLessThanOrEqual(1 + 1e-9);
        expect(area.top + area.height).toBeLessThanOrEqual(1 + 1e-9);
      }),
    );
  });
});

describe('between two finishes', () => {
  const glowing = { ...PLAIN_FINISH, outerGlow: { ...START_GLOW, strength: 0.8 } };
  test('the ends are the finishes themselves', () => {
    expect(mixFinish(PLAIN_FINISH, glowing, 0)).toEqual(PLAIN_FINISH);
    expect(mixFinish(PLAIN_FINISH, glowing, 1)).toEqual(glowing);
    expect(mixFinish(PLAIN_FINISH, glowing, 1.3)).toEqual(glowing);
  });
  test('a glow comes by its strength', () => {
    expect(mixFinish(PLAIN_FINISH, glowing, 0.25).outerGlow?.strength).toBeCloseTo(0.2);
  });
  test('what was blurred for privacy is not half sharp on the way', () => {
    const hidden = { ...PLAIN_FINISH, blur: { px: 20, part: 'inside' as const, areas: [START_AREA] } };
    expect(mixFinish(hidden, PLAIN_FINISH, 0.4).blur?.px).toBe(20);
    expect(mixFinish(PLAIN_FINISH, hidden, 0.6).blur?.px).toBe(20);
  });
});
