import { randomUUID } from 'node:crypto';
import { Fault, isFault, messageOf } from '../../core/fault';
import { readArchiveHead } from '../../core/show/archive';
import { copyShow } from '../../core/show/copy-show';
import { documentOf } from '../../core/show/document';
import type { AnyRecord } from '../../core/show/records';
import { settle } from '../../core/show/settle';
import { upgraded } from '../../core/show/upgrade';
import { checkRecords } from '../../protocol/record-schemas';
import type { AssetStore } from '../vault/asset-store';
import { openKeys } from './sealed-keys';
import { bringFilesIn, entriesOf, openZip, parseJson, readWhole } from './zip';

/** A show of thousands of layers has some megabytes. */
const MOST_JSON_BYTES = 64 * 1024 * 1024;
const MOST_PICTURE_BYTES = 2 * 1024 * 1024;

export interface ReadShow {
  records: AnyRecord[];
  /** Secrets by the id of the record they belong to, when there were some and the passphrase opened them. */
  secrets: Record<string, string>;
  /** Whether the archive has keys that were not opened, since no passphrase came. */
  lockedKeys: boolean;
  /** Names of files that the archive names and does not have. */
  missing: string[];
  picture: Buffer | null;
}

/**
 * Reads a show out of a ZIP, with ids of its own; its files are brought in as they come, each known by its bytes.
 * Nothing of it is trusted: names, sizes, sums, records and keys.
 *
 * @param file the ZIP, whole, on the disk
 * @param showId for the new show
 * @param passphrase empty for none
 * @throws Fault `archive.*`, `asset.*`, `edit.*` with what to do; files that came before it stay until they are swept
 */
export async function readArchive(
  file: string,
  assets: AssetStore,
  showId: string,
  name: (from: string) => string,
  passphrase: string,
  nowMs: number,
): Promise<ReadShow> {
  const zip = await openZip(file);
  try {
    const entries = await entriesOf(zip);
    const json = entries.get('show.json');
    if (!json)
      throw new Fault('archive.kind', 'This file is no show of Dolomite: there is no show.json in it.');
    const head = readArchiveHead(parseJson(await readWhole(zip, json, MOST_JSON_BYTES), 'show.json'));
    const records = upgraded(head.records);
    const show = checkWhole(records);
    const lockedKeys = head.keys !== undefined && passphrase === '';
    const secrets = head.keys && !lockedKeys ? openKeys(head.keys, passphrase) : {};
    const missing = await bringFilesIn(file, zip, entries, head.files, assets, nowMs);
    const cover = entries.get('picture.jpg');
    const { records: copies, ids } = copyShow(records, showId, name(show.name), randomUUID);
    return {
      records: copies,
      secrets: Object.fromEntries(
        Object.entries(secrets).flatMap(([id, secret]) => (ids.has(id) ? [[ids.get(id)!, secret]] : [])),
      ),
      lockedKeys,
      missing,
      picture: cover ? await readWhole(zip, cover, MOST_PICTURE_BYTES) : null,
    };
  } catch (error) {
    throw isFault(error)
      ? error
      : new Fault('archive.damaged', `This archive is damaged and was not brought in (${messageOf(error)}).`);
  } finally {
    zip.close();
  }
}

/** Every record by itself, and all of them as a show. @throws Fault */
function checkWhole(records: AnyRecord[]): AnyRecord {
  checkRecords(records);
  const shows = records.filter(({ kind }) => kind === 'show');
  const ids = new Set(records.map(({ id }) => id));
  if (shows.length !== 1 || ids.size !== records.length || records.some((r) => r.showId !== shows[0].id))
    throw new Fault('archive.damaged', 'This archive is damaged: its records do not belong to one show.');
  // What points at something that is not there is refused as an edit would be.
  settle(documentOf([]), { id: 'archive', name: '', put: records, removed: [] }, []);
  return shows[0];
}
