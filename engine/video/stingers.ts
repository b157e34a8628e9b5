import { coverCrop } from '../../core/geometry/rect';
import { stingersOf } from '../../core/motion/programme';
import type { ShowDocument } from '../../core/show/document';
import type { Stinger } from '../../core/show/motion-records';
import { STINGER_LEAD_SECONDS } from '../../protocol/engine';
import { assetUrl } from '../asset-url';
import { LazySource } from './sources/lazy-source';
import { PictureFileSource } from './sources/picture-file-source';
import { fetchAsset, type DrawContext, type PictureSource } from './sources/picture-source';

/** The clips of all stingers, open before they are needed: a change of scene must not wait for its file. */
export class Stingers {
  readonly #open = new Map<string, LazySource<PictureSource>>();

  setDocument(document: ShowDocument): void {
    this.setWanted(stingersOf(document));
  }

  /** @param wanted by the id of their file */
  setWanted(wanted: ReadonlyMap<string, Pick<Stinger, 'name'>>): void {
    for (const [id, source] of this.#open)
      if (!wanted.has(id)) {
        source.close();
        this.#open.delete(id);
      }
    for (const [id, { name }] of wanted)
      if (!this.#open.has(id)) this.#open.set(id, new LazySource(() => openStinger(name, assetUrl(id))));
  }

  /** Starts a clip from its beginning. @returns why it cannot be, or null when it has begun */
  begin(assetId: string, seconds: number): string | null {
    const source = this.#open.get(assetId);
    if (!source || source.state !== 'ready') return source?.message || 'it is still loading';
    source.whenOpen((clip) => {
      if (clip.restart) return clip.restart(seconds + STINGER_LEAD_SECONDS);
      clip.setOnAir?.(false, seconds);
      clip.setOnAir?.(true, seconds);
    });
    return null;
  }

  get caughtUp(): boolean {
    return [...this.#open.values()].every((source) => source.caughtUp);
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

/** A clip, an animated picture or an animation: as the server says what the file is. */
async function openStinger(name: string, url: string): Promise<PictureSource> {
  const mime = (await fetchAsset(url, 'HEAD')).headers.get('content-type')?.split(';')[0] ?? '';
  if (mime.startsWith('image/')) return new PictureFileSource(url, false);
  if (mime === 'application/lottie+json') {
    const module = await import('./sources/lottie-source');
    return new module.LottieSource(url, false, 1);
  }
  const module = await import('./sources/clips-source');
  const options = { order: 'listed', atEnd: 'stop', start: 'on-air' } as const;
  return new module.ClipsSource([{ name, url }], options, () => {});
}
