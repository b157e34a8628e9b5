/** The one way by which strangers' words come onto the picture, or are read aloud: clean, covered, named as the show names people. */
import type { AudienceSettings } from './settings';
import { blockedRanges, cleanName, cleanText, linkRanges, shownName } from './words';

export type PictureRules = Pick<AudienceSettings, 'blockedWords' | 'maskLinks' | 'names' | 'hiddenViewers'>;
export type CoverRules = Pick<AudienceSettings, 'blockedWords' | 'maskLinks'>;

/** What stands in the place of an address. */
const LINK_WORD = '[link]';
/** As long as a word is; a whole sentence of asterisks would say how long it was. */
const MAX_COVER = 12;
const SOMEONE = 'someone';

export interface CoveredRange {
  from: number;
  to: number;
  /** What is shown instead. */
  instead: string;
}

/** Ranges of a text that are not shown as they are, in order, none over another: blocked words, and addresses when they are masked. */
export function coveredRanges(text: string, { blockedWords, maskLinks }: CoverRules): CoveredRange[] {
  const links = maskLinks ? linkRanges(text).map((range) => ({ ...range, instead: LINK_WORD })) : [];
  // A blocked word inside an address goes with the address.
  const free = ({ from, to }: { from: number; to: number }) =>
    links.every((link) => to <= link.from || from >= link.to);
  const words = blockedRanges(text, blockedWords).filter(free);
  const merged: CoveredRange[] = [];
  for (const { from, to } of words) {
    const last = merged.at(-1);
    if (last && from < last.to) last.to = Math.max(last.to, to);
    else merged.push({ from, to, instead: '' });
  }
  for (const range of merged) range.instead = '*'.repeat(Math.min(MAX_COVER, range.to - range.from));
  return [...merged, ...links].sort((a, b) => a.from - b.from);
}

/** A text with what is covered in it covered. */
export function coverWords(text: string, rules: CoverRules): string {
  let [out, at] = ['', 0];
  for (const { from, to, instead } of coveredRanges(text, rules)) {
    out += text.slice(at, from) + instead;
    at = to;
  }
  return out + text.slice(at);
}

/** Words of a viewer: one clean line of at most `max` letters, covered. */
export function pictureText(text: string, rules: CoverRules, max?: number): string {
  // Covered first: a word that the end of the line cuts in two would no longer be found.
  return cleanText(coverWords(cleanText(text, max === undefined ? undefined : max * 2), rules), max);
}

/** A viewer's name: covered, then shortened or hidden as the show says; who stays off the picture is someone. */
export function pictureName(viewer: string, rules: PictureRules): string {
  const lower = viewer.toLowerCase();
  if (rules.hiddenViewers.some((name) => name.toLowerCase() === lower)) return SOMEONE;
  // A number that stands for a name is made of the whole of it, or two people would become one.
  if (rules.names === 'hidden') return shownName(cleanName(viewer), 'hidden');
  return shownName(cleanName(coverWords(viewer, rules)), rules.names);
}
