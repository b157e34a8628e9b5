import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileTypeFromBuffer } from 'file-type';
import { Fault } from '../../core/fault';

/** 640 pixels wide they have some tens of kilobytes. */
export const MAX_PICTURE_BYTES = 400 * 1024;

/** What a show looked like when it was last worked on: one JPEG each, made by its desk. */
export class ShowPictures {
  constructor(readonly folder: string) {}

  /** @throws Fault `picture.kind`, `picture.large` */
  async put(showId: string, bytes: Uint8Array): Promise<void> {
    if (bytes.length > MAX_PICTURE_BYTES)
      throw new Fault('picture.large', 'this picture is larger than 400 kB');
    if ((await fileTypeFromBuffer(bytes))?.mime !== 'image/jpeg')
      throw new Fault('picture.kind', 'this is no JPEG picture');
    mkdirSync(this.folder, { recursive: true, mode: 0o700 });
    const part = `${this.#file(showId)}.part`;
    writeFileSync(part, bytes);
    renameSync(part, this.#file(showId));
  }

  /** Null when there is none. */
  find(showId: string): string | null {
    const file = this.#file(showId);
    return existsSync(file) ? file : null;
  }

  /** When it was made, milliseconds since 1970; null when there is none. */
  madeMs(showId: string): number | null {
    const file = this.find(showId);
    return file === null ? null : Math.round(statSync(file).mtimeMs);
  }

  copy(fromId: string, toId: string): void {
    const file = this.find(fromId);
    if (file) writeFileSync(this.#file(toId), readFileSync(file));
  }

  remove(showId: string): void {
    rmSync(this.#file(showId), { force: true });
  }

  #file(showId: string): string {
    return path.join(this.folder, `${showId.replace(/[^\w-]/g, '')}.jpg`);
  }
}
