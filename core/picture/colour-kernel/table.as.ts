/**
 * Bytes through a table of three axes, eight points at a time: the arithmetic of `cube-table.ts` in vector instructions
 * for the case that is met most, where nothing comes before the table and it reaches over just what bytes can be. Then
 * every place in it is a whole number of 255ths of a cell, and weights are bytes.
 */
import { HELD, held } from './held.as';

/** Points lie apart: eight times red, eight times green, eight times blue, 16 bits each. */
export const APART: usize = 48;
/** Where points lie apart before they are looked up, behind what is held; and how many at most. */
export const APART_AT: usize = 8192;
export const APART_POINTS: i32 = 2048;
/** With more entries to a side, the way across a cell has no room in 16 bits. */
export const MOST_ENTRIES: i32 = 90;
/** Bits below a byte of a sum of entries by their weights, and those of them that are kept until it is rounded. */
const BELOW: i32 = 12;
const KEPT: i32 = 4;
const HALF: i16 = 8;

/** Sets points apart, rounded up to eight; `redAt` as in `colour`. */
export function setApart(at: usize, count: i32, redAt: i32): void {
  const byte = i32x4.splat(255);
  const blueAt = 16 - redAt;
  const end = at + ((<usize>count) << 2);
  for (let to = APART_AT; at < end; at += 32, to += APART) {
    const low = v128.load(at);
    const high = v128.load(at, 16);
    v128.store(
      to,
      i16x8.narrow_i32x4_s(v128.and(i32x4.shr_u(low, redAt), byte), v128.and(i32x4.shr_u(high, redAt), byte)),
    );
    v128.store(
      to,
      i16x8.narrow_i32x4_s(v128.and(i32x4.shr_u(low, 8), byte), v128.and(i32x4.shr_u(high, 8), byte)),
      16,
    );
    v128.store(
      to,
      i16x8.narrow_i32x4_s(v128.and(i32x4.shr_u(low, blueAt), byte), v128.and(i32x4.shr_u(high, blueAt), byte)),
      32,
    );
  }
}

/** The cell a byte is in: `scaled` is the byte by the number of cells, which is divided by 255 (exact below 65,535). */
@inline
function cellOf(scaled: v128, one: v128): v128 {
  return i16x8.shr_u(i16x8.add(i16x8.add(scaled, one), i16x8.shr_u(scaled, 8)), 8);
}

/** Red, green and blue of a point: four entries by their weights, of which two lie together; `lane` in bytes. */
@inline
function mixed(lane: usize, way: u32): v128 {
  const near = load<u32>(HELD + lane, 1536);
  const a = v128.load64_zero(near);
  const b = v128.load64_zero(load<u32>(HELD + lane, 1568));
  const c = v128.load64_zero(load<u32>(HELD + lane, 1600));
  const d = v128.load64_zero(near + way);
  const ab = v128.shuffle<i16>(a, b, 0, 8, 1, 9, 2, 10, 3, 11);
  const cd = v128.shuffle<i16>(c, d, 0, 8, 1, 9, 2, 10, 3, 11);
  const sum = i32x4.add(
    i32x4.dot_i16x8_s(ab, v128.load32_splat(HELD + lane, 1632)),
    i32x4.dot_i16x8_s(cd, v128.load32_splat(HELD + lane, 1664)),
  );
  return i32x4.shr_s(sum, BELOW - KEPT);
}

/** Two points as bytes, still in 16 bits and not cut off. */
@inline
function rounded(a: v128, b: v128, half: v128): v128 {
  return i16x8.shr_s(i16x8.add_sat_s(i16x8.narrow_i32x4_s(a, b), half), KEPT);
}

/**
 * Looks up points that were set apart and puts them, as bytes, from `to` on, rounded up to eight.
 * `solid`: all opaque; else each keeps the opacity that is there.
 */
