// Prints the address that signs a browser in to the studio that runs on a data folder.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { isHeld, runningAt } from './lib/data-folder.mjs';
import { fail, root } from './lib/prepare.mjs';

let options;
try {
  options = parseArgs({ options: { data: { type: 'string' } } }).values;
} catch (error) {
  fail(`${error.message}. Options: --data DIR`);
}
const data = path.resolve(options.data ?? path.join(root, 'data'));
const running = runningAt(data);
if (!running || !(await isHeld(data)))
  fail(
    `No studio runs on the data folder ${data}: start it with "npm run demo", or name its folder with --data.`,
  );
try {
  console.log(`${running.url}sign-in#${readFileSync(path.join(data, 'sign-in.token'), 'utf8').trim()}`);
} catch {
  fail(`The token in ${data} cannot be read: ask whoever started the studio, or start it yourself.`);
}
