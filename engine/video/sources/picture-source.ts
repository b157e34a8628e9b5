import type { ClipsOrder, InputState, Played } from '../../../protocol/engine';
import type { Rect, Size } from '../../../core/geometry/rect';

export type DrawContext = OffscreenCanvasRenderingContext2D;

/** Where a layer's picture comes from. Sizes are 0 until known. */
export interface PictureSource {
  readonly state: InputState['state'];
  readonly message: string;
  readonly width: number;
  readonly height: number;
  readonly hasSound: boolean;
  /** Differs whenever the picture does: what was drawn at the same version looks the same. */
  readonly version: number;
  /** False while a decoder is still at what comes next; sources that are always ready do not say. */
  readonly caughtUp?: boolean;
  /** Called once for each picture before drawing, so that two layers of one input show the same. */
  advance(seconds: number): void;
  /** Draws the part of the picture (in its own pixels) into (0, 0, width, height). */
  draw(context: DrawContext, part: Rect, width: number, height: number): void;
  /** The whole picture as it was decoded, where `draw` shows just that; the source goes on owning it. */
  frame?(): VideoFrame | null;
  /** Told when the first scene with it comes on air, and when the last one has left. */
  setOnAir?(onAir: boolean, seconds: number): void;
  /** Runs once from its beginning, which is seen at `atSeconds`; nothing is seen before that. */
  restart?(atSeconds: number): void;
  /** Of clips: how far they have come, and what a hand wants of them. */
  readonly played?: Played | null;
  obey?(order: ClipsOrder): void;
  /** Given memory for its sound; may come at any time. */
  attachSound?(ring: SharedArrayBuffer): void;
  close(): void;
}

/** Larger pictures are brought down to this once: no frame shows more, and every picture would pay for it. */
export const MAX_PICTURE_PX = 4096;

/** Why a file cannot be shown, in words for the user. */
export function explainFileFailure(error: unknown): string {
  return `cannot be shown: the file is damaged or of a kind this browser does not know (${error instanceof Error ? error.message : String(error)})`;
}

/** Fetches a stored file. @throws Error with words for the user when it is not there */
export async function fetchAsset(url: string, method: 'GET' | 'HEAD' = 'GET'): Promise<Response> {
  const response = await fetch(url, { method });
  if (!response.ok)
    throw new Error(response.status === 404 ? 'the file is missing' : `status ${response.status}`);
  return response;
}

/** A bitmap no larger than MAX_PICTURE_PX; takes `bitmap` over. */
export async function boundedBitmap(bitmap: ImageBitmap): Promise<ImageBitmap> {
  const longest = Math.max(bitmap.width, bitmap.height);
  if (longest <= MAX_PICTURE_PX) return bitmap;
  const scale = MAX_PICTURE_PX / longest;
  const smaller = await createImageBitmap(bitmap, {
    resizeWidth: Math.max(1, Math.round(bitmap.width * scale)),
    resizeHeight: Math.max(1, Math.round(bitmap.height * scale)),
    resizeQuality: 'high',
  });
  bitmap.close();
  return smaller;
}

/** Clips to the target and scales so that `part` fills it: for sources that paint rather than copy. */
export function intoPart(
  context: DrawContext,
  part: Rect,
  whole: Size,
  width: number,
  height: number,
  paint: (w: number, h: number) => void,
): void {
  const sx = width / part.width;
  const sy = height / part.height;
  const isWhole = part.x === 0 && part.y === 0 && part.width === whole.width && part.height === whole.height;
  context.save();
  // Also for the whole picture: what is painted may reach over its own edge.
  context.beginPath();
  context.rect(0, 0, width, height);
  context.clip();
  if (!isWhole) {
    // Whole pixels: a bitmap that lies between pixels is resampled, which costs ten times a plain copy.
    context.translate(-Math.round(part.x * sx), -Math.round(part.y * sy));
  }
  paint(Math.round(whole.width * sx), Math.round(whole.height * sy));
  context.restore();
}
