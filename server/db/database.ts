import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import Sqlite from 'better-sqlite3';
import { Fault } from '../../core/fault';

export type Database = Sqlite.Database;

/**
 * Opens the database, creating and migrating it as needed.
 * @param migrations folder of numbered .sql files; each runs once, in a transaction of its own
 * @throws Fault `db.folder` when the folder cannot be written
 */
export function openDatabase(file: string, migrations: string): Database {
  let database: Database;
  try {
    if (file !== ':memory:') mkdirSync(path.dirname(file), { recursive: true });
    database = new Sqlite(file);
    database.pragma('journal_mode = WAL');
  } catch (error) {
    throw new Fault(
      'db.folder',
      `the data folder ${path.dirname(file)} cannot be written: choose another with --data`,
      { cause: error },
    );
  }
  database.pragma('foreign_keys = ON');
  database.pragma('busy_timeout = 3000');
  migrate(database, migrations);
  return database;
}

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

function migrate(database: Database, folder: string): void {
  const done = database.pragma('user_version', { simple: true }) as number;
  for (const name of readdirSync(folder).sort()) {
    const number = Number(/^(\d+)-.*\.sql$/.exec(name)?.[1]);
    if (!(number > done)) continue;
    const sql = readFileSync(path.join(folder, name), 'utf8');
    database.transaction(() => {
      database.exec(sql);
      database.pragma(`user_version = ${number}`);
    })();
  }
}
