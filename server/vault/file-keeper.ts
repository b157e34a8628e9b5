import { randomUUID } from 'node:crypto';
import { Fault } from '../../core/fault';
import { fileUses, withOtherFile } from '../../core/show/file-uses';
import type { AnyRecord } from '../../core/show/records';
import type { SettingRepository } from '../db/setting-repository';
import type { ShowRepository } from '../db/show-repository';
import type { OpenShows } from '../web/open-shows';
import type { AssetStore, KeptAsset } from './asset-store';

/** A file, and who names it. */
export interface KeptFile extends KeptAsset {
  /** By show the names of its records; of shows that were deleted too, as long as they can be brought back. */
  uses: { showId: string; show: string; records: string[] }[];
}

/** What was removed can be brought back for so long. */
const TRASH_MS = 30 * 86_400_000;
/** After so many days without a use files are removed by themselves; 0 for never. */
export const FILE_RULES = [0, 30, 90, 365] as const;
const RULE = 'files.unusedDays';

/** Files that were brought into shows: where they are used, and what becomes of those that are not. */
export class FileKeeper {
  constructor(
    readonly parts: {
      assets: AssetStore;
      shows: ShowRepository;
      open: OpenShows;
      settings: SettingRepository;
      now: () => number;
    },
  ) {}

  list(): KeptFile[] {
    const { assets, shows } = this.parts;
    const kept = assets.list();
    const ids = new Set(kept.map(({ id }) => id));
    const uses = new Map<string, KeptFile['uses']>();
    for (const { id: showId, name } of shows.list())
      for (const [id, records] of fileUses(this.#recordsOf(showId), (one) => ids.has(one)))
        uses.set(id, [
          ...(uses.get(id) ?? []),
          { showId, show: name, records: records.map((record) => record.name) },
        ]);
    return kept.map((asset) => ({ ...asset, uses: uses.get(asset.id) ?? [] }));
  }

  /** Days without a use after which files are removed by themselves; 0 for never. */
  get rule(): number {
    const days = Number(this.parts.settings.get(RULE) ?? 0);
    return (FILE_RULES as readonly number[]).includes(days) ? days : 0;
  }

  set rule(days: number) {
    this.parts.settings.set(RULE, days === 0 ? null : String(days));
  }

  /** Only what no show names; back for thirty days. @throws Fault `files.used` and nothing is removed */
  remove(ids: readonly string[]): void {
    const { assets, now } = this.parts;
    const files = this.list().filter(({ id }) => ids.includes(id));
    const used = files.filter(({ uses }) => uses.length > 0);
    if (used.length > 0)
      throw new Fault(
        'files.used',
        `“${used[0].name}” is used by ${used[0].uses[0].show}: remove it there, or replace it, first.`,
      );
    for (const { id } of files) assets.stamp(id, 'removed', now());
  }

  restore(ids: readonly string[]): void {
    for (const id of ids) this.parts.assets.stamp(id, 'removed', null);
  }

  /**
   * Another file in its place in every show, as an edit of each that its pages are told. What was there stays, unused.
   * @returns how many shows were changed
   * @throws Fault `files.missing`, `files.kind`
   */
  replace(fromId: string, toId: string): number {
    const { assets, shows, open } = this.parts;
    const [from, to] = [assets.find(fromId), assets.find(toId)];
    if (!from || !to)
      throw new Fault('files.missing', 'This file is not here any more: load the page again.');
    const kindOf = (mime: string) => mime.split('/')[0];
    if (kindOf(from.mime) !== kindOf(to.mime))
      throw new Fault(
        'files.kind',
        `“${to.name}” is another kind of file than “${from.name}”: choose one of the same kind.`,
      );
    let changed = 0;
    for (const { id: showId, removedMs } of shows.list()) {
      // One that was deleted is as it was when it is brought back.
      if (removedMs !== null) continue;
      const records = this.#recordsOf(showId);
      const put = withOtherFile(records, from, to);
      if (put.length === 0) continue;
      const seen = put.flatMap(({ id }) => records.find((record) => record.id === id) ?? []);
      open.get(showId).edit({ id: randomUUID(), name: `Replace ${from.name}`, put, removed: [] }, seen);
      changed += 1;
    }
    assets.stamp(toId, 'removed', null);
    return changed;
  }

  /** By the rule: what has not been used for long is removed, and what was removed long ago is gone for good. */
  async sweep(): Promise<void> {
    const { assets, now } = this.parts;
    const days = this.rule;
    for (const { id, uses, unusedMs, removedMs } of this.list()) {
      if (uses.length > 0) {
        // Used again, by an undo or a show that was brought back.
        if (unusedMs !== null) assets.stamp(id, 'unused', null);
        if (removedMs !== null) assets.stamp(id, 'removed', null);
      } else if (removedMs !== null) {
        if (now() - removedMs > TRASH_MS) await assets.delete(id);
      } else if (unusedMs === null) assets.stamp(id, 'unused', now());
      else if (days > 0 && now() - unusedMs > days * 86_400_000) assets.stamp(id, 'removed', now());
    }
  }

  #recordsOf(showId: string): readonly AnyRecord[] {
    const open = this.parts.open.find(showId);
    return open ? [...open.document.values()] : this.parts.shows.load(showId).records;
  }
}
