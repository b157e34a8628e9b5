import { commandShape, type Press } from '../../core/commands/commands';
import { fromPadSchema, type PadEvent, type PadState, type ToPad } from '../../protocol/pad';
import { readPress } from '../../protocol/programme-schemas';

/** Looked at so often; what has not changed is told once a second, so that a pad knows that it is not cut off. */
const LOOK_MS = 120;
const BEAT_MS = 1000;
/** Presses that may be under way at once: a fader and a few fingers. */
const MOST_WAITING = 20;
/** In a storm the newest are told, so many with each look. */
const MOST_EVENTS = 20;
const NOTHING: ForPads = { levels: {}, pictures: new Map(), events: [] };
export const OWNERS_ALONE = 'Only at the desk: it changes the show itself.';

/** What the desk tells for pads. */
export interface ForPads {
  /** By channel, dBFS. */
  levels: Readonly<Record<string, number>>;
  /** By scene: a JPEG in base64. */
  pictures: Map<string, string>;
  /** The newest last. */
  events: PadEvent[];
}

export interface PadParts {
  forPads: () => ForPads | null;
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
  #levels = '';
  /** Of the event that was told last. */
  #eventSeq: number | null = null;
  /** Pictures that were told, by scene. */
  readonly #pictures = new Map<string, string>();
  /** What is held down there. */
  readonly #held = new Map<string, Press>();
  readonly #timer: NodeJS.Timeout;

  constructor(readonly parts: PadParts) {
    this.#timer = setInterval(() => this.#look(), LOOK_MS);
    this.#look();
  }

  close(): void {
    clearInterval(this.#timer);
    // A phone that is gone cannot let go: nobody must stay muted by that.
    for (const press of this.#held.values()) void this.parts.press(press, false);
    this.#held.clear();
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
    const { owners, holds } = commandShape(read.press.command);
    if (owners) return refuse(OWNERS_ALONE);
    // What is held can always be let go.
    const letsGo = holds && !held;
    if (this.#waiting >= MOST_WAITING && !letsGo) return refuse('Too much at once: press again.');
    const key = JSON.stringify(read.press);
    if (letsGo) this.#held.delete(key);
    else if (holds) this.#held.set(key, read.press);
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
    this.#tellState(state);
    this.#tellMore(state);
  }

  /** Levels beside its faders, and pictures on its tiles, as far as it has any. */
  #tellMore({ pages }: PadState): void {
    const { levels, pictures, events } = this.parts.forPads() ?? NOTHING;
    // What was before it came is not news.
    this.#eventSeq ??= events.at(-1)?.seq ?? 0;
    for (const event of events.filter(({ seq }) => seq > this.#eventSeq!).slice(-MOST_EVENTS)) {
      this.#eventSeq = event.seq;
      this.parts.say({ type: 'event', event });
    }
    const wanted = new Set(pages.flatMap(({ faders }) => faders.map(({ channelId }) => channelId)));
    const of = Object.fromEntries(Object.entries(levels).filter(([id]) => wanted.has(id)));
    const words = JSON.stringify(of);
    if (words !== this.#levels && words !== '{}') {
      this.#levels = words;
      this.parts.say({ type: 'levels', levels: of });
    }
    for (const { tiles } of pages)
      for (const { sceneId } of tiles) {
        const jpeg = sceneId === null ? undefined : pictures.get(sceneId);
        if (sceneId === null || jpeg === undefined || this.#pictures.get(sceneId) === jpeg) continue;
        this.#pictures.set(sceneId, jpeg);
        this.parts.say({ type: 'picture', sceneId, jpeg });
      }
  }

  #tellState(state: PadState): void {
    const words = JSON.stringify({ ...state, nowMs: 0, overSeconds: Math.round(state.overSeconds ?? 0) });
    if (words === this.#told && state.nowMs - this.#toldMs < BEAT_MS) return;
    this.#told = words;
    this.#toldMs = state.nowMs;
    this.parts.say({ type: 'state', state });
  }
}
