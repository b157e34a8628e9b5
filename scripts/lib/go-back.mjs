// Back to how the database was before the last update: the copy that was made then takes its place.
import { chmodSync, copyFileSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';

const COPY = /^(\d{4}-\d\d-\d\dT\d\d-\d\d-\d\d) version (\d+)\.sqlite$/;

/** Copies from before updates, the newest first. @returns {{ file: string, at: string, version: number }[]} `at`: UTC */
function copiesIn(folder) {
  const backups = path.join(folder, 'backups');
  if (!existsSync(backups)) return [];
  return readdirSync(backups)
    .flatMap((name) => {
      const [, at, version] = COPY.exec(name) ?? [];
      return at ? [{ file: path.join(backups, name), at, version: Number(version) }] : [];
    })
    .sort((a, b) => (a.at < b.at ? 1 : -1));
}

/**
 * Puts the newest copy in the place of the database. What is there now is kept beside the copies, whole; broken off anywhere,
 * it can be called again.
 *
 * @param {string} folder data of a studio that does not run
 * @param {Date} now
 * @returns {{ at: string, version: number, aside: string }} the moment and version it is back at, and where the rest lies
 * @throws Error with words for the user, when there is nothing to go back to
 */
export function goBack(folder, now) {
  const database = path.join(folder, 'dolomite.sqlite');
  if (!existsSync(database)) throw new Error(`There is no studio in ${folder}: name its folder with --data.`);
  const [copy] = copiesIn(folder);
  if (!copy)
    throw new Error(
      `No update has changed the database in ${folder} yet: there is nothing to go back to. Backups of shows are restored under Home, Backups.`,
    );
  const stamp = now.toISOString().slice(0, 19).replaceAll(':', '-');
  const aside = path.join(folder, 'backups', `${stamp} put aside.sqlite`);
  mkdirSync(path.dirname(aside), { recursive: true, mode: 0o700 });
  // What has not been written into the database itself yet lies beside it.
  for (const part of ['', '-wal'])
    if (existsSync(database + part)) {
      copyFileSync(database + part, aside + part);
      chmodSync(aside + part, 0o600);
    }
  const part = `${database}.part`;
  copyFileSync(copy.file, part);
  chmodSync(part, 0o600);
  // Of the other database: beside this one it would be taken for its own.
  for (const beside of ['-wal', '-shm']) rmSync(database + beside, { force: true });
  renameSync(part, database);
  return { at: copy.at, version: copy.version, aside };
}
