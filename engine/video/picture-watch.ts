import type { InputState } from '../../protocol/engine';
import type { PictureSource } from './sources/picture-source';

const WIDTH = 24;
const HEIGHT = 14;
/**
 * Difference of any one pixel, of 255, that counts as movement. What hangs shows exactly the same picture again; a small
 * train far away, or the noise of a camera, does not.
 */
const MOVED = 1;
/** Mean brightness below which a picture is black. */
const BLACK = 5;
/** Movement is remembered for so long. */
const MEMORY_SECONDS = 8;
/** Each input is looked at so often, as far as the rate of pictures allows. */
const EVERY_SECONDS = 1;

interface Seen {
  pixels: Uint8ClampedArray;
  movedAt: number;
  since: number;
  /** When it was looked at last, and what was seen then. */
  at: number;
  look: InputState['look'];
}

/**
 * Looks at inputs once a second, very small: whether they move, stand still or are black. One at a time, since reading
 * a picture back holds up the one that is being composed.
 */
export class PictureWatch {
  readonly #canvas = new OffscreenCanvas(WIDTH, HEIGHT);
  readonly #context = this.#canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
  readonly #seen = new Map<string, Seen>();

  /** What was seen of an input last; null until it is known. */
  lookOf(id: string): InputState['look'] {
    return this.#seen.get(id)?.look ?? null;
  }

  /** Looks at the one that was not looked at for the longest time, if any is due; those without a picture are forgotten. */
  next(sources: ReadonlyMap<string, PictureSource>, seconds: number): void {
    for (const id of this.#seen.keys()) if (!isShown(sources.get(id))) this.#seen.delete(id);
    let [oldest, at] = ['', seconds - EVERY_SECONDS];
    for (const [id, source] of sources) {
      const seenAt = this.#seen.get(id)?.at ?? -Infinity;
      if (isShown(source) && seenAt <= at) [oldest, at] = [id, seenAt];
    }
    if (oldest !== '') this.#look(oldest, sources.get(oldest)!, seconds);
  }

  #look(id: string, source: PictureSource, seconds: number): void {
    const { width, height } = source;
    this.#context.fillStyle = '#000';
    this.#context.fillRect(0, 0, WIDTH, HEIGHT);
    source.draw(this.#context, { x: 0, y: 0, width, height }, WIDTH, HEIGHT);
    const { data } = this.#context.getImageData(0, 0, WIDTH, HEIGHT);
    const before = this.#seen.get(id);
    let sum = 0;
    let change = 0;
    for (let i = 0; i < data.length; i += 4) {
      const brightness = data[i] * 0.2126 + data[i + 1] * 0.7152 + data[i + 2] * 0.0722;
      sum += brightness;
      if (before)
        change = Math.max(
          change,
          Math.abs(
            brightness -
              (before.pixels[i] * 0.2126 + before.pixels[i + 1] * 0.7152 + before.pixels[i + 2] * 0.0722),
          ),
        );
    }
    const count = WIDTH * HEIGHT;
    const moved = before !== undefined && change > MOVED;
    const movedAt = moved ? seconds : (before?.movedAt ?? -Infinity);
    const since = before?.since ?? seconds;
    this.#seen.set(id, {
      pixels: data,
      movedAt,
      since,
      at: seconds,
      look: lookFrom(sum / count, seconds - movedAt, seconds - since),
    });
  }
}

function isShown(source: PictureSource | undefined): boolean {
  return source !== undefined && source.state === 'ready' && source.width > 0;
}

function lookFrom(brightness: number, stillSeconds: number, knownSeconds: number): InputState['look'] {
  if (brightness < BLACK) return 'black';
  if (stillSeconds < MEMORY_SECONDS) return 'moving';
  return knownSeconds < MEMORY_SECONDS ? null : 'still';
}
