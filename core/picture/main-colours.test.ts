import { describe, expect, test } from 'vitest';
import { mainColours } from './main-colours';
import { chromaOf, colourOf, distanceOf, oklabOf } from './oklab';

const points = (...runs: [colour: string, alpha: number, count: number][]) =>
  new Uint8ClampedArray(
    runs.flatMap(([colour, alpha, count]) =>
      Array.from({ length: count }, () => [
        ...[1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16)),
        alpha,
      ]).flat(),
    ),
  );

describe('OKLab', () => {
  // Of CSS Color 4, its examples and the web-platform-tests made of them: white, red, green (#008000), blue.
  test.each([
    ['#FFFFFF', 1, 0, 0],
    ['#FF0000', 0.62796, 0.22486, 0.12585],
    ['#008000', 0.51975, -0.1403, 0.10768],
    ['#0000FF', 0.45201, -0.03246, -0.31153],
    ['#000000', 0, 0, 0],
  ])('%s', (colour, l, a, b) => {
    const lab = oklabOf(colour);
    for (const [value, wanted] of [
      [lab.l, l],
      [lab.a, a],
      [lab.b, b],
    ])
      expect(value).toBeCloseTo(wanted, 4);
    expect(colourOf(lab)).toBe(colour);
  });

  test('every colour comes back as it was', () => {
    for (let n = 0; n < 2000; n++) {
      const colour = `#${((n * 8391 + 77) % 0x1000000).toString(16).padStart(6, '0')}`.toUpperCase();
      expect(colourOf(oklabOf(colour))).toBe(colour);
    }
  });

  test('what no screen can show keeps its lightness and hue', () => {
    const wanted = { l: 0.7, a: -0.3, b: 0.2 };
    const got = oklabOf(colourOf(wanted));
    expect(got.l).toBeCloseTo(0.7, 1);
    expect(Math.atan2(got.b, got.a)).toBeCloseTo(Math.atan2(wanted.b, wanted.a), 1);
    expect(chromaOf(got)).toBeLessThan(chromaOf(wanted));
    expect(distanceOf(got, got)).toBe(0);
  });
});

describe('the colours of a picture', () => {
  test('the largest first; what can be seen through does not count', () => {
    const logo = points(
      ['#112233', 0, 500],
      ['#FFFFFF', 255, 60],
      ['#DD2222', 255, 100],
      ['#2255DD', 200, 40],
    );
    expect(mainColours(logo, 5)).toEqual([
      { colour: '#DD2222', share: 0.5 },
      { colour: '#FFFFFF', share: 0.3 },
      { colour: '#2255DD', share: 0.2 },
    ]);
    expect(mainColours(logo, 1)).toEqual([{ colour: '#DD2222', share: 0.5 }]);
  });

  test('shades of one are one, and the soft edge between two is none', () => {
    const soft = points(
      ['#DD2222', 255, 300],
      ['#CC2222', 255, 200],
      ['#DD3333', 255, 100],
      ['#FFFFFF', 255, 396],
      ['#EE9999', 255, 4],
    );
    expect(mainColours(soft, 5).map(({ colour, share }) => [colour, share])).toEqual([
      ['#DD2222', 0.6],
      ['#FFFFFF', 0.396],
    ]);
  });

  test('an empty picture has none', () => {
    expect(mainColours(points(['#FF0000', 0, 9]), 5)).toEqual([]);
    expect(mainColours(new Uint8ClampedArray(0), 5)).toEqual([]);
  });
});
