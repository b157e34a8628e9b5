import type { Cancel, Clock } from './clock';

interface Timer {
  atMs: number;
  /** Of those that are due together the one that was asked for first comes first. */
  order: number;
  everyMs: number | null;
  call: () => void;
}

/** A clock that stands still until it is told to go on: what is due comes in order, at exactly its time. */
export class DrivenClock implements Clock {
  #nowMs: number;
  #order = 0;
  #dateAheadMs = 0;
  readonly #timers = new Set<Timer>();

  constructor(startMs = 0) {
    this.#nowMs = startMs;
  }

  nowMs(): number {
    return this.#nowMs;
  }

  dateMs(): number {
    return this.#nowMs + this.#dateAheadMs;
  }

  /** As if a person set the computer's clock. */
  setDate(dateMs: number): void {
    this.#dateAheadMs = dateMs - this.#nowMs;
  }

  after(ms: number, call: () => void): Cancel {
    return this.#add(ms, null, call);
  }

  every(ms: number, call: () => void): Cancel {
    // A period of nothing would never let time go on.
    return this.#add(Math.max(1, ms), Math.max(1, ms), call);
  }

  /** How many calls are still to come: what closes must leave none behind. */
  get waiting(): number {
    return this.#timers.size;
  }

  /** Goes on by so many milliseconds. */
  advance(ms: number): void {
    this.advanceTo(this.#nowMs + ms);
  }

  /** Goes on to a moment; one that is past changes nothing. Calls made meanwhile see the time they were due at. */
  advanceTo(atMs: number): void {
    for (;;) {
      const next = this.#next(atMs);
      if (!next) break;
      this.#nowMs = Math.max(this.#nowMs, next.atMs);
      if (next.everyMs === null) this.#timers.delete(next);
      else {
        next.atMs += next.everyMs;
        next.order = this.#order++;
      }
      next.call();
    }
    this.#nowMs = Math.max(this.#nowMs, atMs);
  }

  #add(ms: number, everyMs: number | null, call: () => void): Cancel {
    const timer = { atMs: this.#nowMs + Math.max(0, ms), order: this.#order++, everyMs, call };
    this.#timers.add(timer);
    return () => void this.#timers.delete(timer);
  }

  #next(untilMs: number): Timer | null {
    let next: Timer | null = null;
    for (const timer of this.#timers) {
      if (timer.atMs > untilMs) continue;
      if (!next || timer.atMs < next.atMs || (timer.atMs === next.atMs && timer.order < next.order))
        next = timer;
    }
    return next;
  }
}
