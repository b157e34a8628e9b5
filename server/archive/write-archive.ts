import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import yazl from 'yazl';
import { ARCHIVE_FORMAT, ARCHIVE_VERSION, filesNamed, type ShowArchive } from '../../core/show/archive';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { AssetStore } from '../vault/asset-store';
import { sealKeys } from './sealed-keys';

/** Of a file, read at once. */
const PIECE_BYTES = 1024 * 1024;

/**
 * A show with its files as a ZIP, as it is written: files go through as they are, one after the other, whatever their size.
 *
 * @param keys stream keys and addresses go with it, sealed with this passphrase; null leaves them out
 * @throws Fault `archive.passphrase`
 */
export function writeArchive(
  document: ShowDocument,
  assets: AssetStore,
  keys: { secrets: SecretRepository; passphrase: string } | null,
  picture: string | null,
  nowMs: number,
): Readable {
  const records = [...document.values()];
  const named = [...filesNamed(records, (id) => assets.find(id) !== null)];
  const archive: ShowArchive = {
    format: ARCHIVE_FORMAT,
    version: ARCHIVE_VERSION,
    madeAt: new Date(nowMs).toISOString(),
    records,
    files: named.flatMap((id) => assets.find(id) ?? []),
    ...(keys && { keys: sealKeys(secretsOf(document, keys.secrets), keys.passphrase) }),
  };
  const zip = new yazl.ZipFile();
  const output = zip.outputStream as Readable;
  // A file that cannot be read ends the archive in the middle, which whoever receives it sees, and nothing else.
  zip.on('error', (error: Error) => output.destroy(error));
  zip.addBuffer(Buffer.from(JSON.stringify(archive, null, 1)), 'show.json');
  if (picture !== null) zip.addFile(picture, 'picture.jpg', { compress: false });
  // Pictures, videos and sounds are compressed already.
  for (const { id, bytes } of archive.files)
    zip.addReadStreamLazy(`assets/${id}`, { compress: false, size: bytes }, (take) => {
      const body = createReadStream(assets.pathOf(id), { highWaterMark: PIECE_BYTES });
      body.on('error', (error) => zip.emit('error', error));
      take(null, body);
    });
  zip.end();
  return output;
}

/** Stream keys and addresses of a show, by the records they belong to. */
function secretsOf(document: ShowDocument, secrets: SecretRepository): Record<string, string> {
  const all = [
    ...recordsOf(document, 'destination').map(({ id }) => [id, subjects.streamKey(id)] as const),
    ...recordsOf(document, 'input').map(({ id }) => [id, subjects.inputAddress(id)] as const),
  ];
  return Object.fromEntries(
    all.flatMap(([id, subject]) => {
      const secret = secrets.get(subject);
      return secret === null ? [] : [[id, secret]];
    }),
  );
}
