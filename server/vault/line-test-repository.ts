import type { LineTest } from '../../protocol/vault';
import type { Database } from '../db/database';

/** Kept for each server. */
const KEEP = 50;

/** Line tests that were made. */
export class LineTestRepository {
  constructor(readonly database: Database) {}

  /** Newest first. */
  list(showId: string): LineTest[] {
    const rows = this.database
      .prepare(
        'SELECT id, destination_id AS destinationId, server, at_ms AS atMs, data FROM line_test WHERE show_id = ? ORDER BY at_ms DESC',
      )
      .all(showId) as { id: string; destinationId: string; server: string; atMs: number; data: string }[];
    return rows.map(({ data, ...row }) => ({ ...(JSON.parse(data) as LineTest), ...row }));
  }

  add(showId: string, test: LineTest): void {
    const { id, destinationId, server, atMs, ...data } = test;
    this.database
      .prepare(
        'INSERT INTO line_test (id, show_id, destination_id, server, at_ms, data) VALUES (?, ?, ?, ?, ?, ?)',
      )
      .run(id, showId, destinationId, server, atMs, JSON.stringify(data));
    this.database
      .prepare(
        'DELETE FROM line_test WHERE show_id = ? AND server = ? AND id NOT IN (SELECT id FROM line_test WHERE show_id = ? AND server = ? ORDER BY at_ms DESC LIMIT ?)',
      )
      .run(showId, server, showId, server, KEEP);
  }
}
