import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fullPlacement, type Placement } from '../show/records';
import { ALIGNMENTS, arrange, CORNERS, REGIONS, type ArrangeCommand, type Region } from './arrange';
import { boundsOfPlacement, contains, type Size } from './rect';

const FRAME = { width: 1920, height: 1080 };
const layer = (id: string, more: Partial<Placement> = {}, picture: Size | null = null) => ({
  id,
  picture,
  placement: { ...fullPlacement(FRAME), cx: 300, cy: 300, width: 400, height: 300, ...more },
});
const one = (command: ArrangeCommand, more: Partial<Placement> = {}, picture: Size | null = null) =>
  arrange([layer('a', more, picture)], command, FRAME).get('a')!;
const rectOf = (p: Placement) =>
  [p.cx - p.width / 2, p.cy - p.height / 2, p.width, p.height].map((v) => Math.round(v));

describe('in the frame', () => {
  const square = { width: 500, height: 500 };
  test('fit shows all of a picture, fill covers the frame with it, stretch is the frame', () => {
    expect(rectOf(one({ type: 'fit' }, {}, square))).toEqual([420, 0, 1080, 1080]);
    expect(rectOf(one({ type: 'fill' }, {}, square))).toEqual([0, -420, 1920, 1920]);
    expect(rectOf(one({ type: 'stretch' }, {}, square))).toEqual([0, 0, 1920, 1080]);
  });
  test('any fit stays within the frame and any fill covers it', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5000 }), fc.integer({ min: 1, max: 5000 }), (width, height) => {
        const frame = { x: 0, y: 0, ...FRAME };
        expect(contains(frame, boundsOfPlacement(one({ type: 'fit' }, {}, { width, height })))).toBe(true);
        expect(contains(boundsOfPlacement(one({ type: 'fill' }, {}, { width, height })), frame)).toBe(true);
      }),
      { seed: 1, numRuns: 200 },
    );
  });
  test('centre keeps the size', () => {
    expect(rectOf(one({ type: 'centre' }))).toEqual([760, 390, 400, 300]);
  });
  test('reset is upright, whole and plain, the crop given back', () => {
    const crop = { left: 0.5, right: 0, top: 0, bottom: 0 };
    const after = one(
      { type: 'reset' },
      { rotationDeg: 30, opacity: 0.4, cornerPx: 9, borderPx: 3, flipX: true, crop },
      { width: 800, height: 900 },
    );
    expect(after).toMatchObject({ rotationDeg: 0, opacity: 1, cornerPx: 0, borderPx: 0, flipX: false });
    expect(after.crop.left).toBe(0);
    expect(rectOf(after)).toEqual([0, 0, 1920, 1080]);
  });
  test('flips turn round and back', () => {
    const once = one({ type: 'flip', axis: 'x' });
    expect(once.flipX).toBe(true);
    expect(
      arrange([{ id: 'a', placement: once, picture: null }], { type: 'flip', axis: 'x' }, FRAME).get('a')!
        .flipX,
    ).toBe(false);
  });
});

test('parts of the frame tile it', () => {
  const area = (region: Region) => {
    const p = one({ type: 'region', region });
    return p.width * p.height;
  };
  const whole = FRAME.width * FRAME.height;
  for (const tiles of [
    ['left-half', 'right-half'],
    ['top-half', 'bottom-half'],
    ['left-third', 'middle-third', 'right-third'],
    ['top-third', 'centre-third', 'bottom-third'],
    ['left-two-thirds', 'right-third'],
    ['top-third', 'bottom-two-thirds'],
  ] as const)
    expect(tiles.reduce((sum, t) => sum + area(t), 0)).toBeCloseTo(whole);
  expect(Object.keys(REGIONS)).toHaveLength(14);
});

test('corners keep the margin, turned or not', () => {
  for (const corner of CORNERS)
    for (const rotationDeg of [0, 30]) {
      const b = boundsOfPlacement(one({ type: 'corner', corner, marginPx: 40 }, { rotationDeg }));
      const [x, y] = [
        corner.endsWith('left') ? b.x : FRAME.width - b.x - b.width,
        corner.startsWith('top') ? b.y : FRAME.height - b.y - b.height,
      ];
      expect([Math.round(x), Math.round(y)]).toEqual([40, 40]);
    }
});

describe('with one another', () => {
  const three = [
    layer('a', { cx: 200, width: 100, height: 50 }),
    layer('b', { cx: 500, cy: 500, width: 200 }),
    layer('c', { cx: 1200, cy: 900, width: 300 }),
  ];
  test('several align with the rectangle around them, one with the frame', () => {
    for (const to of ALIGNMENTS) {
      const edge = (p: Placement) => {
        const [x, y, w, h] = rectOf(p);
        return { left: x, centre: x + w / 2, right: x + w, top: y, middle: y + h / 2, bottom: y + h }[to];
      };
      const edges = [...arrange(three, { type: 'align', to }, FRAME).values()].map(edge);
      expect(new Set(edges).size).toBe(1);
    }
    expect(rectOf(one({ type: 'align', to: 'right' }))[0]).toBe(1520);
  });
  test('equal gaps between, the outermost stay', () => {
    const after = arrange(three, { type: 'distribute', axis: 'x' }, FRAME);
    const spans = [...after.values()]
      .map((p) => [p.cx - p.width / 2, p.cx + p.width / 2])
      .sort((x, y) => x[0] - y[0]);
    expect(spans[1][0] - spans[0][1]).toBeCloseTo(spans[2][0] - spans[1][1]);
    expect([spans[0][0], spans[2][1]]).toEqual([150, 1350]);
    expect(arrange(three.slice(0, 2), { type: 'distribute', axis: 'x' }, FRAME).size).toBe(0);
  });
  test('same size and same place follow the first one', () => {
    expect(arrange(three, { type: 'sameSize' }, FRAME).get('c')).toMatchObject({
      cx: 1200,
      width: 100,
      height: 50,
    });
    expect(arrange(three, { type: 'samePlace' }, FRAME).get('b')).toMatchObject({
      cx: 200,
      cy: 300,
      width: 100,
    });
    expect(arrange(three, { type: 'sameSize' }, FRAME).has('a')).toBe(false);
  });
});
