/** What is proposed for scenes as people build them, to the pixel: rules of `propose.ts` in numbers. */
import { expect, test } from 'vitest';
import { fullPlacement, type Placement } from '../show/records';
import { proposePlacements, type LayerRole, type ProposedLayer } from './propose';

const WIDE = { width: 1920, height: 1080 };
const TALL = { width: 1080, height: 1920 };
const SMALL = { width: 640, height: 360 };

type Box = readonly [x: number, y: number, width: number, height: number];
const FULL = (size: { width: number; height: number }): Box => [0, 0, size.width, size.height];

function layer(
  id: string,
  role: LayerRole,
  [x, y, width, height]: Box,
  more: Partial<ProposedLayer> = {},
): ProposedLayer {
  const edges = { cornerPx: 20, borderPx: 4, shadowPx: 10, opacity: 0.9 };
  const placement: Placement = {
    ...fullPlacement(WIDE),
    ...edges,
    ...{ cx: x + width / 2, cy: y + height / 2, width, height },
  };
  const picture = role === 'graphic' ? null : { width: 1600, height: 900 };
  return { id, role, placement, picture, flows: role === 'graphic', ...more };
}

/** Each layer's box in whole pixels, and its corner: 0 where the edge was taken off. */
function proposed(layers: ProposedLayer[], from = WIDE, to = TALL): Record<string, string> {
  const found = proposePlacements(layers, from, to);
  return Object.fromEntries(
    layers.map(({ id }) => {
      const p = found.get(id)!;
      const box = [p.cx - p.width / 2, p.cy - p.height / 2, p.width, p.height].map((n) => Math.round(n));
      return [
        id,
        `${box.join(' ')} / ${[p.cornerPx, p.borderPx, p.shadowPx].map((n) => +n.toFixed(2)).join(' ')}`,
      ];
    }),
  );
}
const game = layer('game', 'screen', FULL(WIDE));
const host = layer('host', 'person', [60, 710, 540, 320]);

test('one picture alone', () => {
  expect(proposed([layer('p', 'person', FULL(WIDE))])).toMatchInlineSnapshot(`
    {
      "p": "0 0 1080 1920 / 0 0 0",
    }
  `);
  expect(proposed([layer('p', 'person', [0, 0, 1920, 918])])).toMatchInlineSnapshot(`
    {
      "p": "0 0 1080 1920 / 0 0 0",
    }
  `);
  expect(proposed([layer('p', 'person', [0, 0, 1920, 917])])).toMatchInlineSnapshot(`
    {
      "p": "43 681 994 559 / 20 4 10",
    }
  `);
  expect(proposed([game])).toMatchInlineSnapshot(`
    {
      "game": "0 656 1080 608 / 0 0 0",
    }
  `);
  expect(proposed([layer('s', 'screen', [100, 100, 800, 450])])).toMatchInlineSnapshot(`
    {
      "s": "43 681 994 559 / 20 4 10",
    }
  `);
  expect(proposed([layer('s', 'screen', [100, 100, 800, 800], { picture: null })], WIDE, SMALL))
    .toMatchInlineSnapshot(`
    {
      "s": "154 14 331 331 / 6.67 1.33 3.33",
    }
  `);
});

test('people above, screens below', () => {
  expect(proposed([game, host])).toMatchInlineSnapshot(`
    {
      "game": "0 976 1080 608 / 0 0 0",
      "host": "0 0 1080 640 / 0 0 0",
    }
  `);
  expect(proposed([game, host, layer('second', 'person', [700, 700, 300, 300])])).toMatchInlineSnapshot(`
    {
      "game": "0 976 1080 608 / 0 0 0",
      "host": "0 0 540 640 / 0 0 0",
      "second": "540 0 540 640 / 0 0 0",
    }
  `);
  expect(proposed([game, host, layer('name', 'graphic', [60, 640, 400, 60])])).toMatchInlineSnapshot(`
    {
      "game": "0 640 1080 608 / 0 0 0",
      "host": "0 0 1080 640 / 0 0 0",
      "name": "22 1309 400 60 / 20 4 10",
    }
  `);
  expect(proposed([game, host, layer('border', 'graphic', FULL(WIDE))])).toMatchInlineSnapshot(`
    {
      "border": "0 0 1080 1920 / 0 0 0",
      "game": "0 976 1080 608 / 0 0 0",
      "host": "0 0 1080 640 / 0 0 0",
    }
  `);
});

test('people alone, screens alone', () => {
  const people = [0, 640, 1280].map((x, i) => layer(`p${i}`, 'person', [x, 0, 640, 1080]));
  expect(proposed(people)).toMatchInlineSnapshot(`
    {
      "p0": "0 0 1080 640 / 0 0 0",
      "p1": "0 640 1080 640 / 0 0 0",
      "p2": "0 1280 1080 640 / 0 0 0",
    }
  `);
  expect(proposed(people.slice(0, 2), WIDE, { width: 1080, height: 1350 })).toMatchInlineSnapshot(`
    {
      "p0": "0 0 1080 675 / 0 0 0",
      "p1": "0 675 1080 675 / 0 0 0",
    }
  `);
  expect(proposed([game, layer('second', 'screen', [0, 0, 900, 500])])).toMatchInlineSnapshot(`
    {
      "game": "0 176 1080 608 / 0 0 0",
      "second": "0 1136 1080 608 / 0 0 0",
    }
  `);
});

