// What every command needs before it can start: a good Node, the packages, a fresh build. No packages of its own.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { createRequire } from 'node:module';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');

/** Installed as a package: built already, with what it needs beside it. A clone has the lock file, which no package has. */
export const packaged = !existsSync(path.join(root, 'package-lock.json'));

/** How somebody calls one of the commands. @param {'start' | 'demo' | 'door' | 'sign-in'} name */
export const commandLine = (name, ...options) =>
  packaged
    ? ['npx dolomite', name, ...options].join(' ')
    : [
        name === 'start' ? 'npm start' : `npm run ${name}`,
        ...(options.length > 0 ? ['--', ...options] : []),
      ].join(' ');

/** One clear line and an end. */
export function fail(message) {
  console.error(message);
  process.exit(1);
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    fail(`Dolomite needs Node 20.19 or newer; this is ${process.versions.node}.`);
}

export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], ...options });
    child.on('error', reject);
    child.on('exit', (code) =>
      code === 0 ? resolve() : reject(new Error(`${command} ${args.join(' ')} ended with ${code}`)),
    );
  });
}

/** Where the database's package lies: a package's own packages may lie beside it. */
const databaseFolder = () =>
  path.dirname(createRequire(path.join(root, 'package.json')).resolve('better-sqlite3/package.json'));
const NATIVE = 'build/Release/better_sqlite3.node';

/**
 * Where compiled parts are kept for the next clone: compiling takes minutes, and gives the same for the same version, Node
 * and machine.
 */
function nativeKept() {
  const { version } = JSON.parse(readFileSync(path.join(databaseFolder(), 'package.json'), 'utf8'));
  const caches = process.env.XDG_CACHE_HOME || path.join(os.homedir(), '.cache');
  const { platform, arch, versions } = process;
  return path.join(
    caches,
    'dolomite',
    `better-sqlite3-${version}-${versions.modules}-${platform}-${arch}.node`,
  );
}

/** Whether the database opens: a file that is there may be of another machine. */
function nativeWorks() {
  const program = "new (require('better-sqlite3'))(':memory:').exec('SELECT 1')";
  return spawnSync(process.execPath, ['-e', program], { cwd: root, stdio: 'ignore' }).status === 0;
}

/** The database's compiled part, from the last clone or compiled now. @throws Error when it cannot be had */
export async function ensureNative() {
  const folder = databaseFolder();
  const file = path.join(folder, NATIVE);
  if (existsSync(file)) return;
  const kept = nativeKept();
  if (existsSync(kept)) {
    mkdirSync(path.dirname(file), { recursive: true });
    copyFileSync(kept, file);
    if (nativeWorks()) return;
    rmSync(file);
  }
  console.log(
    'compiling the database (once on this computer; two to three minutes where no compiled one is offered) …',
  );
  await run('npm', ['rebuild', 'better-sqlite3', '--loglevel=error'], {
    cwd: path.resolve(folder, '../..'),
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, JOBS: String(os.cpus().length) },
  });
  mkdirSync(path.dirname(kept), { recursive: true });
  // Whole or not at all: two clones may do this at once.
  copyFileSync(file, `${kept}.${process.pid}`);
  renameSync(`${kept}.${process.pid}`, kept);
}

/** Installs the packages of the lock file when they are missing or older than it, without what has to be compiled. */
export async function ensurePackageFiles() {
  if (packaged) return;
  const stamp = path.join(root, 'node_modules/.package-lock.json');
  const lock = path.join(root, 'package-lock.json');
  if (existsSync(stamp) && statSync(stamp).mtimeMs >= statSync(lock).mtimeMs - 1000) return;
  console.log('installing packages (npm ci) …');
  await run('npm', ['ci', '--no-audit', '--no-fund', '--ignore-scripts', '--loglevel=error'], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

/** Everything that is needed to run. */
export async function ensurePackages() {
  await ensurePackageFiles();
  await ensureNative();
}

const SOURCES = [
  'public',
  'app',
  'core',
  'db',
  'engine',
  'protocol',
  'server',
  'standins',
  'scripts/build.mjs',
  'package-lock.json',
  'vite.config.ts',
  'react-router.config.ts',
  'tsconfig.json',
];

function* filesBelow(entry) {
  if (statSync(entry).isFile()) return yield entry;
  for (const name of readdirSync(entry).sort()) yield* filesBelow(path.join(entry, name));
}

/** Fingerprint of everything the build is made from, tests left out. */
export function sourceFingerprint() {
  const hash = createHash('sha256');
  for (const source of SOURCES)
    for (const file of filesBelow(path.join(root, source))) {
      if (/\.test\.tsx?$/.test(file)) continue;
      hash.update(path.relative(root, file)).update(readFileSync(file));
    }
  return hash.digest('hex');
}

/** Builds when the sources are not those of the last build. */
export async function ensureBuild() {
  if (packaged) return;
  const stamp = path.join(root, 'build/fingerprint');
  const fingerprint = sourceFingerprint();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === fingerprint) return;
  console.log('building …');
  await run(process.execPath, [path.join(root, 'scripts/build.mjs')]);
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, fingerprint);
}
