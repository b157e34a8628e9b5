import { describe, expect, test } from 'vitest';
import { chromaOf, oklabOf } from '../picture/oklab';
import { asIn, byLogo } from './kit-colours';
import { contrastOf, type PaletteColour } from './kit';

const KIT: PaletteColour[] = [
  { role: 'Ground', colour: '#0B1420' },
  { role: 'Words', colour: '#F4EFE6' },
  { role: 'Accent', colour: '#E2AE45' },
  { role: 'Second accent', colour: '#63BDBB' },
  { role: 'Third accent', colour: '#B14A4A' },
];
const hueOf = (colour: string) => {
  const { a, b } = oklabOf(colour);
  return Math.atan2(b, a);
};

describe('a kit’s colours', () => {
  test('are those of the show by what they do, accents in their order; what that has none for stays', () => {
    const show = [
      { role: 'Accent', colour: '#FF00AA' },
      { role: 'Ground', colour: '#101010' },
    ];
    expect([...asIn(KIT, show)]).toEqual([
      ['#0B1420', '#101010'],
      ['#E2AE45', '#FF00AA'],
    ]);
    expect(asIn(KIT, []).size).toBe(0);
  });

  test('shades of the ground stay as light as they are, in the ground’s new hue', () => {
    const kit = [...KIT, { role: 'Ridge', colour: '#1D3147' }];
    const green = [{ role: 'Ground', colour: '#0A1F10' }];
    for (const exchange of [asIn(kit, green), byLogo(kit, ['#2F7D4F'])]) {
      const ridge = exchange.get('#1D3147')!;
      expect(oklabOf(ridge).l).toBeCloseTo(oklabOf('#1D3147').l, 1);
      expect(hueOf(ridge)).toBeCloseTo(hueOf(exchange.get('#0B1420')!), 0);
    }
  });

  test('by a logo: its colours are the accents, ground and words get a touch of the first', () => {
    const exchange = byLogo(KIT, ['#FFFFFF', '#2F7D4F', '#D9722E']);
    expect(new Set(exchange.keys())).toEqual(new Set(KIT.map(({ colour }) => colour)));
    expect(exchange.get('#63BDBB')).toBe('#D9722E');
    const [ground, words, accent, third] = ['#0B1420', '#F4EFE6', '#E2AE45', '#B14A4A'].map((from) =>
      exchange.get(from)!,
    );
    for (const [to, from] of [
      [ground, '#0B1420'],
      [words, '#F4EFE6'],
    ]) {
      expect(oklabOf(to).l).toBeCloseTo(oklabOf(from).l, 2);
      expect(chromaOf(oklabOf(to))).toBeLessThan(0.06);
    }
    expect(hueOf(accent)).toBeCloseTo(hueOf('#2F7D4F'), 1);
    // The first colour a second time is another shade of it.
    expect(hueOf(third)).toBeCloseTo(hueOf('#2F7D4F'), 1);
    expect(Math.abs(oklabOf(third).l - oklabOf(accent).l)).toBeGreaterThan(0.08);
  });

  test.each(['#0B1420', '#FAF6EE'])('on %s accents can always be told from the ground', (ground) => {
    const palette = [{ role: 'Ground', colour: ground }, ...KIT.slice(2)];
    for (const logo of ['#101C5A', '#FFE9A0', '#7A0000', '#00FF00', '#6A6AFF']) {
      const exchange = byLogo(palette, [logo]);
      for (const { colour } of KIT.slice(2))
        expect(contrastOf(exchange.get(colour)!, exchange.get(ground)!), logo).toBeGreaterThanOrEqual(3);
    }
  });

  test('a logo of greys changes nothing', () => {
    expect(byLogo(KIT, ['#000000', '#FFFFFF', '#808080']).size).toBe(0);
    expect(byLogo(KIT, []).size).toBe(0);
  });
});
