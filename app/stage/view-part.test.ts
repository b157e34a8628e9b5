import { describe, expect, test } from 'vitest';
import { boardSizes, MAX_ZOOM, panned, scaleOf, zoomed } from './view-part';

const frame = { width: 1920, height: 1080 };
const box = { width: 480, height: 270 };

describe('zoom', () => {
  test('the point under the pointer stays where it is', () => {
    const at = { x: 600, y: 300 };
    const part = zoomed(box, frame, null, 1, at)!;
    expect(scaleOf(box, frame, part)).toBeCloseTo(1);
    expect((at.x - part.x) / part.width).toBeCloseTo(at.x / frame.width);
    const closer = zoomed(box, frame, part, 4, at)!;
    expect((at.y - closer.y) / closer.height).toBeCloseTo(at.y / frame.height);
  });
  test('up to 800 %, and out again to the whole frame', () => {
    const part = zoomed(box, frame, null, 99, { x: 0, y: 0 })!;
    expect(scaleOf(box, frame, part)).toBe(MAX_ZOOM);
    expect(zoomed(box, frame, part, 0.01, { x: 5, y: 5 })).toBeNull();
  });
  test('panning keeps half of the view over the frame', () => {
    const part = zoomed(box, frame, null, 2, { x: 960, y: 540 })!;
    expect(panned(part, frame, 1e6, -1e6)).toMatchObject({ x: 1920 - part.width / 2, y: -part.height / 2 });
    expect(panned(null, frame, 10, 10)).toBeNull();
  });
});

test('frames side by side fill their room and keep their shapes', () => {
  const sizes = boardSizes({ width: 748, height: 560 }, [frame, { width: 1080, height: 1920 }], 14);
  expect(sizes[0].width + sizes[1].width + 14).toBeLessThanOrEqual(748);
  expect(sizes[0].width + sizes[1].width + 14).toBeGreaterThan(740);
  expect(sizes[0].width / sizes[0].height).toBeCloseTo(16 / 9, 1);
  expect(sizes[1].width / sizes[1].height).toBeCloseTo(9 / 16, 1);
  expect(boardSizes({ width: 748, height: 560 }, [frame], 14)[0].width).toBe(748);
});
