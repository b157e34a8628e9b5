// One command: installs what is missing, builds when stale, starts everything with the demonstration show.
import net from 'node:net';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { claimFolder } from './lib/data-folder.mjs';
import { checkNode, ensureBuild, ensurePackages, fail, root } from './lib/prepare.mjs';
import { openBrowser } from './lib/open-browser.mjs';
import { startStudio } from './lib/studio.mjs';

checkNode();
let options;
try {
  options = parseArgs({
    options: {
      port: { type: 'string' },
      data: { type: 'string' },
      fresh: { type: 'boolean' },
      open: { type: 'boolean' },
    },
  }).values;
} catch (error) {
  fail(`${error.message}. Options: --port N, --data DIR, --fresh, --open`);
}
const port = options.port === undefined ? 0 : Number(options.port);
if (!Number.isInteger(port) || port < 0 || port > 65535)
  fail(`--port ${options.port} is not a port: give a number from 1 to 65535.`);
const data = path.resolve(options.data ?? path.join(root, 'data'));
try {
  claimFolder(data);
} catch (error) {
  fail(error.message);
}
if (port) {
  const taken = await new Promise((resolve) => {
    const probe = net.createServer();
    probe.once('error', () => resolve(true));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(false)));
  });
  if (taken) fail(`Port ${port} is taken: choose another with --port, or leave it out.`);
}
try {
  await ensurePackages();
  await ensureBuild();
} catch (error) {
  fail(`Dolomite could not be prepared: ${error.message}`);
}
let studio;
try {
  studio = await startStudio({
    data,
    port,
    fresh: options.fresh,
    env: { DOLOMITE_LOG: process.env.DOLOMITE_LOG ?? 'warn' },
    onExit: (name) => console.error(`${name} ended unexpectedly; starting it again`),
  });
} catch (error) {
  fail(`Dolomite could not start: ${error.message}`);
}
// Before it says that it is ready: whoever waits for that may end it at once.
let stopping = false;
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, async () => {
    if (stopping) return;
    stopping = true;
    await studio.stop();
    process.exit(0);
  });
console.log(`ready ${studio.signInUrl}`);
if (options.open && !(await openBrowser(data, studio.signInUrl)))
  console.log('No program was found to open a browser with: open the address yourself.');
console.log(
  'Opening this address signs your browser in, and it stays signed in. "npm run sign-in" prints it again.',
);
