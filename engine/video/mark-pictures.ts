import type { ShownMessage } from '../../core/audience/chat-filter';
import { assetUrl } from '../asset-url';
import { PictureFileSource } from './sources/picture-file-source';
import type { PictureSource } from './sources/picture-source';

/** Emotes open at once; an evening has more, but not on the picture. */
const MAX_EMOTES = 60;

/** A wall of logos has some dozens; what has long not been drawn is closed. */
const MAX_LOGOS = 200;

/** Pictures that stand in drawings: emotes that messages on the picture need, and logos. Animated ones run. */
export class MarkPictures {
  readonly #open = new Map<string, PictureSource>();
  readonly #logos = new Map<string, PictureSource>();

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

  /** A file of the show; opened when it is drawn for the first time, null until it is there. */
  logo(assetId: string): PictureSource | null {
    const source = this.#logos.get(assetId) ?? new PictureFileSource(assetUrl(assetId), true);
    this.#logos.delete(assetId);
    this.#logos.set(assetId, source);
    for (const [id, old] of this.#logos) {
      if (this.#logos.size <= MAX_LOGOS) break;
      old.close();
      this.#logos.delete(id);
    }
    return source.state === 'ready' ? source : null;
  }

  /** Differs whenever one of them does. */
  get version(): number {
    let sum = 0;
    for (const source of this.#open.values()) sum += source.version + (source.state === 'ready' ? 1 : 0);
    return sum;
  }

  advance(seconds: number): void {
    for (const source of this.#open.values()) source.advance(seconds);
    for (const source of this.#logos.values()) source.advance(seconds);
  }
}
