// What every command needs before it can start: a good Node, the packages, a fresh build. No packages of its own.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');

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

/** Installs the packages of the lock file when they are missing or older than it. */
export async function ensurePackages() {
  const stamp = path.join(root, 'node_modules/.package-lock.json');
  const lock = path.join(root, 'package-lock.json');
  if (
    existsSync(stamp) &&
    statSync(stamp).mtimeMs >= statSync(lock).mtimeMs - 1000 &&
    existsSync(path.join(root, 'node_modules/better-sqlite3/build/Release/better_sqlite3.node'))
  )
    return;
  console.log('installing packages (npm ci) …');
  await run('npm', ['ci', '--no-audit', '--no-fund'], { stdio: ['ignore', 'ignore', 'inherit'] });
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
  const stamp = path.join(root, 'build/fingerprint');
  const fingerprint = sourceFingerprint();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === fingerprint) return;
  console.log('building …');
  await run(process.execPath, [path.join(root, 'scripts/build.mjs')]);
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, fingerprint);
}
