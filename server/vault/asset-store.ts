import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { open, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { fileTypeFromFile } from 'file-type';
import { Fault } from '../../core/fault';
import type { Database } from '../db/database';

export interface AssetFacts {
  id: string;
  name: string;
  mime: string;
  bytes: number;
}

/** What may be brought in, by what the bytes say and not the name. */
const PICTURES = ['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'image/avif', 'image/apng'];
const VIDEOS = ['video/mp4', 'video/webm', 'video/matroska', 'video/x-matroska', 'video/quicktime'];
const LIMIT_BYTES = { picture: 64 * 1024 * 1024, video: 8 * 1024 * 1024 * 1024 } as const;

export function assetKind(mime: string): 'picture' | 'video' | null {
  return PICTURES.includes(mime) ? 'picture' : VIDEOS.includes(mime) ? 'video' : null;
}

/** Files named by the hash of their contents; the database holds the facts about them. */
export class AssetStore {
  constructor(
    readonly database: Database,
    readonly folder: string,
  ) {
    mkdirSync(folder, { recursive: true });
  }

  pathOf(id: string): string {
    return path.join(this.folder, id);
  }

  find(id: string): AssetFacts | null {
    return (
      (this.database.prepare('SELECT id, name, mime, bytes FROM asset WHERE id = ?').get(id) as
        AssetFacts | undefined) ?? null
    );
  }

  list(): AssetFacts[] {
    return this.database
      .prepare('SELECT id, name, mime, bytes FROM asset ORDER BY added_ms')
      .all() as AssetFacts[];
  }

  /**
   * Takes a file in as it streams; nothing is kept when it is refused.
   * @throws Fault `asset.*` with what to do about it
   */
  async add(name: string, body: AsyncIterable<Uint8Array>, nowMs: number): Promise<AssetFacts> {
    const shown = path.basename(name).slice(0, 120) || 'file';
    const temporary = path.join(this.folder, `${randomUUID()}.part`);
    try {
      const hash = createHash('sha256');
      let bytes = 0;
      const file = await open(temporary, 'wx', 0o600);
      try {
        for await (const chunk of body) {
          bytes += chunk.length;
          if (bytes > LIMIT_BYTES.video)
            throw new Fault('asset.large', `"${shown}" is larger than 8 GB: make a lighter copy first`);
          hash.update(chunk);
          await file.write(chunk);
        }
      } finally {
        await file.close();
      }
      if (bytes === 0) throw new Fault('asset.empty', `"${shown}" is empty: choose another file`);
      const type = await fileTypeFromFile(temporary);
      const kind = type ? assetKind(type.mime) : null;
      if (!type || !kind)
        throw new Fault(
          'asset.type',
          `"${shown}" is ${type ? `a ${type.ext} file` : 'neither picture nor video'}, whatever its name says. PNG, JPEG, WebP, GIF, AVIF, MP4, MOV, WebM and Matroska can be used.`,
        );
      if (bytes > LIMIT_BYTES[kind])
        throw new Fault(
          'asset.large',
          `"${shown}" is larger than ${LIMIT_BYTES[kind] / 1024 / 1024} MB: make a smaller copy first`,
        );
      const id = hash.digest('hex').slice(0, 40);
      await rename(temporary, this.pathOf(id));
      this.database
        .prepare(
          'INSERT INTO asset (id, name, mime, bytes, added_ms) VALUES (?, ?, ?, ?, ?) ON CONFLICT (id) DO NOTHING',
        )
        .run(id, shown, type.mime, bytes, nowMs);
      return { id, name: shown, mime: type.mime, bytes };
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code;
      if (code === 'ENOSPC')
        throw new Fault('asset.disk', `the disk is full: "${shown}" was not brought in`, { cause: error });
      throw error;
    } finally {
      await rm(temporary, { force: true });
    }
  }

  async exists(id: string): Promise<boolean> {
    return stat(this.pathOf(id)).then(
      () => true,
      () => false,
    );
  }
}
