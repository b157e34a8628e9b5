/** A show as one file for another computer: what stands in it, and how it is read again. No files, no keys: only records. */
import { Fault } from '../fault';
import { filesIn } from './file-uses';
import type { AnyRecord } from './records';

/** The archive's own version; one that is newer may hold what this program would lose. */
export const ARCHIVE_VERSION = 1;
export const ARCHIVE_FORMAT = 'dolomite-show';

/** A file that the show uses; it lies in the archive as `assets/<id>`, its id is the SHA-256 of its contents, 40 digits of it. */
export interface ArchivedFile {
  id: string;
  name: string;
  mime: string;
  bytes: number;
}

/** `show.json` in the archive; its JSON Schema is docs/schemas/show-archive.schema.json. */
export interface ShowArchive {
  format: typeof ARCHIVE_FORMAT;
  version: number;
  /** ISO 8601, UTC. */
  madeAt: string;
  records: AnyRecord[];
  files: ArchivedFile[];
  /** Stream keys and addresses, sealed with a passphrase; without them they are entered again. */
  keys?: SealedKeys;
}

export interface SealedKeys {
  /** scrypt (RFC 7914) with these costs gives the key of AES-256-GCM (NIST SP 800-38D). All bytes in base64. */
  kdf: 'scrypt';
  n: number;
  r: number;
  p: number;
  salt: string;
  nonce: string;
  sealed: string;
}

/** Ids of files that records name, wherever they stand. */
export function filesNamed(records: readonly AnyRecord[], exists: (id: string) => boolean): Set<string> {
  return new Set(records.flatMap((record) => [...filesIn(record, exists)]));
}

/**
 * What an archive says of itself, as far as it can be told without its records being looked at.
 * @throws Fault `archive.*` with what to do
 */
export function readArchiveHead(parsed: unknown): Omit<ShowArchive, 'records'> & { records: unknown[] } {
  const head = parsed as Partial<ShowArchive> | null;
  if (typeof head !== 'object' || head === null || head.format !== ARCHIVE_FORMAT)
    throw new Fault(
      'archive.kind',
      'This file is no show of Dolomite: choose one that was made with Archive.',
    );
  if (!Number.isInteger(head.version) || head.version! < 1)
    throw new Fault('archive.version', 'This archive does not say which version it is: it is damaged.');
  if (head.version! > ARCHIVE_VERSION)
    throw new Fault(
      'archive.newer',
      'This archive was made by a newer Dolomite: bring it in there, or update this one.',
    );
  const files = Array.isArray(head.files) ? head.files : null;
  if (!Array.isArray(head.records) || !files || !files.every(isFile))
    throw new Fault('archive.damaged', 'This archive is damaged: its list of contents cannot be read.');
  return head as ShowArchive;
}

function isFile(file: unknown): boolean {
  const of = file as Partial<ArchivedFile> | null;
  return (
    typeof of === 'object' &&
    of !== null &&
    /^[0-9a-f]{40}$/.test(String(of.id)) &&
    typeof of.name === 'string' &&
    of.name.length <= 255 &&
    typeof of.mime === 'string' &&
    Number.isSafeInteger(of.bytes) &&
    of.bytes! >= 0
  );
}
