import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { boundsOfPlacement, contains, intersection, type Rect } from '../geometry/rect';
import { fullPlacement, type Placement } from '../show/records';
import { proposePlacements, type LayerRole, type ProposedLayer } from './propose';

const WIDE = { width: 1920, height: 1080 };
const TALL = { width: 1080, height: 1920 };
const SHAPE = { width: 1600, height: 900 };

const layer = (
  id: string,
  role: LayerRole,
  rect: readonly [number, number, number, number] | 'full',
  more: Partial<ProposedLayer> = {},
): ProposedLayer => {
  const placement: Placement =
    rect === 'full'
      ? fullPlacement(WIDE)
      : {
          ...fullPlacement(WIDE),
          cx: rect[0] + rect[2] / 2,
          cy: rect[1] + rect[3] / 2,
          width: rect[2],
          height: rect[3],
          cornerPx: 20,
        };
  return {
    id,
    role,
    placement,
    picture: role === 'graphic' ? null : SHAPE,
    flows: role === 'graphic',
    ...more,
  };
};
const tall = (layers: ProposedLayer[]) => {
  const placements = proposePlacements(layers, WIDE, TALL);
  return (id: string): Rect => boundsOfPlacement(placements.get(id)!);
};
const area = (a: Rect, b: Rect) => {
  const both = intersection(a, b);
  return both.width > 0 && both.height > 0 ? both.width * both.height : 0;
};
const game = layer('game', 'screen', 'full');
const host = layer('host', 'person', [60, 710, 540, 320]);
const chat = layer('chat', 'graphic', [1400, 720, 480, 320]);
const title = layer('title', 'graphic', [640, 46, 640, 92]);

describe('a game with its host', () => {
  const at = tall([game, host, title, chat]);
  test('camera above, over the whole width', () => {
    expect(at('host')).toEqual({ x: 0, y: 0, width: 1080, height: 640 });
  });
  test('the screen whole, in its own shape, in the lower two thirds', () => {
    const rect = at('game');
    expect(rect.y).toBeGreaterThanOrEqual(640);
    expect(rect.width).toBeCloseTo(1080);
    expect(rect.width / rect.height).toBeCloseTo(16 / 9, 3);
  });
  test('words come into the free room: on nobody, on nothing, wholly on the frame', () => {
    for (const id of ['title', 'chat']) {
      expect(contains({ x: 0, y: 0, ...TALL }, at(id))).toBe(true);
      expect(area(at(id), at('host'))).toBe(0);
    }
    expect(area(at('title'), at('chat'))).toBe(0);
    expect(area(at('chat'), at('game'))).toBe(0);
  });
});

test('one person over the whole picture stays so', () => {
  expect(tall([layer('host', 'person', 'full'), title])('host')).toEqual({
    x: 0,
    y: 0,
    width: 1080,
    height: 1920,
  });
});

test('one screen alone is seen whole', () => {
  const rect = tall([game])('game');
  expect(rect.width / rect.height).toBeCloseTo(16 / 9, 3);
  expect(rect.x).toBeCloseTo(0);
});

test('two people share the frame, none narrower than a person', () => {
  const at = tall([layer('one', 'person', [0, 0, 960, 1080]), layer('two', 'person', [960, 0, 960, 1080])]);
  expect(area(at('one'), at('two'))).toBe(0);
  for (const id of ['one', 'two']) expect(at(id).width / at(id).height).toBeGreaterThanOrEqual(9 / 16);
});

test('backgrounds and borders over everything stay over everything', () => {
  const at = tall([layer('back', 'background', 'full'), game, host, layer('border', 'graphic', 'full')]);
  for (const id of ['back', 'border']) expect(at(id)).toEqual({ x: 0, y: 0, ...TALL });
});

test('a logo keeps its shape', () => {
  const logo = layer('logo', 'graphic', [1600, 40, 260, 130], {
    flows: false,
    picture: { width: 2, height: 1 },
  });
  const rect = tall([game, host, logo])('logo');
  expect(rect.width / rect.height).toBeCloseTo(2, 5);
});

test('back to wide: the screen large, people beside it, not on it', () => {
  const place = (p: Partial<Placement>): Placement => ({ ...fullPlacement(TALL), ...p });
  const placements = proposePlacements(
    [
      { ...game, placement: place({ cy: 1120, height: 608 }) },
      { ...host, placement: place({ cy: 320, height: 640 }) },
    ],
    TALL,
    WIDE,
  );
  const [g, h] = ['game', 'host'].map((id) => boundsOfPlacement(placements.get(id)!));
  expect(area(g, h)).toBe(0);
  expect(g.width).toBeGreaterThan(1300);
  expect(contains({ x: 0, y: 0, ...WIDE }, g) && contains({ x: 0, y: 0, ...WIDE }, h)).toBe(true);
});

test('whatever stands there: all on the frame, people and screens apart, words on no person they were not on', () => {
  const some = fc.record({
    people: fc.integer({ min: 0, max: 3 }),
    screens: fc.integer({ min: 0, max: 2 }),
    words: fc.array(
      fc.record({
        x: fc.integer({ min: 0, max: 1500 }),
        y: fc.integer({ min: 0, max: 900 }),
        w: fc.integer({ min: 80, max: 420 }),
        h: fc.integer({ min: 40, max: 160 }),
      }),
      { maxLength: 3 },
    ),
  });
  fc.assert(
    fc.property(some, ({ people, screens, words }) => {
      const layers = [
        ...Array.from({ length: screens }, (_, i) => layer(`s${i}`, 'screen', [i * 700, 100, 640, 360])),
        ...Array.from({ length: people }, (_, i) => layer(`p${i}`, 'person', [i * 500, 600, 420, 300])),
        ...words.map(({ x, y, w, h }, i) => layer(`w${i}`, 'graphic', [x, y, w, h])),
      ];
      const placements = proposePlacements(layers, WIDE, TALL);
      expect(placements.size).toBe(layers.length);
      const rects = new Map(layers.map((l) => [l.id, boundsOfPlacement(placements.get(l.id)!)]));
      for (const [id, rect] of rects)
        expect(contains({ x: -0.5, y: -0.5, width: TALL.width + 1, height: TALL.height + 1 }, rect), id).toBe(
          true,
        );
      const pictures = layers.filter((l) => l.role !== 'graphic');
      for (const a of pictures)
        for (const b of pictures)
          if (a.id < b.id) expect(area(rects.get(a.id)!, rects.get(b.id)!)).toBeLessThan(1);
    }),
    { seed: 4, numRuns: 60 },
  );
});
