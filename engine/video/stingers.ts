import { coverCrop } from '../../core/geometry/rect';
import { stingersOf } from '../../core/motion/programme';
import type { ShowDocument } from '../../core/show/document';
import { assetUrl } from '../asset-url';
import { LazySource } from './sources/lazy-source';
import type { DrawContext, PictureSource } from './sources/picture-source';

/** From the press to the clip's first picture: its sound is then ready too (ClipsSource). */
export const STINGER_LEAD_SECONDS = 0.15;

/** The clips of all stingers, open before they are needed: a change of scene must not wait for its file. */
export class Stingers {
  readonly #open = new Map<string, PictureSource>();

  setDocument(document: ShowDocument): void {
    const wanted = stingersOf(document);
    for (const [id, source] of this.#open)
      if (!wanted.has(id)) {
        source.close();
        this.#open.delete(id);
      }
    for (const [id, { name }] of wanted)
      if (!this.#open.has(id))
        this.#open.set(
          id,
          new LazySource(async () => {
            const module = await import('./sources/clips-source');
            const options = { order: 'listed', atEnd: 'stop', start: 'on-air' } as const;
            return new module.ClipsSource([{ name, url: assetUrl(id) }], options, () => {});
          }),
        );
  }

  /** Starts a clip from its beginning. @returns why it cannot be, or null when it has begun */
  begin(assetId: string, seconds: number): string | null {
    const source = this.#open.get(assetId);
    if (!source || source.state !== 'ready') return source?.message || 'it is still loading';
    source.setOnAir?.(false, seconds);
    source.setOnAir?.(true, seconds);
    return null;
  }

  advance(seconds: number): void {
    for (const source of this.#open.values()) source.advance(seconds);
  }

  /** Draws the clip over a whole picture, cut where its shape is another. */
  draw(context: DrawContext, assetId: string, width: number, height: number): void {
    const source = this.#open.get(assetId);
    if (source?.state !== 'ready' || source.width === 0) return;
    source.draw(context, coverCrop(source, { width, height }), width, height);
  }
}
