// The door of a studio that stands elsewhere: on a small server with a name, reachable from everywhere. The studio calls it.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { freshToken, lastingToken } from './lib/data-folder.mjs';
import { demonstrationFolder } from './lib/own-folder.mjs';
import { checkNode, ensureBuild, ensurePackages, fail, root } from './lib/prepare.mjs';

const HELP =
  'Options: --name HOST (required), --port N (443), --data DIR, --cert FILE --key FILE, or --acme URL [--email ADDRESS] [--challenge-port N], --new-token';
/** After it ended by itself. */
const RESTART_MS = 2000;

let options;
try {
  options = parseArgs({
    options: {
      name: { type: 'string' },
      port: { type: 'string', default: '443' },
      data: { type: 'string', default: path.join(demonstrationFolder(), 'door-elsewhere') },
      cert: { type: 'string' },
      key: { type: 'string' },
      acme: { type: 'string' },
      email: { type: 'string', default: '' },
      'challenge-port': { type: 'string', default: '80' },
      'new-token': { type: 'boolean' },
    },
  }).values;
} catch (error) {
  fail(`${error.message}. ${HELP}`);
}
const isPort = (text) => /^\d{1,5}$/.test(text) && Number(text) > 0 && Number(text) < 65536;
if (!options.name || !/^[a-z0-9.:-]{1,253}$/i.test(options.name))
  fail(`--name is what people call this computer by, such as studio.example.org, or its address. ${HELP}`);
if (!isPort(options.port) || !isPort(options['challenge-port']))
  fail(`A port is a number from 1 to 65535. ${HELP}`);
if ((options.cert === undefined) !== (options.key === undefined)) fail('--cert and --key go together.');
if (options.cert && options.acme)
  fail('Either a certificate is given by --cert, or it is fetched by --acme.');
if (options.acme && !/^https:\/\//.test(options.acme))
  fail('--acme is the address of an authority’s ACME directory, and begins with https://.');

checkNode();
try {
  await ensurePackages();
  await ensureBuild();
} catch (error) {
  fail(`Dolomite could not be prepared: ${error.message}`);
}
const data = path.resolve(options.data);
if (existsSync(path.join(data, 'dolomite-data.json')))
  fail(`${data} is a studio’s own folder: the door must not see it. Choose another with --data.`);
const token = options['new-token'] ? freshToken(data, 'door') : lastingToken(data, 'door');
const file = (name) => (name === undefined ? undefined : path.resolve(name));
const env = {
  ...process.env,
  NODE_ENV: 'production',
  DOLOMITE_ROOT: root,
  DOLOMITE_LOG: process.env.DOLOMITE_LOG ?? 'warn',
  DOLOMITE_DOOR_FOLDER: data,
  DOLOMITE_DOOR_NAME: options.name,
  DOLOMITE_DOOR_PORT: options.port,
  DOLOMITE_DOOR_EMAIL: options.email,
  DOLOMITE_DOOR_CHALLENGE_PORT: options['challenge-port'],
  ...(options.cert && { DOLOMITE_DOOR_CERT: file(options.cert), DOLOMITE_DOOR_KEY: file(options.key) }),
  ...(options.acme && { DOLOMITE_DOOR_ACME: options.acme }),
};

let told = false;
let stopping = false;
let child;
function start() {
  child = spawn(process.execPath, ['--enable-source-maps', path.join(root, 'build/server/door.mjs')], {
    cwd: root,
    env,
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  child.on('message', (message) => {
    if (message.failed) fail(`The door could not open: ${message.failed}.`);
    if (!message.ready || told) return;
    told = true;
    const [{ url, fingerprint }] = message.addresses;
    const digits = fingerprint === null ? '' : `.${fingerprint.replaceAll(':', '').toLowerCase()}`;
    console.log(`ready ${url}`);
    console.log('Enter this line in your studio, under "This computer", "Door":');
    console.log(`${url}#${token}${digits}`);
    console.log('It is a secret between the two: who has it can stand in for your studio at this door.');
    if (fingerprint !== null)
      console.log(`No authority vouches for its certificate. Its fingerprint (SHA-256): ${fingerprint}`);
  });
  child.on('exit', () => {
    if (stopping) process.exit(0);
    if (!told) process.exit(1);
    console.error('The door ended unexpectedly; starting it again');
    setTimeout(start, RESTART_MS);
  });
}
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    stopping = true;
    child.kill('SIGTERM');
  });
start();
