import { describe, expect, test } from 'vitest';
import { PLAIN_FINISH, START_SHADOW, type LayerFinish } from '../show/finish-records';
import { fullPlacement, type Placement } from '../show/records';
import { WIDE } from '../show/sample-show';
import { mixColour, mixNumber, mixPlacement } from './mix';
import { mixFinish } from './mix-finish';

const A: Placement = {
  ...fullPlacement(WIDE),
  ...{ cx: 100, cy: 40, width: 400, height: 300, rotationDeg: 10, opacity: 0.2, cornerPx: 8 },
  ...{ crop: { left: 0.1, top: 0.2, right: 0.3, bottom: 0.4 }, flipX: true, flipY: false },
  ...{ borderPx: 2, borderColour: '#000000', shadowPx: 6 },
};
const B: Placement = {
  ...fullPlacement(WIDE),
  ...{ cx: 300, cy: 140, width: 800, height: 500, rotationDeg: 50, opacity: 0.6, cornerPx: 16 },
  ...{ crop: { left: 0.3, top: 0.6, right: 0.1, bottom: 0 }, flipX: false, flipY: true },
  ...{ borderPx: 10, borderColour: '#ffffff', shadowPx: 10 },
};

describe('numbers and colours', () => {
  test('numbers lie on the line, also beyond its ends', () => {
    expect([-1, 0, 0.25, 1, 2].map((share) => mixNumber(4, 12, share))).toEqual([-4, 4, 6, 12, 20]);
  });

  test('colours mix in sRGB, weighted by how much of each is seen, and end exactly', () => {
    expect(mixColour('#102030', '#304050', 0.5)).toBe('#203040');
    expect(mixColour('#000000', '#ffffff', 0.25)).toBe('#404040');
    expect(mixColour('#AbCdEf', '#000000', 0)).toBe('#AbCdEf');
    expect(mixColour('#AbCdEf', '#000000', -1)).toBe('#AbCdEf');
    expect(mixColour('#000000', '#AbCdEf', 1)).toBe('#AbCdEf');
    expect(mixColour('#000000', '#AbCdEf', 1.2)).toBe('#AbCdEf');
    expect(mixColour('#AbCdEf', '#AbCdEf', 0.5)).toBe('#AbCdEf');
  });

  test('what is half seen counts half; what is not seen at all has no say in the colour', () => {
    // 0.5 opaque red and opaque blue: 0.75 opaque in the middle, red counting 1 to 2.
    expect(mixColour('#ff000080', '#0000ffff', 0.5)).toBe('#5500aac0');
    expect(mixColour('#ff000000', '#0000ffff', 0.25)).toBe('#0000ff40');
    expect(mixColour('#ff000000', '#00ff0000', 0.5)).toBe('#00000000');
    expect(mixColour('#ff0000', '#0000ff00', 0.75)).toBe('#ff000040');
  });
});

describe('placements', () => {
  test('the ends are the placements themselves', () => {
    expect(mixPlacement(A, B, 0)).toBe(A);
    expect(mixPlacement(A, B, 1)).toBe(B);
  });

  test('a quarter of the way every number has come a quarter', () => {
    const { crop, ...quarter } = mixPlacement(A, B, 0.25);
    expect(quarter).toEqual({
      ...{
        cx: 150,
        cy: 65,
        width: 500,
        height: 350,
        rotationDeg: 20,
        opacity: expect.closeTo(0.3) as number,
      },
      ...{ cornerPx: 10, flipX: true, flipY: false, borderPx: 4, borderColour: '#404040', shadowPx: 7 },
    });
    expect(crop).toEqual({
      left: expect.closeTo(0.15) as number,
      top: expect.closeTo(0.3) as number,
      right: expect.closeTo(0.25) as number,
      bottom: expect.closeTo(0.3) as number,
    });
  });

  test('pictures turn over half way', () => {
    expect(mixPlacement(A, B, 0.49)).toMatchObject({ flipX: true, flipY: false });
    expect(mixPlacement(A, B, 0.5)).toMatchObject({ flipX: false, flipY: true });
  });

  test.each([
    [10, 50, 30],
    [350, 10, 360],
    [10, 350, 0],
    [-170, 170, -180],
    [0, 179, 89.5],
    [0, 181, -89.5],
    [720, 90, 765],
  ])('from %d to %d degrees it goes the shorter way, over %d', (from, to, middle) => {
    const turned = mixPlacement({ ...A, rotationDeg: from }, { ...B, rotationDeg: to }, 0.5);
    expect(turned.rotationDeg).toBeCloseTo(middle);
  });

  test('a spring that swings beyond its end leaves nothing that cannot be drawn', () => {
    const back = mixPlacement(A, B, -3);
    expect(back).toMatchObject({ width: 1, height: 1, opacity: 0, cornerPx: 0, borderPx: 0, shadowPx: 0 });
    expect(back.cx).toBe(-500);
    expect(back.crop.left).toBe(0);
    const on = mixPlacement(A, B, 4);
    expect(on.opacity).toBe(1);
    expect(on.crop.top).toBe(0.99);
    expect(on.crop.bottom).toBe(0);
  });
});

