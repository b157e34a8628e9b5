/** Letting a process that computes without end run only a small part of the time, until it is known whether it comes to itself. */

/** It runs this long of each turn, ms: a tenth, in steps shorter than a picture is on the screen. */
const RUN_MS = 20;
const REST_MS = 180;

/**
 * Begins to hold a process back.
 * @param pid a process of ours
 * @param signal sends a signal; false when there is no such process (any more)
 * @returns lets it run freely again
 */
export function holdBack(
  pid: number,
  signal: (name: 'SIGSTOP' | 'SIGCONT') => boolean = sender(pid),
): () => void {
  let timer: NodeJS.Timeout | undefined;
  const rest = () => {
    if (signal('SIGSTOP')) timer = setTimeout(run, REST_MS);
  };
  const run = () => {
    if (signal('SIGCONT')) timer = setTimeout(rest, RUN_MS);
  };
  rest();
  return () => {
    clearTimeout(timer);
    signal('SIGCONT');
  };
}

/** Windows knows no such signals: there it is left to its low rank. */
function sender(pid: number): (name: 'SIGSTOP' | 'SIGCONT') => boolean {
  return (name) => {
    if (process.platform === 'win32') return false;
    try {
      return process.kill(pid, name);
    } catch {
      return false;
    }
  };
}

/** A process of a browser, as the browser itself tells it (Chrome DevTools Protocol, `SystemInfo.ProcessInfo`). */
export interface BrowserProcess {
  type: string;
  id: number;
  /** Processor time so far, seconds. */
  cpuTime: number;
}

/** What a browser's processes have computed, and when that was looked at (ms, as `performance.now` has it). */
export interface ProcessLook {
  atMs: number;
  processes: readonly BrowserProcess[];
}

/**
 * Which of the pages' processes computed most between two looks; null when none took enough to be one without end.
 * @param but processes that are held back already
 * @param share of a processor it must have taken at least, 0…1
 */
export function busiestPage(
  before: ProcessLook,
  after: ProcessLook,
  but: ReadonlySet<number>,
  share: number,
): number | null {
  let most = (share * (after.atMs - before.atMs)) / 1000;
  let busiest: number | null = null;
  for (const { type, id, cpuTime } of after.processes) {
    if (type !== 'renderer' || but.has(id)) continue;
    const took = cpuTime - (before.processes.find((p) => p.id === id)?.cpuTime ?? 0);
    if (took > most) [most, busiest] = [took, id];
  }
  return busiest;
}
