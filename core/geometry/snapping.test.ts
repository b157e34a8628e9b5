import { describe, expect, test } from 'vitest';
import { containRect, containsPoint, coverCrop } from './rect';
import { MIN_LAYER_PX, moveRect, resizeRect, snapLines } from './snapping';

const FRAME = { width: 1920, height: 1080 };
const rect = { x: 100, y: 100, width: 400, height: 300 };

describe('moving', () => {
  const lines = snapLines(FRAME, [{ x: 1000, y: 500, width: 200, height: 100 }]);
  test('snaps edges to the frame, the centre to the centre and edges to other layers', () => {
    expect(moveRect(rect, -95, 0, lines, 10).rect.x).toBe(0);
    expect(moveRect(rect, 664, 0, lines, 10).rect.x).toBe(760);
    const beside = moveRect(rect, 505, 0, lines, 10);
    expect(beside.rect.x + rect.width).toBe(1000);
    expect(beside.guides).toContainEqual({ axis: 'x', at: 1000, why: 'layer' });
  });
  test('does not snap beyond its reach or with a reach of nothing', () => {
    expect(moveRect(rect, -85, 0, lines, 10).rect.x).toBe(15);
    expect(moveRect(rect, -99, 0, lines, 0).rect.x).toBe(1);
  });
});

describe('resizing', () => {
  test('each handle leaves the opposite side where it is', () => {
    const east = resizeRect(rect, 'e', 50, 999, null, [], 0).rect;
    expect(east).toEqual({ x: 100, y: 100, width: 450, height: 300 });
    const northwest = resizeRect(rect, 'nw', 20, 30, null, [], 0).rect;
    expect(northwest).toEqual({ x: 120, y: 130, width: 380, height: 270 });
  });
  test('keeps the shape when asked, from a corner and from a side', () => {
    const corner = resizeRect(rect, 'se', 100, 0, 4 / 3, [], 0).rect;
    expect(corner).toEqual({ x: 100, y: 100, width: 500, height: 375 });
    const side = resizeRect(rect, 'e', 100, 0, 4 / 3, [], 0).rect;
    expect(side.height).toBe(375);
    expect(side.y).toBe(62.5);
  });
  test('never turns inside out', () => {
    const tiny = resizeRect(rect, 'w', 5000, 0, null, [], 0).rect;
    expect(tiny.width).toBe(MIN_LAYER_PX);
    expect(tiny.x + tiny.width).toBe(500);
  });
});

test('hit test follows the rotation', () => {
  const bar = { x: 0, y: 40, width: 100, height: 20 };
  expect(containsPoint(bar, 0, 5, 50)).toBe(true);
  expect(containsPoint(bar, 90, 5, 50)).toBe(false);
  expect(containsPoint(bar, 90, 50, 5)).toBe(true);
});

test('filling cuts, fitting leaves room, neither distorts', () => {
  expect(coverCrop({ width: 400, height: 300 }, { width: 160, height: 90 })).toEqual({
    x: 0,
    y: 37.5,
    width: 400,
    height: 225,
  });
  expect(containRect({ width: 400, height: 300 }, { x: 0, y: 0, width: 160, height: 90 })).toEqual({
    x: 20,
    y: 0,
    width: 120,
    height: 90,
  });
});
