import { containRect, type Rect } from '../../../core/geometry/rect';
import { fileAt, slidesAt, type ListOrder } from '../../../core/scene/file-order';
import type { InputState } from '../../../protocol/engine';
import {
  boundedBitmap,
  explainFileFailure,
  fetchAsset,
  type DrawContext,
  type PictureSource,
} from './picture-source';
import { ScaledPicture } from './scaled-picture';

/** Slides stand in a picture of this size, whatever their own; the frame's shape is the commonest. */
const WIDTH = 1920;
const HEIGHT = 1080;

interface Slide {
  picture: ScaledPicture | null;
  failure: string | null;
}

/** A slide show: pictures one after another, each fitted whole, faded over one another. Only those that are seen or next are kept decoded. */
export class SlidesSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'loading';
  readonly width = WIDTH;
  readonly height = HEIGHT;
  readonly hasSound = false;
  version = 0;
  readonly #slides = new Map<number, Slide>();
  readonly #failed = new Map<number, string>();
  #startedAt: number | null = null;
  #shown: { file: number; next: number | null; progress: number } = { file: 0, next: null, progress: 0 };
  #closed = false;

  constructor(
    readonly files: readonly { name: string; url: string }[],
    readonly order: ListOrder,
    readonly intervalSeconds: number,
    readonly fadeSeconds: number,
  ) {
    this.#want(new Set([this.#fileAt(0)]));
  }

  advance(seconds: number): void {
    if (this.state !== 'ready') return;
    this.#startedAt ??= seconds;
    const moment = slidesAt(
      seconds - this.#startedAt,
      this.files.length,
      this.intervalSeconds,
      this.fadeSeconds,
    );
    const file = this.#fileAt(moment.place);
    const next = moment.next === null ? null : this.#fileAt(moment.next);
    const before = this.#shown;
    if (before.file !== file || before.next !== next || before.progress !== moment.progress)
      this.version += 1;
    this.#shown = { file, next, progress: moment.progress };
    this.#want(new Set([file, this.#fileAt(moment.place + 1)]));
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    const { file, next, progress } = this.#shown;
    context.save();
    context.beginPath();
    context.rect(0, 0, width, height);
    context.clip();
    const alpha = context.globalAlpha;
    if (next !== null) context.globalAlpha = alpha * (1 - progress);
    this.#slide(context, file, part, width, height);
    if (next !== null) {
      context.globalAlpha = alpha * progress;
      this.#slide(context, next, part, width, height);
    }
    context.restore();
  }

  close(): void {
    this.#closed = true;
    for (const slide of this.#slides.values()) slide.picture?.close();
    this.#slides.clear();
  }

  #fileAt(place: number): number {
    return fileAt(place, this.files.length, this.order, this.files.length);
  }

  #slide(context: DrawContext, file: number, part: Rect, width: number, height: number): void {
    const picture = this.#slides.get(file)?.picture;
    if (!picture) return;
    const { bitmap } = picture;
    const to = containRect(bitmap, { x: 0, y: 0, width: WIDTH, height: HEIGHT });
    const sx = width / part.width;
    const sy = height / part.height;
    context.save();
    context.translate((to.x - part.x) * sx, (to.y - part.y) * sy);
    picture.draw(
      context,
      { x: 0, y: 0, width: bitmap.width, height: bitmap.height },
      to.width * sx,
      to.height * sy,
    );
    context.restore();
  }

  #want(files: ReadonlySet<number>): void {
    for (const [file, slide] of this.#slides)
      if (!files.has(file)) {
        slide.picture?.close();
        this.#slides.delete(file);
      }
    for (const file of files) {
      if (this.#slides.has(file)) continue;
      const slide: Slide = { picture: null, failure: null };
      this.#slides.set(file, slide);
      void this.#load(file, slide);
    }
  }

  async #load(file: number, slide: Slide): Promise<void> {
    try {
      const response = await fetchAsset(this.files[file].url);
      const bitmap = await boundedBitmap(await createImageBitmap(await response.blob()));
      if (this.#closed || this.#slides.get(file) !== slide) return bitmap.close();
      slide.picture = new ScaledPicture(bitmap);
      this.#failed.delete(file);
    } catch (error) {
      this.#failed.set(file, `"${this.files[file].name}" ${explainFileFailure(error)}`);
    }
    if (this.#closed) return;
    this.version += 1;
    // One bad slide is a gap in the show, not its end; it is named all the same.
    this.state = this.#failed.size === this.files.length ? 'failed' : 'ready';
    this.message = [...this.#failed.values()][0] ?? '';
  }
}
