/** Edges and effects of layers, pixel by pixel, against values worked out here. */
import { describe, expect, test } from 'vitest';
import { PLAIN_FINISH, START_SHADOW, type LayerFinish } from '../../core/show/finish-records';
import type { AnyRecord, LayerContent, Placement } from '../../core/show/records';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import type { GivenPicture } from '../lib/compositor-harness';
import { drawnPicture, type Colour } from '../lib/drawn-picture';
import type { Harness } from '../lib/harness-page';
import { H, page, W, withHarness } from '../lib/small-pictures';

declare const globalThis: { harness: Harness };

withHarness();

const scene = sampleScene('a', { background: '#000000' });
/** From 48 to 144 across and 30 to 78 down on the small picture. */
const box = { cx: 960, cy: 540, width: 960, height: 480 };

const rectangle = (colour: string): LayerContent => ({ type: 'shape', shape: 'rectangle', colour });
const layer = (
  finish: Partial<LayerFinish>,
  content: LayerContent = rectangle('#ffffff'),
  wide: Partial<Placement> = box,
  id = 'l',
  position = 1,
) => sampleLayer(id, 'a', position, { content, wide, finish: { ...PLAIN_FINISH, ...finish } });
/** `part` has transparency; the others fill their boxes. */
const inputOf = (id: string) =>
  sampleInput(id, id === 'part' ? { source: { type: 'picture', assetId: 'part', loop: false } } : {});
const drawn = (records: AnyRecord[], pictures: Record<string, GivenPicture> = {}) =>
  drawnPicture(page, [sampleShow, scene, ...Object.keys(pictures).map(inputOf), ...records], pictures, [
    W,
    H,
  ]);
const near = (got: Colour, want: readonly number[], tolerance = 2) => {
  if (got.some((v, i) => Math.abs(v - want[i]) > tolerance))
    throw new Error(`${got.join()} instead of ${want.join()}`);
};

/** Left half black, right half white, 192 pixels wide: pixel for pixel in the box of twice its width. */
const halves: GivenPicture = {
  width: 96,
  height: 48,
  rgba: Array.from({ length: 96 * 48 }, (_, i) => {
    const v = i % 96 < 48 ? 0 : 255;
    return [v, v, v, 255];
  }).flat(),
};
const shown = (id: string): LayerContent => ({ type: 'input', inputId: id, fit: 'stretch' });

/** The normal distribution's share below x, by Abramowitz and Stegun 7.1.26 (error below 1.5e-7). */
function below(x: number): number {
  const z = Math.abs(x) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * z);
  const tail =
    t *
    (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))) *
    Math.exp(-z * z);
  return x >= 0 ? 1 - tail / 2 : tail / 2;
}

describe('what lies over something', () => {
  const under = layer({}, rectangle('#406080'), { cx: 960, cy: 540, width: 1920, height: 1080 }, 'u', 0);
  const [a, b] = [
    [0x40, 0x60, 0x80],
    [0x80, 0x40, 0x20],
  ];
  // W3C Compositing and Blending Level 1: plus-lighter, multiply, screen.
  const formulas = {
    normal: b,
    add: a.map((v, i) => Math.min(255, v + b[i])),
    multiply: a.map((v, i) => (v * b[i]) / 255),
    screen: a.map((v, i) => v + b[i] - (v * b[i]) / 255),
  };
  for (const [blend, want] of Object.entries(formulas))
    test(`by ${blend}, also half transparent`, async () => {
      const over = layer({ blend: blend as LayerFinish['blend'] }, rectangle('#804020'));
      const at = await drawn([under, over]);
      near(at(96, 54), want);
      near(at(20, 54), a);
      const half = await drawn([
        under,
        { ...over, placements: { wide: { ...over.placements.wide!, opacity: 0.5 } } },
      ]);
      near(
        half(96, 54),
        // Adding half of it is not half way to the sum where that would be over white.
        blend === 'add' ? a.map((v, i) => Math.min(255, v + b[i] / 2)) : a.map((v, i) => (v + want[i]) / 2),
      );
    });
});

