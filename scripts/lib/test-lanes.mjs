// Which tests run beside which. Two cores carry two pages that do not send, or one studio that sends and beside it such a
// page or what mostly waits; two studios that send starve each other, and then say nothing of the product.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { root } from './prepare.mjs';

/** Whole studios that send: one file at a time, and beside it only what waits. */
const LIVE = [
  'tests/e2e/audience-stream.test.ts',
  'tests/e2e/delivery-live.test.ts',
  'tests/e2e/evening.test.ts',
  'tests/e2e/failures.test.ts',
  'tests/e2e/first-broadcast.test.ts',
  'tests/e2e/first-show.test.ts',
  'tests/e2e/frames.test.ts',
  'tests/e2e/guests.test.ts',
  'tests/e2e/live-inputs.test.ts',
  'tests/e2e/owner-elsewhere.test.ts',
  'tests/e2e/real-input.test.ts',
  'tests/soak/kills.test.ts',
];
/** Sound is played and listened to in its own time, by a page that is hardly drawn. */
const LISTENING = ['tests/e2e/microphone.test.ts'];

/** Who mostly waits needs little of the processor. */
export const WAITING_AT_ONCE = 2;

/** By `npm test -- --keep-times`: what each part and each file took, in seconds. */
export const TIMES_FILE = path.join(root, 'tests/times.json');
/** One that was never timed may be long. */
const UNKNOWN_SECONDS = 60;

const times = existsSync(TIMES_FILE)
  ? JSON.parse(readFileSync(TIMES_FILE, 'utf8'))
  : { parts: {}, files: {} };
const secondsOf = (file) => times.files[file] ?? UNKNOWN_SECONDS;

/**
 * Shares files among lanes so that they end together: the longest first, each to the lane that is free first.
 *
 * @param {string[]} files
 * @param {number[]} begun seconds that each lane is busy before
 * @returns {string[][]} a list for each lane
 */
export function share(files, begun, seconds = secondsOf) {
  const busy = [...begun];
  const lanes = busy.map(() => []);
  for (const file of [...files].sort((a, b) => seconds(b) - seconds(a) || a.localeCompare(b))) {
    const free = busy.indexOf(Math.min(...busy));
    lanes[free].push(file);
    busy[free] += seconds(file);
  }
  return lanes;
}

/** From so much on what runs beside a studio that sends starves, or starves it: one comes after the other. */
export const TOO_SLOW = 1.35;

/**
 * How many times as long files take in this run as in the one whose times were kept: other machines of this kind are up to
 * twice as slow, and others may be at work on them.
 *
 * @param {{ file: string, seconds: number }[]} done files of this run
 * @param {Record<string, number>} kept seconds of files
 * @returns {number} 1 when nothing can be compared
 */
export function slowness(done, kept = times.files) {
  const alike = done.filter(({ file }) => kept[file] > 0);
  const before = alike.reduce((total, { file }) => total + kept[file], 0);
  return before === 0 ? 1 : alike.reduce((total, { seconds }) => total + seconds, 0) / before;
}

/** What the parts before take, seconds, as far as it was kept. */
const partSeconds = (names) => names.reduce((sum, name) => sum + (times.parts[name] ?? 0), 0);
const sum = (files, seconds) => files.reduce((total, file) => total + seconds(file), 0);

/**
 * Takes as many files as fit into so many seconds, the longest first.
 *
 * @param {string[]} files
 * @param {number} room seconds
 * @returns {string[]}
 */
export function fitting(files, room, seconds = secondsOf) {
  let left = room;
  return [...files]
    .sort((a, b) => seconds(b) - seconds(a) || a.localeCompare(b))
    .filter((file) => {
      if (seconds(file) > left) return false;
      left -= seconds(file);
      return true;
    });
}

/**
 * @param {string[]} first parts that the first lane does before its pages
 * @param {string[]} second parts that the second lane does before its pages
 * @returns {{ pages: string[][], live: string[], waiting: string[], beside: string[] }} files: pages for two lanes, what
 *   sends, what waits beside it two at a time, and pages that come beside it after those
 */
export function testLanes(first, second) {
  const all = ['e2e', 'driven', 'peers', 'soak'].flatMap((folder) =>
    readdirSync(path.join(root, 'tests', folder))
      .filter((name) => name.endsWith('.test.ts'))
      .map((name) => `tests/${folder}/${name}`),
  );
  const live = all.filter((file) => LIVE.includes(file));
  const waiting = all.filter(
    (file) => !LIVE.includes(file) && (/^tests\/(peers|soak)\//.test(file) || LISTENING.includes(file)),
  );
  const pages = all.filter((file) => !live.includes(file) && !waiting.includes(file));
  const beside = fitting(pages, sum(live, secondsOf) - sum(waiting, secondsOf) / WAITING_AT_ONCE);
  return {
    pages: share(
      pages.filter((file) => !beside.includes(file)),
      [partSeconds(first), partSeconds(second)],
    ),
    live,
    waiting,
    beside,
  };
}
