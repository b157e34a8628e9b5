/** What the compositor draws, pixel by pixel, against pictures computed here by another way. */
import { describe, expect, test } from 'vitest';
import type { TestPattern } from '../../core/show/inputs/test-picture';
import { findOpenings } from '../../core/picture/opening';
import { fitToOpening } from '../../core/scene/fit-to-opening';
import {
  DEFAULT_TEXT_STYLE,
  fullPlacement,
  type LayerRecord,
  type Placement,
  type TextStyle,
} from '../../core/show/records';
import { sampleInput, sampleLayer, sampleScene, WIDE } from '../../core/show/sample-show';
import type { Colour } from '../lib/drawn-picture';
import { BACK, box, compare, drawn, H, plain, W, withHarness } from '../lib/small-pictures';

withHarness();

const chartAt = (x: number, y: number): Colour => [Math.floor(x) * 30 + 20, Math.floor(y) * 60 + 20, 120];
const chartLayer = (wide: Partial<Placement>, more: Partial<LayerRecord> = {}) =>
  sampleLayer('l', 'a', 0, { content: { type: 'input', inputId: 'chart', fit: 'stretch' }, wide, ...more });

/** The box of `box` on the small picture: 96 × 48 at (48, 30). */
const inBox = (x: number, y: number) => x >= 48 && x < 144 && y >= 30 && y < 78;
const nearEdge = (u: number, v: number) =>
  Math.abs(u - Math.round(u)) < 0.12 || Math.abs(v - Math.round(v)) < 0.12;
/** The chart in that box, through a map from parts of the box (0…1) to pixels of the chart. */
const through =
  (map: (s: number, t: number) => readonly [number, number]) =>
  (x: number, y: number): Colour | null => {
    if (!inBox(x, y)) return BACK;
    const [u, v] = map((x - 48) / 96, (y - 30) / 48);
    return nearEdge(u, v) ? null : chartAt(u, v);
  };

describe('test pictures', () => {
  const shown = (pattern: TestPattern, moving = false, now = 1) =>
    drawn(
      [
        sampleInput('chart', { source: { type: 'testPicture', pattern, moving } }),
        sampleLayer('l', 'a', 0, {
          content: { type: 'input', inputId: 'chart', fit: 'fill' },
          wide: { ...WIDE },
        }),
      ],
      {},
      [W, H],
      now,
    );

  test('bars: white at its full level, colours at three quarters, nothing between two of them', async () => {
    const level = (on: boolean): number => (on ? 191 : 0);
    const got = await shown('bars');
    compare(
      got,
      (x) => {
        const bar = Math.floor(x / (W / 8));
        // Green is on in the first half, red in pairs, blue in every other: the trade's order from light to dark.
        if (bar === 0) return [255, 255, 255];
        return [level(bar % 4 < 2), level(bar < 4), level(bar % 2 === 0)];
      },
      0,
    );
  });

  test('steps: eleven greys from black to white', async () => {
    const got = await shown('steps');
    const greys = Array.from({ length: 11 }, (_, i) => got(Math.floor(((i + 0.5) * W) / 11), 50)[0]);
    expect(greys).toEqual([0, 26, 51, 77, 102, 128, 153, 179, 204, 230, 255]);
  });

  test('a grid is alike on both sides and above and below', async () => {
    const got = await shown('grid');
    // Where the circle touches a line its soft edge may differ a little.
    compare(got, (x, y) => got(Math.floor(W - x), Math.floor(y)), 60);
    compare(got, (x, y) => got(Math.floor(x), Math.floor(H - y)), 60);
  });

  test('the line goes from left to right in a second, and begins again', async () => {
    const placeAt = async (now: number) => {
      const got = await shown('bars', true, now);
      return Array.from({ length: W }, (_, x) => x).find((x) => got(x, 103)[0] > 200);
    };
    expect(await placeAt(2)).toBe(0);
    expect(await placeAt(2.5)).toBe(95);
    expect(await placeAt(2.9)).toBe(171);
  });
});

