import { ColourProcess, type ColourSettings } from '../../../core/picture/colour-process';
import type { CubeTable } from '../../../core/picture/cube-table';
import type { Rect } from '../../../core/geometry/rect';
import type { ColourKey, GradeFields } from '../../../core/show/colour-records';
import { ColourGpu } from '../colour-gpu';
import type { DrawContext, PictureSource } from './picture-source';

let chip: ColourGpu | null | undefined;
/** The graphics chip's way of colouring, or null on a machine without one. Opened when first asked for. */
function chipOrNone(): ColourGpu | null {
  if (chip === undefined) chip = ColourGpu.open();
  return chip;
}

/** How a picture is to be coloured; all null for as it is. */
export interface Colouring {
  grade: GradeFields | null;
  key: ColourKey | null;
}

/** No frame shows more of a picture than this, and every point of it costs time. */
const MAX_SIDE = 1920;

/**
 * A source coloured once for each of its pictures, however many layers show it. Where nothing is to be done it hands the
 * source on as it is.
 */
export class ColouredSource implements PictureSource {
  #process: ColourProcess | null = null;
  #colouring: Colouring = { grade: null, key: null };
  #table: CubeTable | null = null;
  #canvas: OffscreenCanvas | null = null;
  #context: DrawContext | null = null;
  #drawn = '';
  #changes = 0;
  /** Output pixels that the whole picture covers at its largest, of late. */
  #wanted = { width: 0, height: 0 };

  constructor(
    readonly inner: PictureSource,
    readonly tableOf: (assetId: string) => CubeTable | null,
  ) {}

  colour(colouring: Colouring): void {
    if (colouring.grade === this.#colouring.grade && colouring.key === this.#colouring.key) return;
    this.#colouring = colouring;
    this.#renew();
  }

  #renew(): void {
    const { grade, key } = this.#colouring;
    this.#changes += 1;
    this.#table = grade?.table ? this.tableOf(grade.table.assetId) : null;
    const settings: ColourSettings = {
      values: grade?.values ?? null,
      table: this.#table,
      strength: grade?.table?.strength ?? 0,
      key,
    };
    this.#process = grade || key ? new ColourProcess(settings) : null;
    if (!this.#process) {
      this.#canvas = null;
      this.#context = null;
    }
  }

  get state() {
    return this.inner.state;
  }

  get message() {
    return this.inner.message;
  }

  get width() {
    return this.inner.width;
  }

  get height() {
    return this.inner.height;
  }

  get hasSound() {
    return this.inner.hasSound;
  }

  get version() {
    return this.inner.version + this.#changes * 1e7;
  }

  advance(seconds: number): void {
    this.inner.advance(seconds);
    this.lateTable();
  }

  /** Takes up a table that was still on its way when the grade came. */
  lateTable(): void {
    const { grade } = this.#colouring;
    if (grade?.table && !this.#table && this.tableOf(grade.table.assetId)) this.#renew();
  }

  setOnAir(onAir: boolean, seconds: number): void {
    this.inner.setOnAir?.(onAir, seconds);
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (!this.#process) return this.inner.draw(context, part, width, height);
    const matrix = context.getTransform();
    const canvas = this.#coloured(
      (width * Math.hypot(matrix.a, matrix.b) * this.width) / part.width,
      (height * Math.hypot(matrix.c, matrix.d) * this.height) / part.height,
    );
    const [sx, sy] = [canvas.width / this.width, canvas.height / this.height];
    context.drawImage(
      canvas,
      part.x * sx,
      part.y * sy,
      part.width * sx,
      part.height * sy,
      0,
      0,
      width,
      height,
    );
  }

  /** The whole picture coloured, for a place where it would be so large. */
  #coloured(width: number, height: number): OffscreenCanvas {
    const scale = Math.min(
      1,
      MAX_SIDE / Math.max(this.width, this.height),
      Math.max(width / this.width, height / this.height),
    );
    // In steps, and never smaller than it was: two frames of different size share one picture.
    const step = (v: number) => Math.max(16, Math.ceil((v * scale) / 32) * 32);
    const size = {
      width: Math.min(Math.ceil(this.width), Math.max(this.#wanted.width, step(this.width))),
      height: Math.min(Math.ceil(this.height), Math.max(this.#wanted.height, step(this.height))),
    };
    this.#wanted = size;
    if (!this.#canvas || this.#canvas.width !== size.width || this.#canvas.height !== size.height) {
      this.#canvas = new OffscreenCanvas(size.width, size.height);
      // Where plain code colours it is read back for every picture: it must not live in a graphics chip.
      this.#context = this.#canvas.getContext('2d', { willReadFrequently: chipOrNone() === null })!;
      this.#drawn = '';
    }
    const now = `${this.version}`;
    if (now === this.#drawn) return this.#canvas;
    this.#drawn = now;
    const context = this.#context!;
    context.clearRect(0, 0, size.width, size.height);
    this.inner.draw(context, { x: 0, y: 0, width: this.width, height: this.height }, size.width, size.height);
    const process = this.#process!;
    const chip = chipOrNone();
    if (chip) {
      const coloured = chip.run(this.#canvas, process.settings);
      context.clearRect(0, 0, size.width, size.height);
      context.drawImage(coloured, 0, 0);
      return this.#canvas;
    }
    const image = context.getImageData(0, 0, size.width, size.height);
    process.run(image.data as Uint8ClampedArray, size.width, size.height);
    context.putImageData(image, 0, 0);
    return this.#canvas;
  }

  /** Mean colour around a point (0…1 each way) of the picture as it comes in; null while it has none. */
  sample(x: number, y: number): [number, number, number] | null {
    if (this.state !== 'ready' || this.width === 0) return null;
    const canvas = new OffscreenCanvas(3, 3);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    const side = Math.max(3, Math.round(Math.min(this.width, this.height) / 90));
    const from = (share: number, length: number) =>
      Math.max(0, Math.min(length - side, share * length - side / 2));
    this.inner.draw(
      context,
      { x: from(x, this.width), y: from(y, this.height), width: side, height: side },
      3,
      3,
    );
    const { data } = context.getImageData(0, 0, 3, 3);
    const mean = (c: number) =>
      Array.from({ length: 9 }, (_, i) => data[i * 4 + c]).reduce((a, b) => a + b) / 9 / 255;
    return [mean(0), mean(1), mean(2)];
  }

  close(): void {
    this.inner.close();
  }
}
