import {
  summarise,
  type EveningMoment,
  type EveningSummary,
  type TimedMoment,
} from '../../core/delivery/evening';
import type { AccountState } from '../../core/delivery/evening-account';
import type { ProgrammeEntry } from '../../core/programme/commands';
import type { ToldBroadcast, ToldEdit } from '../../core/programme/moment';
import type { ProgrammeState } from '../../core/programme/programme-state';
import type { AnyRecord } from '../../core/show/records';
import type { Database } from '../db/database';

export interface Evening {
  id: string;
  showId: string;
  startedMs: number;
  endedMs: number | null;
  title: string;
}

const COLUMNS = 'id, show_id AS showId, started_ms AS startedMs, ended_ms AS endedMs, title';

/** Evenings that were broadcast, and what happened in them. */
export class EveningRepository {
  readonly #summaries = new Map<string, EveningSummary>();

  constructor(readonly database: Database) {}

  list(showId: string): Evening[] {
    return this.database
      .prepare(`SELECT ${COLUMNS} FROM evening WHERE show_id = ? ORDER BY started_ms DESC`)
      .all(showId) as Evening[];
  }

  find(id: string): Evening | null {
    return (this.database.prepare(`SELECT ${COLUMNS} FROM evening WHERE id = ?`).get(id) as Evening) ?? null;
  }

  begin(evening: Omit<Evening, 'endedMs'>): void {
    this.database.transaction(() => {
      const { changes } = this.database
        .prepare(
          'INSERT INTO evening (id, show_id, started_ms, title) VALUES (@id, @showId, @startedMs, @title) ON CONFLICT DO NOTHING',
        )
        .run(evening);
      if (changes > 0) this.add(evening.id, evening.startedMs, { kind: 'begin', title: evening.title });
    })();
  }

  add(id: string, atMs: number, moment: EveningMoment): void {
    this.database
      .prepare('INSERT INTO evening_moment (evening_id, at_ms, kind, data) VALUES (?, ?, ?, ?)')
      .run(id, Math.round(atMs), moment.kind, JSON.stringify(moment));
  }

  end(id: string, atMs: number): void {
    this.database.transaction(() => {
      this.add(id, atMs, { kind: 'end' });
      this.database.prepare('UPDATE evening SET ended_ms = ? WHERE id = ?').run(Math.round(atMs), id);
    })();
  }

  moments(id: string): TimedMoment[] {
    const rows = this.database
      .prepare('SELECT at_ms AS atMs, data FROM evening_moment WHERE evening_id = ? ORDER BY at_ms, seq')
      .all(id) as { atMs: number; data: string }[];
    return rows.map(({ atMs, data }) => ({ atMs, moment: JSON.parse(data) as EveningMoment }));
  }

  /** Something that was done to the programme in it; told twice it counts once. */
  addEntry(id: string, entry: ProgrammeEntry): void {
    this.database
      .prepare(
        'INSERT INTO programme_entry (evening_id, seq, at_ms, data) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING',
      )
      .run(id, entry.seq, Math.round(entry.atMs), JSON.stringify(entry));
  }

  /** What was done to the programme in it, in order. */
  entries(id: string): ProgrammeEntry[] {
    const rows = this.database
      .prepare('SELECT data FROM programme_entry WHERE evening_id = ? ORDER BY seq')
      .all(id) as { data: string }[];
    return rows.map(({ data }) => JSON.parse(data) as ProgrammeEntry);
  }

  /** The show and the programme as they are when it begins. */
  keepShow(id: string, records: readonly AnyRecord[], programme: ProgrammeState): void {
    this.database
      .prepare(
        'INSERT INTO evening_show (evening_id, programme, records) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
      )
      .run(id, JSON.stringify(programme), JSON.stringify(records));
  }

  /** An edit of the show while it runs; told twice it counts once. */
  addEdit(id: string, { revision, atMs, put, removed }: ToldEdit): void {
    this.database
      .prepare(
        'INSERT INTO evening_edit (evening_id, revision, at_ms, data) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING',
      )
      .run(id, revision, Math.round(atMs), JSON.stringify({ put, removed }));
  }

  /** What any moment of it is told from; null for one of a version that did not keep it. */
  told({ id, startedMs, endedMs }: Evening): ToldBroadcast | null {
    const show = this.database
      .prepare('SELECT programme, records FROM evening_show WHERE evening_id = ?')
      .get(id) as { programme: string; records: string } | undefined;
    if (!show) return null;
    const edits = this.database
      .prepare(
        'SELECT revision, at_ms AS atMs, data FROM evening_edit WHERE evening_id = ? ORDER BY revision',
      )
      .all(id) as { revision: number; atMs: number; data: string }[];
    return {
      startedMs,
      endedMs,
      records: JSON.parse(show.records) as AnyRecord[],
      programme: JSON.parse(show.programme) as ProgrammeState,
      edits: edits.map(({ revision, atMs, data }) => ({
        ...(JSON.parse(data) as Pick<ToldEdit, 'put' | 'removed'>),
        ...{ revision, atMs },
      })),
      entries: this.entries(id),
    };
  }

  /** What a running evening added up to when it was last noted; null before. */
  account(id: string): AccountState | null {
    const row = this.database
      .prepare(
        "SELECT json_extract(data, '$.account') AS account FROM evening_moment WHERE evening_id = ? AND kind = 'sample' ORDER BY at_ms DESC, seq DESC LIMIT 1",
      )
      .get(id) as { account: string | null } | undefined;
    return row?.account ? (JSON.parse(row.account) as AccountState) : null;
  }

  /** Whether a destination of this name was live in it. */
  reached(id: string, name: string): boolean {
    return (
      this.database
        .prepare(
          "SELECT 1 FROM evening_moment WHERE evening_id = ? AND kind = 'destination' AND json_extract(data, '$.name') = ? AND json_extract(data, '$.state') = 'live' LIMIT 1",
        )
        .get(id, name) !== undefined
    );
  }

  /** Its figures; those of an evening that is over are made once. */
  summary(evening: Evening): EveningSummary {
    const known = this.#summaries.get(evening.id);
    if (known) return known;
    const summary = summarise(this.moments(evening.id));
    if (evening.endedMs !== null) this.#summaries.set(evening.id, summary);
    return summary;
  }

  remove(id: string): void {
    this.#summaries.delete(id);
    this.database.prepare('DELETE FROM evening WHERE id = ?').run(id);
  }
}
