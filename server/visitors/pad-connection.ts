import type { Press } from '../../core/commands/commands';
import { fromPadSchema, type PadState, type ToPad } from '../../protocol/pad';
import { readPress } from '../../protocol/programme-schemas';

/** Looked at so often; what has not changed is told once a second, so that a pad knows that it is not cut off. */
const LOOK_MS = 120;
const BEAT_MS = 1000;
/** Presses that may be under way at once: a fader and a few fingers. */
const MOST_WAITING = 20;
/** What a pad may not do: change the show itself. */
const OWNERS_ALONE: ReadonlySet<Press['command']> = new Set(['undo', 'redo', 'keepAsStart', 'skipNext']);

export interface PadParts {
  /** Null while no show is open. */
  state: () => PadState | null;
  /** @returns what went wrong, or null */
  press: (press: Press, held: boolean) => Promise<string | null>;
  say: (message: ToPad) => void;
}

/** One pad that is connected: told how things stand, heard when it presses. */
export class PadConnection {
  #told = '';
  #toldMs = -Infinity;
  #waiting = 0;
  readonly #timer: NodeJS.Timeout;

  constructor(readonly parts: PadParts) {
    this.#timer = setInterval(() => this.#look(), LOOK_MS);
    this.#look();
  }

  close(): void {
    clearInterval(this.#timer);
  }

  said(text: string): void {
    let parsed: unknown = null;
    try {
      parsed = JSON.parse(text);
    } catch {
      // It is answered below like everything else that is no press.
    }
    const { error, value } = fromPadSchema.validate(parsed, { convert: false });
    if (error)
      return this.parts.say({ type: 'pressed', id: 0, problem: 'This is no press: reload the pad.' });
    const { id, held } = value;
    const read = readPress(value.press);
    const refuse = (problem: string) => this.parts.say({ type: 'pressed', id, problem });
    if ('problem' in read) return refuse(`This cannot be pressed: ${read.problem}.`);
    if (OWNERS_ALONE.has(read.press.command)) return refuse('Only at the desk: it changes the show itself.');
    if (this.#waiting >= MOST_WAITING) return refuse('Too much at once: press again.');
    this.#waiting += 1;
    void this.parts
      .press(read.press, held)
      .then((problem) => {
        this.parts.say({ type: 'pressed', id, problem });
        this.#look();
      })
      .finally(() => (this.#waiting -= 1));
  }

  #look(): void {
    const state = this.parts.state();
    if (!state) return;
    const words = JSON.stringify({ ...state, nowMs: 0, overSeconds: Math.round(state.overSeconds ?? 0) });
    if (words === this.#told && state.nowMs - this.#toldMs < BEAT_MS) return;
    this.#told = words;
    this.#toldMs = state.nowMs;
    this.parts.say({ type: 'state', state });
  }
}
