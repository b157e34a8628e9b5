/** What the time of tests goes on: told to the runner, file by file. */
import { appendFileSync } from 'node:fs';

/**
 * `studio`: its processes start or end. `browser`: it starts, or a page opens. `network`: a stream is pulled. `clock`: time
 * is let pass, whatever happens.
 */
export const WAITS = ['studio', 'browser', 'network', 'clock'] as const;
export type Wait = (typeof WAITS)[number];

const sums: Record<Wait, number> = { studio: 0, browser: 0, network: 0, clock: 0 };

/** Does something, and counts how long that took. */
export async function waited<T>(wait: Wait, work: () => Promise<T>): Promise<T> {
  const from = performance.now();
  try {
    return await work();
  } finally {
    sums[wait] += performance.now() - from;
  }
}

/** Lets time pass, for what cannot be waited for in another way. */
export const pause = (ms: number): Promise<void> =>
  waited('clock', () => new Promise((resolve) => setTimeout(resolve, ms)));

function tell(what: object): void {
  const into = process.env.DOLOMITE_TEST_WAITS;
  if (into) appendFileSync(into, `${JSON.stringify(what)}\n`);
}

/** A test is tried a second time: that is no pass like any other. */
export function tellSecondTry(name: string, why: string): void {
  tell({ secondTry: name, why: why.split('\n', 1)[0].slice(0, 200) });
}

/** Tells the runner, if there is one, and begins anew. */
export function tellWaits(file: string): void {
  tell({ file, waits: sums });
  for (const wait of WAITS) sums[wait] = 0;
}
