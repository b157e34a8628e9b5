import { describe, expect, test } from 'vitest';
import { containRect, containsPoint, coverCrop, type Rect } from './rect';
import { distancesOf, MIN_LAYER_PX, moveRect, resizeRect, safeArea, snapLines } from './snapping';

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

describe('safe areas, gaps and distances', () => {
  test('safe areas are those of SMPTE ST 2046-1: 93 % for action, 90 % for titles', () => {
    const frame = { width: 2000, height: 1000 };
    const rounded = (r: Rect) => [r.x, r.y, r.width, r.height].map((v) => Math.round(v * 1e6) / 1e6);
    expect(rounded(safeArea(frame, 'action'))).toEqual([70, 35, 1860, 930]);
    expect(rounded(safeArea(frame, 'title'))).toEqual([100, 50, 1800, 900]);
    const { rect, guides } = moveRect(
      { x: 90, y: 400, width: 100, height: 100 },
      4,
      0,
      snapLines(frame, []),
      8,
    );
    expect(rect.x).toBe(100);
    expect(guides[0].why).toBe('safe');
  });

  const a = { x: 100, y: 100, width: 100, height: 100 };
  const b = { x: 260, y: 120, width: 80, height: 60 };
  test.each([
    ['after the second', { x: 396, y: 110, width: 50, height: 50 }, 400],
    ['before the first', { x: -13, y: 110, width: 50, height: 50 }, -10],
  ])('equal gaps: %s', (_what, rect, x) => {
    const { rect: moved, guides } = moveRect(rect, 0, 0, [], 8, [a, b]);
    expect(moved.x).toBe(x);
    expect(guides[0].why).toBe('gap');
    const [first, second] = guides[0].gaps!;
    expect(first.to - first.from).toBe(second.to - second.from);
  });
  test('equal gaps: in the middle between two', () => {
    const far = { x: 600, y: 100, width: 100, height: 100 };
    const { rect } = moveRect({ x: 373, y: 110, width: 60, height: 50 }, 0, 0, [], 8, [a, far]);
    expect(rect.x).toBe(370);
  });
  test('layers that are not in its row make no gaps', () => {
    const { guides } = moveRect({ x: 396, y: 900, width: 50, height: 50 }, 0, 0, [], 8, [a, b]);
    expect(guides).toEqual([]);
  });

  test('distances go to the nearest side: a neighbour that faces it, else the edge', () => {
    const frame = { width: 1000, height: 500 };
    const found = distancesOf({ x: 240, y: 100, width: 100, height: 100 }, frame, [a]);
    expect(found).toEqual([
      { axis: 'x', from: 200, to: 240, across: 150 },
      { axis: 'y', from: 0, to: 100, across: 290 },
    ]);
  });
});
