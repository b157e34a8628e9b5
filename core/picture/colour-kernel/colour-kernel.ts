/** The compiled kernel with its memory: settings go in when they change, pictures are put into its room and coloured there. */
import { NO_GRADE, type GradeValues } from '../../show/colour-records';
import type { ColourSettings } from '../colour-settings';
import type { CubeTable } from '../cube-table';
import { channelCurve, keyNumbers } from '../grade';
import type { PlaneLayout, PlaneMatrix } from '../planes';
import { KERNEL } from './kernel-binary';

interface Exports {
  memory: WebAssembly.Memory;
  reset(): void;
  setKey(cb: number, cr: number, ub: number, ur: number, gone: number, kept: number, spill: number): void;
  setCurves(saturation: number): void;
  setTable(axes: number, at: number, entries: number, strength: number): void;
  setDomain(r: number, g: number, b: number, perRed: number, perGreen: number, perBlue: number): void;
  colour(at: number, count: number, redAt: 0 | 16): void;
  drawIn(at: number, width: number, height: number, edge: number, room: number): void;
  setMatrix(off: number, y: number, rv: number, gu: number, gv: number, bu: number): void;
  colourPlanes(
    y: number,
    u: number,
    v: number,
    together: boolean,
    strideY: number,
    strideUV: number,
    width: number,
    height: number,
    to: number,
  ): void;
}

/** How the bytes of a point lie. */
export type PointOrder = 'RGBA' | 'BGRA';

const PAGE = 65_536;
/** Entries of one curve: one for each byte and one more to lean on. */
const CURVE = 257;
/** What an entry of a table of three axes is kept as where it is 1: entries go from −8 to 8. */
const ENTRY = 4096;
/** Larger tables would take too long to be mixed anew with each step of a slider; the short way is not theirs either. */
const MIXED_UP_TO = 90;
/** Behind the curves and the kernel's own room. */
const TABLE_AT = 24_576;

/** What is read and written at once may reach this far over the end. */
const SLACK = 64;
/** Rows of numbers in 16 bits that drawing in the edge needs room for. */
const LINES = 5;

let compiled: WebAssembly.Module | null = null;

/** One is kept for long: each takes a large stretch of the addresses a process has. */
export class ColourKernel {
  readonly #exports: Exports;
  #table: CubeTable | null = null;
  /** How much of it is mixed into the entries that are there. */
  #mixed = 1;
  #pictureAt = TABLE_AT;
  #room = new Uint8ClampedArray(0);

  constructor() {
    compiled ??= new WebAssembly.Module(Uint8Array.from(atob(KERNEL), (c) => c.charCodeAt(0)));
    this.#exports = new WebAssembly.Instance(compiled).exports as unknown as Exports;
  }

  /** Other settings, in the same memory: what is in the room is lost. */
  set({ values, table, strength, key }: ColourSettings): void {
    this.#exports.reset();
    if (key) {
      const k = keyNumbers(key);
      this.#exports.setKey(k.cb, k.cr, k.ub, k.ur, k.gone, k.kept, key.spill);
    }
    if (values && changesAnything(values)) {
      const curves = new Float32Array(this.#exports.memory.buffer, 0, 3 * CURVE);
      for (const channel of [0, 1, 2] as const) {
        const curve = channelCurve(values, channel);
        for (let v = 0; v < CURVE; v++) curves[channel * CURVE + v] = curve(Math.min(255, v) / 255);
      }
      this.#exports.setCurves(1 + values.saturation);
    }
    if (table && strength > 0) {
      const { dimensions, size, domain } = table;
      const mixed = dimensions === 3 && size <= MIXED_UP_TO && coversBytes(table) ? strength : 1;
      if (this.#table !== table || this.#mixed !== mixed) this.#bringIn(table, mixed);
      this.#exports.setTable(dimensions, TABLE_AT, size, strength / mixed);
      const per = domain.min.map((min, c) => (size - 1) / (domain.max[c] - min));
      this.#exports.setDomain(...domain.min, ...(per as [number, number, number]));
    }
  }

  /**
   * Puts a table where the kernel looks. A share of it (`mixed`) is mixed into its entries with what they stand for: that
   * comes out of the interpolation unchanged, so it is the same as mixing what comes out, and costs nothing a picture.
   */
  #bringIn(table: CubeTable, mixed: number): void {
    const { dimensions, size, values, domain } = table;
    const count = values.length / 3;
    const bytes = count * (dimensions === 3 ? 8 : 12);
    this.#pictureAt = Math.ceil((TABLE_AT + bytes) / 16) * 16;
    // A point at the end of an axis is looked up with the cell behind it, which counts nothing but must be there.
    this.#reserve(this.#pictureAt + 8 * (1 + size + size * size) + SLACK);
    const { buffer } = this.#exports.memory;
    if (dimensions === 3) {
      const to = new Int16Array(buffer, TABLE_AT, count * 4);
      const own = domain.min.map((min, c) =>
        Array.from(
          { length: size },
          (_, i) => (min + ((domain.max[c] - min) * i) / (size - 1)) * (1 - mixed),
        ),
      );
      // Anew with each step of a slider: nothing is made on the way.
      for (let z = 0, i = 0; z < size; z++)
        for (let y = 0; y < size; y++)
          for (let x = 0; x < size; x++, i++) {
            to[i * 4] = entryOf(own[0][x] + values[i * 3] * mixed);
            to[i * 4 + 1] = entryOf(own[1][y] + values[i * 3 + 1] * mixed);
            to[i * 4 + 2] = entryOf(own[2][z] + values[i * 3 + 2] * mixed);
          }
    } else {
      const to = new Float32Array(buffer, TABLE_AT, count * 3);
      for (let i = 0; i < count; i++) for (let c = 0; c < 3; c++) to[c * size + i] = values[i * 3 + c];
    }
    this.#table = table;
    this.#mixed = mixed;
  }

  #reserve(bytes: number): void {
    const { memory } = this.#exports;
    const missing = bytes - memory.buffer.byteLength;
    if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  }

