import { NO_PROGRAMME, type ProgrammeState } from '../../core/programme/programme-state';
import { documentOf, type ShowDocument } from '../../core/show/document';
import type { Change } from '../../core/show/settle';
import { RECORD_KINDS, type AnyRecord, type RecordKind } from '../../core/show/records';
import { Fault } from '../../core/fault';
import type { Database } from './database';

const TABLES: Record<RecordKind, string> = {
  show: 'show',
  input: 'input',
  scene: 'scene',
  layer: 'layer',
  pose: 'pose',
  grade: 'grade',
  channel: 'channel',
  destination: 'destination',
  plan: 'plan',
  alertRule: 'alert_rule',
  goal: 'goal',
  effect: 'effect',
  chainPreset: 'chain_preset',
  rundown: 'rundown',
  segment: 'segment',
  title: 'title',
  cue: 'cue',
  shortcut: 'shortcut',
  padPage: 'pad_page',
  control: 'control',
  poll: 'poll',
  request: 'request',
};

export interface ListedShow {
  id: string;
  name: string;
  /** Milliseconds since 1970 of when it was last open, laid away, deleted; null for never. */
  openedMs: number | null;
  archivedMs: number | null;
  removedMs: number | null;
}

interface Row {
  id: string;
  show_id: string;
  scene_id?: string | null;
  group_id?: string | null;
  name: string;
  position: number;
  data: string;
}

function recordOfRow(kind: RecordKind, row: Row): AnyRecord {
  const { id, show_id: showId, name, position } = row;
  const scene =
    kind === 'layer'
      ? { sceneId: row.scene_id ?? null, groupId: row.group_id ?? null }
      : kind === 'pose'
        ? { sceneId: row.scene_id }
        : {};
  return { kind, id, showId, name, position, ...scene, ...(JSON.parse(row.data) as object) } as AnyRecord;
}

function rowOfRecord(record: AnyRecord): Row {
  const { kind, id, showId, name, position, ...rest } = record;
  if (kind === 'pose') {
    const { sceneId, ...data } = rest as { sceneId: string };
    return { id, show_id: showId, scene_id: sceneId, name, position, data: JSON.stringify(data) };
  }
  if (kind !== 'layer') return { id, show_id: showId, name, position, data: JSON.stringify(rest) };
  const { sceneId, groupId, ...data } = rest as { sceneId: string | null; groupId: string | null };
  return {
    id,
    show_id: showId,
    scene_id: sceneId,
    group_id: groupId,
    name,
    position,
    data: JSON.stringify(data),
  };
}

/** Those that others point at first. */
function inOrder(records: readonly AnyRecord[]): AnyRecord[] {
  return RECORD_KINDS.flatMap((kind) => records.filter((record) => record.kind === kind));
}

/** Shows and everything in them. */
export class ShowRepository {
  readonly #put: Record<RecordKind, (row: Row) => void>;

