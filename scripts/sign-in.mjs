// Prints the address that signs a browser in to the studio that runs on a data folder.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { isHeld, runningAt } from './lib/data-folder.mjs';
import { demonstrationFolder, ownFolder } from './lib/own-folder.mjs';
import { commandLine, fail } from './lib/prepare.mjs';

let options;
try {
  options = parseArgs({ options: { data: { type: 'string' }, demo: { type: 'boolean' } } }).values;
} catch (error) {
  fail(`${error.message}. Options: --data DIR, --demo`);
}
const demo = demonstrationFolder();
const runs = async (folder) => runningAt(folder) && (await isHeld(folder));
// One's own, or else the demonstration, whichever runs.
const wanted = options.data ? [path.resolve(options.data)] : options.demo ? [demo] : [ownFolder(), demo];
let data = null;
for (const folder of wanted) if (data === null && (await runs(folder))) data = folder;
if (data === null)
  fail(
    `No studio runs on the data folder ${wanted.join(' or ')}: start it with "${commandLine('start')}" or "${commandLine('demo')}", or name its folder with --data.`,
  );
try {
  const { url } = runningAt(data);
  console.log(`${url}sign-in#${readFileSync(path.join(data, 'sign-in.token'), 'utf8').trim()}`);
} catch {
  fail(`The token in ${data} cannot be read: ask whoever started the studio, or start it yourself.`);
}
