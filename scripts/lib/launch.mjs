// What "npm run demo" and "npm start" have in common: options, preparation, the studio until it is ended.
import net from 'node:net';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { claimFolder } from './data-folder.mjs';
import { openBrowser } from './open-browser.mjs';
import { checkNode, commandLine, ensureBuild, ensurePackages, fail } from './prepare.mjs';
import { startStudio } from './studio.mjs';

/**
 * Starts a studio and keeps it until a signal ends it.
 *
 * @param {{ folder: string, demonstration: boolean }} of `folder`: where the data is unless `--data` says otherwise
 */
export async function launch({ folder, demonstration }) {
  checkNode();
  const options = readOptions(demonstration);
  checkOwnerSide(options);
  if (options.updates !== undefined && !/^https:\/\/\S+$/.test(options.updates))
    fail(`--updates ${options.updates} is not an address: give one that begins with https://.`);
  const port = options.port === undefined ? 0 : Number(options.port);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    fail(`--port ${options.port} is not a port: give a number from 1 to 65535.`);
  const data = path.resolve(options.data ?? folder);
  try {
    claimFolder(data);
  } catch (error) {
    fail(error.message);
  }
  if (port && (await isTaken(port)))
    fail(`Port ${port} is taken: choose another with --port, or leave it out.`);
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
      demonstration,
      fresh: options.fresh,
      ownerHost: options['owner-host'],
      ownerPort: Number(options['owner-port'] ?? 0),
      certificate: options.cert && { cert: path.resolve(options.cert), key: path.resolve(options.key) },
      env: {
        DOLOMITE_LOG: process.env.DOLOMITE_LOG ?? 'warn',
        ...(options.updates && { DOLOMITE_UPDATES: options.updates }),
      },
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
  if (studio.elsewhere) {
    console.log(`From other computers: ${studio.elsewhere.signInUrl}`);
    if (studio.elsewhere.fingerprint !== null)
      console.log(
        `Nobody vouches for its certificate: accept it where its SHA-256 fingerprint is ${studio.elsewhere.fingerprint}`,
      );
  }
  if (!demonstration) console.log(`Your shows, recordings and keys are in ${data}.`);
  if (options.open && !(await openBrowser(data, studio.signInUrl)))
    console.log('No program was found to open a browser with: open the address yourself.');
  console.log(
    `Opening this address signs your browser in, and it stays signed in. "${commandLine('sign-in', ...(demonstration ? ['--demo'] : []))}" prints it again.`,
  );
}

/** `--fresh` is for the demonstration alone: nobody deletes their own studio by a word too many. */
function readOptions(demonstration) {
  try {
    return parseArgs({
      options: {
        port: { type: 'string' },
        data: { type: 'string' },
        open: { type: 'boolean' },
        'owner-host': { type: 'string' },
        'owner-port': { type: 'string' },
        cert: { type: 'string' },
        key: { type: 'string' },
        updates: { type: 'string' },
        ...(demonstration && { fresh: { type: 'boolean' } }),
      },
    }).values;
  } catch (error) {
    fail(
      `${error.message}. Options: --port N, --data DIR${demonstration ? ', --fresh' : ''}, --open, --owner-host ADDRESS [--owner-port N] [--cert FILE --key FILE], --updates ADDRESS`,
    );
  }
}

/** What would leave the owner's side less closed than they think is refused before anything starts. */
function checkOwnerSide({ 'owner-host': host, 'owner-port': port, cert, key }) {
  if (host === undefined && (port ?? cert ?? key) !== undefined)
    fail('--owner-port, --cert and --key belong to --owner-host.');
  if ((cert === undefined) !== (key === undefined)) fail('--cert and --key go together.');
  if (host !== undefined && (net.isIP(host) === 0 || ['0.0.0.0', '::'].includes(host)))
    fail(
      `--owner-host ${host} is not an address of this computer: give the one it has in your network, such as 192.168.1.20.`,
    );
  if (port !== undefined && !(/^\d{1,5}$/.test(port) && Number(port) > 0 && Number(port) < 65536))
    fail(`--owner-port ${port} is not a port: give a number from 1 to 65535.`);
}

function isTaken(port) {
  return new Promise((resolve) => {
    const probe = net.createServer();
    probe.once('error', () => resolve(true));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(false)));
  });
}
