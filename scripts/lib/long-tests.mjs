// What `npm run test:long` found last: kept in the repository, and said by `npm test`.
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';

export const LONG_RESULT = 'tests/long/result.json';
/** Peers change seldom; what was not looked at for longer than this may be another today. */
const OLD_DAYS = 30;

export function longTestsLine(root, now = Date.now()) {
  const file = path.join(root, LONG_RESULT);
  if (!existsSync(file)) return 'Long tests: never run. `npm run test:long` runs them.';
  const { date, passed, failed } = JSON.parse(readFileSync(file, 'utf8'));
  const days = Math.floor((now - Date.parse(date)) / 86_400_000);
  const old = days > OLD_DAYS ? ` That is ${days} days ago: run \`npm run test:long\`.` : '';
  return `Long tests: ${passed} passed, ${failed} failed on ${date.slice(0, 10)}.${old}`;
}
