import type { Database } from '../db/database';

/** What Home says of a show. */
export interface ShowFacts {
  id: string;
  name: string;
  scenes: number;
  /** Names of the destinations that are switched on, in order. */
  destinations: string[];
  /** The last time it was broadcast; null for never. */
  last: { startedMs: number; endedMs: number | null } | null;
  /** When it is planned next; null for not at all. */
  nextMs: number | null;
  openedMs: number | null;
  archivedMs: number | null;
  removedMs: number | null;
  /** What it cannot go live without, or not well. */
  missing: Missing[];
}

export type Missing = 'picture' | 'voice' | 'destination';

interface Row {
  id: string;
  name: string;
  nextMs: number | null;
  openedMs: number | null;
  archivedMs: number | null;
  removedMs: number | null;
  scenes: number;
  layers: number;
  voices: number;
  destinations: string | null;
  startedMs: number | null;
  endedMs: number | null;
}

/** Facts of all shows at once, the one that was used last first: what is in them is counted by the database. */
export function showFacts(database: Database): ShowFacts[] {
  const rows = database
    .prepare(
      `SELECT show.id, show.name, next_ms AS nextMs, opened_ms AS openedMs, archived_ms AS archivedMs, removed_ms AS removedMs,
         (SELECT count(*) FROM scene WHERE scene.show_id = show.id) AS scenes,
         (SELECT count(*) FROM layer WHERE layer.show_id = show.id AND json_extract(data, '$.content.type') = 'input') AS layers,
         (SELECT count(*) FROM channel WHERE channel.show_id = show.id AND json_extract(data, '$.role') = 'voice') AS voices,
         (SELECT json_group_array(name) FROM (SELECT name FROM destination
            WHERE destination.show_id = show.id AND json_extract(data, '$.enabled') ORDER BY position, id)) AS destinations,
         evening.started_ms AS startedMs, evening.ended_ms AS endedMs
       FROM show LEFT JOIN evening ON evening.id =
         (SELECT id FROM evening WHERE evening.show_id = show.id ORDER BY started_ms DESC LIMIT 1)
       ORDER BY coalesce(opened_ms, 0) DESC, show.position, show.id`,
    )
    .all() as Row[];
  return rows.map(({ scenes, layers, voices, destinations, startedMs, endedMs, ...show }) => {
    const names = JSON.parse(destinations ?? '[]') as string[];
    const missing: Missing[] = [
      ...(layers === 0 ? (['picture'] as const) : []),
      ...(voices === 0 ? (['voice'] as const) : []),
      ...(names.length === 0 ? (['destination'] as const) : []),
    ];
    return {
      ...show,
      scenes,
      destinations: names,
      last: startedMs === null ? null : { startedMs, endedMs },
      missing,
    };
  });
}
