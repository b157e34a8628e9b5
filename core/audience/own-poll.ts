/** Polls of the show's own: viewers of all platforms vote by words in the chat, each with one voice. */
import { plainWords } from '../find/finder';

export interface PollAnswer {
  label: string;
  /** What viewers write for it, beside its number: words, with spaces between them. */
  words: string;
}

export interface PollResult {
  pollId: string;
  title: string;
  open: boolean;
  options: { label: string; votes: number }[];
}

/**
 * Which answer a message votes for: its number alone, or one of its words anywhere; a message with words of several answers
 * is talk, not a vote.
 * @returns the place of the answer, or null
 */
export function voteOf(text: string, answers: readonly PollAnswer[]): number | null {
  const said = plainWords(text);
  if (said.length === 0) return null;
  if (said.length === 1 && /^\d{1,2}$/.test(said[0])) {
    const at = Number(said[0]) - 1;
    return at >= 0 && at < answers.length ? at : null;
  }
  const named = answers.flatMap(({ label, words }, i) => {
    const own = plainWords(words === '' ? label : words);
    return own.some((word) => said.includes(word)) ? [i] : [];
  });
  return named.length === 1 ? named[0] : null;
}

/** Counts voices; of several votes of one viewer the last counts. */
export class PollCount {
  readonly #votes = new Map<string, number>();

  constructor(readonly answers: readonly PollAnswer[]) {}

  /** @returns whether it changed anything */
  said(platform: string, viewer: string, text: string): boolean {
    const vote = voteOf(text, this.answers);
    const key = `${platform}\n${viewer.toLowerCase()}`;
    if (vote === null || this.#votes.get(key) === vote) return false;
    this.#votes.set(key, vote);
    return true;
  }

  options(): { label: string; votes: number }[] {
    const counts = this.answers.map(() => 0);
    for (const vote of this.#votes.values()) counts[vote] += 1;
    return this.answers.map(({ label }, i) => ({ label, votes: counts[i] }));
  }
}
