import { messageOf } from '../../core/fault';
import { LUMA } from '../../core/picture/grade';
import type { LayerMask } from '../../core/show/finish-records';
import { assetUrl } from '../asset-url';
import { fetchAsset } from './sources/picture-source';

/** A mask is stretched and its edges are soft at best: more points than this nobody sees. */
const MAX_SIDE_PX = 1280;

/** Pictures that say where layers are seen: their transparency is how much is seen. Fetched and made once. */
export class MaskPictures {
  readonly #made = new Map<string, OffscreenCanvas | null>();
  /** Differs whenever there is another one. */
  version = 0;

  /** @param onFailure told once, in words, when a picture cannot be used */
  constructor(readonly onFailure: (message: string) => void) {}

  /** The mask, or null while it is not there. */
  get(mask: LayerMask): OffscreenCanvas | null {
    const key = `${mask.assetId}|${mask.by}|${mask.inverted}`;
    const found = this.#made.get(key);
    if (found !== undefined) return found;
    this.#made.set(key, null);
    fetchAsset(assetUrl(mask.assetId))
      .then((response) => response.blob())
      .then(createImageBitmap)
      .then((bitmap) => {
        this.#made.set(key, makeMask(bitmap, mask));
        bitmap.close();
        this.version += 1;
      })
      .catch((error: unknown) =>
        this.onFailure(
          `The mask "${mask.name}" cannot be used, its layer is shown whole: ${messageOf(error)}`,
        ),
      );
    return null;
  }
}

/** White whose transparency is the mask. */
export function makeMask(
  picture: ImageBitmap | OffscreenCanvas,
  { by, inverted }: LayerMask,
): OffscreenCanvas {
  const scale = Math.min(1, MAX_SIDE_PX / Math.max(picture.width, picture.height));
  const canvas = new OffscreenCanvas(
    Math.max(1, Math.round(picture.width * scale)),
    Math.max(1, Math.round(picture.height * scale)),
  );
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const image = context.getImageData(0, 0, canvas.width, canvas.height);
  const { data } = image;
  for (let i = 0; i < data.length; i += 4) {
    const opaque = data[i + 3] / 255;
    // What is transparent in a picture that masks by its brightness is as dark as black.
    const bright = (data[i] * LUMA[0] + data[i + 1] * LUMA[1] + data[i + 2] * LUMA[2]) / 255;
    const seen = by === 'transparency' ? opaque : bright * opaque;
    data[i] = data[i + 1] = data[i + 2] = 255;
    data[i + 3] = Math.round((inverted ? 1 - seen : seen) * 255);
  }
  context.putImageData(image, 0, 0);
  return canvas;
}
