import type { FlatStep } from '~/core/commands/cues';
import type { Press } from '~/core/commands/commands';
import type { Clock } from '~/core/time/clock';

/** A cue that runs: what of it is done, and what is left. */
export interface RunningCue {
  /** Of this run. */
  id: number;
  cueId: string;
  name: string;
  steps: readonly FlatStep[];
  /** Steps that are done. */
  done: number;
  /** Milliseconds of the clock at which the next step is due, while it waits; null otherwise. */
  untilMs: number | null;
}

/** Runs cues, several at once; a step that fails is told and does not stop the rest. */
export class CueRunner {
  #running: readonly RunningCue[] = [];
  #nextId = 1;

  constructor(
    readonly clock: Pick<Clock, 'nowMs' | 'after'>,
    /** @returns what went wrong, in words, or null */
    readonly press: (press: Press) => Promise<string | null>,
    readonly failed: (cue: RunningCue, problem: string) => void,
    readonly changed: () => void,
  ) {}

  get running(): readonly RunningCue[] {
    return this.#running;
  }

  start(cueId: string, name: string, steps: readonly FlatStep[]): void {
    const cue: RunningCue = { id: this.#nextId++, cueId, name, steps, done: 0, untilMs: null };
    this.#set([...this.#running, cue]);
    void this.#run(cue.id);
  }

  /** @param id null for all of them */
  stop(id: number | null): void {
    this.#set(id === null ? [] : this.#running.filter((one) => one.id !== id));
  }

  async #run(id: number): Promise<void> {
    for (;;) {
      // Looked up each time: it may have been stopped meanwhile.
      const cue = this.#running.find((one) => one.id === id);
      if (!cue) return;
      const step = cue.steps[cue.done];
      if (!step) return this.stop(id);
      if (step.type === 'wait') {
        this.#put({ ...cue, untilMs: this.clock.nowMs() + step.seconds * 1000 });
        await new Promise<void>((resolve) => this.clock.after(step.seconds * 1000, resolve));
      } else {
        const problem = await this.press(step.press);
        if (problem !== null) this.failed(cue, problem);
      }
      const now = this.#running.find((one) => one.id === id);
      if (now) this.#put({ ...now, done: now.done + 1, untilMs: null });
    }
  }

  #put(cue: RunningCue): void {
    this.#set(this.#running.map((one) => (one.id === cue.id ? cue : one)));
  }

  #set(running: readonly RunningCue[]): void {
    this.#running = running;
    this.changed();
  }
}
