/** A kit's colours exchanged all at once: for those of the show it comes into, or for those of a logo. */
import { chromaOf, colourOf, oklabOf, type Oklab } from '../picture/oklab';
import { contrastOf, type PaletteColour } from './kit';

/** Less than this is a grey. */
const GREY = 0.04;
/** A ground has no more colour than this, or nothing on it can be looked at for long. */
const GROUND_CHROMA = 0.05;
const WORDS_CHROMA = 0.02;
/** What accents keep from the ground at least (WCAG 2.2, 1.4.11). */
const LEAST_CONTRAST = 3;
const STEP = 0.03;
/** One colour serves two accents in shades so far apart. */
const SHADES = 0.14;

const isAccent = (role: string) => role !== 'Ground' && role !== 'Words';

/** By role, as another palette has it; roles that it does not have keep their colour. @returns to exchange, from → to */
export function asIn(
  palette: readonly PaletteColour[],
  other: readonly PaletteColour[],
): Map<string, string> {
  const exchange = new Map<string, string>();
  for (const { role, colour } of palette) {
    const its = other.find((one) => one.role === role);
    if (its) exchange.set(colour, its.colour);
  }
  return exchange;
}

/**
 * By a logo: its colours become the accents, the ground stays as dark and the words as light as they are, with a touch of
 * its first colour. What could not be told from the ground any more is made lighter or darker until it can.
 *
 * @param logo its colours, the largest first
 * @returns to exchange, from → to; empty when the logo has no colour but greys
 */
export function byLogo(palette: readonly PaletteColour[], logo: readonly string[]): Map<string, string> {
  const colours = logo.map(oklabOf).filter((lab) => chromaOf(lab) >= GREY);
  const exchange = new Map<string, string>();
  if (colours.length === 0) return exchange;
  const touched = (colour: string, most: number) => tinted(oklabOf(colour), colours[0], most);
  let ground: string | null = null;
  for (const { role, colour } of palette)
    if (!isAccent(role)) {
      const to = touched(colour, role === 'Ground' ? GROUND_CHROMA : WORDS_CHROMA);
      if (role === 'Ground') ground = to;
      exchange.set(colour, to);
    }
  palette
    .filter(({ role }) => isAccent(role))
    .forEach(({ colour }, i) => {
      const own = colours[i % colours.length];
      // The same a second time, in another shade.
      const round = Math.floor(i / colours.length);
      const shade = round === 0 ? own : { ...own, l: own.l + (own.l > 0.6 ? -1 : 1) * SHADES * round };
      exchange.set(colour, ground === null ? colourOf(within(shade)) : apart(within(shade), ground));
    });
  return exchange;
}

function tinted({ l }: Oklab, { a, b }: Oklab, most: number): string {
  const scale = Math.min(1, most / Math.hypot(a, b));
  return colourOf({ l, a: a * scale, b: b * scale });
}

const within = (lab: Oklab): Oklab => ({ ...lab, l: Math.min(0.95, Math.max(0.25, lab.l)) });

/** The colour, away from the ground until it can be told from it. */
function apart(lab: Oklab, ground: string): string {
  const away = oklabOf(ground).l < 0.5 ? STEP : -STEP;
  let colour = colourOf(lab);
  for (let l = lab.l; contrastOf(colour, ground) < LEAST_CONTRAST && l > 0 && l < 1; l += away)
    colour = colourOf({ ...lab, l });
  return colour;
}