describe('a picture in its box', () => {
  test('stretched', async () => {
    compare(
      await drawn([chartLayer(box)]),
      through((s, t) => [s * 8, t * 4]),
    );
  });
  test('flipped across and over', async () => {
    compare(
      await drawn([chartLayer({ ...box, flipX: true })]),
      through((s, t) => [8 - s * 8, t * 4]),
    );
    compare(
      await drawn([chartLayer({ ...box, flipY: true })]),
      through((s, t) => [s * 8, 4 - t * 4]),
    );
  });
  test('cropped, also when flipped', async () => {
    const crop = { left: 0.25, right: 0.125, top: 0, bottom: 0.5 };
    compare(
      await drawn([chartLayer({ ...box, crop })]),
      through((s, t) => [2 + s * 5, t * 2]),
    );
    compare(
      await drawn([chartLayer({ ...box, crop, flipX: true })]),
      through((s, t) => [7 - s * 5, t * 2]),
    );
  });
  test('filling cuts what is over; fitting leaves room', async () => {
    const square = { ...box, width: 480 };
    const fill = sampleLayer('l', 'a', 0, {
      content: { type: 'input', inputId: 'chart', fit: 'fill' },
      wide: square,
    });
    compare(await drawn([fill]), (x, y) => {
      if (x < 72 || x >= 120 || y < 30 || y >= 78) return BACK;
      const [u, v] = [2 + ((x - 72) / 48) * 4, ((y - 30) / 48) * 4];
      return nearEdge(u, v) ? null : chartAt(u, v);
    });
    const fit = sampleLayer('l', 'a', 0, {
      content: { type: 'input', inputId: 'chart', fit: 'fit' },
      wide: square,
    });
    compare(await drawn([fit]), (x, y) => {
      if (x < 72 || x >= 120 || y < 42 || y >= 66) return BACK;
      const [u, v] = [((x - 72) / 48) * 8, ((y - 42) / 24) * 4];
      return nearEdge(u, v) ? null : chartAt(u, v);
    });
  });
  test('turned by a quarter', async () => {
    const got = await drawn([chartLayer({ ...box, width: 480, height: 960, rotationDeg: 90 })]);
    // Turned right, the box is as wide as it was high: the picture's lower left corner stands upper left.
    compare(got, (x, y) => {
      if (Math.abs(x - 48) < 1 || Math.abs(x - 144) < 1 || Math.abs(y - 30) < 1 || Math.abs(y - 78) < 1)
        return null;
      if (!inBox(x, y)) return BACK;
      const [u, v] = [((y - 30) / 48) * 8, 4 - ((x - 48) / 96) * 4];
      return nearEdge(u, v) ? null : chartAt(u, v);
    });
  });
  test('half clear over the background', async () => {
    const got = await drawn([chartLayer({ ...box, opacity: 0.5 })]);
    compare(got, (x, y) => {
      const full = through((s, t) => [s * 8, t * 4])(x, y);
      return full && inBox(x, y) ? (full.map((v, i) => (v + BACK[i]) / 2) as unknown as Colour) : full;
    });
  });
  test('round corners cut the corners and nothing else', async () => {
    const got = await drawn([chartLayer({ ...box, cornerPx: 200 })]);
    compare(got, (x, y) => {
      const dx = Math.max(68 - x, x - 124, 0);
      const dy = Math.max(50 - y, y - 58, 0);
      const from = Math.hypot(dx, dy) - 20;
      if (Math.abs(from) < 1.2 && dx > 0 && dy > 0) return null;
      return from > 0 && dx > 0 && dy > 0 ? BACK : through((s, t) => [s * 8, t * 4])(x, y);
    });
  });
});

