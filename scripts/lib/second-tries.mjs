// Second tries over runs: one now and then may be the machine's, several are a fault that hides.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const RUNS = 10;
/** In one run, and of one test in so many runs, at most. In one run on a slow machine, so many times as many as it is slow. */
const ALLOWED = 2;

/** What earlier runs on this computer noted: the names of the tests of each. Not there, or not ours: none. */
function notedRuns(file) {
  try {
    const noted = JSON.parse(readFileSync(file, 'utf8'));
    return noted.filter((run) => Array.isArray(run));
  } catch {
    return [];
  }
}

/**
 * Judges a run by its second tries and by those of the runs before it. A run in which every test passed at once is
 * never at fault: what earlier runs needed was other code, and may have been mended since.
 *
 * @param {string[][]} before names of tests that needed a second try, for each earlier run, oldest first
 * @param {string[]} now those of this run
 * @param {number} slow how many times as long it took as the run whose times are kept
 * @returns {{ runs: string[][], hiding: string[] }} the last ten runs, and what must be looked into
 */
export function judgeSecondTries(before, now, slow = 1) {
  const runs = [...before, now].slice(-RUNS);
  if (now.length > ALLOWED * Math.max(1, slow)) return { runs, hiding: now };
  const times = (name) => runs.flat().filter((other) => other === name).length;
  return { runs, hiding: now.filter((name) => times(name) > ALLOWED) };
}

/**
 * What earlier runs noted, without a test whose fault has been found: its count begins anew.
 *
 * @param {string[][]} before
 * @param {readonly string[]} mended parts of tests' names
 */
export function withoutMended(before, mended) {
  return before.map((run) => run.filter((name) => !mended.some((part) => name.includes(part))));
}

/**
 * Notes a run on this computer and judges it.
 *
 * @param {string[]} now names of the tests that needed a second try
 * @param {readonly string[]} mended parts of the names of tests whose fault has been found since
 * @param {number} slow how many times as long it took as the run whose times are kept
 */
export function noteSecondTries(now, mended, slow = 1) {
  const caches = process.env.XDG_CACHE_HOME || path.join(os.homedir(), '.cache');
  const file = path.join(caches, 'dolomite', 'second-tries.json');
  const judged = judgeSecondTries(withoutMended(notedRuns(file), mended), now, slow);
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(file, JSON.stringify(judged.runs));
  return judged;
}
