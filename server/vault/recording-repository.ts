import { readdirSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { ALL_FORMATS, FilePathSource, Input } from 'mediabunny';
import { messageOf } from '../../core/fault';
import type { Database } from '../db/database';
import type { Log } from '../log';

export interface RecordingFacts {
  id: string;
  showId: string;
  file: string;
  startedMs: number;
  seconds: number;
  bytes: number;
  note: string;
  /** What it is: as it was sent, cut out of one or of the last minutes, or the same in another container. */
  kind: 'recording' | 'clip' | 'copy';
  /** Given by the user; empty for the date. */
  title: string;
  /** The recording it was made from. */
  madeFrom: string | null;
  eveningId: string | null;
}

const COLUMNS =
  'id, show_id AS showId, file, started_ms AS startedMs, seconds, bytes, note, kind, title, made_from AS madeFrom, evening_id AS eveningId';
const MEDIA = /\.(mkv|mp4)$/;

/** Recordings on disk and what is known about them. The files are the truth: one that is not listed is found again. */
export class RecordingRepository {
  constructor(
    readonly database: Database,
    readonly folder: string,
    readonly log: Log,
  ) {}

  list(showId: string): RecordingFacts[] {
    return this.database
      .prepare(`SELECT ${COLUMNS} FROM recording WHERE show_id = ? ORDER BY started_ms DESC, file`)
      .all(showId) as RecordingFacts[];
  }

  find(id: string): RecordingFacts | null {
    return (
      (this.database.prepare(`SELECT ${COLUMNS} FROM recording WHERE id = ?`).get(id) as
        RecordingFacts | undefined) ?? null
    );
  }

  pathOf(recording: RecordingFacts): string {
    return path.join(this.folder, path.basename(recording.file));
  }

  /** Deletes the file and what is known about it. */
  remove(id: string): void {
    const recording = this.find(id);
    if (!recording) return;
    rmSync(this.pathOf(recording), { force: true });
    this.database.prepare('DELETE FROM recording WHERE id = ?').run(id);
  }

  rename(id: string, title: string): void {
    this.database.prepare('UPDATE recording SET title = ? WHERE id = ?').run(title, id);
  }

  /** Enters a file, or what has changed about it. */
  enter(recording: RecordingFacts): void {
    this.database
      .prepare(
        `INSERT INTO recording (id, show_id, file, started_ms, seconds, bytes, note, kind, title, made_from, evening_id)
         VALUES (@id, @showId, @file, @startedMs, @seconds, @bytes, @note, @kind, @title, @madeFrom, @eveningId)
         ON CONFLICT (file) DO UPDATE SET seconds = excluded.seconds, bytes = excluded.bytes, note = excluded.note`,
      )
      .run(recording);
  }

  /**
   * Looks at the folder and enters every finished file that is not known or has grown.
   * @param busy names of files that are being written
   */
  async scan(showId: string, busy: readonly string[], eveningId: string | null = null): Promise<void> {
    let names: string[];
    try {
      names = readdirSync(this.folder).filter((n) => MEDIA.test(n));
    } catch {
      return; // no folder yet: nothing was recorded
    }
    for (const name of names) {
      const file = path.join(this.folder, name);
      if (busy.includes(name)) continue;
      const { size, birthtimeMs, mtimeMs } = statSync(file);
      const known = this.database.prepare('SELECT bytes FROM recording WHERE file = ?').get(name) as
        { bytes: number } | undefined;
      if (known?.bytes === size) continue;
      const { seconds, note } = await this.#look(file);
      this.enter({
        id: name.replace(/\W+/g, '-'),
        showId,
        file: name,
        startedMs: Math.round(Math.min(birthtimeMs || mtimeMs, mtimeMs)),
        seconds,
        bytes: size,
        note,
        kind: 'recording',
        title: '',
        madeFrom: null,
        eveningId,
      });
    }
  }

  async #look(file: string): Promise<{ seconds: number; note: string }> {
    const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
    try {
      return { seconds: await input.computeDuration(), note: '' };
    } catch (error) {
      this.log.warn({ file: path.basename(file), error: messageOf(error) }, 'recording cannot be read');
      return {
        seconds: 0,
        note: 'This file cannot be read: the recording was cut off before its first second.',
      };
    } finally {
      input.dispose();
    }
  }
}
