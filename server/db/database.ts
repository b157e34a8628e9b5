import { chmodSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import Sqlite from 'better-sqlite3';
import { Fault, messageOf } from '../../core/fault';

export type Database = Sqlite.Database;

/** Copies from before a migration that are kept. */
const KEPT_BACKUPS = 3;

/**
 * Opens the database, creating and migrating it as needed. Before a migration the whole of it is copied.
 * @param migrations folder of numbered .sql files; each runs once, in a transaction of its own
 * @throws Fault `db.folder` when the folder cannot be written, `db.damaged` when the file is not whole, `db.newer` when a
 *   newer version made it, `db.migration` when it could not be brought up to date
 */
export function openDatabase(file: string, migrations: string): Database {
  let database: Database | null = null;
  try {
    if (file !== ':memory:') mkdirSync(path.dirname(file), { recursive: true });
    database = new Sqlite(file);
    // What lies beside it takes its mode from it (SQLite, "WAL-mode file format").
    if (file !== ':memory:' && process.platform !== 'win32') chmodSync(file, 0o600);
    database.pragma('journal_mode = WAL');
    const found = database.pragma('quick_check(1)', { simple: true }) as string;
    if (found !== 'ok') throw damaged(file, found.replace(/\s+/g, ' '));
  } catch (error) {
    database?.close();
    if (error instanceof Fault) throw error;
    const code = error instanceof Sqlite.SqliteError ? error.code : '';
    if (/^SQLITE_(NOTADB|CORRUPT)/.test(code)) throw damaged(file, messageOf(error));
    throw new Fault(
      'db.folder',
      `the data folder ${path.dirname(file)} cannot be written: choose another with --data`,
      { cause: error },
    );
  }
  try {
    database.pragma('foreign_keys = ON');
    database.pragma('busy_timeout = 3000');
    migrate(database, file, migrations);
    return database;
  } catch (error) {
    database.close();
    throw error;
  }
}

const damaged = (file: string, why: string) =>
  new Fault(
    'db.damaged',
    `the database ${file} is damaged (${why}): stop here, keep the file, and put a copy from ${path.join(path.dirname(file), 'backups')} in its place`,
  );

/** Does something that writes without waiting for other programs that have the database locked: it fails at once then. */
export function withoutWaiting<T>(database: Database, act: () => T): T {
  const before = database.pragma('busy_timeout', { simple: true }) as number;
  database.pragma('busy_timeout = 0');
  try {
    return act();
  } finally {
    database.pragma(`busy_timeout = ${before}`);
  }
}

function migrate(database: Database, file: string, folder: string): void {
  const done = database.pragma('user_version', { simple: true }) as number;
  const steps = readdirSync(folder)
    .sort()
    .flatMap((name) => {
      const number = Number(/^(\d+)-.*\.sql$/.exec(name)?.[1]);
      return Number.isNaN(number) ? [] : [{ name, number }];
    });
  const newest = Math.max(0, ...steps.map((step) => step.number));
  if (done > newest)
    throw new Fault(
      'db.newer',
      `the database ${file} was made by a newer Dolomite (its version is ${done}, this one knows ${newest}): start that one, go back to before its update with "npm run go-back", or choose another folder with --data`,
    );
  const due = steps.filter((step) => step.number > done);
  // A new one has nothing to lose.
  const copy = due.length > 0 && done > 0 && file !== ':memory:' ? backUp(database, file, done) : null;
  for (const { name, number } of due) {
    const sql = readFileSync(path.join(folder, name), 'utf8');
    try {
      database.transaction(() => {
        database.exec(sql);
        database.pragma(`user_version = ${number}`);
      })();
    } catch (error) {
      throw new Fault(
        'db.migration',
        `the database could not be brought up to date (${name}: ${messageOf(error)}).${
          copy === null
            ? ''
            : ` A copy from before lies at ${copy}: with an earlier Dolomite, put it in the place of ${file}.`
        }`,
        { cause: error },
      );
    }
  }
}

/** @throws Fault `db.backup` when a copy cannot be relied on */
export function mustBeWhole(file: string): void {
  const copy = new Sqlite(file, { readonly: true });
  const found = copy.pragma('quick_check(1)', { simple: true }) as string;
  copy.close();
  if (found !== 'ok')
    throw new Fault('db.backup', `the copy ${file} is not whole (${found}): is the disk sound?`);
}

/** Copies the whole database, as it is at one moment. @returns where the copy is */
function backUp(database: Database, file: string, version: number): string {
  const folder = path.join(path.dirname(file), 'backups');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const stamp = new Date().toISOString().slice(0, 19).replaceAll(':', '-');
  const copy = path.join(folder, `${stamp} version ${version}.sqlite`);
  // One that was not finished has another name, and is made anew.
  const part = `${copy}.part`;
  rmSync(part, { force: true });
  database.prepare('VACUUM INTO ?').run(part);
  mustBeWhole(part);
  renameSync(part, copy);
  chmodSync(copy, 0o600);
  const copies = readdirSync(folder).filter((name) => / version \d+\.sqlite$/.test(name));
  for (const old of copies.sort().slice(0, -KEPT_BACKUPS)) rmSync(path.join(folder, old));
  return copy;
}
