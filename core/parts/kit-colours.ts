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

/** Nearer to the ground than this, and of little colour itself, a colour is a shade of it: ridges before a sky. */
const SHADE_CONTRAST = 2;
/** A shade of the ground may have a little more colour than the ground, and no more than this. */
const SHADE_CHROMA = 0.07;

/** A palette by what becomes of its colours. */
function parted(palette: readonly PaletteColour[]) {
  const of = (role: string) => palette.find((one) => one.role === role)?.colour ?? null;
  const [ground, words] = [of('Ground'), of('Words')];
  const others = palette
    .map(({ colour }) => colour)
    .filter((colour) => colour !== ground && colour !== words);
  const isShade = (colour: string) =>
    ground !== null &&
    contrastOf(colour, ground) < SHADE_CONTRAST &&
    chromaOf(oklabOf(colour)) < SHADE_CHROMA;
  return {
    ground,
    words,
    shades: others.filter(isShade),
    accents: others.filter((colour) => !isShade(colour)),
  };
}

/**
 * As another palette has it: ground as ground, words as words, accents in their order; shades of the ground take its hue.
 * What the other has none for stays.
 * @returns to exchange, from → to
 */
export function asIn(
  palette: readonly PaletteColour[],
  other: readonly PaletteColour[],
): Map<string, string> {
  const [own, its] = [parted(palette), parted(other)];
  const exchange = new Map<string, string>();
  if (own.ground && its.ground) {
    exchange.set(own.ground, its.ground);
    const hue = oklabOf(its.ground);
    for (const shade of own.shades) exchange.set(shade, tinted(oklabOf(shade), hue, SHADE_CHROMA));
  }
  if (own.words && its.words) exchange.set(own.words, its.words);
  own.accents.forEach((colour, i) => {
    const to = its.accents[i];
    if (to !== undefined) exchange.set(colour, to);
  });
  return exchange;
}

/**
 * By a logo: its colours become the accents, the ground with its shades stays as dark and the words as light as they are,
 * with a touch of its first colour. What could not be told from the ground any more is made lighter or darker until it can.
 *
 * @param logo its colours, the largest first
 * @returns to exchange, from → to; empty when the logo has no colour but greys
 */
export function byLogo(palette: readonly PaletteColour[], logo: readonly string[]): Map<string, string> {
  const colours = logo.map(oklabOf).filter((lab) => chromaOf(lab) >= GREY);
  const exchange = new Map<string, string>();
  if (colours.length === 0) return exchange;
  const touched = (colour: string, most: number) => tinted(oklabOf(colour), colours[0], most);
  const { ground, words, shades, accents } = parted(palette);
  if (ground) exchange.set(ground, touched(ground, GROUND_CHROMA));
  if (words) exchange.set(words, touched(words, WORDS_CHROMA));
  for (const shade of shades) exchange.set(shade, touched(shade, SHADE_CHROMA));
  const on = ground === null ? null : exchange.get(ground)!;
  accents.forEach((colour, i) => {
    const own = colours[i % colours.length];
    // The same a second time, in another shade.
    const round = Math.floor(i / colours.length);
    const lab = within(round === 0 ? own : { ...own, l: own.l + (own.l > 0.6 ? -1 : 1) * SHADES * round });
    exchange.set(colour, on === null ? colourOf(lab) : apart(lab, on));
  });
  return exchange;
}

function tinted({ l }: Oklab, { a, b }: Oklab, most: number): string {
  const scale = Math.min(1, most / Math.max(1e-6, Math.hypot(a, b)));
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
