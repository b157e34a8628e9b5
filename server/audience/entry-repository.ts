import {
  searchWords,
  type AudienceEvent,
  type ChatMessage,
  type Moderation,
  type ViewerEvent,
} from '../../core/audience/events';
import type { EntryFilter, EntryMark, ListedEntry } from '../../protocol/audience-bus';
import type { Database } from '../db/database';

interface Row {
  seq: number;
  data: string;
  done: number;
  pinned: number;
  hidden: number;
}

/** Rows of the first page, more than a window shows; and of further ones, few so that the list goes on scrolling. */
export const PAGE_ROWS = { first: 40, further: 25 };
/** Longest word list of a search; more than this is a paste by mistake. */
const MAX_SEARCH = 200;

function entryOf(row: Row): ListedEntry {
  const event = { ...(JSON.parse(row.data) as AudienceEvent), seq: row.seq };
  return { event, done: row.done === 1, pinned: row.pinned === 1, hidden: row.hidden === 1 };
}

/** What is typed becomes a search for words that begin so; signs of the search language mean themselves. */
export function searchExpression(typed: string): string | null {
  const words = typed.slice(0, MAX_SEARCH).match(/[\p{L}\p{N}_]+/gu) ?? [];
  return words.length === 0 ? null : words.map((word) => `"${word}"*`).join(' ');
}

/** More than any panel shows, and more than anybody reads in the seconds before a moment. */
const CHAT_BEFORE = 50;
const MOST_SINCE = 500;

/** Messages and events of one show, as they came in. Viewers' notes are of the person, and the same in every show. */
export class EntryRepository {
  readonly #insert;
  readonly #moderate;

