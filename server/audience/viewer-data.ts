import type { AudienceEvent } from '../../core/audience/events';
import type { Database } from '../db/database';
import type { SettingRepository } from '../db/setting-repository';

const SETTING = 'audience.keepDays';
const START_DAYS = 365;
const CHANGED = 'audience.keepDaysChangedMs';
const DAY_MS = 86_400_000;
const HOUR_MS = 3_600_000;
/** A list to choose from is no longer than this. */
const MAX_FOUND = 50;

export interface ViewerDataFacts {
  entries: number;
  notes: number;
  /** Milliseconds since 1970 of the oldest; null without any. */
  oldestMs: number | null;
  /** How long it is kept; 0 for as long as the studio is. */
  keepDays: number;
}

/** One viewer on one platform, and how much there is of them. */
export interface FoundViewer {
  platform: string;
  viewer: string;
  entries: number;
  lastMs: number | null;
}

/** What is kept of viewers: for so long and no longer, and of each of them to be given out or deleted. */
export class ViewerData {
  constructor(
    readonly database: Database,
    readonly settings: SettingRepository,
  ) {}

  get keepDays(): number {
    const stored = this.settings.get(SETTING);
    return stored === null ? START_DAYS : Number(stored);
  }

  /**
   * Another time counts after an hour: until then it can be changed back, and nothing is gone.
   * @param days 0 for ever
   */
  keepFor(days: number, nowMs: number): void {
    this.settings.set(SETTING, String(days));
    this.settings.set(CHANGED, String(nowMs));
  }

  facts(): ViewerDataFacts {
    const { entries, oldestMs } = this.database
      .prepare('SELECT count(*) AS entries, min(at_ms) AS oldestMs FROM audience_entry')
      .get() as { entries: number; oldestMs: number | null };
    const { notes } = this.database.prepare('SELECT count(*) AS notes FROM viewer_note').get() as {
      notes: number;
    };
    return { entries, notes, oldestMs, keepDays: this.keepDays };
  }

  /** Viewers whose name holds these letters, the most talkative first. */
  find(letters: string): FoundViewer[] {
    const like = `%${letters.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`;
    return this.database
      .prepare(
        `SELECT platform, max(viewer) AS viewer, sum(entries) AS entries, max(last_ms) AS lastMs FROM (
           SELECT platform, viewer, lower(viewer) AS name, 1 AS entries, at_ms AS last_ms FROM audience_entry WHERE viewer LIKE @like ESCAPE '\\'
           UNION ALL
           SELECT platform, viewer, lower(viewer), 0, NULL FROM viewer_note WHERE viewer LIKE @like ESCAPE '\\'
         ) GROUP BY platform, name ORDER BY entries DESC, name LIMIT ${MAX_FOUND}`,
      )
      .all({ like }) as FoundViewer[];
  }

  /** Everything of one viewer, one JSON object a line: what they said and did, in order, and the note on them. */
  *lines(platform: string, viewer: string): Generator<string> {
    const rows = this.database
      .prepare(
        'SELECT at_ms AS atMs, data FROM audience_entry WHERE platform = ? AND viewer = ? COLLATE NOCASE ORDER BY seq',
      )
      .iterate(platform, viewer) as IterableIterator<{ atMs: number; data: string }>;
    for (const { atMs, data } of rows)
      yield `${JSON.stringify({ at: new Date(atMs).toISOString(), ...(JSON.parse(data) as AudienceEvent) })}\n`;
    const note = this.database
      .prepare('SELECT note FROM viewer_note WHERE platform = ? AND viewer = ?')
      .get(platform, viewer.toLowerCase()) as { note: string } | undefined;
    if (note) yield `${JSON.stringify({ type: 'note', platform, viewer, note: note.note })}\n`;
  }

  /** Deletes everything of one viewer. @returns how many entries that were */
  remove(platform: string, viewer: string): number {
    return this.database.transaction(() => {
      const { changes } = this.database
        .prepare('DELETE FROM audience_entry WHERE platform = ? AND viewer = ? COLLATE NOCASE')
        .run(platform, viewer);
      this.database
        .prepare('DELETE FROM viewer_note WHERE platform = ? AND viewer = ?')
        .run(platform, viewer.toLowerCase());
      return changes;
    })();
  }

  /** Deletes what is older than it may be. @returns how many entries that were */
  sweep(nowMs: number): number {
    const days = this.keepDays;
    if (days === 0 || nowMs - Number(this.settings.get(CHANGED) ?? -Infinity) < HOUR_MS) return 0;
    return this.database.prepare('DELETE FROM audience_entry WHERE at_ms < ?').run(nowMs - days * DAY_MS)
      .changes;
  }
}