describe('glow', () => {
  const outer = { colour: '#00ff00', sizePx: 100, strength: 1 };
  test('around: brightest at the edge, falling, gone within its reach; the layer stays', async () => {
    const at = await drawn([layer({ outerGlow: outer })]);
    near(at(96, 54), [255, 255, 255]);
    const row = [143 + 1, 146, 149, 152, 155, 158].map((x) => at(x, 54));
    for (const [r, , b] of row) expect([r, b]).toEqual([0, 0]);
    for (let i = 1; i < row.length; i++) expect(row[i][1]).toBeLessThan(row[i - 1][1]);
    expect(row[0][1]).toBeGreaterThan(150);
    expect(at(162, 54)[1]).toBeLessThan(3);
    expect(at(96, 26)[1]).toBeGreaterThan(20);
  });
  test('around a picture with transparency, in its own outline', async () => {
    // Opaque only in the left half.
    const part: GivenPicture = {
      width: 2,
      height: 1,
      rgba: [255, 0, 0, 255, 0, 0, 0, 0],
    };
    const at = await drawn([layer({ outerGlow: outer }, shown('part'))], { part });
    expect(at(98, 54)[1]).toBeGreaterThan(100);
    expect(at(140, 54)[1]).toBeLessThan(3);
  });
  test('inside: from the edge inwards, the middle stays', async () => {
    const at = await drawn([layer({ innerGlow: { ...outer, colour: '#ff0000' } }, rectangle('#0000ff'))]);
    expect(at(49, 54)[0]).toBeGreaterThan(150);
    expect(at(54, 54)[0]).toBeGreaterThan(at(58, 54)[0]);
    near(at(96, 54), [0, 0, 255]);
    near(at(46, 54), [0, 0, 0]);
  });
});

describe('blur', () => {
  test('is the normal distribution it says', async () => {
    // 30 frame pixels are 3 here.
    const at = await drawn([layer({ blur: { px: 30, part: 'whole', areas: [] } }, shown('halves'))], {
      halves,
    });
    for (let x = 84; x < 108; x++) near(at(x, 54), Array(3).fill(255 * below((x + 0.5 - 96) / 3)), 8);
  });
  test('keeps the edges of a picture that fills its box', async () => {
    const at = await drawn([layer({ blur: { px: 60, part: 'whole', areas: [] } }, shown('halves'))], {
      halves,
    });
    near(at(143, 54), [255, 255, 255], 4);
    near(at(144, 54), [0, 0, 0]);
    near(at(120, 77), [255, 255, 255], 6);
    near(at(120, 78), [0, 0, 0]);
  });
  test('inside an area alone, and everywhere but there', async () => {
    const areas = [{ left: 0.25, top: 0, width: 0.5, height: 0.5 }];
    const inside = await drawn([layer({ blur: { px: 30, part: 'inside', areas } }, shown('halves'))], {
      halves,
    });
    expect(inside(94, 40)[0]).toBeGreaterThan(40);
    near(inside(94, 66), [0, 0, 0]);
    near(inside(97, 66), [255, 255, 255]);
    const outside = await drawn([layer({ blur: { px: 30, part: 'outside', areas } }, shown('halves'))], {
      halves,
    });
    near(outside(94, 40), [0, 0, 0]);
    near(outside(97, 40), [255, 255, 255]);
    expect(outside(94, 66)[0]).toBeGreaterThan(40);
  });
  test('an area without any part of the layer changes nothing', async () => {
    const plainly = await drawn([layer({}, shown('halves'))], { halves });
    const none = await drawn([layer({ blur: { px: 30, part: 'inside', areas: [] } }, shown('halves'))], {
      halves,
    });
    for (let x = 40; x < 150; x++) expect(none(x, 54)).toEqual(plainly(x, 54));
  });
});

