/**
 * A grade and a key over whole pictures: same results as `grade.ts`, point by point, by the kernel in vector
 * instructions.
 */
import { ColourKernel, type PointOrder } from './colour-kernel/colour-kernel';
import type { ColourSettings } from './colour-settings';
import type { PlaneLayout, PlaneMatrix } from './planes';

/** Colours whole pictures; settings may change, and the process is kept. */
export class ColourProcess {
  readonly #kernel = new ColourKernel();
  #settings: ColourSettings;

  constructor(settings: ColourSettings) {
    this.#settings = settings;
    this.#kernel.set(settings);
  }

  get settings(): ColourSettings {
    return this.#settings;
  }

  set(settings: ColourSettings): void {
    this.#settings = settings;
    this.#kernel.set(settings);
  }

  /**
   * Where the next picture is put: width × height points of red, green, blue and opacity, not multiplied. What was put
   * there before may be gone.
   */
  room(width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
    return this.#kernel.room(width * height);
  }

  /** Colours the picture that was put into the room, in place; it leaves as red, green, blue, opacity. */
  run(width: number, height: number, order: PointOrder = 'RGBA'): void {
    this.#kernel.colour(width * height, order);
    this.#finish(width, height);
  }

  /** As `room`, for a picture that comes in planes of so many bytes; made and coloured by `runPlanes`. */
  planes(width: number, height: number, bytes: number): Uint8Array<ArrayBuffer> {
    return this.#kernel.planes(width * height, bytes);
  }

  /** As `run`, of what was put into `planes`; the picture is in the room then. */
  runPlanes(width: number, height: number, layout: PlaneLayout, matrix: PlaneMatrix): void {
    this.#kernel.colourPlanes(layout, width, height, matrix);
    this.#finish(width, height);
  }

  #finish(width: number, height: number): void {
    const edge = this.settings.key?.edge ?? 0;
    if (edge > 0) this.#kernel.drawIn(width, height, edge);
  }

  /** Colours a picture that lies elsewhere, in place. */
  colour(data: Uint8ClampedArray, width: number, height: number): void {
    const room = this.room(width, height);
    room.set(data);
    this.run(width, height);
    data.set(room);
  }
}
