import { randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { open, readFile, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { fileTypeFromFile } from 'file-type';
import { Fault } from '../../core/fault';
import { MAX_CUBE_BYTES, readCube } from '../../core/picture/cube-table';
import { looksLikeFont, MAX_FONT_BYTES, readFontFile } from '../../core/picture/font-file';
import { MAX_LOTTIE_BYTES, readLottie } from '../../core/picture/lottie';
import { pictureSize } from '../../core/picture/picture-size';
import type { Database } from '../db/database';
import { freeBytesOf } from '../free-bytes';
import { fileHash } from './file-hash';

export interface AssetFacts {
  id: string;
  name: string;
  mime: string;
  bytes: number;
}

export interface KeptAsset extends AssetFacts {
  addedMs: number;
  /** Since when no show names it; null while one does, or until somebody looked. */
  unusedMs: number | null;
  /** When it was removed; null when it was not. */
  removedMs: number | null;
}

/** What may be brought in, by what the bytes say and not the name. */
const PICTURES = ['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'image/avif', 'image/apng'];
const VIDEOS = ['video/mp4', 'video/webm', 'video/matroska', 'video/x-matroska', 'video/quicktime'];
const SOUNDS = [
  'audio/wav',
  'audio/vnd.wave',
  'audio/mpeg',
  'audio/ogg',
  'audio/ogg; codecs=opus',
  'audio/opus',
  'audio/flac',
  'audio/x-flac',
  'audio/mp4',
  'audio/x-m4a',
  'audio/aac',
];
/** Not registered; the name the format's community uses for its JSON. */
const LOTTIE = 'application/lottie+json';
const FONTS = ['font/ttf', 'font/otf', 'font/woff', 'font/woff2'];
/** Colour tables have no registered type. */
const CUBE = 'text/x-cube-table';
const LIMIT_BYTES = {
  picture: 64 * 1024 * 1024,
  video: 8 * 1024 * 1024 * 1024,
  sound: 1024 * 1024 * 1024,
  lottie: MAX_LOTTIE_BYTES,
  table: MAX_CUBE_BYTES,
  font: MAX_FONT_BYTES,
} as const;
/** A decoded picture takes four bytes a pixel: more than this would fill the memory of a small machine. */
const MAX_SIDE_PX = 16_384;
const MAX_PIXELS = 100_000_000;
/** Enough to find the size in; JPEGs with large previews have it late. */
const HEAD_BYTES = 512 * 1024;

/** Room that is left free: some minutes of recording. */
const RESERVE_BYTES = 300 * 1024 * 1024;
/** How often the disk is looked at while a file comes. */
const LOOK_BYTES = 64 * 1024 * 1024;

export type AssetKind = keyof typeof LIMIT_BYTES;

export function assetKind(mime: string): AssetKind | null {
  return PICTURES.includes(mime)
    ? 'picture'
    : VIDEOS.includes(mime)
      ? 'video'
      : SOUNDS.includes(mime)
        ? 'sound'
        : mime === LOTTIE
          ? 'lottie'
          : mime === CUBE
            ? 'table'
            : FONTS.includes(mime)
              ? 'font'
              : null;
}

async function headOf(file: string): Promise<Uint8Array> {
  const handle = await open(file, 'r');
  try {
    const { buffer, bytesRead } = await handle.read(new Uint8Array(HEAD_BYTES), 0, HEAD_BYTES, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

/**
 * What the bytes are, whatever the name says.
 * @throws Fault `asset.*`, `lottie.*`, `cube.*` with what to do about it
 */
async function sniff(file: string, shown: string, bytes: number): Promise<{ mime: string; kind: AssetKind }> {
  const type = await fileTypeFromFile(file);
  const head = await headOf(file);
  const start = Buffer.from(head.subarray(0, 400)).toString('utf8').trimStart();
  if (/^<(\?xml|!doctype svg|!--|svg)/i.test(start) && /<svg/i.test(Buffer.from(head).toString('utf8')))
    throw new Fault(
      'asset.svg',
      `"${shown}" is an SVG: bring it in on the Stage, which paints it, or as PNG`,
    );
  if (!type && start.startsWith('{') && bytes <= MAX_LOTTIE_BYTES) {
    readLottie(await readFile(file, 'utf8'));
    return { mime: LOTTIE, kind: 'lottie' };
  }
  if (!type && /^LUT_[13]D_SIZE\s/m.test(Buffer.from(head).toString('latin1')) && bytes <= MAX_CUBE_BYTES) {
    readCube(await readFile(file, 'utf8'));
    return { mime: CUBE, kind: 'table' };
  }
  if (looksLikeFont(head) && bytes <= MAX_FONT_BYTES)
    return { mime: `font/${readFontFile(await readFile(file)).format}`, kind: 'font' };
  const kind = type ? assetKind(type.mime) : null;
  if (!type || !kind)
    throw new Fault(
      'asset.type',
      `"${shown}" is ${type ? `a ${type.ext} file` : 'neither picture, video nor sound'}, whatever its name says. PNG, JPEG, WebP, GIF, AVIF, Lottie JSON, .cube tables, MP4, MOV, WebM, Matroska, WAV, MP3, Ogg, FLAC, M4A and fonts (TTF, OTF, WOFF) can be used.`,
    );
  const size = kind === 'picture' ? pictureSize(head) : null;
  if (
    size &&
    (size.width > MAX_SIDE_PX || size.height > MAX_SIDE_PX || size.width * size.height > MAX_PIXELS)
  )
    throw new Fault(
      'asset.pixels',
      `"${shown}" has ${size.width} × ${size.height} pixels, more than any frame can show: make a copy of at most ${MAX_SIDE_PX} px a side and 100 megapixels`,
    );
  return { mime: type.mime, kind };
}

/** Files named by the hash of their contents; the database holds the facts about them. */
export class AssetStore {
  constructor(
    readonly database: Database,
    readonly folder: string,
    readonly freeBytes: (folder: string) => number | null = freeBytesOf,
  ) {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
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

  /** All that were brought in, those that were removed and can be brought back among them; the newest first. */
  list(): KeptAsset[] {
    return this.database
      .prepare(
        `SELECT id, name, mime, bytes, added_ms AS addedMs, unused_ms AS unusedMs, removed_ms AS removedMs
         FROM asset ORDER BY added_ms DESC, id`,
      )
      .all() as KeptAsset[];
  }

  /** Since when no show names it, or when it was removed; null takes it back. */
  stamp(id: string, what: 'unused' | 'removed', atMs: number | null): void {
    // The column comes from a closed list of names.
    this.database.prepare(`UPDATE asset SET ${what}_ms = ? WHERE id = ?`).run(atMs, id);
  }

  /** For good. */
  async delete(id: string): Promise<void> {
    this.database.prepare('DELETE FROM asset WHERE id = ?').run(id);
    await rm(this.pathOf(id), { force: true });
  }

  /**
   * Takes a file in as it streams; nothing is kept when it is refused.
   * @param expected how long it says it is, bytes; null when it does not say
   * @throws Fault `asset.*` with what to do about it
   */
  async add(
    name: string,
    body: AsyncIterable<Uint8Array>,
    nowMs: number,
    expected: number | null = null,
  ): Promise<AssetFacts> {
    const shown = path.basename(name).slice(0, 120) || 'file';
    this.#mustFit(shown, expected ?? 0);
    const temporary = path.join(this.folder, `${randomUUID()}.part`);
    const hash = fileHash(expected);
    try {
      let bytes = 0;
      let lookAt = LOOK_BYTES;
      const file = await open(temporary, 'wx', 0o600);
      try {
        for await (const chunk of body) {
          bytes += chunk.length;
          // One that says less than it is, or nothing at all.
          if (bytes > lookAt) {
            this.#mustFit(shown, 0);
            lookAt = bytes + LOOK_BYTES;
          }
          if (bytes > LIMIT_BYTES.video)
            throw new Fault('asset.large', `"${shown}" is larger than 8 GB: make a lighter copy first`);
          // The disk writes while the sum is made.
          await Promise.all([file.write(chunk), hash.add(chunk)]);
        }
      } finally {
        await file.close();
      }
      if (bytes === 0) throw new Fault('asset.empty', `"${shown}" is empty: choose another file`);
      const { mime, kind } = await sniff(temporary, shown, bytes);
      if (bytes > LIMIT_BYTES[kind])
        throw new Fault(
          'asset.large',
          `"${shown}" is larger than ${LIMIT_BYTES[kind] / 1024 / 1024} MB: make a smaller copy first`,
        );
      const id = (await hash.done()).slice(0, 40);
      await rename(temporary, this.pathOf(id));
      this.database
        .prepare(
          'INSERT INTO asset (id, name, mime, bytes, added_ms) VALUES (?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET removed_ms = NULL, unused_ms = NULL',
        )
        .run(id, shown, mime, bytes, nowMs);
      return { id, name: shown, mime, bytes };
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code;
      if (code === 'ENOSPC')
        throw new Fault('asset.disk', `the disk is full: "${shown}" was not brought in`, { cause: error });
      throw error;
    } finally {
      hash.close();
      await rm(temporary, { force: true });
    }
  }

  /** What is brought in must not take the room that a broadcast records in. @throws Fault `asset.disk` */
  #mustFit(shown: string, bytes: number): void {
    const free = this.freeBytes(this.folder);
    if (free !== null && free - bytes < RESERVE_BYTES)
      throw new Fault(
        'asset.disk',
        `the disk is nearly full: "${shown}" was not brought in, so that a broadcast can still be recorded. Make room first`,
      );
  }

  async exists(id: string): Promise<boolean> {
    return stat(this.pathOf(id)).then(
      () => true,
      () => false,
    );
  }
}
