import type { PointOrder } from '../../../core/picture/colour-kernel/colour-kernel';
import { ColourProcess } from '../../../core/picture/colour-process';
import type { ColourSettings } from '../../../core/picture/colour-settings';
import { planeMatrix, type PlaneLayout } from '../../../core/picture/planes';
import { SkinSmoothing } from '../../../core/picture/skin-smoothing';
import type { CubeTable } from '../../../core/picture/cube-table';
import type { Rect, Size } from '../../../core/geometry/rect';
import type { ColourKey, GradeFields } from '../../../core/show/colour-records';
import { ColourGpu } from '../colour-gpu';
import type { DrawContext, PictureSource } from './picture-source';

let chip: ColourGpu | null | undefined;
/** The graphics chip's way of colouring, or null on a machine without one. Opened when first asked for. */
function chipOrNone(): ColourGpu | null {
  if (chip === undefined)
    try {
      chip = ColourGpu.open();
    } catch (error) {
      // A driver that cannot make the program: plain code does the same, and says so where developers look.
      console.warn(error);
      chip = null;
    }
  if (chip?.lost) chip = null;
  return chip;
}

/** How a picture is to be coloured; all null for as it is. */
export interface Colouring {
  grade: GradeFields | null;
  key: ColourKey | null;
}

/** How often it is looked at whether a smaller picture would do. */
const LOOK_SECONDS = 2;
/** No frame shows more of a picture than this, and every point of it costs time. */
const MAX_SIDE = 1920;
/** Points read back at once. */
const STRIP_POINTS = 38_400;

/**
 * A source coloured once for each of its pictures, however many layers show it. Where nothing is to be done it hands the
 * source on as it is.
 */
