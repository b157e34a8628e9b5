import { rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { randomUUID } from 'node:crypto';
import { Fault } from '../../core/fault';
import { freeBytesOf } from '../free-bytes';
import type { SettingRepository } from '../db/setting-repository';

const SETTING = 'recordings.folder';

/** Where recordings go: a folder the user chose on this machine, else the studio's own. */
export class RecordingFolder {
  constructor(
    readonly settings: SettingRepository,
    /** The studio's own, which is made when it is needed. */
    readonly home: string,
  ) {}

  /** The chosen one; null for the studio's own. */
  get chosen(): string | null {
    return this.settings.get(SETTING);
  }

  /** Where to write now: the studio's own while the chosen one cannot be written. */
  get usable(): string {
    return this.problem === null ? (this.chosen ?? this.home) : this.home;
  }

  /** Why the chosen folder cannot be used now, and what to do; null when it can. */
  get problem(): string | null {
    const { chosen } = this;
    if (chosen === null) return null;
    try {
      mustBeWritable(chosen);
      return null;
    } catch (error) {
      return (error as Error).message;
    }
  }

  /** Bytes free where recordings go now; null when nobody can tell. */
  freeBytes(): number | null {
    return freeBytesOf(this.usable);
  }

  /**
   * Recordings go there from the next broadcast on.
   * @param folder an absolute path; null or the studio's own for that
   * @throws Fault `folder.*` when it cannot be used, with what to do
   */
  choose(folder: string | null): void {
    if (folder === null || path.resolve(folder) === path.resolve(this.home)) {
      this.settings.set(SETTING, null);
      return;
    }
    if (!path.isAbsolute(folder) || folder.includes('\0'))
      throw new Fault('folder.relative', 'give the whole path of the folder, from its root on');
    const whole = path.resolve(folder);
    const inside = path.relative(path.dirname(this.home), whole);
    if (inside === '' || !(inside.startsWith('..') || path.isAbsolute(inside)))
      throw new Fault('folder.inside', 'this is inside the studio’s own data: choose a folder outside it');
    mustBeWritable(whole);
    this.settings.set(SETTING, whole);
  }
}

/** @throws Fault `folder.missing`, `folder.readonly` */
function mustBeWritable(folder: string): void {
  let is: ReturnType<typeof statSync>;
  try {
    is = statSync(folder);
  } catch {
    throw new Fault('folder.missing', `${folder} is not there: make it, or put the disk in, then try again`);
  }
  if (!is.isDirectory()) throw new Fault('folder.missing', `${folder} is a file, not a folder`);
  const probe = path.join(folder, `.dolomite-${randomUUID()}`);
  try {
    writeFileSync(probe, '');
    rmSync(probe);
  } catch (error) {
    throw new Fault(
      'folder.readonly',
      `nothing can be written in ${folder}: choose another folder, or allow it for this user`,
      { cause: error },
    );
  }
}
