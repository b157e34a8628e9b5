/** Processor time that this machine did not have: taken by its host, or waited for behind other programs. */
import { readFileSync } from 'node:fs';
import os from 'node:os';

/** Of `/proc/stat`, in every Linux that Node runs on (proc(5): USER_HZ). */
const TICK_MS = 10;

/** What the host took since the start of this machine, ms for each core. 0 where the system does not tell. */
export function stolenMs(): number {
  try {
    const [, ...ticks] = readFileSync('/proc/stat', 'utf8').split('\n', 1)[0].split(/\s+/);
    return (Number(ticks[7] ?? 0) * TICK_MS) / os.cpus().length;
  } catch {
    return 0;
  }
}

/** How long some program here has waited for a processor since the start of this machine, ms. 0 where that is not told. */
export function waitedMs(): number {
  try {
    return Number(/^some .*total=(\d+)/m.exec(readFileSync('/proc/pressure/cpu', 'utf8'))?.[1] ?? 0) / 1000;
  } catch {
    return 0;
  }
}

export const takenMs = (): number => stolenMs() + waitedMs();

/** A limit that grows by what is taken while it runs: a slow minute of the machine is no fault of what is tested. */
export class Patience {
  readonly #fromMs = performance.now();
  readonly #takenMs = takenMs();

  constructor(readonly limitMs: number) {}

  get over(): boolean {
    return performance.now() - this.#fromMs > this.limitMs + takenMs() - this.#takenMs;
  }

  /** What was waited in all, and how much of it was taken, for a message. */
  toString(): string {
    const all = Math.round(performance.now() - this.#fromMs);
    return `${all} ms, of which ${Math.round(takenMs() - this.#takenMs)} ms were taken by others (limit ${this.limitMs} ms)`;
  }
}
