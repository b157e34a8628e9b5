import type { StudioClient } from '../../scripts/lib/studio-client.mjs';
import type { startStudio } from '../../scripts/lib/studio.mjs';
import type { Dice } from './dice';

/** A running studio as those who attack it see it. */
export interface Target {
  studio: Awaited<ReturnType<typeof startStudio>>;
  /** Signed in as the owner, at the show. */
  owner: StudioClient;
  /** A hook with its secret, for calls that are signed. */
  hook: { id: string; secret: string };
  feedPort: number;
  /** What hostile servers were asked for, by the name of what they play. */
  played: Set<string>;
  /** Everything that was answered, as far as it was read. */
  answers: string[];
  /** Answers that say that something went wrong inside: bad input is no such thing. */
  broken: string[];
}

/** Asks something, and keeps what was answered: no secret may be in it. A connection that is closed on it is an answer too. */
export async function tryIt(target: Target, ask: () => Promise<Response>): Promise<number> {
  try {
    const response = await ask();
    const text = await response.text();
    if (response.status >= 500 && response.status !== 503)
      target.broken.push(`${response.status} ${response.url}: ${text.slice(0, 300)}`);
    target.answers.push(`${[...response.headers].join()}\n${text}`.slice(0, 20_000));
    return response.status;
  } catch {
    return 0;
  }
}

export interface Border {
  name: string;
  /** One burst of it. */
  burst: (target: Target, dice: Dice) => Promise<void>;
}