describe('an input adjusted once', () => {
  const withInput = (more: Parameters<typeof sampleInput>[1], layer = chartLayer(box)) =>
    drawn([sampleInput('chart', more), layer]);
  test('mirrored', async () => {
    compare(
      await withInput({ mirrored: true }),
      through((s, t) => [8 - s * 8, t * 4]),
    );
  });
  test.each([
    [90, (s: number, t: number) => [t * 8, 4 - s * 4] as const],
    [180, (s: number, t: number) => [8 - s * 8, 4 - t * 4] as const],
    [270, (s: number, t: number) => [8 - t * 8, s * 4] as const],
  ] as const)('turned by %i', async (turnDeg, map) => {
    compare(await withInput({ turnDeg }), through(map));
  });
  test('cropped, turned and mirrored together', async () => {
    const crop = { left: 0.5, right: 0, top: 0.25, bottom: 0 };
    compare(
      await withInput({ crop, turnDeg: 90, mirrored: true }),
      through((s, t) => [4 + t * 4, 4 - (1 - s) * 3]),
    );
  });
});

describe('layers together', () => {
  test('the upper covers the lower, hidden ones and those of hidden groups do not show', async () => {
    const colour = (c: string) => ({ type: 'shape', shape: 'rectangle', colour: c }) as const;
    const got = await drawn([
      sampleLayer('low', 'a', 0, { content: colour('#ff0000') }),
      sampleLayer('mid', 'a', 1, { content: colour('#00ff00'), wide: box }),
      sampleLayer('g', 'a', 2, { content: { type: 'group' }, visible: false }),
      sampleLayer('in-g', 'a', 0, { content: colour('#0000ff'), groupId: 'g' }),
      sampleLayer('hid', 'a', 3, { content: colour('#0000ff'), visible: false }),
    ]);
    compare(got, (x, y) => (inBox(x, y) ? [0, 255, 0] : [255, 0, 0]));
  });
  test('an ellipse and a diamond fill what their formulas say', async () => {
    const shape = (s: 'ellipse' | 'diamond') =>
      sampleLayer('s', 'a', 0, { content: { type: 'shape', shape: s, colour: '#ffffff' }, wide: box });
    compare(await drawn([shape('ellipse')]), (x, y) => {
      const r = Math.hypot((x - 96) / 48, (y - 54) / 24);
      return Math.abs(r - 1) < 0.05 ? null : r < 1 ? [255, 255, 255] : BACK;
    });
    compare(await drawn([shape('diamond')]), (x, y) => {
      const r = Math.abs(x - 96) / 48 + Math.abs(y - 54) / 24;
      return Math.abs(r - 1) < 0.06 ? null : r < 1 ? [255, 255, 255] : BACK;
    });
  });
  test('a scene in a scene is that scene in the box', async () => {
    const got = await drawn([
      sampleScene('inner', { position: 1, background: '#102030' }),
      sampleLayer('white', 'inner', 0, {
        content: { type: 'shape', shape: 'rectangle', colour: '#ffffff' },
        wide: { cx: 480, width: 960 },
      }),
      sampleLayer('i', 'a', 0, { content: { type: 'inset', sceneId: 'inner', fit: 'stretch' }, wide: box }),
    ]);
    compare(got, (x, y) => {
      if (!inBox(x, y)) return BACK;
      if (Math.abs(x - 96) < 1.5) return null;
      return x < 96 ? [255, 255, 255] : [16, 32, 48];
    });
  });
  test('an input without a picture shows its stand-in; without one, its placeholder', async () => {
    const broken = {
      source: {
        type: 'camera',
        deviceId: '',
        deviceLabel: '',
        width: 16,
        height: 9,
        fps: 30,
        controls: {},
        deinterlace: false,
      },
    } as const;
    const layer = sampleLayer('l', 'a', 0, {
      content: { type: 'input', inputId: 'cam', fit: 'stretch' },
      wide: box,
    });
    const got = await drawn([sampleInput('cam', { ...broken, standInId: 'chart' }), layer]);
    compare(
      got,
      through((s, t) => [s * 8, t * 4]),
    );
    const bare = await drawn([sampleInput('cam', broken), layer]);
    expect(bare(50, 32)).toEqual([37, 44, 53]);
  });
  test('a page without a picture covers nothing of what lies below it', async () => {
    const got = await drawn([
      sampleInput('page', { source: { type: 'page', width: 16, height: 9, fps: 10, allowed: [] } }),
      sampleLayer('below', 'a', 0, {
        content: { type: 'input', inputId: 'chart', fit: 'stretch' },
        wide: box,
      }),
      sampleLayer('above', 'a', 1, { content: { type: 'input', inputId: 'page', fit: 'fit' } }),
    ]);
    compare(
      got,
      through((s, t) => [s * 8, t * 4]),
    );
  });
});

