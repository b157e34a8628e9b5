import type { Press } from '../../core/commands/commands';
import type { CommandSource } from '../../core/programme/commands';
import type { BusFromServer } from '../../protocol/bus';

/** A desk that does not take a press within this does not do it: a press is never left to come late. */
const TAKE_MS = 2000;
/** Going live, or keeping the last minutes, takes its time once it has begun. */
const DO_MS = 60_000;
const NO_DESK = 'No studio page has this show at its desk: open it, then press again.';
const SILENT = 'The studio page did not answer: nothing was pressed. Look whether it still runs.';
const BEGUN = 'It was begun, and is not done after a minute: look at the studio page.';

interface Waiting {
  /** Null: it is done, and well. */
  done: (problem: string | null) => void;
  timer: NodeJS.Timeout;
}

/** Presses from pads and other programs on their way to the desk. */
export class Presses {
  #next = 1;
  readonly #waiting = new Map<number, Waiting>();

  /** @param say to the desk's page; false when there is none */
  constructor(readonly say: (message: BusFromServer) => boolean) {}

  /** @param held of a command that is held: whether it is pressed or let go @returns what went wrong, or null */
  press(press: Press, by: CommandSource, held = true): Promise<string | null> {
    const id = this.#next++;
    return new Promise((resolve) => {
      const done = (problem: string | null) => {
        clearTimeout(this.#waiting.get(id)?.timer);
        this.#waiting.delete(id);
        resolve(problem);
      };
      this.#waiting.set(id, { done, timer: setTimeout(() => done(SILENT), TAKE_MS) });
      if (!this.say({ type: 'press', id, press, by, held })) done(NO_DESK);
    });
  }

  /** The desk has it; it does it only if it is told to, which one that was given up is not. */
  taken(id: number): void {
    const waiting = this.#waiting.get(id);
    if (!waiting) return;
    clearTimeout(waiting.timer);
    waiting.timer = setTimeout(() => waiting.done(BEGUN), DO_MS);
    if (!this.say({ type: 'go', id })) waiting.done(NO_DESK);
  }

  answered(id: number, problem: string | null): void {
    this.#waiting.get(id)?.done(problem);
  }
}
