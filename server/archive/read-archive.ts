import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import yauzl from 'yauzl';
import { Fault, isFault, messageOf } from '../../core/fault';
import { readArchiveHead, type ArchivedFile } from '../../core/show/archive';
import { copyShow } from '../../core/show/copy-show';
import { documentOf } from '../../core/show/document';
import type { AnyRecord } from '../../core/show/records';
import { settle } from '../../core/show/settle';
import { checkRecords } from '../../protocol/record-schemas';
import type { AssetStore } from '../vault/asset-store';
import { openKeys } from './sealed-keys';

/** A show of thousands of layers has some megabytes. */
const MOST_JSON_BYTES = 64 * 1024 * 1024;
/** Of a file, read at once. */
const PIECE_BYTES = 4 * 1024 * 1024;
const MOST_PICTURE_BYTES = 2 * 1024 * 1024;
/** Of a show with more files than this nobody has heard; a list of a million entries is an attack. */
const MOST_ENTRIES = 5000;

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
    const head = readArchiveHead(parse(await readWhole(zip, json, MOST_JSON_BYTES)));
    const records = head.records as AnyRecord[];
    const show = checkWhole(records);
    const lockedKeys = head.keys !== undefined && passphrase === '';
    const secrets = head.keys && !lockedKeys ? openKeys(head.keys, passphrase) : {};
    const missing: string[] = [];
    for (const one of head.files) {
      const entry = entries.get(`assets/${one.id}`);
      if (assets.find(one.id)) continue;
      if (!entry) missing.push(one.name);
      else await bringIn(file, zip, entry, one, assets, nowMs);
    }
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

function openZip(file: string): Promise<yauzl.ZipFile> {
  return new Promise((resolve, reject) =>
    // Names with `..`, with drives or roots are refused by it, and sizes are held to what the directory says.
    yauzl.open(
      file,
      { lazyEntries: true, autoClose: false, strictFileNames: true, validateEntrySizes: true },
      (error, zip) =>
        error
          ? reject(new Fault('archive.kind', `This file is no whole ZIP archive (${error.message}).`))
          : resolve(zip),
    ),
  );
}

function entriesOf(zip: yauzl.ZipFile): Promise<Map<string, yauzl.Entry>> {
  if (zip.entryCount > MOST_ENTRIES)
    throw new Fault('archive.large', `This archive has more than ${MOST_ENTRIES} files: it is no show.`);
  const found = new Map<string, yauzl.Entry>();
  return new Promise((resolve, reject) => {
    zip.on('entry', (entry: yauzl.Entry) => {
      if (found.has(entry.fileName))
        return reject(new Fault('archive.damaged', `This archive has ${entry.fileName} twice.`));
      found.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.on('end', () => resolve(found));
    zip.on('error', reject);
    zip.readEntry();
  });
}

function streamOf(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Readable> {
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
  );
}

async function readWhole(zip: yauzl.ZipFile, entry: yauzl.Entry, most: number): Promise<Buffer> {
  const large = new Fault('archive.large', `${entry.fileName} in this archive is larger than it may be.`);
  if (entry.uncompressedSize > most) throw large;
  const parts: Buffer[] = [];
  let bytes = 0;
  for await (const part of await streamOf(zip, entry)) {
    bytes += (part as Buffer).length;
    if (bytes > most) throw large;
    parts.push(part as Buffer);
  }
  return Buffer.concat(parts);
}

function parse(json: Buffer): unknown {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(json)) as unknown;
  } catch {
    throw new Fault('archive.damaged', 'This archive is damaged: show.json cannot be read.');
  }
}

/** What is not compressed lies in the archive as it is: read in large pieces, it comes as fast as the disk is. */
async function bodyOf(archive: string, zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Readable> {
  if (entry.compressionMethod !== 0 || entry.isEncrypted() || entry.compressedSize === 0)
    return streamOf(zip, entry);
  const start = await new Promise<number>((resolve, reject) =>
    zip.readLocalFileHeader(entry, { minimal: true }, (error, header) =>
      error ? reject(error) : resolve(header.fileDataStart),
    ),
  );
  const end = start + entry.compressedSize - 1;
  return createReadStream(archive, { start, end, highWaterMark: PIECE_BYTES });
}

/** @throws Fault `archive.damaged` when its bytes are not those that its name says */
async function bringIn(
  archive: string,
  zip: yauzl.ZipFile,
  entry: yauzl.Entry,
  file: ArchivedFile,
  assets: AssetStore,
  nowMs: number,
): Promise<void> {
  const body = await bodyOf(archive, zip, entry);
  const { id } = await assets.add(
    file.name,
    body as AsyncIterable<Uint8Array>,
    nowMs,
    entry.uncompressedSize,
  );
  if (id !== file.id)
    throw new Fault('archive.damaged', `This archive is damaged: “${file.name}” is not the file it was.`);
}