describe('words', () => {
  const words = (more: Partial<TextStyle>, text = 'signal box') =>
    sampleLayer('t', 'a', 0, {
      content: {
        type: 'text',
        text,
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 200, colour: '#ffffff', ...more },
      },
    });
  const white = (got: (x: number, y: number) => Colour) => {
    let [count, left, right] = [0, W, 0];
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++)
        if (got(x, y)[0] > 200) {
          count += 1;
          left = Math.min(left, x);
          right = Math.max(right, x);
        }
    return { count, left, right };
  };

  test('stand left, in the middle, right', async () => {
    const [left, centre, right] = await Promise.all(
      (['left', 'center', 'right'] as const).map(async (align) => white(await drawn([words({ align })], {}))),
    );
    expect(left.left).toBeLessThan(6);
    expect(Math.abs(centre.left - (W - 1 - centre.right))).toBeLessThan(6);
    expect(right.right).toBeGreaterThan(W - 8);
    expect(left.count).toBeGreaterThan(200);
  });

  test('an outline surrounds them, a box lies behind them', async () => {
    const plainWords = white(await drawn([words({})], {}));
    const outlined = await drawn([words({ outlinePx: 20, outlineColour: '#ff0000' })], {});
    let red = 0;
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) if (outlined(x, y)[0] > 200 && outlined(x, y)[1] < 60) red += 1;
    expect(red).toBeGreaterThan(plainWords.count / 4);
    const boxed = await drawn([words({ box: '#0000ff' })], {});
    expect(boxed(2, 2)).toEqual([0, 0, 255]);
  });

  test('wrapped they take several lines, unwrapped one that is made to fit', async () => {
    const long = 'the last freight over the pass tonight';
    const rows = async (wrap: boolean) => {
      const got = await drawn([words({ wrap }, long)], {});
      return Array.from({ length: H }, (_, y) =>
        Array.from({ length: W }, (_v, x) => got(x, y)[0] > 200).includes(true),
      ).filter(Boolean).length;
    };
    expect(await rows(true)).toBeGreaterThan((await rows(false)) * 2);
    const one = white(await drawn([words({ wrap: false }, long)], {}));
    expect(one.right).toBeLessThan(W);
  });

  test('a ticker runs to the left as far as its speed says, and has no end', async () => {
    const ticker = words({ tickerPxPerSecond: 300 }, 'Hut Nine');
    const [now, later] = [await drawn([ticker], {}, [W, H], 2), await drawn([ticker], {}, [W, H], 2.1)];
    // 300 frame pixels a second are 30 of these; in a tenth of a second 3.
    let differing = 0;
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W - 3; x++) if (Math.abs(later(x, y)[0] - now(x + 3, y)[0]) > 8) differing += 1;
    expect(differing).toBe(0);
    for (const t of [0, 7.3, 1000])
      expect(white(await drawn([ticker], {}, [W, H], t)).count).toBeGreaterThan(100);
  });

  test('a field without a value is seen as it is written, and the rest goes on', async () => {
    const got = await drawn(
      [words({}, '{{nobody}}'), sampleLayer('s', 'a', 1, { wide: { ...box, cy: 900, height: 100 } })],
      {},
    );
    expect(white(got).count).toBeGreaterThan(100);
    expect(got(96, 90)).toEqual([38, 50, 79]);
  });
});