describe('finishes', () => {
  const glow = { colour: '#000000', sizePx: 10, strength: 0.4 };
  const mask = { assetId: 'a', name: 'Ridge', by: 'brightness', inverted: false } as const;
  const from: LayerFinish = {
    blend: 'add',
    outerGlow: glow,
    innerGlow: null,
    blur: { px: 4, part: 'whole', areas: [] },
    mask,
    shadow: START_SHADOW,
  };
  const to: LayerFinish = {
    blend: 'screen',
    outerGlow: { colour: '#ffffff', sizePx: 30, strength: 0.8 },
    innerGlow: { colour: '#112233', sizePx: 6, strength: 1 },
    blur: { px: 12, part: 'whole', areas: [] },
    mask: null,
    shadow: { angleDeg: 30, distance: 0.75, softness: 1, colour: '#000000a0' },
  };

  test('the ends are the finishes themselves, and beyond them the nearer one holds', () => {
    expect(mixFinish(from, to, 0)).toBe(from);
    expect(mixFinish(from, to, -0.3)).toBe(from);
    expect(mixFinish(from, to, 1)).toBe(to);
    expect(mixFinish(from, to, 1.3)).toBe(to);
    expect(mixFinish(from, from, 0.5)).toBe(from);
  });

  test('a quarter of the way', () => {
    expect(mixFinish(from, to, 0.25)).toEqual({
      blend: 'add',
      mask,
      outerGlow: { colour: '#404040', sizePx: 15, strength: expect.closeTo(0.5) as number },
      // What only one has comes by its strength, in its own colour and size.
      innerGlow: { colour: '#112233', sizePx: 6, strength: 0.25 },
      blur: { px: 6, part: 'whole', areas: [] },
      shadow: {
        angleDeg: 75,
        distance: expect.closeTo(0.45) as number,
        softness: expect.closeTo(0.7) as number,
        colour: '#000000a0',
      },
    });
  });

  test('what only the first has goes by its strength; blend and mask change half way', () => {
    expect(mixFinish(to, from, 0.25).innerGlow).toEqual({ colour: '#112233', sizePx: 6, strength: 0.75 });
    expect(mixFinish(from, to, 0.49)).toMatchObject({ blend: 'add', mask });
    expect(mixFinish(from, to, 0.5)).toMatchObject({ blend: 'screen', mask: null });
    expect(mixFinish(PLAIN_FINISH, { ...PLAIN_FINISH, blend: 'multiply' }, 0.6)).toEqual({
      ...PLAIN_FINISH,
      blend: 'multiply',
    });
  });

  test('a blur of the whole comes out of nothing; one that hides an area stays whole until the other has taken over', () => {
    const sharp = { ...from, blur: null };
    expect(mixFinish(sharp, to, 0.25).blur).toEqual({ px: 3, part: 'whole', areas: [] });
    expect(mixFinish(to, sharp, 0.75).blur).toEqual({ px: 3, part: 'whole', areas: [] });
    const area = { left: 0.1, top: 0.1, width: 0.2, height: 0.2 };
    const hides = { ...from, blur: { px: 20, part: 'inside', areas: [area] } } satisfies LayerFinish;
    expect(mixFinish(hides, sharp, 0.9).blur).toEqual(hides.blur);
    expect(mixFinish(sharp, hides, 0.1).blur).toEqual(hides.blur);
    const more = { ...hides, blur: { ...hides.blur, px: 40 } };
    expect(mixFinish(hides, more, 0.5).blur).toEqual({ ...hides.blur, px: 30 });
    // Between an area and the whole the nearer one says which.
    expect(mixFinish(hides, from, 0.25).blur).toEqual({ ...hides.blur, px: 16 });
    expect(mixFinish(hides, from, 0.75).blur).toEqual({ px: 8, part: 'whole', areas: [] });
  });
});
