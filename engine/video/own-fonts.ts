/** Fonts that were brought into the show: loaded as texts ask for them, let go when none does any more. */
import { messageOf } from '../../core/fault';
import { readFontFile } from '../../core/picture/font-file';
import { ownFamily, ownFontsIn } from '../../core/show/fonts';
import type { ShowDocument } from '../../core/show/document';
import { assetUrl } from '../asset-url';
import { fontsThere } from './font-families';
import { fetchAsset } from './sources/picture-source';

interface Asked {
  state: 'coming' | 'ready' | 'failed';
  face: FontFace | null;
}

export class OwnFonts {
  readonly #asked = new Map<string, Asked>();
  /** Differs whenever words may look different from before. */
  version = 0;

  /** @param failed told in words, once for each that cannot be used */
  constructor(
    readonly into: Pick<FontFaceSet, 'add' | 'delete'>,
    readonly failed: (message: string) => void,
  ) {}

  /** Whether everything that texts ask for is there, or will never be. */
  get caughtUp(): boolean {
    return [...this.#asked.values()].every(({ state }) => state !== 'coming');
  }

  setDocument(document: ShowDocument): void {
    const wanted = ownFontsIn(document.values());
    for (const [assetId, { face }] of this.#asked) {
      if (wanted.has(assetId)) continue;
      this.#asked.delete(assetId);
      fontsThere.delete(assetId);
      if (face) this.into.delete(face);
    }
    for (const [assetId, name] of wanted) if (!this.#asked.has(assetId)) void this.#load(assetId, name);
  }

  async #load(assetId: string, name: string): Promise<void> {
    const asked: Asked = { state: 'coming', face: null };
    this.#asked.set(assetId, asked);
    try {
      const bytes = await (await fetchAsset(assetUrl(assetId))).arrayBuffer();
      const { variable } = readFontFile(new Uint8Array(bytes));
      // Of one weight alone the browser makes the others.
      const face = new FontFace(ownFamily(assetId), bytes, variable ? { weight: '1 1000' } : {});
      await face.load();
      // No text asks for it any more.
      if (this.#asked.get(assetId) !== asked) return;
      asked.face = face;
      asked.state = 'ready';
      this.into.add(face);
      fontsThere.add(assetId);
      this.version += 1;
    } catch (error) {
      asked.state = 'failed';
      this.failed(`The font ${name} cannot be used: ${messageOf(error)}`);
    }
  }
}
