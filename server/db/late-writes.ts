import Sqlite from 'better-sqlite3';
import type { Log } from '../log';
import { withoutWaiting, type Database } from './database';

/** Between tries while the database takes nothing. */
const AGAIN_MS = 1000;
/** What is kept waiting at most: hours of a broadcast's notes. */
const MAX_WAITING = 20_000;

/**
 * Writes that nobody waits for, such as notes about a broadcast that runs. While the database does not take them
 * (another program has locked it, the disk is full) they wait, in order, and the broadcast goes on.
 */
export class LateWrites {
  readonly #waiting: (() => void)[] = [];
  #timer: NodeJS.Timeout | null = null;

  constructor(
    readonly database: Database,
    readonly log: Pick<Log, 'error' | 'info'>,
  ) {}

  /** How many wait. */
  get waiting(): number {
    return this.#waiting.length;
  }

  /**
   * Writes at once, or after what already waits.
   * @throws what `write` throws for other reasons than the database's state
   */
  do(write: () => void): void {
    if (this.#waiting.length === 0) {
      try {
        return write();
      } catch (error) {
        if (!isForNow(error)) throw error;
        this.log.error({ error: String(error) }, 'the database takes nothing now; what is noted waits');
      }
    }
    if (this.#waiting.length >= MAX_WAITING) {
      this.#waiting.shift();
      this.log.error({ kept: MAX_WAITING }, 'too many notes wait for the database: the oldest was dropped');
    }
    this.#waiting.push(write);
    this.#timer ??= setTimeout(() => this.#again(), AGAIN_MS);
  }

  /** Tries what waits a last time. */
  close(): void {
    this.#again();
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
  }

  #again(): void {
    this.#timer = null;
    // The first try waited for the other program; the server must not stand still with each further one.
    withoutWaiting(this.database, () => {
      while (this.#waiting.length > 0) {
        try {
          this.#waiting[0]();
        } catch (error) {
          if (isForNow(error)) break;
          this.log.error({ error: String(error) }, 'a note could not be written and is left out');
        }
        this.#waiting.shift();
      }
    });
    if (this.#waiting.length > 0) this.#timer = setTimeout(() => this.#again(), AGAIN_MS);
  }
}

/** Whether the same write may work later: locked, full, a disk that is away. */
export function isForNow(error: unknown): boolean {
  return (
    error instanceof Sqlite.SqliteError &&
    /^SQLITE_(BUSY|LOCKED|FULL|IOERR|READONLY|CANTOPEN)/.test(error.code)
  );
}