describe('a mask', () => {
  // Bright and opaque on the left, dark and opaque in the middle, bright and transparent on the right.
  const mask: GivenPicture = {
    width: 3,
    height: 1,
    rgba: [255, 255, 255, 255, 0, 0, 0, 255, 255, 255, 255, 0],
  };
  const seen = async (by: 'brightness' | 'transparency', inverted: boolean) => {
    const at = await drawn(
      [layer({ mask: { assetId: 'mask', name: 'Mask', by, inverted } }, rectangle('#ff8000'))],
      { mask },
    );
    return [52, 96, 140].map((x) => at(x, 54)[0] > 128);
  };
  test('shows the layer where it is bright', async () => {
    expect(await seen('brightness', false)).toEqual([true, false, false]);
    expect(await seen('brightness', true)).toEqual([false, true, true]);
  });
  test('shows the layer where it is opaque', async () => {
    expect(await seen('transparency', false)).toEqual([true, true, false]);
    expect(await seen('transparency', true)).toEqual([false, false, true]);
  });
  test('that is not there leaves the layer whole', async () => {
    const at = await drawn([
      layer(
        { mask: { assetId: 'gone', name: 'Gone', by: 'brightness', inverted: false } },
        rectangle('#ff8000'),
      ),
    ]);
    near(at(96, 54), [255, 128, 0]);
  });
});

describe('a shadow', () => {
  const white = sampleScene('a', { background: '#ffffff' });
  const cast = async (angleDeg: number, rotationDeg = 0) => {
    const at = await drawnPicture(
      page,
      [
        sampleShow,
        white,
        layer(
          { shadow: { ...START_SHADOW, angleDeg, distance: 1, softness: 0.2, colour: '#000000ff' } },
          rectangle('#ff0000'),
          { ...box, width: 480, rotationDeg, shadowPx: 80 },
        ),
      ],
      {},
      [W, H],
    );
    return { right: at(124, 54)[1], left: at(67, 54)[1], below: at(96, 82)[1], above: at(96, 25)[1] };
  };
  test('falls where it is told', async () => {
    const right = await cast(0);
    expect(right.right).toBeLessThan(60);
    for (const side of ['left', 'above', 'below'] as const) expect(right[side]).toBeGreaterThan(200);
    const down = await cast(90);
    expect(down.below).toBeLessThan(60);
    expect(down.right).toBeGreaterThan(200);
  });
  test('does not turn with the layer', async () => {
    // A square looks the same when it is turned by a right angle.
    const turned = await cast(0, 180);
    expect(turned.right).toBeLessThan(60);
    expect(turned.left).toBeGreaterThan(200);
  });
});

test('the room around a fitted picture is filled with the picture itself', async () => {
  const green: GivenPicture = {
    width: 2,
    height: 2,
    rgba: Array.from({ length: 4 }, () => [0, 200, 40, 255]).flat(),
  };
  const content: LayerContent = { type: 'input', inputId: 'green', fit: 'surround' };
  const at = await drawn([layer({}, content)], { green });
  // A square in a box of two to one: 48 wide in the middle, 24 of room on either side.
  near(at(96, 54), [0, 200, 40]);
  near(at(56, 54), [0, 200, 40], 6);
  near(at(137, 54), [0, 200, 40], 6);
  near(at(40, 54), [0, 0, 0]);
});

test('what has not changed is not finished again', async () => {
  const records = [
    sampleShow,
    scene,
    sampleInput('halves'),
    layer({ blur: { px: 30, part: 'whole', areas: [] }, blend: 'screen' }, shown('halves')),
    layer(
      { outerGlow: { colour: '#00ff00', sizePx: 40, strength: 1 } },
      { type: 'input', inputId: 'part', fit: 'stretch' },
      box,
      'p',
      2,
    ),
    inputOf('part'),
  ];
  const part: GivenPicture = { width: 2, height: 1, rgba: [255, 0, 0, 255, 0, 0, 0, 0] };
  const count = (changes: boolean) =>
    page.evaluate(([all, given, w, h]) => globalThis.harness.renderMany(all, given, 'a', w, h, 10), [
      records,
      { halves: { ...halves, changes }, part },
      W,
      H,
    ] as const);
  expect((await count(false)).finished).toBe(2);
  // Only the one whose picture changes, ten times.
  expect((await count(true)).finished).toBe(11);
});
