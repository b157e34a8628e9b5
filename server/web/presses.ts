import type { Press } from '../../core/commands/commands';
import type { CommandSource } from '../../core/programme/commands';
import type { BusFromServer } from '../../protocol/bus';

/** A desk that does not answer for so long did not do it: a press is never left to come late. */
const ANSWER_MS = 2000;
const NO_DESK = 'No studio page has this show at its desk: open it, then press again.';

/** Presses from pads and other programs on their way to the desk. */
export class Presses {
  #next = 1;
  readonly #waiting = new Map<number, (problem: string | null) => void>();

  /** @param say to the desk's page; false when there is none */
  constructor(readonly say: (message: BusFromServer) => boolean) {}

  /** @param held of a command that is held: whether it is pressed or let go @returns what went wrong, or null */
  press(press: Press, by: CommandSource, held = true): Promise<string | null> {
    const id = this.#next++;
    return new Promise((resolve) => {
      const timer = setTimeout(
        () => done('The studio page did not answer: look whether it still runs.'),
        ANSWER_MS,
      );
      const done = (problem: string | null) => {
        clearTimeout(timer);
        this.#waiting.delete(id);
        resolve(problem);
      };
      this.#waiting.set(id, done);
      if (!this.say({ type: 'press', id, press, by, held })) done(NO_DESK);
    });
  }

  answered(id: number, problem: string | null): void {
    this.#waiting.get(id)?.(problem);
  }
}