  constructor(readonly database: Database) {
    this.#put = Object.fromEntries(
      RECORD_KINDS.map((kind) => {
        const columns = [
          'id',
          'show_id',
          ...(kind === 'layer' ? ['scene_id', 'group_id'] : kind === 'pose' ? ['scene_id'] : []),
          'name',
          'position',
          'data',
        ];
        const statement = database.prepare(
          `INSERT INTO ${TABLES[kind]} (${columns.join(', ')}) VALUES (${columns.map((c) => `@${c}`).join(', ')})
           ON CONFLICT (id) DO UPDATE SET ${columns
             .slice(1)
             .map((c) => `${c} = excluded.${c}`)
             .join(', ')}
           WHERE ${TABLES[kind]}.show_id = excluded.show_id`,
        );
        return [
          kind,
          (row: Row) => {
            if (statement.run(row).changes === 0)
              throw new Fault('edit.show', `record ${row.id} belongs to another show`);
          },
        ];
      }),
    ) as Record<RecordKind, (row: Row) => void>;
  }

  /** Every show of this computer: those laid away and those deleted a while ago too. */
  list(): ListedShow[] {
    return this.database
      .prepare(
        `SELECT id, name, opened_ms AS openedMs, archived_ms AS archivedMs, removed_ms AS removedMs
         FROM show ORDER BY coalesce(opened_ms, 0) DESC, position, id`,
      )
      .all() as ListedShow[];
  }

  /** Whether there is such a show, and it was not deleted. */
  has(showId: string): boolean {
    return (
      this.database.prepare('SELECT 1 FROM show WHERE id = ? AND removed_ms IS NULL').get(showId) !==
      undefined
    );
  }

  /** When shows that are there are planned, milliseconds since 1970. */
  planned(): number[] {
    return this.database
      .prepare('SELECT next_ms AS nextMs FROM show WHERE next_ms IS NOT NULL AND removed_ms IS NULL')
      .all()
      .map((row) => (row as { nextMs: number }).nextMs);
  }

  /** Sets when something was last done with a show, or is to be done next; null takes it back. */
  stamp(showId: string, what: 'opened' | 'archived' | 'removed' | 'next', atMs: number | null): void {
    // The column comes from a closed list of names.
    this.database.prepare(`UPDATE show SET ${what}_ms = ? WHERE id = ?`).run(atMs, showId);
  }

  /** Takes away for good what was deleted before a moment, with everything in it. @returns their ids */
  sweep(beforeMs: number): string[] {
    const gone = this.database
      .prepare('SELECT id FROM show WHERE removed_ms < ?')
      .all(beforeMs)
      .map((row) => (row as { id: string }).id);
    for (const id of gone) this.database.prepare('DELETE FROM show WHERE id = ?').run(id);
    return gone;
  }

  /** @throws Fault `show.missing` */
  load(showId: string): { revision: number; records: AnyRecord[] } {
    const show = this.database.prepare('SELECT * FROM show WHERE id = ?').get(showId) as
      (Row & { revision: number }) | undefined;
    if (!show) throw new Fault('show.missing', `there is no show ${showId}`);
    const records: AnyRecord[] = [recordOfRow('show', show)];
    for (const kind of RECORD_KINDS) {
      if (kind === 'show') continue;
      const rows = this.database
        .prepare(`SELECT * FROM ${TABLES[kind]} WHERE show_id = ? ORDER BY position, id`)
        .all(showId) as Row[];
      for (const row of rows) records.push(recordOfRow(kind, row));
    }
    return { revision: show.revision, records };
  }

  document(showId: string): ShowDocument {
    return documentOf(this.load(showId).records);
  }

  /** Writes a new show with all its records. */
  create(records: readonly AnyRecord[]): void {
    this.database.transaction(() => {
      for (const record of inOrder(records)) this.#put[record.kind](rowOfRecord(record));
    })();
  }

  /** The revision an edit made, when it was taken before; null when it was not. */
  revisionOf(showId: string, editId: string): number | null {
    const row = this.database
      .prepare('SELECT revision FROM applied_edit WHERE id = ? AND show_id = ?')
      .get(editId, showId) as { revision: number } | undefined;
    return row?.revision ?? null;
  }

  /** Writes what an edit came to, all of it or nothing. @param change as `settle` gives it */
  write(showId: string, editId: string, change: Change, before: ShowDocument, revision: number): void {
    this.database.transaction(() => {
      for (const record of inOrder(change.put)) this.#put[record.kind](rowOfRecord(record));
      for (const id of change.removed) {
        const record = before.get(id);
        if (record) this.database.prepare(`DELETE FROM ${TABLES[record.kind]} WHERE id = ?`).run(id);
      }
      this.database.prepare('UPDATE show SET revision = ? WHERE id = ?').run(revision, showId);
      this.database
        .prepare('INSERT INTO applied_edit (id, show_id, revision) VALUES (?, ?, ?)')
        .run(editId, showId, revision);
      // A save is retried within minutes at most; older ones need not be remembered.
      this.database
        .prepare('DELETE FROM applied_edit WHERE show_id = ? AND revision < ?')
        .run(showId, revision - 500);
    })();
  }

  /** How the programme of a show stands; as nothing was done to it yet when that is not known. */
  programme(showId: string): ProgrammeState {
    const row = this.database.prepare('SELECT state FROM programme WHERE show_id = ?').get(showId) as
      { state: string } | undefined;
    // What an earlier version did not know of is as at the start.
    return row ? { ...NO_PROGRAMME, ...(JSON.parse(row.state) as Partial<ProgrammeState>) } : NO_PROGRAMME;
  }

  setProgramme(showId: string, state: ProgrammeState): void {
    this.database
      .prepare(
        `INSERT INTO programme (show_id, state) VALUES (?, ?)
         ON CONFLICT (show_id) DO UPDATE SET state = excluded.state`,
      )
      .run(showId, JSON.stringify(state));
  }

  /** Whether a record of the demonstration was made once; it is not made again after the user removed it. */
  seeded(id: string): boolean {
    return this.database.prepare('SELECT 1 FROM seeded WHERE id = ?').get(id) !== undefined;
  }

  markSeeded(id: string): void {
    this.database.prepare('INSERT INTO seeded (id) VALUES (?) ON CONFLICT DO NOTHING').run(id);
  }
}
