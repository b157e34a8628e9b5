import type { InputState } from '../../protocol/engine';
import type { SimulatedPicture } from '../../core/show/records';
import { createPainter } from '../../standins/inputs/pictures';
import type { Painter } from '../../standins/inputs/pictures/painter';

export type DrawContext = OffscreenCanvasRenderingContext2D;
export interface PartRect {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Where a layer's picture comes from. Sizes are 0 until known. */
export interface PictureSource {
  readonly state: InputState['state'];
  readonly message: string;
  readonly width: number;
  readonly height: number;
  readonly hasSound: boolean;
  /** Called once for each picture before drawing, so that two layers of one input show the same. */
  advance(seconds: number): void;
  /** Draws the part of the picture (in its own pixels) into (0, 0, width, height). */
  draw(context: DrawContext, part: PartRect, width: number, height: number): void;
  close(): void;
}

/** Clips to the target and scales so that `part` fills it: for sources that paint rather than copy. */
function intoPart(
  context: DrawContext,
  part: PartRect,
  whole: { width: number; height: number },
  width: number,
  height: number,
  paint: (w: number, h: number) => void,
): void {
  const sx = width / part.width;
  const sy = height / part.height;
  const isWhole = part.x === 0 && part.y === 0 && part.width === whole.width && part.height === whole.height;
  context.save();
  if (!isWhole) {
    context.beginPath();
    context.rect(0, 0, width, height);
    context.clip();
    context.translate(-part.x * sx, -part.y * sy);
  }
  paint(whole.width * sx, whole.height * sy);
  context.restore();
}

export class SimulatedSource implements PictureSource {
  readonly state = 'ready';
  readonly message = '';
  readonly hasSound = false;
  readonly #painter: Painter;
  #seconds = 0;

  constructor(picture: SimulatedPicture) {
    this.#painter = createPainter(picture);
  }

  get width(): number {
    return this.#painter.width;
  }

  get height(): number {
    return this.#painter.height;
  }

  advance(seconds: number): void {
    this.#seconds = seconds;
  }

  draw(context: DrawContext, part: PartRect, width: number, height: number): void {
    intoPart(context, part, this.#painter, width, height, (w, h) =>
      this.#painter.paint(context, this.#seconds, w, h),
    );
  }

  close(): void {
    // nothing is held
  }
}

/** A camera, screen or window: frames arrive as a stream, the newest is shown. */
export class TrackSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'waiting for the device';
  width = 0;
  height = 0;
  readonly hasSound = false;
  #frame: VideoFrame | null = null;
  #reader: ReadableStreamDefaultReader<VideoFrame> | null = null;

  constructor(readonly mirrored: boolean) {}

  attach(frames: ReadableStream<VideoFrame>): void {
    void this.#reader?.cancel();
    const reader = frames.getReader();
    this.#reader = reader;
    void this.#read(reader);
  }

  problem(message: string | null): void {
    if (message === null) {
      this.state = this.#frame ? 'ready' : 'waiting';
      this.message = this.#frame ? '' : 'waiting for the device';
      return;
    }
    this.state = 'failed';
    this.message = message;
    this.#frame?.close();
    this.#frame = null;
  }

  async #read(reader: ReadableStreamDefaultReader<VideoFrame>): Promise<void> {
    for (;;) {
      const { done, value } = await reader.read();
      if (done || this.#reader !== reader) {
        value?.close();
        return;
      }
      this.#frame?.close();
      this.#frame = value;
      this.width = value.displayWidth;
      this.height = value.displayHeight;
      this.state = 'ready';
      this.message = '';
    }
  }

  advance(): void {
    // the newest frame is always the right one
  }

  draw(context: DrawContext, part: PartRect, width: number, height: number): void {
    if (!this.#frame) return;
    if (this.mirrored) {
      context.save();
      context.translate(width, 0);
      context.scale(-1, 1);
    }
    context.drawImage(this.#frame, part.x, part.y, part.width, part.height, 0, 0, width, height);
    if (this.mirrored) context.restore();
  }

  close(): void {
    void this.#reader?.cancel();
    this.#reader = null;
    this.#frame?.close();
    this.#frame = null;
  }
}

/** Larger pictures are brought down to this once: no frame shows more, and every picture would pay for it. */
const MAX_PICTURE_PX = 4096;

/** A picture file, decoded off the main thread and scaled once for each size it is shown at. */
export class PictureFileSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'loading';
  width = 0;
  height = 0;
  readonly hasSound = false;
  #bitmap: ImageBitmap | null = null;
  readonly #scaled = new Map<string, OffscreenCanvas>();
  #closed = false;

  constructor(url: string) {
    this.#load(url).catch((error: unknown) => {
      this.state = 'failed';
      this.message = `cannot be shown: the file is damaged or of a kind this browser does not know (${error instanceof Error ? error.message : String(error)})`;
    });
  }

  async #load(url: string): Promise<void> {
    const response = await fetch(url);
    if (!response.ok)
      throw new Error(response.status === 404 ? 'the file is missing' : `status ${response.status}`);
    let bitmap = await createImageBitmap(await response.blob());
    const longest = Math.max(bitmap.width, bitmap.height);
    if (longest > MAX_PICTURE_PX) {
      const scale = MAX_PICTURE_PX / longest;
      const smaller = await createImageBitmap(bitmap, {
        resizeWidth: Math.round(bitmap.width * scale),
        resizeHeight: Math.round(bitmap.height * scale),
        resizeQuality: 'high',
      });
      bitmap.close();
      bitmap = smaller;
    }
    if (this.#closed) return bitmap.close();
    this.#bitmap = bitmap;
    this.width = bitmap.width;
    this.height = bitmap.height;
    this.state = 'ready';
    this.message = '';
  }

  advance(): void {
    // a still stands
  }

  draw(context: DrawContext, part: PartRect, width: number, height: number): void {
    if (!this.#bitmap) return;
    const matrix = context.getTransform();
    const w = Math.max(1, Math.round(width * Math.hypot(matrix.a, matrix.b)));
    const h = Math.max(1, Math.round(height * Math.hypot(matrix.c, matrix.d)));
    const key = [w, h, part.x, part.y, part.width, part.height].map(Math.round).join();
    let scaled = this.#scaled.get(key);
    if (!scaled) {
      scaled = new OffscreenCanvas(w, h);
      const inner = scaled.getContext('2d')!;
      inner.imageSmoothingQuality = 'high';
      inner.drawImage(this.#bitmap, part.x, part.y, part.width, part.height, 0, 0, w, h);
      if (this.#scaled.size >= 4) this.#scaled.delete(this.#scaled.keys().next().value!);
      this.#scaled.set(key, scaled);
    }
    context.drawImage(scaled, 0, 0, width, height);
  }

  close(): void {
    this.#closed = true;
    this.#bitmap?.close();
    this.#bitmap = null;
    this.#scaled.clear();
  }
}
