import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findOpenings, grown, openingAt, type AlphaPicture } from './opening';

/** A solid graphic with holes: `hole` gives how clear a point is, 0 solid … 1 clear; edges are drawn half clear as painting programs do. */
function graphic(width: number, height: number, hole: (x: number, y: number) => number): AlphaPicture {
  const alpha = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let clear = 0;
      for (const dx of [0.125, 0.375, 0.625, 0.875])
        for (const dy of [0.125, 0.375, 0.625, 0.875]) clear += hole(x + dx, y + dy) / 16;
      alpha[y * width + x] = Math.round(255 * (1 - clear));
    }
  return { width, height, alpha };
}
const inRect = (x0: number, y0: number, w: number, h: number) => (x: number, y: number) =>
  x >= x0 && x < x0 + w && y >= y0 && y < y0 + h ? 1 : 0;
const inRounded = (x0: number, y0: number, w: number, h: number, r: number) => (x: number, y: number) => {
  const dx = Math.max(x0 + r - x, x - (x0 + w - r), 0);
  const dy = Math.max(y0 + r - y, y - (y0 + h - r), 0);
  return dx * dx + dy * dy <= r * r ? 1 : 0;
};
const either =
  (...holes: ((x: number, y: number) => number)[]) =>
  (x: number, y: number) =>
    Math.max(...holes.map((h) => h(x, y)));

/** Counted by another way than the search: is every clear pixel behind the fitted shape, and nothing else seen? */
function judge(
  { width, height, alpha }: AlphaPicture,
  rect: { x: number; y: number; width: number; height: number },
  r: number,
) {
  let missing = 0;
  let seen = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const covered = inRounded(rect.x, rect.y, rect.width, rect.height, r + 1e-6)(x + 0.5, y + 0.5) === 1;
      const clear = alpha[y * width + x] < 255;
      if (clear && !covered) missing += 1;
      if (clear && covered) seen += 1;
    }
  return { missing, seen };
}

describe('a fitted rectangle', () => {
  test('a rectangle is found exactly', () => {
    const [opening] = findOpenings(graphic(200, 120, inRect(30, 20, 140, 80)));
    expect(opening).toMatchObject({ rect: { x: 30, y: 20, width: 140, height: 80 }, peeking: 0, slackPx: 4 });
    expect(opening.cornerPx).toBeLessThan(1.6);
  });

  test('round corners are found, a little smaller since half clear pixels are covered wholly', () => {
    const picture = graphic(300, 200, inRounded(40, 30, 220, 140, 36));
    const [opening] = findOpenings(picture);
    expect(opening.rect).toEqual({ x: 40, y: 30, width: 220, height: 140 });
    expect(opening.cornerPx).toBeLessThanOrEqual(36);
    expect((36 - opening.cornerPx) * (Math.SQRT2 - 1)).toBeLessThan(4);
    expect(judge(picture, opening.rect, opening.cornerPx).missing).toBe(0);
    expect(opening.peeking).toBe(0);
  });

  test('a circle becomes the rectangle with the largest corners', () => {
    const picture = graphic(260, 260, inRounded(30, 30, 200, 200, 100));
    const [opening] = findOpenings(picture);
    expect(opening.rect).toEqual({ x: 30, y: 30, width: 200, height: 200 });
    // Half clear pixels on the rim are covered too, so the corner reaches a little under the edge.
    expect(opening.cornerPx).toBeLessThanOrEqual(100);
    expect((100 - opening.cornerPx) * (Math.SQRT2 - 1)).toBeLessThan(6.5);
    expect(judge(picture, opening.rect, opening.cornerPx).missing).toBe(0);
  });

  test('a soft edge is covered to where it is solid', () => {
    const soft = graphic(200, 140, (x, y) => {
      const out = Math.max(40 - x, x - 160, 30 - y, y - 110, 0);
      return Math.max(0, 1 - out / 8);
    });
    const [opening] = findOpenings(soft);
    expect(opening.rect.x).toBeLessThanOrEqual(33);
    expect(judge(soft, opening.rect, opening.cornerPx).missing).toBe(0);
    expect(opening.peeking).toBe(0);
  });

  test('any rounded hole with a border round it: covered, nothing peeking, also when it is grown', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 20, max: 120 }),
        fc.integer({ min: 20, max: 80 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer({ min: 6, max: 20 }),
        (w, h, share, border) => {
          const r = (share * Math.min(w, h)) / 2;
          const picture = graphic(w + 2 * border, h + 2 * border, inRounded(border, border, w, h, r));
          const [opening] = findOpenings(picture);
          expect(judge(picture, opening.rect, opening.cornerPx).missing).toBe(0);
          expect(opening.peeking).toBe(0);
          const larger = grown(opening.rect, opening.slackPx);
          expect(judge(picture, larger, opening.cornerPx + opening.slackPx).missing).toBe(0);
        },
      ),
      { seed: 2, numRuns: 40 },
    );
  });
});

describe('which opening', () => {
  const two = graphic(300, 160, either(inRect(20, 20, 100, 120), inRect(150, 40, 130, 60)));
  test('two openings come largest first, and the one that was pressed is taken', () => {
    const openings = findOpenings(two);
    expect(openings.map((o) => o.area)).toEqual([12000, 7800]);
    expect(openingAt(openings, { x: 200, y: 70 })?.rect.x).toBe(150);
    expect(openingAt(openings, { x: 1, y: 1 })?.rect.x).toBe(20);
    expect(openingAt(openings, null)?.rect.x).toBe(20);
    expect(openings.every((o) => o.peeking === 0)).toBe(true);
  });

  test('the clear outside of a graphic is no opening', () => {
    const frame = graphic(200, 160, (x, y) =>
      inRect(20, 20, 160, 120)(x, y) === 0 ? 1 : inRect(40, 40, 120, 80)(x, y),
    );
    const openings = findOpenings(frame);
    expect(openings).toHaveLength(1);
    expect(openings[0].rect).toEqual({ x: 40, y: 40, width: 120, height: 80 });
    expect(openings[0].peeking).toBe(0);
  });

  test('a hole that is open to one side is taken when there is no other', () => {
    const openings = findOpenings(graphic(100, 100, inRect(20, 0, 60, 70)));
    expect(openings[0].rect).toEqual({ x: 20, y: 0, width: 60, height: 70 });
  });

  test('a solid picture and mere scratches have none', () => {
    expect(findOpenings(graphic(100, 100, () => 0))).toEqual([]);
    expect(findOpenings(graphic(200, 200, inRect(50, 50, 3, 3)))).toEqual([]);
    expect(openingAt([], { x: 1, y: 1 })).toBeNull();
  });

  test('an odd shape near a clear outside says how much peeks out', () => {
    // A triangle whose bounding rectangle reaches over the graphic's own edge.
    const odd = graphic(120, 120, (x, y) => {
      const inside = y > 20 && y < 100 && x > 20 && x < 20 + (y - 20);
      const outside = x > 85 && y < 60;
      return inside || outside ? 1 : 0;
    });
    const opening = findOpenings(odd).at(-1)!;
    expect(opening.peeking).toBeGreaterThan(100);
    expect(opening.slackPx).toBe(0);
  });

  test('alpha of another size is our own mistake', () => {
    expect(() => findOpenings({ width: 4, height: 4, alpha: new Uint8Array(3) })).toThrow(RangeError);
  });
});
