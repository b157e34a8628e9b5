/** Making strangers' words safe to draw: no text may break out of its line, its box or its direction. */

/** More marks on one letter than any language needs pile up into other lines. */
const MAX_MARKS = 3;
export const MAX_NAME = 60;
export const MAX_TEXT = 500;

const graphemes = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** Each of these is a letter of its own; a line break of two characters, which is one, has no place among them. */
const PLAIN = /^[\x20-\x7e]*$/;

/** Letters as a reader counts them: an emoji joined from several is one. */
export function lettersOf(text: string): string[] {
  // Most that is written is plain, and a tenth of the time.
  if (PLAIN.test(text)) return text.split('');
  return Array.from(graphemes.segment(text), (part) => part.segment);
}

/**
 * One line of clean text: no control characters, no direction overrides, no heaps of marks, no unpaired surrogates, at most
 * `max` letters (with `…` in place of the last one when cut).
 */
export function cleanText(text: string, max = MAX_TEXT): string {
  // Far more than is kept; the rest would only cost time.
  const letters = lettersOf(cleanPiece(text.slice(0, max * 40)).trim());
  return letters.length > max ? `${letters.slice(0, max - 1).join('')}…` : letters.join('');
}

/** The same for a part of a text: spaces at its ends stay. */
export function cleanPiece(text: string): string {
  const plain = text
    .toWellFormed()
    // C0, C1 and line separators become spaces; direction overrides, isolates and tags vanish.

    .replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g, ' ')
    .replace(
      /[\u202a-\u202e\u2066-\u2069\u200e\u200f\u061c\u{e0000}-\u{e007f}\ufff9-\ufffb\ufeff\u00ad]/gu,
      '',
    )
    .replace(/(\p{M}{3})\p{M}+/gu, '$1')
    .replace(/\s+/g, ' ');
  return lettersOf(plain).map(shortLetter).join('');
}

/** Longest sequence of code units that one letter may be: families of emoji are 11 to 25, piled-up marks are more. */
const MAX_LETTER_UNITS = 32;

function shortLetter(letter: string): string {
  if (letter.length <= MAX_LETTER_UNITS) return letter;
  return letter.slice(0, MAX_MARKS).toWellFormed();
}

/** A viewer's name: clean, at most 60 letters, never empty. */
export function cleanName(name: string): string {
  return cleanText(name, MAX_NAME) || 'someone';
}

export const NAME_STYLES = ['full', 'short', 'hidden'] as const;
export type NameStyle = (typeof NAME_STYLES)[number];

/** A name as it is shown: whole, its first letters, or a number that stays the same for the viewer. */
export function shownName(viewer: string, style: NameStyle): string {
  if (style === 'full') return viewer;
  const letters = lettersOf(viewer);
  if (style === 'short') return letters.length <= 3 ? viewer : `${letters.slice(0, 3).join('')}…`;
  let hash = 7;
  for (let i = 0; i < viewer.length; i++) hash = (hash * 31 + viewer.charCodeAt(i)) >>> 0;
  return `viewer ${100 + (hash % 900)}`;
}

/** Letters that are read as others: what people write to get round a list of words. */
const LOOKS_LIKE: Record<string, string> = {
  '0': 'o',
  '1': 'i',
  '3': 'e',
  '4': 'a',
  '5': 's',
  '7': 't',
  '8': 'b',
  '9': 'g',
  '@': 'a',
  $: 's',
  '!': 'i',
  '|': 'i',
  '€': 'e',
  ł: 'l',
  ø: 'o',
  đ: 'd',
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  // Cyrillic and Greek that look Latin (Unicode UTS #39, confusables, the common ones).
  а: 'a',
  е: 'e',
  о: 'o',
  р: 'p',
  с: 'c',
  у: 'y',
  х: 'x',
  к: 'k',
  м: 'm',
  т: 't',
  в: 'b',
  н: 'h',
  і: 'i',
  ј: 'j',
  ѕ: 's',
  ԁ: 'd',
  ӏ: 'i',
  α: 'a',
  β: 'b',
  ε: 'e',
  ι: 'i',
  κ: 'k',
  ν: 'v',
  ο: 'o',
  ρ: 'p',
  τ: 't',
  υ: 'u',
  χ: 'x',
  l: 'i',
};

/** A text without what disguises it, and where each of its characters stood. */
function skeleton(text: string): { plain: string; places: number[] } {
  let plain = '';
  const places: number[] = [];
  let at = 0;
  for (const char of text) {
    for (const part of char.normalize('NFKD').toLowerCase()) {
      const like = LOOKS_LIKE[part] ?? part;
      for (const letter of like)
        if (/[\p{L}\p{N}]/u.test(letter)) {
          plain += letter;
          places.push(at);
        }
    }
    at += char.length;
  }
  return { plain, places };
}

function isWordEdge(text: string, at: number): boolean {
  return at < 0 || at >= text.length || !/[\p{L}\p{N}]/u.test(text[at]);
}

/**
 * Ranges of a text that hold one of the words, also when written with look-alike letters, marks, spaces or signs between.
 * A word counts only as a whole: "ass" is not found in "brass".
 */
export function blockedRanges(text: string, words: readonly string[]): { from: number; to: number }[] {
  const { plain, places } = skeleton(text);
  const found: { from: number; to: number }[] = [];
  for (const word of words) {
    const { plain: wanted } = skeleton(word);
    if (wanted.length < 2) continue;
    for (let at = plain.indexOf(wanted); at >= 0; at = plain.indexOf(wanted, at + 1)) {
      const from = places[at];
      const last = places[at + wanted.length - 1];
      const to = last + (text.codePointAt(last)! > 0xffff ? 2 : 1);
      if (isWordEdge(text, from - 1) && isWordEdge(text, to)) found.push({ from, to });
    }
  }
  return found.sort((a, b) => a.from - b.from);
}

const LINK =
  /(?:https?:\/\/|www\.)\S+|\b(?:[a-z0-9-]+\.)+(?:com|net|org|io|tv|gg|xyz|info|dev|app|co|me|ly|link|live|shop|site|online|ru|de|uk|fr)\b(?:\/\S*)?/gi;

/** Addresses in a text. */
export function linkRanges(text: string): { from: number; to: number }[] {
  return Array.from(text.matchAll(LINK), (m) => ({ from: m.index, to: m.index + m[0].length }));
}
