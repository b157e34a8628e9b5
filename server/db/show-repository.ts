import { applyEdit, documentOf, type Edit, type ShowDocument } from '../../core/show/document';
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
};

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
             .join(', ')}`,
        );
        return [kind, (row: Row) => void statement.run(row)];
      }),
    ) as Record<RecordKind, (row: Row) => void>;
  }

  list(): { id: string; name: string }[] {
    return this.database.prepare('SELECT id, name FROM show ORDER BY position, id').all() as {
      id: string;
      name: string;
    }[];
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
      for (const kind of RECORD_KINDS)
        for (const record of records) if (record.kind === kind) this.#put[kind](rowOfRecord(record));
    })();
  }

  /**
   * Applies an edit made on top of `baseRevision`.
   * @returns the new revision; the same one again when this edit was applied before
   * @throws Fault `edit.conflict` when something else changed the show meanwhile; `edit.*` when it does not fit
   */
  apply(showId: string, edit: Edit, baseRevision: number): number {
    return this.database.transaction(() => {
      const before = this.database
        .prepare('SELECT revision FROM applied_edit WHERE id = ? AND show_id = ?')
        .get(edit.id, showId) as { revision: number } | undefined;
      if (before) return before.revision;
      const { revision, records } = this.load(showId);
      if (revision !== baseRevision)
        throw new Fault('edit.conflict', 'the show was changed elsewhere meanwhile: it is loaded again');
      if (edit.put.some((r) => r.showId !== showId))
        throw new Fault('edit.show', 'the edit belongs to another show');
      const old = documentOf(records);
      const { document } = applyEdit(old, edit);
      for (const record of edit.put) if (document.has(record.id)) this.#put[record.kind](rowOfRecord(record));
      for (const [id, record] of old)
        if (!document.has(id))
          this.database.prepare(`DELETE FROM ${TABLES[record.kind]} WHERE id = ?`).run(id);
      const next = revision + 1;
      this.database.prepare('UPDATE show SET revision = ? WHERE id = ?').run(next, showId);
      this.database
        .prepare('INSERT INTO applied_edit (id, show_id, revision) VALUES (?, ?, ?)')
        .run(edit.id, showId, next);
      // A save is retried within minutes at most; older ones need not be remembered.
      this.database
        .prepare('DELETE FROM applied_edit WHERE show_id = ? AND revision < ?')
        .run(showId, next - 500);
      return next;
    })();
  }

  /** The scene on air in which pose, and since when (milliseconds since 1970). */
  onAirScene(showId: string): { id: string; poseId: string | null; sinceMs: number } | null {
    const row = this.database
      .prepare(
        'SELECT on_air_scene_id AS id, on_air_pose_id AS poseId, on_air_since_ms AS sinceMs FROM desk_state WHERE show_id = ?',
      )
      .get(showId) as { id: string | null; poseId: string | null; sinceMs: number | null } | undefined;
    return row?.id ? { id: row.id, poseId: row.poseId, sinceMs: row.sinceMs ?? 0 } : null;
  }

  /** The same scene told again keeps its time. */
  setOnAirScene(showId: string, sceneId: string, poseId: string | null, nowMs: number): void {
    this.database
      .prepare(
        `INSERT INTO desk_state (show_id, on_air_scene_id, on_air_pose_id, on_air_since_ms)
         VALUES (@showId, @sceneId, @poseId, @nowMs)
         ON CONFLICT (show_id) DO UPDATE SET
           on_air_since_ms = CASE WHEN on_air_scene_id = @sceneId THEN coalesce(on_air_since_ms, @nowMs) ELSE @nowMs END,
           on_air_scene_id = @sceneId,
           on_air_pose_id = @poseId`,
      )
      .run({ showId, sceneId, poseId, nowMs });
  }

  /** Whether a record of the demonstration was made once; it is not made again after the user removed it. */
  seeded(id: string): boolean {
    return this.database.prepare('SELECT 1 FROM seeded WHERE id = ?').get(id) !== undefined;
  }

  markSeeded(id: string): void {
    this.database.prepare('INSERT INTO seeded (id) VALUES (?) ON CONFLICT DO NOTHING').run(id);
  }
}
