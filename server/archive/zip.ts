/** Reading ZIPs that strangers made: names, sizes and sums are held to what the directory says, and to what is reasonable. */
import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import yauzl from 'yauzl';
import { Fault } from '../../core/fault';
import type { ArchivedFile } from '../../core/show/archive';
import type { AssetStore } from '../vault/asset-store';

/** Of a file, read at once. */
const PIECE_BYTES = 4 * 1024 * 1024;
/** Of a show with more files than this nobody has heard; a list of a million entries is an attack. */
const MOST_ENTRIES = 5000;

export function openZip(file: string): Promise<yauzl.ZipFile> {
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

export function entriesOf(zip: yauzl.ZipFile): Promise<Map<string, yauzl.Entry>> {
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

export async function readWhole(zip: yauzl.ZipFile, entry: yauzl.Entry, most: number): Promise<Buffer> {
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

/**
 * Brings the files of a ZIP in that are not here yet, each known by its bytes.
 * @returns names of files that it names and does not have
 */
export async function bringFilesIn(
  file: string,
  zip: yauzl.ZipFile,
  entries: ReadonlyMap<string, yauzl.Entry>,
  files: readonly ArchivedFile[],
  assets: AssetStore,
  nowMs: number,
): Promise<string[]> {
  const missing: string[] = [];
  for (const one of files) {
    const entry = entries.get(`assets/${one.id}`);
    if (assets.find(one.id)) continue;
    if (!entry) missing.push(one.name);
    else await bringIn(file, zip, entry, one, assets, nowMs);
  }
  return missing;
}

/** @param name of the file in the ZIP, for the message @throws Fault `archive.damaged` */
export function parseJson(json: Buffer, name: string): unknown {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(json)) as unknown;
  } catch {
    throw new Fault('archive.damaged', `This archive is damaged: ${name} cannot be read.`);
  }
}