test('into a wide frame', () => {
  const people = [0, 960].map((y, i) => layer(`p${i}`, 'person', [0, y, 1080, 960]));
  expect(proposed(people, TALL, WIDE)).toMatchInlineSnapshot(`
    {
      "p0": "0 0 960 1080 / 0 0 0",
      "p1": "960 0 960 1080 / 0 0 0",
    }
  `);
  const screens = [0, 960].map((y, i) => layer(`s${i}`, 'screen', [0, y, 1080, 608]));
  expect(proposed(screens, TALL, WIDE)).toMatchInlineSnapshot(`
    {
      "s0": "0 270 960 540 / 0 0 0",
      "s1": "960 270 960 540 / 0 0 0",
    }
  `);
  expect(proposed([...screens, people[0]], TALL, WIDE)).toMatchInlineSnapshot(`
    {
      "p0": "0 271 538 538 / 0 0 0",
      "s0": "749 0 960 540 / 0 0 0",
      "s1": "749 540 960 540 / 0 0 0",
    }
  `);
  expect(proposed([layer('whole', 'person', FULL(TALL)), screens[0]], TALL, WIDE)).toMatchInlineSnapshot(`
    {
      "s0": "538 151 1382 778 / 0 0 0",
      "whole": "0 0 538 1080 / 0 0 0",
    }
  `);
  const square = { width: 1080, height: 1080 };
  expect(proposed([game, host], WIDE, square)).toMatchInlineSnapshot(`
    {
      "game": "302 321 778 437 / 0 0 0",
      "host": "0 389 302 302 / 0 0 0",
    }
  `);
});

test('backgrounds: whole ones stay whole, parts keep their share', () => {
  expect(proposed([layer('b', 'background', FULL(WIDE)), game])).toMatchInlineSnapshot(`
    {
      "b": "0 0 1080 1920 / 0 0 0",
      "game": "0 656 1080 608 / 0 0 0",
    }
  `);
  expect(proposed([layer('b', 'background', [960, 0, 960, 540]), game])).toMatchInlineSnapshot(`
    {
      "b": "540 0 540 960 / 20 4 10",
      "game": "0 656 1080 608 / 0 0 0",
    }
  `);
});

test('graphics: near where they were, over nobody, no wider than the frame', () => {
  const logo = layer('logo', 'graphic', [1600, 40, 260, 130], { flows: false });
  expect(proposed([game, host, logo])).toMatchInlineSnapshot(`
    {
      "game": "0 640 1080 608 / 0 0 0",
      "host": "0 0 1080 640 / 0 0 0",
      "logo": "798 1259 260 130 / 20 4 10",
    }
  `);
  expect(proposed([game, logo])).toMatchInlineSnapshot(`
    {
      "game": "0 656 1080 608 / 0 0 0",
      "logo": "798 94 260 130 / 20 4 10",
    }
  `);
  expect(proposed([layer('line', 'graphic', [100, 900, 1700, 80])])).toMatchInlineSnapshot(`
    {
      "line": "22 1625 1037 128 / 20 4 10",
    }
  `);
  expect(proposed([layer('much', 'graphic', [100, 100, 1200, 700])])).toMatchInlineSnapshot(`
    {
      "much": "22 377 1037 810 / 20 4 10",
    }
  `);
  expect(proposed([layer('wide logo', 'graphic', [100, 900, 1700, 80], { flows: false })]))
    .toMatchInlineSnapshot(`
    {
      "wide logo": "22 1621 1037 49 / 20 4 10",
    }
  `);
  expect(proposed([layer('high', 'graphic', [100, 0, 100, 1080])], WIDE, SMALL)).toMatchInlineSnapshot(`
    {
      "high": "32 7 33 346 / 6.67 1.33 3.33",
    }
  `);
  // One that lay on somebody may lie on them again, and rather on the game than on the host.
  const onHost = layer('name', 'graphic', [80, 940, 500, 80]);
  expect(proposed([game, host, onHost])).toMatchInlineSnapshot(`
    {
      "game": "0 640 1080 608 / 0 0 0",
      "host": "0 0 1080 640 / 0 0 0",
      "name": "22 1669 500 80 / 20 4 10",
    }
  `);
  const panels = Array.from({ length: 4 }, (_, i) => layer(`g${i}`, 'graphic', [1300, i * 260, 500, 240]));
  expect(proposed([game, host, ...panels])).toMatchInlineSnapshot(`
    {
      "g0": "558 1249 500 240 / 20 4 10",
      "g1": "558 1522 500 240 / 20 4 10",
      "g2": "44 1249 500 240 / 20 4 10",
      "g3": "44 1522 500 240 / 20 4 10",
      "game": "0 640 1080 608 / 0 0 0",
      "host": "0 0 1080 640 / 0 0 0",
    }
  `);
  expect(proposed([layer('b', 'background', FULL(WIDE)), layer('border', 'graphic', FULL(WIDE)), logo]))
    .toMatchInlineSnapshot(`
    {
      "b": "0 0 1080 1920 / 0 0 0",
      "border": "0 0 1080 1920 / 0 0 0",
      "logo": "798 94 260 130 / 20 4 10",
    }
  `);
});
