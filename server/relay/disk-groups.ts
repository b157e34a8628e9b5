import { closeSync, mkdirSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import path from 'node:path';
import type { GroupStore, RingPacket } from '../../core/delivery/group-ring';
import { packetsFromBytes, packetsToBytes } from '../../core/media/packet-bytes';

/** One file holds groups of about this many bytes, and goes when the last of them is forgotten. */
const FILE_BYTES = 32 * 1024 * 1024;

interface ScratchFile {
  name: string;
  descriptor: number;
  bytes: number;
  groups: number;
  full: boolean;
}

export interface GroupRef {
  file: ScratchFile;
  at: number;
  length: number;
}

/** Groups of pictures that no longer fit into memory, in a few scratch files. */
export class DiskGroups implements GroupStore<GroupRef> {
  #current: ScratchFile | null = null;
  #count = 0;
  readonly #files = new Set<ScratchFile>();

  constructor(
    readonly folder: string,
    readonly prefix: string,
  ) {}

  /** @throws Error of the file system, such as ENOSPC */
  write(packets: readonly RingPacket[]): GroupRef {
    const bytes = packetsToBytes(packets);
    const file = this.#fileFor();
    let written = 0;
    while (written < bytes.length)
      written += writeSync(file.descriptor, bytes, written, bytes.length - written, file.bytes + written);
    const ref = { file, at: file.bytes, length: bytes.length };
    file.bytes += bytes.length;
    file.groups += 1;
    if (file.bytes >= FILE_BYTES) {
      file.full = true;
      this.#current = null;
    }
    return ref;
  }

  read({ file, at, length }: GroupRef): RingPacket[] {
    const bytes = new Uint8Array(length);
    let got = 0;
    while (got < length) {
      const more = readSync(file.descriptor, bytes, got, length - got, at + got);
      if (more === 0) break;
      got += more;
    }
    return packetsFromBytes(bytes.subarray(0, got));
  }

  drop({ file }: GroupRef): void {
    file.groups -= 1;
    if (file.groups === 0 && file.full) this.#remove(file);
  }

  /** Removes all scratch files. */
  close(): void {
    for (const file of this.#files) this.#remove(file);
    this.#current = null;
  }

  #fileFor(): ScratchFile {
    if (this.#current) return this.#current;
    mkdirSync(this.folder, { recursive: true });
    this.#count += 1;
    const name = path.join(this.folder, `${this.prefix}-${this.#count}.groups`);
    this.#current = { name, descriptor: openSync(name, 'w+', 0o600), bytes: 0, groups: 0, full: false };
    this.#files.add(this.#current);
    return this.#current;
  }

  #remove(file: ScratchFile): void {
    closeSync(file.descriptor);
    rmSync(file.name, { force: true });
    this.#files.delete(file);
  }
}
