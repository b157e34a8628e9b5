import { randomUUID } from 'node:crypto';
import { Fault } from '../../core/fault';
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { copyShow } from '../../core/show/copy-show';
import { findRecord } from '../../core/show/document';
import { blankShow, firstShow } from '../../core/show/new-show';
import { freeName } from '../../core/show/stage-edits';
import { addDemonstration, DEMONSTRATION } from '../../db/seed/night-signal-box';
import type { ReadShow } from '../archive/read-archive';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { ShowRepository } from '../db/show-repository';
import type { OpenShows } from '../web/open-shows';
import type { ShowPictures } from './show-pictures';

/** What is done to shows as a whole. */
export class ShowKeeper {
  constructor(
    readonly parts: {
      shows: ShowRepository;
      open: OpenShows;
      secrets: SecretRepository;
      pictures: ShowPictures;
      /** The show on air; null when none is. */
      onAir: () => string | null;
      now: () => number;
    },
  ) {}

  /** One empty scene. @returns the show's id */
  blank(name: string): string {
    const id = randomUUID();
    this.parts.shows.create(blankShow(id, this.free(name), randomUUID));
    return id;
  }

  /** With scenes, camera and microphone. @returns the show's id */
  first(name: string, handle: string): string {
    const id = randomUUID();
    const { shows } = this.parts;
    const records = firstShow(id, this.free(name), handle, randomUUID);
    shows.create(records);
    // One waits in the talk scene, not in the countdown.
    const talk = records.find((record) => record.kind === 'scene' && record.name === 'Talk');
    if (talk)
      shows.setProgramme(id, {
        ...NO_PROGRAMME,
        onAir: { sceneId: talk.id, poseId: null, sinceMs: this.parts.now() },
      });
    return id;
  }

  /** The same show once more, with its stream keys and addresses. @throws Fault `show.missing` */
  copy(showId: string, name: string): string {
    const { shows, secrets, pictures, now } = this.parts;
    const { records } = shows.load(showId);
    const id = randomUUID();
    const { records: copies, ids } = copyShow(records, id, this.free(name), randomUUID);
    shows.create(copies);
    for (const record of records) {
      const copyId = ids.get(record.id)!;
      const kinds =
        record.kind === 'destination'
          ? [subjects.streamKey]
          : record.kind === 'input'
            ? [subjects.inputAddress]
            : [];
      for (const subject of kinds) {
        const secret = secrets.get(subject(record.id));
        if (secret !== null) secrets.set(subject(copyId), secret, now());
      }
    }
    pictures.copy(showId, id);
    return id;
  }

  /** A show that was read from an archive. */
  bringIn(showId: string, read: ReadShow): void {
    const { shows, secrets, pictures, now } = this.parts;
    shows.create(read.records);
    for (const record of read.records) {
      const secret = read.secrets[record.id];
      if (secret === undefined) continue;
      if (record.kind === 'destination') secrets.set(subjects.streamKey(record.id), secret, now());
      if (record.kind === 'input') secrets.set(subjects.inputAddress(record.id), secret, now());
    }
    // For looks alone: one that is no picture is left out.
    if (read.picture) void pictures.put(showId, read.picture).catch(() => undefined);
  }

  /** @throws Fault `show.missing`, `edit.*` */
  rename(showId: string, name: string): void {
    const show = this.parts.open.get(showId);
    const record = findRecord(show.document, 'show', showId);
    if (!record) throw new Fault('show.missing', 'this show is not here any more');
    show.edit({ id: randomUUID(), name: 'Rename show', put: [{ ...record, name }], removed: [] }, [record]);
  }

  archive(showId: string, archived: boolean): void {
    const { shows, now } = this.parts;
    shows.stamp(showId, 'archived', archived ? now() : null);
  }

  /** When it is broadcast next; null for not known. */
  plan(showId: string, nextMs: number | null): void {
    this.parts.shows.stamp(showId, 'next', nextMs);
  }

  /** It can be brought back for thirty days. @throws Fault `show.onAir` */
  remove(showId: string): void {
    const { shows, open, onAir, now } = this.parts;
    if (onAir() === showId)
      throw new Fault('show.onAir', 'This show is on air: stop its broadcast before you delete it.');
    open.drop(showId);
    shows.stamp(showId, 'removed', now());
  }

  restore(showId: string): void {
    this.parts.shows.stamp(showId, 'removed', null);
  }

  get hasDemonstration(): boolean {
    return this.parts.shows.has(DEMONSTRATION);
  }

  /** The demonstration among the others; when it was deleted, as it was. */
  demonstration(): void {
    addDemonstration(this.parts.shows, this.parts.now());
  }

  /** The name, or the name with a number where it is taken. */
  free(name: string): string {
    const taken = this.parts.shows.list().filter(({ removedMs }) => removedMs === null);
    return freeName(
      taken.map((show) => show.name),
      name,
    ).slice(0, 120);
  }
}
