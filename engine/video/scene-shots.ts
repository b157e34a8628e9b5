/** Small pictures of scenes for those who look on from elsewhere, such as pads. */
import type { ShowDocument } from '../../core/show/document';
import { recordsOf } from '../../core/show/document';
import type { Compositor } from './compositor';
import type { DrawContext } from './sources/picture-source';

/** Long enough for a thumb to tell scenes apart, small enough for a phone's network. */
const LONG_SIDE_PX = 200;
const QUALITY = 0.7;

export class SceneShots {
  #canvas: OffscreenCanvas | null = null;

  constructor(readonly compositor: Compositor) {}

  /** @returns a JPEG of the scene's first frame that is used, as it looks now */
  async take(document: ShowDocument, sceneId: string, seconds: number): Promise<ArrayBuffer | null> {
    const show = recordsOf(document, 'show')[0];
    if (!show || !document.has(sceneId)) return null;
    const frame = show.frames.wide.used ? 'wide' : 'tall';
    const size = show.frames[frame];
    const scale = LONG_SIDE_PX / Math.max(size.width, size.height);
    const [width, height] = [Math.round(size.width * scale), Math.round(size.height * scale)];
    if (this.#canvas?.width !== width || this.#canvas.height !== height)
      this.#canvas = new OffscreenCanvas(width, height);
    const context = this.#canvas.getContext('2d', { alpha: false }) as DrawContext;
    this.compositor.forget(context);
    this.compositor.draw(context, { sceneId, poseId: null }, frame, width, height, seconds);
    const blob = await this.#canvas.convertToBlob({ type: 'image/jpeg', quality: QUALITY });
    return blob.arrayBuffer();
  }
}
