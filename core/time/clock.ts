/** Ends what was asked for; harmless when repeated, or when it has happened already. */
export type Cancel = () => void;

/**
 * Time as an argument: everything in engine and relay that waits or stamps takes one. A process has one real clock, made
 * where it starts; `DrivenClock` stands in its place where every moment is to be the same on a slow machine and a fast one.
 */
export interface Clock {
  /** Milliseconds since 1970, never running backwards, with fractions. */
  nowMs(): number;
  /** What the computer's calendar says, milliseconds since 1970: a person may set it, forth or back. */
  dateMs(): number;
  /** Calls once, `ms` milliseconds from now. */
  after(ms: number, call: () => void): Cancel;
  /** Calls every `ms` milliseconds, first one period from now. */
  every(ms: number, call: () => void): Cancel;
}

/** What a browser's page, its workers and Node have alike. */
export interface ClockHost {
  readonly Date: { now(): number };
  readonly performance: { readonly timeOrigin: number; now(): number };
  setTimeout(call: () => void, ms: number): unknown;
  clearTimeout(timer: never): void;
  setInterval(call: () => void, ms: number): unknown;
  clearInterval(timer: never): void;
}

/** The real time of a process or page. @param host its global scope */
export function clockOn(host: ClockHost): Clock {
  return {
    nowMs: () => host.performance.timeOrigin + host.performance.now(),
    dateMs: () => host.Date.now(),
    after: (ms, call) => {
      const timer = host.setTimeout(call, ms);
      return () => host.clearTimeout(timer as never);
    },
    every: (ms, call) => {
      const timer = host.setInterval(call, ms);
      return () => host.clearInterval(timer as never);
    },
  };
}

/** Resolves after so many milliseconds of this clock. */
export function sleep(clock: Clock, ms: number): Promise<void> {
  return new Promise((resolve) => clock.after(ms, resolve));
}
