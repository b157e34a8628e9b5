// The folder a studio keeps its data in: told by a marker, held by one studio at a time, readable by its owner only.
// Plain script: it also runs before anything is installed.
import { randomBytes, randomUUID } from 'node:crypto';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';

const MARKER = 'dolomite-data.json';
/** Of the folder's layout, not of the database in it. */
const VERSION = 1;
const TOKEN_BYTES = 32;
/** Everything that Dolomite puts there; whatever else lies in the folder is somebody else's. */
const OURS = [
  MARKER,
  'dolomite.sqlite',
  'dolomite.sqlite-wal',
  'dolomite.sqlite-shm',
  'secrets.key',
  'relay.token',
  'sign-in.token',
  'running.json',
  'open.html',
  'standins.json',
  'studio.lock',
  'studio.lock-journal',
  'web.lock',
  'web.lock-journal',
  'assets',
  'backups',
  'door',
  'emotes',
  'pictures',
  'recordings',
  'scratch',
  'speech',
  'tls',
];

const KEPT = [MARKER, 'studio.lock', 'studio.lock-journal'];

/** A folder of an earlier version has no marker, but these two. */
const isOld = (folder) =>
  ['dolomite.sqlite', 'secrets.key'].every((name) => existsSync(path.join(folder, name)));

function markerOf(folder) {
  try {
    const marker = JSON.parse(readFileSync(path.join(folder, MARKER), 'utf8'));
    return marker?.product === 'dolomite' && Number.isInteger(marker.version) ? marker : null;
  } catch {
    return null;
  }
}

/**
 * Makes the folder ours, or finds that it is. One with other people's files in it is left alone.
 * @throws Error with words for the user
 */
export function claimFolder(folder) {
  let names;
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    names = readdirSync(folder);
  } catch {
    throw new Error(`The data folder ${folder} cannot be written: choose another with --data.`);
  }
  const marker = markerOf(folder);
  if (marker && marker.version > VERSION)
    throw new Error(
      `The data folder ${folder} was made by a newer Dolomite: start that one, or choose another folder with --data.`,
    );
  if (!marker && names.length > 0 && !isOld(folder))
    throw new Error(
      `The folder ${folder} holds other files and was not made by Dolomite: choose an empty or a new one with --data.`,
    );
  try {
    if (process.platform !== 'win32') chmodSync(folder, 0o700);
    if (!marker)
      writeWhole(
        path.join(folder, MARKER),
        JSON.stringify({ product: 'dolomite', version: VERSION, id: randomUUID() }),
      );
  } catch {
    throw new Error(`The data folder ${folder} cannot be written: choose another with --data.`);
  }
}

/**
 * Deletes what Dolomite put into a folder that is ours and held by us, and nothing else. The marker and the lock stay: a
 * start that is broken off finds a folder that is still ours.
 */
export function emptyFolder(folder) {
  for (const name of OURS)
    if (!KEPT.includes(name)) rmSync(path.join(folder, name), { recursive: true, force: true });
}

/** A file of mode 0600 that is there as a whole or not at all. */
export function writeWhole(file, text) {
  const part = `${file}.${process.pid}.part`;
  writeFileSync(part, text, { mode: 0o600 });
  renameSync(part, file);
}

/** The same over restarts of one process, so that the others still know it. */
export function lastingToken(folder, name) {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = path.join(folder, `${name}.token`);
  if (!existsSync(file)) return freshToken(folder, name);
  if (process.platform !== 'win32') chmodSync(file, 0o600);
  return readFileSync(file, 'utf8').trim();
}

export function freshToken(folder, name) {
  const token = randomBytes(TOKEN_BYTES).toString('base64url');
  writeWhole(path.join(folder, `${name}.token`), token);
  return token;
}

/**
 * Holds the folder until this process ends, however it ends: a transaction of SQLite's that nobody else can begin meanwhile.
 * @returns what lets it go
 * @throws Error "already running at …"
 */
export async function holdFolder(folder) {
  const { default: Sqlite } = await import('better-sqlite3');
  const lock = new Sqlite(path.join(folder, 'studio.lock'), { timeout: 0 });
  try {
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    if (error.code !== 'SQLITE_BUSY')
      throw new Error(
        `The data folder ${folder} cannot be locked (${error.message}): choose another with --data.`,
      );
    const at = runningAt(folder);
    throw new Error(
      `Dolomite is already running on this data folder${at ? `, at ${at.url}` : ''}: stop it first, or choose another folder with --data.`,
    );
  }
  return () => lock.close();
}

/** What a running studio says about itself; null when none was started, or it did not end by itself. */
export function runningAt(folder) {
  try {
    return JSON.parse(readFileSync(path.join(folder, 'running.json'), 'utf8'));
  } catch {
    return null;
  }
}

/** Whether a studio holds the folder now: what it said about itself outlives one that was killed. */
export async function isHeld(folder) {
  try {
    (await holdFolder(folder))();
    return false;
  } catch {
    return true;
  }
}
