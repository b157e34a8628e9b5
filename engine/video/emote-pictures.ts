import type { ShownMessage } from '../../core/audience/chat-filter';
import { PictureFileSource } from './sources/picture-file-source';
import type { PictureSource } from './sources/picture-source';

/** Emotes open at once; an evening has more, but not on the picture. */
const MAX_EMOTES = 60;

/** Pictures of emotes that messages on the picture need; animated ones run. */
export class EmotePictures {
  readonly #open = new Map<string, PictureSource>();

  /** Opens what the newest messages need, and closes what has been out of use longest. */
  want(messages: readonly ShownMessage[]): void {
    for (const { platform, tokens } of messages)
      for (const token of tokens)
        if ('emote' in token) {
          const key = `${platform}/${token.emote}`;
          const source =
            this.#open.get(key) ??
            new PictureFileSource(
              `/files/emotes/${encodeURIComponent(platform)}/${encodeURIComponent(token.emote)}`,
              true,
            );
          // Put last again: the first is the one to go.
          this.#open.delete(key);
          this.#open.set(key, source);
        }
    for (const [key, source] of this.#open) {
      if (this.#open.size <= MAX_EMOTES) break;
      source.close();
      this.#open.delete(key);
    }
  }

  of(platform: string, id: string): PictureSource | null {
    const source = this.#open.get(`${platform}/${id}`);
    return source?.state === 'ready' ? source : null;
  }

  /** Differs whenever one of them does. */
  get version(): number {
    let sum = 0;
    for (const source of this.#open.values()) sum += source.version + (source.state === 'ready' ? 1 : 0);
    return sum;
  }

  advance(seconds: number): void {
    for (const source of this.#open.values()) source.advance(seconds);
  }
}
