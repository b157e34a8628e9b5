// Processor time and memory of processes, from /proc (Linux; proc(5)).
import { readdirSync, readFileSync } from 'node:fs';

const TICKS = 100; // USER_HZ is 100 on every Linux that Node runs on

function stat(pid) {
  try {
    const text = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
    return { parent: Number(fields[1]), cpuSeconds: (Number(fields[11]) + Number(fields[12])) / TICKS };
  } catch {
    return null;
  }
}

/** The largest memory so far. */
function memoryMb(pid) {
  try {
    return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}

/** A process and everything below it. */
export function family(pid) {
  const all = readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number);
  const parents = new Map(
    all.flatMap((p) => {
      const s = stat(p);
      return s ? [[p, s.parent]] : [];
    }),
  );
  return all.filter((p) => {
    for (let at = p; at > 1; at = parents.get(at) ?? 0) if (at === pid) return true;
    return false;
  });
}

/**
 * How long a process was ready to run and had no processor, ms: its first thread, which does the work of a program of
 * Node's (`/proc/<pid>/schedstat`). 0 where that is not told.
 */
export function waitedForProcessorMs(pid) {
  try {
    return Number(readFileSync(`/proc/${pid}/schedstat`, 'utf8').split(' ')[1]) / 1e6;
  } catch {
    return 0;
  }
}

/** The threads of a process by their ids, its first before the others; that one alone where the system does not tell. */
export function threadsOf(pid) {
  try {
    return readdirSync(`/proc/${pid}/task`).map(Number);
  } catch {
    return [pid];
  }
}

/** Kills the processes of a browser below `pid` that render pages, as the system does when memory runs out. */
export function killRenderers(pid) {
  for (const p of family(pid))
    try {
      if (readFileSync(`/proc/${p}/cmdline`, 'utf8').includes('--type=renderer')) process.kill(p, 'SIGKILL');
    } catch {
      // It has ended by itself.
    }
}

/** Processor seconds so far, and the sum of the largest memory of each process. */
export function usage(pid, withChildren = false) {
  const pids = withChildren ? family(pid) : [pid];
  return {
    cpuSeconds: pids.reduce((sum, p) => sum + (stat(p)?.cpuSeconds ?? 0), 0),
    peakRssMb: pids.reduce((sum, p) => sum + memoryMb(p), 0),
  };
}

/** The browser looks by itself, some minutes after it began, whether it could run a language model: 60 MB, on any page. */
const OF_NO_PAGE = 'on_device_model';

/**
 * Present memory of a process and everything below it in MB, pages that several share counted once
 * (`Pss`: proportional set size); without what the browser does for itself whatever page is open.
 */
export function memoryOf(pid) {
  return family(pid).reduce((sum, p) => {
    try {
      if (readFileSync(`/proc/${p}/cmdline`, 'utf8').includes(OF_NO_PAGE)) return sum;
      const text = readFileSync(`/proc/${p}/smaps_rollup`, 'utf8');
      return sum + Number(/^Pss:\s+(\d+)/m.exec(text)?.[1] ?? 0) / 1024;
    } catch {
      return sum; // It has just ended.
    }
  }, 0);
}

/** Descendants of this process whose command line contains a text. */
export function childWith(text, parent = process.pid) {
  return family(parent).find((pid) => {
    try {
      return pid !== parent && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(text);
    } catch {
      return false;
    }
  });
}

/** Processor seconds other machines on the same host took from this one since it started: explains a bad run. */
export function stolenSeconds() {
  const columns = readFileSync('/proc/stat', 'utf8').split('\n')[0].trim().split(/\s+/);
  return Number(columns[8] ?? 0) / TICKS;
}
