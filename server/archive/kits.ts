import type { Readable } from 'node:stream';
import { KIT_FORMAT, KIT_VERSION, paletteOf, readKitHead, type Kit } from '../../core/parts/kit';
import { documentWith } from '../../core/parts/take-over';
import { partsOf } from '../../core/parts/parts';
import { Fault, isFault, messageOf } from '../../core/fault';
import { filesNamed } from '../../core/show/archive';
import { documentOf, type ShowDocument } from '../../core/show/document';
import { settle } from '../../core/show/settle';
import { upgraded } from '../../core/show/upgrade';
import { checkRecords } from '../../protocol/record-schemas';
import type { AssetStore } from '../vault/asset-store';
import { zipped } from './write-zip';
import { bringFilesIn, entriesOf, openZip, parseJson, readWhole } from './zip';

const MOST_JSON_BYTES = 16 * 1024 * 1024;
/** As much as one edit may bring. */
const MOST_RECORDS = 2000;

/**
 * Chosen parts of a show, with what they need, as a kit.
 * @param ids of the chosen records
 * @throws Fault `kit.empty` when nothing of it is there
 */
export function writeKit(
  document: ShowDocument,
  ids: readonly string[],
  { name, about }: { name: string; about: string },
  assets: AssetStore,
  nowMs: number,
): Readable {
  const parts = partsOf(document, ids);
  if (parts.records.length === 0) throw new Fault('kit.empty', 'Choose what is to be in the kit.');
  const files = [...filesNamed(parts.records, (id) => assets.find(id) !== null)];
  const kit: Kit = {
    ...{ format: KIT_FORMAT, version: KIT_VERSION, name, about, madeAt: new Date(nowMs).toISOString() },
    ...parts,
    palette: paletteOf(parts.records),
    files: files.flatMap((id) => assets.find(id) ?? []),
  };
  return zipped('kit.json', kit, kit.files, assets, null);
}

/**
 * Reads a kit; its files are brought in, its records are given back to be looked at and chosen from.
 * Nothing of it is trusted.
 *
 * @param target the show it is for, in whose frames its records must be able to stand
 * @throws Fault `kit.*`, `archive.*`, `asset.*`, `edit.*` with what to do
 */
export async function readKit(
  file: string,
  assets: AssetStore,
  target: ShowDocument,
  nowMs: number,
): Promise<{ kit: Kit; missing: string[] }> {
  const zip = await openZip(file);
  try {
    const entries = await entriesOf(zip);
    const json = entries.get('kit.json');
    if (!json) throw new Fault('kit.kind', 'This file is no kit of Dolomite: there is no kit.json in it.');
    const head = readKitHead(parseJson(await readWhole(zip, json, MOST_JSON_BYTES), 'kit.json'));
    const records = upgraded(head.records);
    if (records.length > MOST_RECORDS)
      throw new Fault(
        'kit.large',
        `This kit holds more than ${MOST_RECORDS} parts: it cannot be brought in at once.`,
      );
    checkRecords(records);
    const kit: Kit = { ...head, records };
    // What points at something that is not there is refused as an edit would be.
    const whole = documentWith(kit, target);
    const [show] = [...whole.values()].filter(({ kind }) => kind === 'show');
    const put = records.map((record) => ({ ...record, showId: show.id }));
    settle(documentOf([show]), { id: 'kit', name: '', put, removed: [] }, []);
    return { kit, missing: await bringFilesIn(file, zip, entries, head.files, assets, nowMs) };
  } catch (error) {
    throw isFault(error)
      ? error
      : new Fault('kit.damaged', `This kit is damaged and was not brought in (${messageOf(error)}).`);
  } finally {
    zip.close();
  }
}
