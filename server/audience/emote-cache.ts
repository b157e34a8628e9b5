import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileTypeFromBuffer, fileTypeFromFile } from 'file-type';
import { Fault } from '../../core/fault';

/** Emotes are small; anything larger is something else. */
const MAX_BYTES = 512 * 1024;
const FETCH_MS = 5000;
const KINDS: ReadonlySet<string> = new Set([
  'image/png',
  'image/apng',
  'image/gif',
  'image/webp',
  'image/avif',
]);
const NAME = /^[\w.-]{1,64}$/;

/** Pictures of emotes, fetched once from the platform they belong to and kept: the page never asks strangers. */
export class EmoteCache {
  readonly #failed = new Map<string, number>();

  constructor(
    readonly folder: string,
    /** Where a platform has the pictures of its emotes; undefined where it has none. */
    readonly addressOf: (platform: string) => string | undefined,
  ) {}

  /**
   * File and kind of an emote.
   * @throws Fault `emote.unknown` when the platform has none of this name, or what it sends is no picture
   */
  async find(platform: string, id: string): Promise<{ file: string; mime: string }> {
    const address = this.addressOf(platform);
    if (!address || !NAME.test(id) || id.startsWith('.'))
      throw new Fault('emote.unknown', `${platform} has no emote ${id}`);
    const file = path.join(this.folder, `${encodeURIComponent(platform)}-${id}`);
    const kept = existsSync(file) ? await fileTypeFromFile(file) : undefined;
    if (kept && KINDS.has(kept.mime)) return { file, mime: kept.mime };
    // A name that led nowhere is not asked for again with every message.
    if ((this.#failed.get(file) ?? 0) > Date.now())
      throw new Fault('emote.unknown', `${platform} has no emote ${id}`);
    try {
      const response = await fetch(address + encodeURIComponent(id), {
        signal: AbortSignal.timeout(FETCH_MS),
        redirect: 'error',
      });
      if (!response.ok) throw new Error(`status ${response.status}`);
      const bytes = new Uint8Array(await response.arrayBuffer());
      if (bytes.length > MAX_BYTES) throw new Error('too large');
      const kind = await fileTypeFromBuffer(bytes);
      if (!kind || !KINDS.has(kind.mime)) throw new Error('not a picture');
      mkdirSync(this.folder, { recursive: true });
      writeFileSync(file, bytes);
      return { file, mime: kind.mime };
    } catch (error) {
      this.#failed.set(file, Date.now() + 60_000);
      throw new Fault('emote.unknown', `the emote ${id} of ${platform} could not be fetched`, {
        cause: error,
      });
    }
  }
}
