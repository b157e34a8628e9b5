/** The desk's end of the programme: sends commands to the stage, which stamps them, and keeps what they came to. */
import type { CommandSource, ProgrammeCommand, ProgrammeEntry } from '../core/programme/commands';
import { NO_PROGRAMME, reduceProgramme, type ProgrammeState } from '../core/programme/programme-state';
import { CUT } from '../core/show/motion-records';
import type { FromStage, ToStage } from '../protocol/engine';

export interface ProgrammePorts {
  say: (message: ToStage) => void;
  /** The revision of the show that ids are meant in. */
  revision: () => number;
  /** Milliseconds since 1970. */
  nowMs: () => number;
  /** The programme stands so from a picture on. @param atSeconds of the programme's own time */
  changed: (state: ProgrammeState, commands: readonly ProgrammeCommand[], atSeconds: number) => void;
}

interface Waiting {
  commands: readonly ProgrammeCommand[];
  by: CommandSource;
  /** It stood so before this page was opened: nobody needs to be told. */
  restored: boolean;
  done: (entry: ProgrammeEntry) => void;
}

export class ProgrammeDesk {
  #state: ProgrammeState = NO_PROGRAMME;
  readonly #waiting = new Map<number, Waiting>();
  #nextId = 1;
  /** Something was done to the programme; `before`: how it stood until then. */
  onEntry: (entry: ProgrammeEntry, before: ProgrammeState) => void = () => {};

  constructor(readonly ports: ProgrammePorts) {}

  get state(): ProgrammeState {
    return this.#state;
  }

  /** Goes on with a programme that stood so when the page was left, or begins one with a scene. */
  restore(state: ProgrammeState): void {
    // How a held scene looked is known to the page alone that held it: viewers see it as it is now.
    this.#state = { ...state, held: false };
    const { onAir } = state;
    if (!onAir) return this.ports.changed(this.#state, [], 0);
    const { sceneId, poseId, sinceMs } = onAir;
    const commands: ProgrammeCommand[] = [{ type: 'take', sceneId, poseId, transition: CUT }];
    if (state.title) {
      const { titleId, words, untilMs } = state.title;
      const left = untilMs === null ? null : (untilMs - this.ports.nowMs()) / 1000;
      if (left === null || left > 0) commands.push({ type: 'title', titleId, words, seconds: left });
    }
    void this.#say(commands, 'page', { restored: true, sinceMs });
  }

  /** Gives commands that take hold together at the next picture. @returns what they were stamped with */
  send(commands: readonly ProgrammeCommand[], by: CommandSource = 'page'): Promise<ProgrammeEntry> {
    return this.#say(commands, by, { restored: false });
  }

  /** What the stage answers. */
  stamped({ id, atSeconds, atMs }: Extract<FromStage, { type: 'stamped' }>): void {
    const waiting = this.#waiting.get(id);
    if (!waiting) return;
    this.#waiting.delete(id);
    const { commands, by, restored, done } = waiting;
    const before = this.#state;
    const entry: ProgrammeEntry = {
      seq: before.seq + 1,
      atMs: Math.round(atMs),
      revision: this.ports.revision(),
      by,
      commands,
    };
    if (!restored) this.#state = reduceProgramme(before, entry);
    this.ports.changed(this.#state, commands, atSeconds);
    if (!restored) this.onEntry(entry, before);
    done(entry);
  }

  #say(
    commands: readonly ProgrammeCommand[],
    by: CommandSource,
    { restored, sinceMs }: { restored: boolean; sinceMs?: number },
  ): Promise<ProgrammeEntry> {
    const id = this.#nextId++;
    return new Promise((done) => {
      this.#waiting.set(id, { commands, by, restored, done });
      this.ports.say({ type: 'commands', id, commands, ...(sinceMs !== undefined && { sinceMs }) });
    });
  }
}
