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
  test('are those of the show by what they do; what that has none for stays', () => {
    const show = [
      { role: 'Accent', colour: '#FF00AA' },
      { role: 'Ground', colour: '#101010' },
    ];
    expect([...asIn(KIT, show)]).toEqual([
      ['#0B1420', '#101010'],
      ['#E2AE45', '#FF00AA'],
    ]);
  });

  test('by a logo: its colours are the accents, ground and words get a touch of the first', () => {
    const exchange = byLogo(KIT, ['#FFFFFF', '#2F7D4F', '#D9722E']);
    expect([...exchange.keys()]).toEqual(KIT.map(({ colour }) => colour).sort((a, b) => order(a) - order(b)));
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

/** Ground and words are exchanged first. */
function order(colour: string): number {
  const at = KIT.findIndex((one) => one.colour === colour);
  return at < 2 ? at : at + 10;
}