  constructor(
    readonly database: Database,
    readonly showId: string,
  ) {
    this.#insert = database.prepare(
      `INSERT INTO audience_entry (show_id, platform, event_id, type, viewer, at_ms, words, data)
       VALUES (@showId, @platform, @id, @type, @viewer, @atMs, @words, @data) ON CONFLICT (show_id, platform, event_id) DO NOTHING`,
    );
    this.#moderate = {
      removed: database.prepare(
        "UPDATE audience_entry SET hidden = 1 WHERE show_id = @showId AND platform = @platform AND event_id = @id AND type = 'chat'",
      ),
      silenced: database.prepare(
        "UPDATE audience_entry SET hidden = 1 WHERE show_id = @showId AND platform = @platform AND viewer = @viewer COLLATE NOCASE AND at_ms <= @atMs AND type = 'chat'",
      ),
    };
  }

  /** What came after a number. */
  countsAfter(seq: number): { chat: number; events: number } {
    return this.database
      .prepare(
        "SELECT count(*) FILTER (WHERE type = 'chat') AS chat, count(*) FILTER (WHERE type <> 'chat') AS events FROM audience_entry WHERE show_id = ? AND seq > ?",
      )
      .get(this.showId, seq) as { chat: number; events: number };
  }

  /** @returns the entries that were new, numbered */
  add(events: readonly AudienceEvent[]): AudienceEvent[] {
    const fresh: AudienceEvent[] = [];
    this.database.transaction(() => {
      for (const event of events) {
        const { id, platform, type, viewer, atMs } = event;
        const { changes, lastInsertRowid } = this.#insert.run({
          ...{ showId: this.showId, id, platform, type, viewer, atMs },
          words: searchWords(event),
          data: JSON.stringify(event),
        });
        if (changes > 0) fresh.push({ ...event, seq: Number(lastInsertRowid) });
      }
    })();
    return fresh;
  }

  moderate(moderation: Moderation): void {
    this.#moderate[moderation.type].run({ ...moderation, showId: this.showId });
  }

  mark(seq: number, mark: EntryMark): void {
    const [column, value] = mark.startsWith('not-') ? [mark.slice(4), 0] : [mark, 1];
    // The column comes from a closed list of names, checked at the border.
    this.database
      .prepare(`UPDATE audience_entry SET ${column} = ? WHERE show_id = ? AND seq = ?`)
      .run(value, this.showId, seq);
  }

  find(seq: number): ListedEntry | null {
    const row = this.database
      .prepare('SELECT * FROM audience_entry WHERE show_id = ? AND seq = ?')
      .get(this.showId, seq) as Row | undefined;
    return row ? entryOf(row) : null;
  }

  /** The newest messages that were not hidden, oldest first. */
  newestChat(count: number): ChatMessage[] {
    const rows = this.database
      .prepare(
        "SELECT * FROM audience_entry WHERE show_id = ? AND type = 'chat' AND hidden = 0 ORDER BY seq DESC LIMIT ?",
      )
      .all(this.showId, count) as Row[];
    return rows.reverse().map((row) => entryOf(row).event as ChatMessage);
  }

  /** One page of the list, oldest first: the newest, or the nearest ones before or else after a number. */
  page({ search, show, platform, before, after }: EntryFilter): ListedEntry[] {
    const where = ['show_id = ?'];
    const values: (string | number)[] = [this.showId];
    // In the search as well: else its limit would cut off what lies further back.
    const edge = after !== null ? ' > ?' : before !== null ? ' < ?' : null;
    const order = after === null ? 'DESC' : 'ASC';
    const expression = searchExpression(search);
    if (search.trim() !== '' && expression === null) return [];
    if (expression !== null) {
      where.push(
        `seq IN (SELECT rowid FROM audience_search WHERE audience_search MATCH ?${edge ? ` AND rowid${edge}` : ''} ORDER BY rowid ${order} LIMIT 5000)`,
      );
      values.push(expression, ...(edge ? [(after ?? before)!] : []));
    }
    if (show === 'chat') where.push("type = 'chat'");
    if (show === 'events') where.push("type <> 'chat'");
    if (show === 'open') where.push("type <> 'chat' AND done = 0");
    if (show === 'pinned') where.push('pinned = 1');
    if (platform !== '') {
      where.push('platform = ?');
      values.push(platform);
    }
    if (edge) {
      where.push(`seq${edge}`);
      values.push((after ?? before)!);
    }
    const rows = this.database
      .prepare(
        `SELECT * FROM audience_entry WHERE ${where.join(' AND ')} ORDER BY seq ${order} LIMIT ${edge ? PAGE_ROWS.further : PAGE_ROWS.first}`,
      )
      .all(...values) as Row[];
    return (after === null ? rows.reverse() : rows).map(entryOf);
  }

  /** Everything that is not chat, one by one, in order: to count again what goals and books have. */
  *events(): IterableIterator<ViewerEvent> {
    for (const row of this.database
      .prepare("SELECT * FROM audience_entry WHERE show_id = ? AND type <> 'chat' ORDER BY seq")
      .iterate(this.showId) as IterableIterator<Row>)
      yield entryOf(row).event as ViewerEvent;
  }

  *chatSince(sinceMs: number): IterableIterator<ChatMessage> {
    for (const row of this.database
      .prepare("SELECT * FROM audience_entry WHERE show_id = ? AND type = 'chat' AND at_ms >= ? ORDER BY seq")
      .iterate(this.showId, sinceMs) as IterableIterator<Row>)
      yield entryOf(row).event as ChatMessage;
  }

  /**
   * What viewers wrote and did up to a moment, in order: all since `sinceMs`, and the messages just before that may still
   * stand in a panel. Hidden ones are left out.
   */
  until(atMs: number, sinceMs: number): AudienceEvent[] {
    const before = this.database
      .prepare(
        "SELECT * FROM audience_entry WHERE show_id = ? AND type = 'chat' AND hidden = 0 AND at_ms <= ? ORDER BY seq DESC LIMIT ?",
      )
      .all(this.showId, sinceMs, CHAT_BEFORE) as Row[];
    const since = this.database
      .prepare(
        'SELECT * FROM audience_entry WHERE show_id = ? AND hidden = 0 AND at_ms > ? AND at_ms <= ? ORDER BY seq LIMIT ?',
      )
      .all(this.showId, sinceMs, atMs, MOST_SINCE) as Row[];
    return [...before.reverse(), ...since].map((row) => entryOf(row).event);
  }

  lastSeq(): number {
    return (
      (
        this.database
          .prepare('SELECT max(seq) AS seq FROM audience_entry WHERE show_id = ?')
          .get(this.showId) as { seq: number | null }
      ).seq ?? 0
    );
  }

  note(platform: string, viewer: string): string {
    const row = this.database
      .prepare('SELECT note FROM viewer_note WHERE platform = ? AND viewer = ?')
      .get(platform, viewer.toLowerCase()) as { note: string } | undefined;
    return row?.note ?? '';
  }

  setNote(platform: string, viewer: string, note: string): void {
    if (note === '')
      this.database
        .prepare('DELETE FROM viewer_note WHERE platform = ? AND viewer = ?')
        .run(platform, viewer.toLowerCase());
    else
      this.database
        .prepare(
          'INSERT INTO viewer_note (platform, viewer, note) VALUES (?, ?, ?) ON CONFLICT (platform, viewer) DO UPDATE SET note = excluded.note',
        )
        .run(platform, viewer.toLowerCase(), note);
  }

  /** When the evening began; begins it when none has. */
  sinceMs(nowMs: number): number {
    this.database
      .prepare('INSERT INTO audience_state (show_id, since_ms) VALUES (?, ?) ON CONFLICT DO NOTHING')
      .run(this.showId, nowMs);
    return (
      this.database
        .prepare('SELECT since_ms AS since FROM audience_state WHERE show_id = ?')
        .get(this.showId) as { since: number }
    ).since;
  }

  beginEvening(nowMs: number): void {
    this.sinceMs(nowMs);
    this.database.prepare('UPDATE audience_state SET since_ms = ? WHERE show_id = ?').run(nowMs, this.showId);
  }

  readSeq(): number {
    const row = this.database
      .prepare('SELECT read_seq AS seq FROM audience_state WHERE show_id = ?')
      .get(this.showId) as { seq: number } | undefined;
    return row?.seq ?? 0;
  }

  setReadSeq(seq: number): void {
    this.database
      .prepare('UPDATE audience_state SET read_seq = max(read_seq, ?) WHERE show_id = ?')
      .run(seq, this.showId);
  }
}
