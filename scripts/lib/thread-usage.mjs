// What each thread of a browser and of the studio's processes does, from /proc (Linux; proc(5), sched-stats.rst of the kernel).
import { readdirSync, readFileSync } from 'node:fs';
import { family } from './process-usage.mjs';

/**
 * Seconds that a thread has run and has waited for a processor; `kind` of its process, `name` as the system has it.
 *
 * @typedef {{ tid: number, pid: number, kind: string, name: string, ran: number, waited: number }} ThreadTime
 */

const read = (file) => {
  try {
    return readFileSync(file, 'utf8');
  } catch {
    return ''; // It has ended.
  }
};

/** Of a browser's process: `renderer`, `gpu-process`, `utility` with what it serves, or `browser`. */
function kindOf(pid) {
  const line = read(`/proc/${pid}/cmdline`).replaceAll('\0', ' ');
  const type = /--type=(\S+)/.exec(line)?.[1] ?? 'browser';
  return type === 'utility' ? `utility ${/--utility-sub-type=(\S+)/.exec(line)?.[1] ?? ''}` : type;
}

/**
 * What each thread below a process has done since it began.
 *
 * @param {number} root
 * @returns {Map<number, ThreadTime>} by thread id
 */
export function threadTimes(root) {
  const times = new Map();
  for (const pid of family(root)) {
    const kind = kindOf(pid);
    let tids = [];
    try {
      tids = readdirSync(`/proc/${pid}/task`).map(Number);
    } catch {
      continue;
    }
    for (const tid of tids) {
      const [ran, waited] = read(`/proc/${pid}/task/${tid}/schedstat`).split(' ').map(Number);
      if (waited === undefined) continue;
      times.set(tid, {
        ...{ tid, pid, kind, name: read(`/proc/${pid}/task/${tid}/comm`).trim() },
        ...{ ran: ran / 1e9, waited: waited / 1e9 },
      });
    }
  }
  return times;
}

/**
 * What was done between two looks. A thread that began meanwhile counts from its beginning.
 *
 * @param {Map<number, ThreadTime>} before
 * @param {Map<number, ThreadTime>} after
 * @returns {ThreadTime[]}
 */
export function threadsBetween(before, after) {
  return [...after].map(([tid, { ran, waited, ...rest }]) => ({
    ...rest,
    ran: ran - (before.get(tid)?.ran ?? 0),
    waited: waited - (before.get(tid)?.waited ?? 0),
  }));
}

/**
 * Which script each worker of a page runs, by thread id: a browser tells it in its traces only.
 *
 * @param {import('playwright-core').Page} page
 * @returns {Promise<Map<number, string>>}
 */
export async function workerScripts(page) {
  const session = await page.context().newCDPSession(page);
  const scripts = new Map();
  session.on('Tracing.dataCollected', ({ value }) => {
    for (const { name, args } of value)
      if (name === 'TracingSessionIdForWorker')
        scripts.set(args.data.workerThreadId, args.data.url.split('/').at(-1));
  });
  const done = new Promise((resolve) => session.once('Tracing.tracingComplete', resolve));
  await session.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: {
      includedCategories: ['disabled-by-default-devtools.timeline', 'devtools.timeline'],
      excludedCategories: ['*'],
    },
  });
  // A worker tells it once it gets to it.
  await page.waitForTimeout(500);
  await session.send('Tracing.end');
  await done;
  await session.detach();
  return scripts;
}
