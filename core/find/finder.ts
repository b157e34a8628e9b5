/** Finding things by what people call them: by our names, by the trade's other names, by any part of a word. */

export interface Findable {
  id: string;
  /** As it is shown. */
  name: string;
  /** Other names of the same. */
  also?: readonly string[];
}

/** Letters as they are compared: without case, marks and signs. */
export function plainWords(text: string): string[] {
  return (
    text
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .match(/[\p{L}\p{N}]+/gu) ?? []
  );
}

/** How well a word that is typed fits a word of a name: 3 the whole, 2 its beginning, 1 within it, 0 not at all. */
function fit(typed: string, word: string): number {
  if (word === typed) return 3;
  if (word.startsWith(typed)) return 2;
  // Of two letters within a word nobody means that word.
  return typed.length >= 3 && word.includes(typed) ? 1 : 0;
}

/**
 * Those that have every typed word in their name or in one of its other names, the best first: whole words before
 * beginnings, names before other names, short names before long ones. Without words all of them, as they are.
 */
export function findings<T extends Findable>(all: readonly T[], typed: string, most: number): T[] {
  const words = plainWords(typed);
  if (words.length === 0) return all.slice(0, most);
  const scored: { one: T; score: number }[] = [];
  for (const one of all) {
    const own = plainWords(one.name);
    const others = (one.also ?? []).flatMap(plainWords);
    let score = 0;
    for (const word of words) {
      const inName = Math.max(0, ...own.map((part) => fit(word, part)));
      const inOthers = Math.max(0, ...others.map((part) => fit(word, part)));
      const best = Math.max(inName * 10, inOthers * 8);
      if (best === 0) {
        score = 0;
        break;
      }
      score += best;
    }
    if (score > 0) scored.push({ one, score: score - own.length / 100 });
  }
  return scored
    .sort((a, b) => b.score - a.score)
    .slice(0, most)
    .map(({ one }) => one);
}