describe('fit to opening, on the picture', () => {
  /** A border of 60 × 40 with a round opening of 40 × 20 at (10, 10), corner 6, edges half clear. */
  const border = (() => {
    const alpha = new Uint8Array(60 * 40);
    const rgba: number[] = [];
    for (let y = 0; y < 40; y++)
      for (let x = 0; x < 60; x++) {
        let clear = 0;
        for (const dx of [0.25, 0.75])
          for (const dy of [0.25, 0.75]) {
            const ox = Math.max(16 - x - dx, x + dx - 44, 0);
            const oy = Math.max(16 - y - dy, y + dy - 24, 0);
            if (ox * ox + oy * oy <= 36) clear += 0.25;
          }
        alpha[y * 60 + x] = Math.round(255 * (1 - clear));
        rgba.push(0, 255, 0, alpha[y * 60 + x]);
      }
    return { given: { width: 60, height: 40, rgba }, alpha: { width: 60, height: 40, alpha } };
  })();
  const [opening] = findOpenings(border.alpha);

  test.each([
    [100, 50, 1200, 800],
    [333.3, 77.7, 941.5, 627.7],
    [210, 140, 600, 400],
  ])('at (%d, %d), %d × %d: nothing peeks out and nothing is missing', async (x, y, width, height) => {
    const graphic: Placement = {
      ...fullPlacement(WIDE),
      cx: x + width / 2,
      cy: y + height / 2,
      width,
      height,
    };
    const camera = fitToOpening(graphic, border.alpha, 'stretch', opening, fullPlacement(WIDE));
    const size: [number, number] = [960, 540];
    const got = await drawn(
      [
        sampleInput('border', { position: 1, source: { type: 'picture', assetId: 'x', loop: true } }),
        sampleInput('cam', { position: 2 }),
        {
          ...sampleLayer('c', 'a', 0, { content: { type: 'input', inputId: 'cam', fit: 'fill' } }),
          placements: { wide: camera },
        },
        {
          ...sampleLayer('b', 'a', 1, { content: { type: 'input', inputId: 'border', fit: 'stretch' } }),
          placements: { wide: graphic },
        },
      ],
      { border: border.given, cam: plain(255, 0, 255) },
      size,
    );
    const k = size[0] / WIDE.width;
    const at = (px: number, py: number) =>
      got(Math.round((x + (px * width) / 60) * k), Math.round((y + (py * height) / 40) * k));
    let magenta = 0;
    for (let py = 0; py < size[1]; py++)
      for (let px = 0; px < size[0]; px++) {
        const [r, g, b] = got(px, py);
        // Where it is: in the graphic's own pixels.
        const u = ((px + 0.5) / k - x) / (width / 60);
        const v = ((py + 0.5) / k - y) / (height / 40);
        const inGraphic = u > 0 && v > 0 && u < 60 && v < 40;
        const solid = r < 3 && g > 252 && b < 3;
        const dark = Math.abs(r - BACK[0]) < 3 && Math.abs(g - BACK[1]) < 3 && Math.abs(b - BACK[2]) < 3;
        if (r > 200 && g < 60 && b > 200) magenta += 1;
        // One pixel of the frame round the graphic is its own soft edge.
        const outside = u < -1 || v < -1 || u > 61 || v > 41;
        if (outside && !dark) throw new Error(`something peeks out at ${px}, ${py}: ${r}, ${g}, ${b}`);
        // Inside the graphic there is camera, graphic, or a mixture of the two, and never the background.
        if (inGraphic && u > 1 && v > 1 && u < 59 && v < 39 && !solid && Math.abs(r - b) > 6)
          throw new Error(`the background shows at ${px}, ${py}: ${r}, ${g}, ${b}`);
      }
    expect(magenta).toBeGreaterThan(100);
    expect(at(30, 20)).toEqual([255, 0, 255]);
  });
});
