import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import {
  access,
  copyFile,
  mkdir,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  statfs,
  writeFile,
} from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { keptBackups } from '../../core/backup/kept-backups';
import { Fault, messageOf } from '../../core/fault';
import { filesNamed } from '../../core/show/archive';
import { copyShow } from '../../core/show/copy-show';
import type { AnyRecord } from '../../core/show/records';
import { recordSchemas } from '../../protocol/record-schemas';
import { mustBeWhole, openDatabase, type Database } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { SettingRepository } from '../db/setting-repository';
import { ShowRepository } from '../db/show-repository';
import type { Log } from '../log';
import type { AssetStore } from '../vault/asset-store';

export type BackupReason = 'daily' | 'broadcast' | 'asked';

export interface Backup {
  /** Name of its folder. */
  name: string;
  madeMs: number;
  reason: BackupReason;
  /** Of all shows in it, to see whether anything has changed since. */
  state: string;
  shows: { id: string; name: string }[];
  /** Of the database alone; files are shared among backups. */
  bytes: number;
}

export interface Drill {
  atMs: number;
  /** Of the backup that was tried. */
  name: string;
  records: number;
  files: number;
  /** Empty when all was well. */
  problem: string;
}

const FOLDER = 'backup.folder';
const DRILL = 'backup.drill';
const DAY_MS = 86_400_000;
const DRILL_MS = 30 * DAY_MS;
const LOOK_MS = 3_600_000;
/** A backup must not take the room that a broadcast records in. */
const RESERVE_BYTES = 500 * 1024 * 1024;

/**
 * Copies of all shows with their files: the database as it is at one moment, and each file once, whatever number of backups
 * name it. Recordings are not in them. A backup has its name only when it is whole.
 */
export class Backups {
  readonly #timer: NodeJS.Timeout;
  #running: Promise<unknown> = Promise.resolve();
  /** What went wrong with the last one; empty when nothing did. */
  problem = '';

  constructor(
    readonly parts: {
      database: Database;
      shows: ShowRepository;
      assets: AssetStore;
      secrets: SecretRepository;
      settings: SettingRepository;
      dataFolder: string;
      migrations: string;
      log: Log;
      now: () => number;
      onAir: () => boolean;
    },
  ) {
    this.#timer = setInterval(() => void this.look(), LOOK_MS);
    this.#timer.unref();
  }

  get folder(): string {
    return this.parts.settings.get(FOLDER) ?? path.join(this.parts.dataFolder, 'backups', 'shows');
  }

  /** A folder of one's own, on another drive if there is one; null for the studio's. @throws Fault `backup.folder` */
  async choose(folder: string | null): Promise<void> {
    const { settings } = this.parts;
    if (folder !== null) {
      if (!path.isAbsolute(folder))
        throw new Fault('backup.folder', 'Give the whole path of the folder, from its root.');
      try {
        await mkdir(folder, { recursive: true });
        await writeFile(path.join(folder, '.dolomite-try'), '');
        await rm(path.join(folder, '.dolomite-try'));
      } catch (error) {
        throw new Fault('backup.folder', `${folder} cannot be written: choose another folder.`, {
          cause: error,
        });
      }
    }
    settings.set(FOLDER, folder);
  }

  /** Newest first. */
  async list(): Promise<Backup[]> {
    const names = await readdir(this.folder).catch(() => []);
    const found = await Promise.all(
      names.map(async (name) => {
        try {
          return JSON.parse(await readFile(path.join(this.folder, name, 'backup.json'), 'utf8')) as Backup;
        } catch {
          // Files of all backups, one that is not whole, or something of somebody else's.
          return null;
        }
      }),
    );
    return found.filter((one) => one !== null).sort((a, b) => b.madeMs - a.madeMs);
  }

  get drilled(): Drill | null {
    const text = this.parts.settings.get(DRILL);
    return text === null ? null : (JSON.parse(text) as Drill);
  }

  /** Makes one when a day has gone by and something has changed; tries the newest when a month has. */
  async look(): Promise<void> {
    // Copying competes with a broadcast for disk and processor.
    if (this.parts.onAir()) return;
    const [newest] = await this.list();
    const now = this.parts.now();
    if (!newest || now - newest.madeMs >= DAY_MS) await this.makeIfChanged('daily');
    const { drilled } = this;
    if ((await this.list()).length > 0 && (drilled === null || now - drilled.atMs >= DRILL_MS))
      await this.drill();
  }