  /** Where a picture of so many points is put: red, green, blue, opacity, not multiplied. Taken anew for each picture. */
  room(points: number): Uint8ClampedArray<ArrayBuffer> {
    const { memory } = this.#exports;
    this.#reserve(this.#pictureAt + points * 4 + SLACK);
    // Memory that grew is another buffer.
    const { buffer, byteOffset, length } = this.#room;
    if (length !== points * 4 || buffer !== memory.buffer || byteOffset !== this.#pictureAt)
      this.#room = new Uint8ClampedArray(memory.buffer, this.#pictureAt, points * 4);
    return this.#room as Uint8ClampedArray<ArrayBuffer>;
  }

  /** Colours the first points of the room in place; those that come as blue, green, red leave as red, green, blue. */
  colour(points: number, order: PointOrder = 'RGBA'): void {
    this.#exports.colour(this.#pictureAt, points, order === 'RGBA' ? 0 : 16);
  }

  /**
   * Opacity of the picture in the room from the means of 3×3 points, drawn in by `edge` (above 0), see `drawnIn`. What was
   * put into `planes` is lost.
   */
  drawIn(width: number, height: number, edge: number): void {
    const room = this.#planesAt(width * height);
    this.#reserve(room + LINES * 2 * (width + SLACK));
    this.#exports.drawIn(this.#pictureAt, width, height, edge, room);
  }

  /** Where the planes of a picture of so many points are put, so many bytes. Taken anew for each picture. */
  planes(points: number, bytes: number): Uint8Array<ArrayBuffer> {
    const at = this.#planesAt(points);
    this.#reserve(at + bytes + SLACK);
    return new Uint8Array(this.#exports.memory.buffer, at, bytes);
  }

  #planesAt(points: number): number {
    return this.#pictureAt + Math.ceil((points * 4 + SLACK) / 16) * 16;
  }

  /** Makes a picture from what was put into `planes` and colours it: it is in the room then. */
  colourPlanes(
    { y, u, v, ...layout }: PlaneLayout,
    width: number,
    height: number,
    matrix: PlaneMatrix,
  ): void {
    const at = this.#planesAt(width * height);
    const fixed = (part: number) => Math.round(part * 32_768);
    this.#exports.setMatrix(
      matrix.off,
      fixed(matrix.y / 2),
      ...([matrix.rv, matrix.gu, matrix.gv, matrix.bu].map((part) => fixed(part / 4)) as [
        number,
        number,
        number,
        number,
      ]),
    );
    const { together, strideY, strideUV } = layout;
    this.#exports.colourPlanes(
      at + y,
      at + u,
      at + v,
      together,
      strideY,
      strideUV,
      width,
      height,
      this.#pictureAt,
    );
  }
}

const entryOf = (value: number) => Math.max(-32_768, Math.min(32_767, Math.round(value * ENTRY)));

/** Whether none of a byte's values is beyond the ends of a table, where it would be the end's. */
function coversBytes({ domain }: CubeTable): boolean {
  return domain.min.every((min) => min <= 0) && domain.max.every((max) => max >= 1);
}

/** A grade with a table alone has values too, which do nothing and would cost as much as any. */
function changesAnything(values: GradeValues): boolean {
  return (Object.keys(NO_GRADE) as (keyof GradeValues)[]).some((name) => values[name] !== NO_GRADE[name]);
}
