import path from 'node:path';
import Sqlite from 'better-sqlite3';
import { Fault } from '../../core/fault';

/** A web server that ends gives its lock back within this. */
const WAIT_MS = 5000;

/**
 * Keeps other web servers off a data folder: a second one would take up the same broadcast with the same keys. The lock is
 * a transaction of SQLite's, which any death of this process ends.
 * @returns what lets it go
 * @throws Fault `folder.locked`
 */
export function lockFolder(folder: string, waitMs = WAIT_MS): () => void {
  const lock = new Sqlite(path.join(folder, 'web.lock'), { timeout: waitMs });
  try {
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    throw new Fault(
      'folder.locked',
      `another studio runs on the data folder ${folder}: stop it first, or choose another folder with --data`,
      { cause: error },
    );
  }
  return () => lock.close();
}
