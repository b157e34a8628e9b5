import { createHash } from 'node:crypto';
import type { Audited, LinkRole, Role } from '../../core/access/roles';
import type { AccessEntry, AuditEntry } from '../../protocol/access';
import type { Database } from '../db/database';

/** What is kept of a token: tokens are long and random, so that a plain hash says nothing about them. */
export function hashOf(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

interface Row extends Omit<AccessEntry, 'role'> {
  role: Role;
  tokenHash: string;
}

const COLUMNS =
  'id, kind, role, name, token_hash AS tokenHash, created_ms AS createdMs, seen_ms AS seenMs, expires_ms AS expiresMs, uses_left AS usesLeft, link_id AS linkId, seat_id AS seatId';

/** Older notes of who did what are dropped beyond this many. */
const MAX_AUDITED = 20_000;

/** Browsers that are signed in, links that let others in, and what they did. */
export class AccessRepository {
  constructor(readonly database: Database) {}

  /** All that still lets somebody in, the newest first. */
  list(nowMs: number): Row[] {
    return this.database
      .prepare(
        `SELECT ${COLUMNS} FROM access WHERE revoked_ms IS NULL AND (expires_ms IS NULL OR expires_ms > ?) AND (uses_left IS NULL OR uses_left > 0) ORDER BY created_ms DESC, rowid DESC`,
      )
      .all(nowMs) as Row[];
  }

  add(row: Row): void {
    this.database
      .prepare(
        'INSERT INTO access (id, kind, role, name, token_hash, created_ms, seen_ms, expires_ms, uses_left, link_id, seat_id) VALUES (@id, @kind, @role, @name, @tokenHash, @createdMs, @seenMs, @expiresMs, @usesLeft, @linkId, @seatId)',
      )
      .run(row);
  }

  /** One use of a link less. @returns whether it had one left */
  use(id: string): boolean {
    return (
      this.database
        .prepare(
          'UPDATE access SET uses_left = uses_left - 1 WHERE id = ? AND (uses_left IS NULL OR uses_left > 0)',
        )
        .run(id).changes > 0
    );
  }

  seen(id: string, nowMs: number): void {
    this.database.prepare('UPDATE access SET seen_ms = ? WHERE id = ?').run(nowMs, id);
  }

  /** It lets nobody in any more; neither do browsers that came by it, when it is a link. @returns their ids */
  revoke(id: string, nowMs: number): string[] {
    return (
      this.database
        .prepare(
          'UPDATE access SET revoked_ms = ? WHERE (id = ? OR link_id = ?) AND revoked_ms IS NULL RETURNING id',
        )
        .all(nowMs, id, id) as { id: string }[]
    ).map((row) => row.id);
  }

  note(atMs: number, who: string, what: Audited, about: string): void {
    const { lastInsertRowid } = this.database
      .prepare('INSERT INTO audit (at_ms, who, what, about) VALUES (?, ?, ?, ?)')
      .run(atMs, who.slice(0, 80), what, about.slice(0, 200));
    this.database.prepare('DELETE FROM audit WHERE seq <= ?').run(Number(lastInsertRowid) - MAX_AUDITED);
  }

  /** The newest first. */
  audit(count: number): AuditEntry[] {
    return this.database
      .prepare('SELECT seq, at_ms AS atMs, who, what, about FROM audit ORDER BY seq DESC LIMIT ?')
      .all(count) as AuditEntry[];
  }
}

export type AccessRow = Row;
export type NewLink = {
  role: LinkRole;
  name: string;
  expiresMs: number | null;
  usesLeft: number | null;
  seatId: string | null;
};