export class ColouredSource implements PictureSource {
  #process: ColourProcess | null = null;
  #smoothing: SkinSmoothing | null = null;
  #colouring: Colouring = { grade: null, key: null };
  #table: CubeTable | null = null;
  #canvas: OffscreenCanvas | null = null;
  #context: DrawContext | null = null;
  #drawn = '';
  #changes = 0;
  #readsBack = false;
  /** Pixels that it is coloured in, and the largest that anybody asked for since it was last looked at. */
  #size = { width: 0, height: 0 };
  #largest = { width: 0, height: 0 };
  #lookedAt = 0;
  /** Drawn since it was last prepared: what nobody looks at is not coloured. */
  #asked = false;
  /** Copying out has failed once: this kind of picture is drawn. */
  #uncopied = false;

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
    if (!grade && !key) this.#process = null;
    else if (this.#process) this.#process.set(settings);
    else this.#process = new ColourProcess(settings);
    const smooths = grade !== null && grade.smoothing > 0;
    this.#smoothing = smooths ? (this.#smoothing ?? new SkinSmoothing()) : null;
    // Read back from here on, or no longer.
    if (smooths !== this.#readsBack && chipOrNone() !== null) this.#canvas = null;
    this.#readsBack = smooths;
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
    this.refresh(seconds);
  }

  /** Takes up a table that was still on its way, and what places there still are; `advance` does it too. */
  refresh(seconds: number): void {
    const { grade } = this.#colouring;
    if (grade?.table && !this.#table && this.tableOf(grade.table.assetId)) this.#renew();
    if (Math.abs(seconds - this.#lookedAt) < LOOK_SECONDS) return;
    this.#lookedAt = seconds;
    if (this.#largest.width > 0) this.#size = this.#largest;
    this.#largest = { width: 0, height: 0 };
  }

  setOnAir(onAir: boolean, seconds: number): void {
    this.inner.setOnAir?.(onAir, seconds);
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (!this.#process) return this.inner.draw(context, part, width, height);
    this.#asked = true;
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
    // As large as its largest place: there it is copied, which takes a tenth of scaling it.
    const asked = {
      width: Math.max(2, Math.round(this.width * scale)),
      height: Math.max(2, Math.round(this.height * scale)),
    };
    this.#largest = largerOf(this.#largest, asked);
    const size = largerOf(this.#size, asked);
    this.#size = size;
    if (!this.#canvas || this.#canvas.width !== size.width || this.#canvas.height !== size.height) {
      this.#canvas = new OffscreenCanvas(size.width, size.height);
      // Where plain code colours it is read back for every picture: it must not live in a graphics chip.
      this.#context = this.#canvas.getContext('2d', {
        willReadFrequently: this.#smoothing !== null || chipOrNone() === null,
      })!;
      this.#drawn = '';
    }
    const now = `${this.version}`;
    if (now === this.#drawn) return this.#canvas;
    this.#drawn = now;
    const context = this.#context!;
    // Smoothing looks at what is around each point, by plain code only; what is read back is coloured there too.
    const chip = this.#smoothing ? null : chipOrNone();
    this.#drawInner(context, size);
    const process = this.#process!;
    if (chip) {
      const coloured = chip.run(this.#canvas, process.settings);
      context.clearRect(0, 0, size.width, size.height);
      context.drawImage(coloured, 0, 0);
      return this.#canvas;
    }
    const room = process.room(size.width, size.height);
    // In strips: memory for a whole large picture comes from the system anew each time, which takes as long as drawing it.
    const rows = Math.max(1, Math.floor(STRIP_POINTS / size.width));
    for (let y = 0; y < size.height; y += rows) {
      const strip = context.getImageData(0, y, size.width, Math.min(rows, size.height - y));
      room.set(strip.data, y * size.width * 4);
    }
    this.#colourRoom(context, size, 'RGBA');
    return this.#canvas;
  }

  #drawInner(context: DrawContext, { width, height }: Size): void {
    context.clearRect(0, 0, width, height);
    this.inner.draw(context, { x: 0, y: 0, width: this.width, height: this.height }, width, height);
  }

  /** Colours what was put into the process's room and puts it on the canvas. */
  #colourRoom(context: DrawContext, { width, height }: Size, order: PointOrder): void {
    const process = this.#process!;
    const room = process.room(width, height);
    if (order === 'RGBA') this.#smoothing?.run(room, width, height, this.#colouring.grade?.smoothing ?? 0);
    process.run(width, height, order);
    this.#put(context, { width, height });
  }

  /** What lies coloured in the process's room goes on the canvas. */
  #put(context: DrawContext, { width, height }: Size): void {
    context.putImageData(new ImageData(this.#process!.room(width, height), width, height), 0, 0);
  }

  /**
   * Colours the present picture ahead of its drawing, where plain code does it: what was drawn is then copied out by the
   * browser's own means, which takes a fraction of the time that `draw` needs to read it back. Null when there is
   * nothing to be done ahead; `draw` shows the same either way.
   */
  prepare(): Promise<void> | null {
    const { width, height } = this.#size;
    const asked = this.#asked;
    this.#asked = false;
    if (!asked || this.#uncopied || !this.#process || this.#smoothing || width === 0 || chipOrNone() !== null)
      return null;
    if (this.#canvas?.width !== width || this.#canvas.height !== height) return null;
    return `${this.version}` === this.#drawn ? null : this.#prepared(this.#canvas, { width, height });
  }

  async #prepared(canvas: OffscreenCanvas, size: Size): Promise<void> {
    const version = `${this.version}`;
    const process = this.#process!;
    const context = this.#context!;
    // Changed while it was copied: left to the drawing.
    const same = () => this.#process === process && this.#canvas === canvas && `${this.version}` === version;
    let frame: VideoFrame | null = null;
    try {
      // Cloned: its source may close it meanwhile.
      frame = this.#wholeFrame(size)?.clone() ?? null;
      if (frame && (await this.#fromPlanes(process, frame, size, same))) {
        if (!same()) return;
        this.#put(context, size);
        this.#drawn = version;
        return;
      }
      let order: PointOrder = 'RGBA';
      if (!frame) {
        // Not coloured yet.
        this.#drawn = '';
        this.#drawInner(context, size);
        frame = new VideoFrame(canvas, { timestamp: 0 });
        order = 'BGRA';
      }
      if (order === 'BGRA' && frame.format !== 'BGRA') return;
      const room = process.room(size.width, size.height);
      await frame.copyTo(room, { format: order });
      if (!same()) return;
      // A canvas keeps its points multiplied by their opacity: only where all are opaque are they what was drawn.
      if (order === 'BGRA' && !allOpaque(room)) return;
      this.#colourRoom(context, size, order);
      this.#drawn = version;
    } catch (error) {
      // Settings that came meanwhile may have moved the memory it was copied to: that says nothing of the picture.
      if (!same()) return;
      // A kind of picture that the browser cannot copy out: drawing it takes longer and shows the same.
      this.#uncopied = true;
      console.warn(error);
    } finally {
      frame?.close();
    }
  }

  /**
   * Copies a picture out as it was decoded and makes red, green and blue of it here, in a fraction of the time the
   * browser takes for that. @returns whether it was such a picture; it is coloured in the room then, if it is still wanted
   */
  async #fromPlanes(
    process: ColourProcess,
    frame: VideoFrame,
    { width, height }: Size,
    wanted: () => boolean,
  ): Promise<boolean> {
    const { matrix, fullRange, primaries, transfer } = frame.colorSpace;
    const together = frame.format === 'NV12';
    const numbers = planeMatrix({ matrix, fullRange, primaries, transfer });
    if (!numbers || (frame.format !== 'I420' && !together)) return false;
    const planes = await frame.copyTo(process.planes(width, height, frame.allocationSize()));
    if (!wanted()) return true;
    const layout: PlaneLayout = {
      y: planes[0].offset,
      strideY: planes[0].stride,
      u: planes[1].offset,
      strideUV: planes[1].stride,
      v: together ? planes[1].offset + 1 : planes[2].offset,
      together,
    };
    process.runPlanes(width, height, layout, numbers);
    return true;
  }

  /** The picture as it was decoded, where it is coloured at just its size. */
  #wholeFrame({ width, height }: Size): VideoFrame | null {
    const frame = this.inner.frame?.() ?? null;
    const visible = frame?.visibleRect;
    // Copied out it would not be turned; in newer browsers only.
    const { rotation, flip } = (frame ?? {}) as { rotation?: number; flip?: boolean };
    const same =
      !rotation &&
      !flip &&
      visible?.width === width &&
      visible.height === height &&
      frame?.displayWidth === width &&
      frame.displayHeight === height;
    return same ? frame : null;
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

function allOpaque(points: Uint8ClampedArray): boolean {
  const whole = new Int32Array(points.buffer, points.byteOffset, points.length / 4);
  let all = -1;
  for (let i = 0; i < whole.length; i++) all &= whole[i];
  return all >>> 24 === 255;
}

function largerOf<S extends { width: number; height: number }>(a: S, b: S): S {
  return a.width >= b.width ? a : b;
}
