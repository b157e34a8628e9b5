import type { Press } from '~/core/commands/commands';
import { pressWords as wordsOf } from '~/core/commands/command-words';
import type { ShowDocument } from '~/core/show/document';

/** What a press does, in words: with the names of what it is for. */
export const pressWords = (press: Press, document: ShowDocument): string =>
  wordsOf(press, (id) => document.get(id)?.name ?? null);
