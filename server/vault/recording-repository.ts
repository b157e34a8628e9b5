import { randomUUID } from 'node:crypto';
import { readdirSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { ALL_FORMATS, FilePathSource, Input } from 'mediabunny';
import { messageOf } from '../../core/fault';
import type { Database } from '../db/database';
import type { Log } from '../log';
import type { RecordingFolder } from './recording-folder';

export interface RecordingFacts {
  id: string;
  showId: string;
  /** Where it lies; empty for the studio's own folder. */
  folder: string;
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
  'id, show_id AS showId, folder, file, started_ms AS startedMs, seconds, bytes, note, kind, title, made_from AS madeFrom, evening_id AS eveningId';
const MEDIA = /\.(mkv|mp4)$/;
/** Recordings of the relay end with the first letters of the broadcast's id, and perhaps a part. */
const OURS = /[ -][0-9a-f]{8}(-\w+)*\.mkv$/;

/** Recordings on disk and what is known about them. The files are the truth: one that is not listed is found again. */
export class RecordingRepository {
  constructor(
    readonly database: Database,
    readonly place: RecordingFolder,
    readonly log: Log,
  ) {}

  /** What is noted about a file that is written there: the studio's own folder may move with its data. */
  folderOf(folder: string): string {
    return folder === this.place.home ? '' : folder;
  }

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
    return path.join(recording.folder || this.place.home, path.basename(recording.file));
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
        `INSERT INTO recording (id, show_id, folder, file, started_ms, seconds, bytes, note, kind, title, made_from, evening_id)
         VALUES (@id, @showId, @folder, @file, @startedMs, @seconds, @bytes, @note, @kind, @title, @madeFrom, @eveningId)
         ON CONFLICT (folder, file) DO UPDATE SET seconds = excluded.seconds, bytes = excluded.bytes, note = excluded.note`,
      )
      .run(recording);
  }

  /**
   * Looks at the studio's own folder and the chosen one, and enters every finished file that is not known or has grown.
   * @param busy names of files that are being written
   */
  async scan(showId: string, busy: readonly string[], eveningId: string | null = null): Promise<void> {
    for (const folder of new Set([this.place.home, this.place.usable]))
      await this.#scan(folder, showId, busy, eveningId);
  }

  async #scan(
    folder: string,
    showId: string,
    busy: readonly string[],
    eveningId: string | null,
  ): Promise<void> {
    let names: string[];
    try {
      names = readdirSync(folder).filter((n) => MEDIA.test(n));
    } catch {
      return; // no folder yet: nothing was recorded
    }
    const noted = this.folderOf(folder);
    for (const name of names) {
      // Other programs' files in a folder of one's own are none of ours.
      if (noted !== '' && !OURS.test(name)) continue;
      const file = path.join(folder, name);
      if (busy.includes(name)) continue;
      const { size, birthtimeMs, mtimeMs } = statSync(file);
      const known = this.database
        .prepare('SELECT bytes FROM recording WHERE folder = ? AND file = ?')
        .get(noted, name) as { bytes: number } | undefined;
      if (known?.bytes === size) continue;
      const { seconds, note } = await this.#look(file);
      this.enter({
        id: noted === '' ? name.replace(/\W+/g, '-') : randomUUID(),
        showId,
        folder: noted,
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
