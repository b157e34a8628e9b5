/**
 * A picture of two fields made one of a single moment. A camera or an old recorder takes the even lines first and the odd
 * ones a moment later; where something moved meanwhile the odd lines stand out as a comb. There, and only there, they are
 * made anew from the lines around them, so that what stands still keeps all its sharpness.
 */

/** One plane of a picture in its bytes; `rowBytes` of each `stride` are points. */
export interface Plane {
  offset: number;
  stride: number;
  rowBytes: number;
  height: number;
}

/** A point that changed by no more than this since the picture before has not moved: noise of a camera. */
const STILL = 6;
/** A point stands out when it differs from both lines around it in the same direction: the product of both differences. */
const COMB = 100;

/**
 * Writes one plane of `picture` into `out`, which may not be the same memory.
 * @param before the picture before it, as it came; null for the first: then all that looks like a comb is one
 */
export function deinterlacePlane(
  picture: Uint8Array,
  before: Uint8Array | null,
  out: Uint8Array,
  { offset, stride, rowBytes, height }: Plane,
): void {
  for (let y = 0; y < height; y++) {
    const row = offset + y * stride;
    if (y % 2 === 0) {
      out.set(picture.subarray(row, row + rowBytes), row);
      continue;
    }
    const up = row - stride;
    const last = y + 1 === height;
    const down = last ? up : row + stride;
    // With none below the last line, the one above it must stand out between two of the second field.
    const other = y < 3 ? up : row - 2 * stride;
    for (let x = 0; x < rowBytes; x++) {
      const here = picture[row + x];
      const above = picture[up + x];
      const below = picture[down + x];
      const stands = (here - above) * (last ? picture[other + x] - above : here - below) > COMB;
      out[row + x] =
        stands &&
        (before === null ||
          far(here, before[row + x]) ||
          far(above, before[up + x]) ||
          far(below, before[down + x]))
          ? (above + below + 1) >> 1
          : here;
    }
  }
}

function far(a: number, b: number): boolean {
  return a - b > STILL || b - a > STILL;
}
