import type { Readable } from 'node:stream';
import { ARCHIVE_FORMAT, ARCHIVE_VERSION, filesNamed, type ShowArchive } from '../../core/show/archive';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { AssetStore } from '../vault/asset-store';
import { sealKeys } from './sealed-keys';
import { zipped } from './write-zip';

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
  return zipped('show.json', archive, archive.files, assets, picture);
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