  /** @returns null when nothing has changed since the last one, or when it could not be made: `problem` says why */
  async makeIfChanged(reason: BackupReason): Promise<Backup | null> {
    const [newest] = await this.list();
    if (newest?.state === this.#state()) return null;
    try {
      return await this.make(reason);
    } catch (error) {
      this.problem = messageOf(error);
      this.parts.log.error({ error: this.problem }, 'no backup could be made');
      return null;
    }
  }

  /** One after the other. @throws Fault `backup.room`, and what the disk says */
  make(reason: BackupReason): Promise<Backup> {
    const made = this.#running.then(
      () => this.#make(reason),
      () => this.#make(reason),
    );
    this.#running = made.catch(() => undefined);
    return made;
  }

  async #make(reason: BackupReason): Promise<Backup> {
    const { database, shows, assets, now } = this.parts;
    await this.#mustFit();
    const madeMs = now();
    const stamp = new Date(madeMs).toISOString().slice(0, 19).replaceAll(':', '-');
    const folder = path.join(this.folder, stamp);
    const part = `${folder}.part`;
    await rm(part, { recursive: true, force: true });
    await mkdir(path.join(this.folder, 'assets'), { recursive: true, mode: 0o700 });
    await mkdir(part, { mode: 0o700 });
    const state = this.#state();
    const listed = shows.list().filter(({ removedMs }) => removedMs === null);
    await database.backup(path.join(part, 'dolomite.sqlite'));
    mustBeWhole(path.join(part, 'dolomite.sqlite'));
    for (const { id } of listed)
      for (const file of filesNamed(shows.load(id).records, (one) => assets.find(one) !== null))
        await this.#keepFile(file);
    const backup: Backup = {
      ...{ name: stamp, madeMs, reason, state },
      shows: listed.map(({ id, name }) => ({ id, name })),
      bytes: (await stat(path.join(part, 'dolomite.sqlite'))).size,
    };
    await writeFile(path.join(part, 'backup.json'), JSON.stringify(backup));
    await rename(part, folder);
    this.problem = '';
    await this.#prune();
    return backup;
  }

  /** A file that is there already is the same one: it is named by its contents. */
  async #keepFile(id: string): Promise<void> {
    const kept = path.join(this.folder, 'assets', id);
    if (
      await access(kept).then(
        () => true,
        () => false,
      )
    )
      return;
    const part = `${kept}.part`;
    await copyFile(this.parts.assets.pathOf(id), part);
    await rename(part, kept);
  }

  async #prune(): Promise<void> {
    const all = await this.list();
    const kept = keptBackups(all.map(({ madeMs }) => madeMs));
    for (const { name, madeMs } of all)
      if (!kept.has(madeMs)) await rm(path.join(this.folder, name), { recursive: true, force: true });
  }

  async #mustFit(): Promise<void> {
    await mkdir(this.folder, { recursive: true, mode: 0o700 });
    const { bavail, bsize } = await statfs(this.folder);
    if (bavail * bsize < RESERVE_BYTES)
      throw new Fault(
        'backup.room',
        `There is no room for a backup in ${this.folder}: make room, or choose another folder.`,
      );
  }

  /** Changes whenever anything in any show does. */
  #state(): string {
    return this.parts.database
      .prepare(
        'SELECT group_concat(id || revision || name, char(10)) FROM (SELECT id, revision, name FROM show WHERE removed_ms IS NULL ORDER BY id)',
      )
      .pluck()
      .get() as string;
  }

  /**
   * Brings shows of a backup back, beside what there is: nothing is overwritten.
   *
   * @param showIds null for all
   * @param named the name of each that comes back
   * @returns ids of the shows that were made
   * @throws Fault `backup.missing`, `backup.damaged`
   */
  async restore(
    name: string,
    showIds: readonly string[] | null,
    named: (name: string) => string,
  ): Promise<string[]> {
    const { shows, secrets, now } = this.parts;
    return this.#opened(name, async (old, oldSecrets, wanted) => {
      const made: string[] = [];
      for (const { id } of wanted.filter((show) => showIds === null || showIds.includes(show.id))) {
        const { records } = old.load(id);
        await this.#bringFilesBack(old, records);
        const newId = randomUUID();
        const copy = copyShow(records, newId, named(nameOf(wanted, id)), randomUUID);
        shows.create(copy.records);
        for (const [from, to] of copy.ids)
          for (const subject of [subjects.streamKey, subjects.inputAddress]) {
            const secret = oldSecrets.get(subject(from));
            if (secret !== null) secrets.set(subject(to), secret, now());
          }
        made.push(newId);
      }
      return made;
    });
  }

  /**
   * A show as it was, for parts of it to be taken from; its files are brought back, so that they are there for those.
   * @throws Fault `backup.missing`, `show.missing`, `backup.damaged`
   */
  showAsItWas(name: string, showId: string): Promise<AnyRecord[]> {
    return this.#opened(name, async (old, _, shows) => {
      if (!shows.some(({ id }) => id === showId))
        throw new Fault('show.missing', 'This backup does not have this show: choose an older or newer one.');
      const { records } = old.load(showId);
      await this.#bringFilesBack(old, records);
      return records;
    });
  }

  async #bringFilesBack(old: ShowRepository, records: readonly AnyRecord[]): Promise<void> {
    const { assets, now } = this.parts;
    for (const file of filesNamed(records, (one) => oldFile(old.database, one) !== null)) {
      if (assets.find(file)) continue;
      const kept = path.join(this.folder, 'assets', file);
      const { size } = await stat(kept);
      await assets.add(oldFile(old.database, file) ?? file, createReadStream(kept), now(), size);
    }
  }

  /** Restores the newest to a folder of its own and looks at every record and every file in it. */
  async drill(): Promise<Drill | null> {
    const [newest] = await this.list();
    if (!newest) return null;
    let [records, files, problem] = [0, 0, ''];
    try {
      await this.#opened(newest.name, async (old, _, wanted) => {
        for (const { id } of wanted) {
          const loaded = old.load(id).records;
          for (const record of loaded) {
            const { error } = recordSchemas[record.kind].validate(record, { convert: false });
            if (error) throw new Fault('backup.damaged', `${record.kind} ${record.name}: ${error.message}`);
            records += 1;
          }
          for (const file of filesNamed(loaded, (one) => oldFile(old.database, one) !== null)) {
            const hash = createHash('sha256');
            await pipeline(createReadStream(path.join(this.folder, 'assets', file)), hash);
            if (hash.digest('hex').slice(0, 40) !== file)
              throw new Fault('backup.damaged', `the file ${oldFile(old.database, file)} is not what it was`);
            files += 1;
          }
        }
      });
    } catch (error) {
      problem = messageOf(error);
      this.parts.log.error({ backup: newest.name, error: problem }, 'the newest backup cannot be restored');
    }
    const drill: Drill = { atMs: this.parts.now(), name: newest.name, records, files, problem };
    this.parts.settings.set(DRILL, JSON.stringify(drill));
    return drill;
  }

  close(): void {
    clearInterval(this.#timer);
  }

  /** Does something with a backup's database: a copy of it, brought up to date, so that the backup stays as it was. */
  async #opened<T>(
    name: string,
    act: (old: ShowRepository, secrets: SecretRepository, shows: Backup['shows']) => Promise<T>,
  ): Promise<T> {
    const { dataFolder, migrations, now } = this.parts;
    const backup = (await this.list()).find((one) => one.name === name);
    if (!backup) throw new Fault('backup.missing', 'This backup is not there any more: choose another.');
    const folder = path.join(dataFolder, 'scratch', `restore-${now()}-${randomUUID()}`);
    await mkdir(folder, { recursive: true, mode: 0o700 });
    let database: Database | null = null;
    try {
      await copyFile(path.join(this.folder, name, 'dolomite.sqlite'), path.join(folder, 'dolomite.sqlite'));
      database = openDatabase(path.join(folder, 'dolomite.sqlite'), migrations);
      const secrets = new SecretRepository(database, path.join(dataFolder, 'secrets.key'));
      return await act(new ShowRepository(database), secrets, backup.shows);
    } finally {
      database?.close();
      await rm(folder, { recursive: true, force: true });
    }
  }
}

function oldFile(database: Database, id: string): string | null {
  return (
    (database.prepare('SELECT name FROM asset WHERE id = ?').pluck().get(id) as string | undefined) ?? null
  );
}

const nameOf = (shows: Backup['shows'], id: string) => shows.find((show) => show.id === id)?.name ?? 'Show';
