/**
 * Gentle smoothing of skin: pores and noise go, edges stay, everything that is not skin is left alone.
 *
 * Brightness is filtered by itself as the guide (He, Sun, Tang, "Guided Image Filtering", 2013; with the coefficients on a
 * smaller grid, He, Sun, "Fast Guided Filter", 2015). What is skin is judged by chroma alone: Cb 77…127 and Cr 133…173 of
 * 8-bit BT.601 (Chai, Ngan, "Face segmentation using skin-color map", 1999), here with soft borders.
 */

/** The coefficients are worked out for every so many points each way. */
const GRID = 2;
/** Radius of the filter, of the picture's shorter side: about the size of what should go on a face that fills half of it. */
const RADIUS_SHARE = 0.012;
/** Brightness steps up to about this are taken for texture, 0…1: squared, the filter's epsilon. */
const TEXTURE = 0.08;
const CB = { low: 77, high: 127 } as const;
const CR = { low: 133, high: 173 } as const;
/** How far outside these bounds a colour still counts in part, 8-bit steps. */
const SOFT = 4;
/** BT.601, which the bounds are given in. */
const [LR, LG, LB] = [0.299, 0.587, 0.114];

const within = (v: number, low: number, high: number): number => {
  const inside = Math.min(v - low, high - v) / SOFT + 1;
  return inside <= 0 ? 0 : inside >= 1 ? 1 : inside;
};

/** How much a colour is skin, 0…1. Channels 0…255. */
export function skinShare(r: number, g: number, b: number): number {
  const y = LR * r + LG * g + LB * b;
  const cb = 128 + (b - y) * 0.564;
  const cr = 128 + (r - y) * 0.713;
  return within(cb, CB.low, CB.high) * within(cr, CR.low, CR.high);
}

/** Smooths whole pictures. Keeps its work space from one to the next. */
export class SkinSmoothing {
  #count = 0;
  #mean = new Float32Array(0);
  #square = new Float32Array(0);
  #row = new Float32Array(0);

  /**
   * Smooths a picture in place.
   * @param data red, green, blue, opacity for each point
   * @param strength 0…1
   */
  run(data: Uint8ClampedArray, width: number, height: number, strength: number): void {
    if (strength <= 0 || width < GRID * 2 || height < GRID * 2) return;
    const w = Math.ceil(width / GRID);
    const h = Math.ceil(height / GRID);
    this.#room(w * h, Math.max(w, h));
    const mean = this.#mean;
    const square = this.#square;
    for (let y = 0, i = 0; y < h; y++)
      for (let x = 0; x < w; x++, i++) {
        const at = (Math.min(height - 1, y * GRID) * width + Math.min(width - 1, x * GRID)) * 4;
        const v = (LR * data[at] + LG * data[at + 1] + LB * data[at + 2]) / 255;
        mean[i] = v;
        square[i] = v * v;
      }
    const radius = Math.max(1, Math.round((Math.min(width, height) * RADIUS_SHARE) / GRID));
    this.#box(mean, w, h, radius);
    this.#box(square, w, h, radius);
    // From here on: a in `square`, b in `mean`.
    for (let i = 0; i < w * h; i++) {
      const m = mean[i];
      const variance = Math.max(0, square[i] - m * m);
      const a = variance / (variance + TEXTURE * TEXTURE);
      square[i] = a;
      mean[i] = m * (1 - a);
    }
    this.#box(square, w, h, radius);
    this.#box(mean, w, h, radius);
    for (let y = 0, at = 0; y < height; y++) {
      const row = (y >> 1) * w;
      for (let x = 0; x < width; x++, at += 4) {
        const r = data[at];
        const g = data[at + 1];
        const b = data[at + 2];
        // Most of a picture is no skin: red is the largest part of it.
        if (r <= b || r < 24) continue;
        const share = skinShare(r, g, b);
        if (share === 0) continue;
        const v = LR * r + LG * g + LB * b;
        const i = row + (x >> 1);
        const change = (square[i] * v + mean[i] * 255 - v) * share * strength;
        data[at] = r + change;
        data[at + 1] = g + change;
        data[at + 2] = b + change;
      }
    }
  }

  #room(count: number, side: number): void {
    if (count !== this.#count) {
      this.#count = count;
      this.#mean = new Float32Array(count);
      this.#square = new Float32Array(count);
    }
    if (this.#row.length < side) this.#row = new Float32Array(side);
  }

  /** Means over (2·radius + 1)² points, in place; at the edges of those there are. */
  #box(values: Float32Array, w: number, h: number, radius: number): void {
    for (let y = 0; y < h; y++) this.#line(values, y * w, 1, w, radius);
    for (let x = 0; x < w; x++) this.#line(values, x, w, h, radius);
  }

  #line(values: Float32Array, from: number, step: number, count: number, radius: number): void {
    const row = this.#row;
    for (let i = 0, at = from; i < count; i++, at += step) row[i] = values[at];
    let sum = 0;
    for (let i = 0; i < Math.min(radius, count); i++) sum += row[i];
    for (let i = 0, at = from; i < count; i++, at += step) {
      if (i + radius < count) sum += row[i + radius];
      if (i - radius - 1 >= 0) sum -= row[i - radius - 1];
      const first = i - radius < 0 ? 0 : i - radius;
      const last = i + radius >= count ? count - 1 : i + radius;
      values[at] = sum / (last - first + 1);
    }
  }
}