export function lookUp(to: usize, count: i32, table: usize, size: i32, solid: bool): void {
  const one = held(i16x8.splat(1), 1024);
  const byte = held(i16x8.splat(255), 1040);
  const cells = held(i16x8.splat(<i16>(size - 1)), 1056);
  const row = held(i16x8.splat(<i16>size), 1072);
  const layer = held(i32x4.splat(1 | ((size * size) << 16)), 1088);
  const base = held(i32x4.splat(<i32>table), 1104);
  // Ways from entry to entry, in bytes.
  const dx = held(i16x8.splat(8), 1120);
  const dxy = held(i16x8.splat(<i16>(8 ^ (8 * size))), 1136);
  const dz = held(i16x8.splat(<i16>(8 * size * size)), 1152);
  const far = held(i16x8.splat(<i16>(8 * (1 + size + size * size))), 1168);
  const opaque = held(i32x4.splat(0xff000000), 1184);
  const half = held(i16x8.splat(HALF), 1200);
  const way: u32 = 8 * (1 + size + size * size);
  const end = to + ((<usize>count) << 2);
  for (let from = APART_AT; to < end; to += 32, from += APART) {
    let x = i16x8.mul(v128.load(from), cells);
    let y = i16x8.mul(v128.load(from, 16), cells);
    let z = i16x8.mul(v128.load(from, 32), cells);
    const cx = cellOf(x, one);
    const cy = cellOf(y, one);
    const cz = cellOf(z, one);
    // 255 c + r + c = 256 c + r: what is left of it is how far in the cell the point is.
    x = v128.and(i16x8.add(x, cx), byte);
    y = v128.and(i16x8.add(y, cy), byte);
    z = v128.and(i16x8.add(z, cz), byte);
    const inLayer = i16x8.add(cx, i16x8.mul(cy, row));
    const near0 = i32x4.add(
      base,
      i32x4.shl(i32x4.dot_i16x8_s(v128.shuffle<i16>(inLayer, cz, 0, 8, 1, 9, 2, 10, 3, 11), layer), 3),
    );
    const near1 = i32x4.add(
      base,
      i32x4.shl(i32x4.dot_i16x8_s(v128.shuffle<i16>(inLayer, cz, 4, 12, 5, 13, 6, 14, 7, 15), layer), 3),
    );
    v128.store(HELD + 1536, near0);
    v128.store(HELD + 1552, near1);
    // From the near corner to the far one along the axes in the order of their parts, greatest first.
    const more = i16x8.max_s(x, y);
    const less = i16x8.min_s(x, y);
    const greenFirst = i16x8.gt_s(y, x);
    const zFirst = i16x8.gt_s(z, more);
    const zBeforeLast = i16x8.gt_s(z, less);
    const largerStep = v128.xor(dx, v128.and(dxy, greenFirst));
    const smallerStep = v128.xor(largerStep, dxy);
    const first = v128.bitselect(dz, largerStep, zFirst);
    const third = i16x8.sub(far, v128.bitselect(smallerStep, dz, zBeforeLast));
    v128.store(HELD + 1568, i32x4.add(near0, i32x4.extend_low_i16x8_u(first)));
    v128.store(HELD + 1584, i32x4.add(near1, i32x4.extend_high_i16x8_u(first)));
    v128.store(HELD + 1600, i32x4.add(near0, i32x4.extend_low_i16x8_u(third)));
    v128.store(HELD + 1616, i32x4.add(near1, i32x4.extend_high_i16x8_u(third)));
    // Weights, two beside each other; together 255.
    const high = i16x8.max_s(more, z);
    const low = i16x8.min_s(less, z);
    const middle = i16x8.max_s(less, i16x8.min_s(more, z));
    const wa = i16x8.sub(byte, high);
    const wb = i16x8.sub(high, middle);
    const wc = i16x8.sub(middle, low);
    v128.store(HELD + 1632, v128.shuffle<i16>(wa, wb, 0, 8, 1, 9, 2, 10, 3, 11));
    v128.store(HELD + 1648, v128.shuffle<i16>(wa, wb, 4, 12, 5, 13, 6, 14, 7, 15));
    v128.store(HELD + 1664, v128.shuffle<i16>(wc, low, 0, 8, 1, 9, 2, 10, 3, 11));
    v128.store(HELD + 1680, v128.shuffle<i16>(wc, low, 4, 12, 5, 13, 6, 14, 7, 15));
    // Kept in memory between: else all entries are loaded first, and there is no room for so many.
    v128.store(HELD + 1696, rounded(mixed(0, way), mixed(4, way), half));
    v128.store(HELD + 1712, rounded(mixed(8, way), mixed(12, way), half));
    v128.store(HELD + 1728, rounded(mixed(16, way), mixed(20, way), half));
    v128.store(HELD + 1744, rounded(mixed(24, way), mixed(28, way), half));
    let alphaLow = opaque;
    let alphaHigh = opaque;
    if (!solid) {
      alphaLow = v128.and(v128.load(to), opaque);
      alphaHigh = v128.and(v128.load(to, 16), opaque);
    }
    v128.store(to, v128.or(i8x16.narrow_i16x8_u(v128.load(HELD + 1696), v128.load(HELD + 1712)), alphaLow));
    v128.store(to, v128.or(i8x16.narrow_i16x8_u(v128.load(HELD + 1728), v128.load(HELD + 1744)), alphaHigh), 16);
  }
}
