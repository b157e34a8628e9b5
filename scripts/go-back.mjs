// After an update that is not wanted: the database as it was before it, for the earlier version to go on with.
import { existsSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { isHeld } from './lib/data-folder.mjs';
import { goBack } from './lib/go-back.mjs';
import { demonstrationFolder, ownFolder } from './lib/own-folder.mjs';
import { commandLine, fail } from './lib/prepare.mjs';

let options;
try {
  options = parseArgs({ options: { data: { type: 'string' }, demo: { type: 'boolean' } } }).values;
} catch (error) {
  fail(`${error.message}. Options: --data DIR, --demo`);
}
const data = options.data ? path.resolve(options.data) : options.demo ? demonstrationFolder() : ownFolder();
if (existsSync(data) && (await isHeld(data)))
  fail(`A studio runs on ${data}: stop it first (Ctrl-C where it was started).`);
try {
  const { at, version, aside } = goBack(data, new Date());
  console.log(
    `The studio in ${data} is as it was on ${at.replace('T', ' at ')} (UTC), in version ${version} of its database.`,
  );
  console.log(`What was done since lies in ${aside}.`);
  console.log(
    `Start the earlier Dolomite on it now: with this one, "${commandLine('start')}" brings it up to date again.`,
  );
} catch (error) {
  fail(error.message);
}
