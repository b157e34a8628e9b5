// Second tries over runs: one now and then may be the machine's, several are a fault that hides.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const RUNS = 10;
/** In so many runs at most. */
const ALLOWED = 2;

/** Adds a run. @returns how many there were in the last ten runs of this computer, this one included */
export function countSecondTries(now) {
  const caches = process.env.XDG_CACHE_HOME || path.join(os.homedir(), '.cache');
  const file = path.join(caches, 'dolomite', 'second-tries.json');
  const before = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : [];
  const runs = [...before, now].slice(-RUNS);
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(file, JSON.stringify(runs));
  const count = runs.reduce((sum, n) => sum + n, 0);
  return { count, runs: runs.length, tooMany: runs.length === RUNS && count > ALLOWED };
}
