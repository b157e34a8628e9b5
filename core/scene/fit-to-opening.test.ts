import { describe, expect, test } from 'vitest';
import type { Opening } from '../picture/opening';
import { fullPlacement, type Placement } from '../show/records';
import { fitToOpening, picturePoint } from './fit-to-opening';

const FRAME = { width: 1920, height: 1080 };
const picture = { width: 400, height: 200 };
const graphic = (more: Partial<Placement> = {}): Placement => ({
  ...fullPlacement(FRAME),
  cx: 600,
  cy: 400,
  width: 800,
  height: 400,
  ...more,
});
const opening = (more: Partial<Opening> = {}): Opening => ({
  rect: { x: 50, y: 25, width: 100, height: 100 },
  cornerPx: 10,
  area: 1,
  peeking: 0,
  slackPx: 0,
  ...more,
});
const behind = fullPlacement(FRAME);

describe('fit to opening', () => {
  test('scales with the graphic: place, size, corner', () => {
    // Twice as large on the frame; the graphic's upper left is at (200, 200).
    expect(fitToOpening(graphic(), picture, 'stretch', opening(), behind)).toMatchObject({
      cx: 400,
      cy: 350,
      width: 200,
      height: 200,
      cornerPx: 20,
      rotationDeg: 0,
    });
  });

  test('one frame pixel more on each side where the graphic covers it', () => {
    const fitted = fitToOpening(graphic(), picture, 'fill', opening({ slackPx: 4 }), behind);
    expect([fitted.width, fitted.height, fitted.cornerPx]).toEqual([202, 202, 21]);
    expect([fitted.cx, fitted.cy]).toEqual([400, 350]);
  });

  test('follows the graphic when it is flipped, turned or cropped', () => {
    expect(fitToOpening(graphic({ flipX: true }), picture, 'fill', opening(), behind).cx).toBe(800);
    const turned = fitToOpening(graphic({ rotationDeg: 90 }), picture, 'fill', opening(), behind);
    expect([Math.round(turned.cx), Math.round(turned.cy), turned.rotationDeg]).toEqual([650, 200, 90]);
    const cropped = fitToOpening(
      graphic({ crop: { left: 0.5, right: 0, top: 0, bottom: 0 } }),
      picture,
      'stretch',
      opening({ rect: { x: 250, y: 50, width: 100, height: 100 }, cornerPx: 0 }),
      behind,
    );
    expect(cropped).toMatchObject({ cx: 600, width: 400, height: 200, cornerPx: 0 });
  });

  test('a graphic that leaves room in its box is followed too', () => {
    const fitted = fitToOpening(graphic({ height: 800 }), picture, 'fit', opening(), behind);
    expect(fitted).toMatchObject({ cx: 400, cy: 350, width: 200 });
  });

  test('a point of the frame is found in the picture again', () => {
    for (const more of [
      {},
      { flipX: true },
      { rotationDeg: 33 },
      { crop: { left: 0.1, right: 0.2, top: 0, bottom: 0 } },
    ]) {
      const fitted = fitToOpening(graphic(more), picture, 'stretch', opening(), behind);
      const point = picturePoint(graphic(more), picture, 'stretch', { x: fitted.cx, y: fitted.cy });
      expect([point.x, point.y].map((v) => Math.round(v))).toEqual([100, 75]);
    }
  });
});
