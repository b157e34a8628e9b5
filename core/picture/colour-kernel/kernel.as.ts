/**
 * What becomes of the points of a picture, four at a time: the arithmetic of `grade.ts` and `cube-table.ts` in vector
 * instructions. In AssemblyScript; `npm run kernel` compiles it into `kernel-binary.ts`, and a test sees to it that the
 * two are of one age.
 *
 * Memory: curves from 0, what is held and points that were set apart behind them, the table, the picture, and its planes
 * where it comes in such; `ColourKernel` lays it out.
 */

import { HELD, held } from './held.as';
import { fromPlanes } from './planes.as';
import { APART_POINTS, MOST_ENTRIES, lookUp, setApart } from './table.as';

export { drawIn } from './edge.as';
export { setMatrix } from './planes.as';

/** Adding this leaves a number's nearest whole one in the low bits of its representation. */
const WHOLE: f32 = 8388608.0;
const WHOLE_BITS: i32 = 0x4b000000;
/** Of brightness, ITU-R BT.709, section 3.2; and what makes blue and red differences of it (section 3.4). */
const LR: f32 = 0.2126;
const LG: f32 = 0.7152;
const LB: f32 = 0.0722;
const TO_B: f32 = 1.0 / (2.0 * (1.0 - LB));
const TO_R: f32 = 1.0 / (2.0 * (1.0 - LR));
/** What an entry of a table of three axes is where it is 1. */
const ENTRY: f32 = 4096.0;
/** Bits of a place within a cell of it, and of the sum of the weights of its corners. */
const PLACE_BITS: i32 = 15;
/** Bytes of one curve: 257 entries. */
const CURVE: usize = 257 * 4;
/** Points made from planes and coloured in one go: they stay in the processor's nearest memory meanwhile. */
const STRIP_POINTS: i32 = 8192;

let hasKey: bool = false;
let keyCb: f32 = 0;
let keyCr: f32 = 0;
let keyUb: f32 = 0;
let keyUr: f32 = 0;
let keyGone: f32 = 0;
let keySlope: f32 = 0;
let spill: f32 = 0;
let hasCurves: bool = false;
let saturation: f32 = 1;
let dimensions: i32 = 0;
let table: usize = 0;
let size: i32 = 2;
let strength: f32 = 1;
let minR: f32 = 0;
let minG: f32 = 0;
let minB: f32 = 0;
let perR: f32 = 0;
let perG: f32 = 0;
let perB: f32 = 0;

/** Back to what changes nothing. */
export function reset(): void {
  hasKey = false;
  hasCurves = false;
  saturation = 1;
  dimensions = 0;
  size = 2;
  strength = 1;
}

export function setKey(cb: f32, cr: f32, ub: f32, ur: f32, gone: f32, kept: f32, cast: f32): void {
  hasKey = true;
  keyCb = cb;
  keyCr = cr;
  keyUb = ub;
  keyUr = ur;
  keyGone = gone;
  keySlope = 1.0 / (kept - gone);
  spill = cast;
}

export function setCurves(saturated: f32): void {
  hasCurves = true;
  saturation = saturated;
}

/**
 * A line for each channel (1 axis, 32-bit floating point), or entries of four 16-bit numbers, 4096 being 1, red changing
 * fastest (3 axes). What lies up to a cell behind its end is read, but does not count.
 */
export function setTable(axes: i32, at: usize, entries: i32, share: f32): void {
  dimensions = axes;
  table = at;
  size = entries;
  strength = share;
}

/** Least input, and entries for one unit of it. */
export function setDomain(r: f32, g: f32, b: f32, perRed: f32, perGreen: f32, perBlue: f32): void {
  minR = r;
  minG = g;
  minB = b;
  perR = perRed;
  perG = perGreen;
  perB = perBlue;
}

@inline
function within(v: v128, zero: v128, one: v128): v128 {
  return f32x4.pmin(f32x4.pmax(v, zero), one);
}

@inline
function lumaOf(r: v128, g: v128, b: v128, lr: v128, lg: v128, lb: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, lr), f32x4.mul(g, lg)), f32x4.mul(b, lb));
}

/** Four entries, 4 bytes each, by their numbers. */
@inline
function gather(at: usize, index: v128): v128 {
  let out = v128.load32_zero(at + ((<usize>i32x4.extract_lane(index, 0)) << 2));
  out = v128.load_lane<u32>(at + ((<usize>i32x4.extract_lane(index, 1)) << 2), out, 1);
  out = v128.load_lane<u32>(at + ((<usize>i32x4.extract_lane(index, 2)) << 2), out, 2);
  return v128.load_lane<u32>(at + ((<usize>i32x4.extract_lane(index, 3)) << 2), out, 3);
}

/** The whole number below `v`, no higher than `below`; where `v` is whole it may be the one before. */
@inline
function cellOf(v: v128, below: v128, zero: v128, half: v128, whole: v128): v128 {
  return f32x4.sub(f32x4.add(f32x4.pmin(f32x4.pmax(f32x4.sub(v, half), zero), below), whole), whole);
}

/** Straight between two entries of a line, at `v` entries from its beginning. */
@inline
function onLine(at: usize, v: v128, below: v128, zero: v128, half: v128, whole: v128, bits: v128): v128 {
  const cell = cellOf(v, below, zero, half, whole);
  const index = i32x4.sub(f32x4.add(cell, whole), bits);
  const low = gather(at, index);
  return f32x4.add(low, f32x4.mul(f32x4.sub(gather(at + 4, index), low), f32x4.sub(v, cell)));
}

/** Places of points in a table along one axis. */
@inline
function placeOf(
  v: v128,
  from: v128,
  step: v128,
  perPlace: v128,
  zero: v128,
  endPlaces: v128,
  whole: v128,
  bits: v128,
): v128 {
  const place = f32x4.mul(f32x4.mul(f32x4.sub(v, from), step), perPlace);
  return i32x4.sub(f32x4.add(within(place, zero, endPlaces), whole), bits);
}

/**
 * Red, green and blue of a point, in the measure of the entries: four entries by their weights, those of the first two
 * and of the last two in one lane each. `lane`: of the addresses that are held, in bytes; `way`: from the first entry to
 * the last.
 */
@inline
function mixed(lane: usize, way: u32, wab: v128, wcd: v128): v128 {
  const near = load<u32>(HELD + lane, 848);
  const a = v128.load64_zero(near);
  const b = v128.load64_zero(load<u32>(HELD + lane, 864));
  const c = v128.load64_zero(load<u32>(HELD + lane, 880));
  const d = v128.load64_zero(near + way);
  const ab = v128.shuffle<i16>(a, b, 0, 8, 1, 9, 2, 10, 3, 11);
  const cd = v128.shuffle<i16>(c, d, 0, 8, 1, 9, 2, 10, 3, 11);
  return i32x4.shr_s(i32x4.add(i32x4.dot_i16x8_s(ab, wab), i32x4.dot_i16x8_s(cd, wcd)), PLACE_BITS);
}

/**
 * Whether bytes go straight to their places in a table and nothing else is done: it reaches just over them, and is small
 * enough for the short way.
 */
function isBytesOnly(): bool {
  return (
    dimensions == 3 &&
    size <= MOST_ENTRIES &&
    strength == 1.0 &&
    !hasKey &&
    !hasCurves &&
    saturation == 1.0 &&
    minR == 0.0 &&
    minG == 0.0 &&
    minB == 0.0 &&
    perR == <f32>(size - 1) &&
    perG == perR &&
    perB == perR
  );
}

/** Colours a picture from its planes; `to`: where it goes. Planes as in `fromPlanes`. */
export function colourPlanes(
  y: usize,
  u: usize,
  v: usize,
  together: bool,
  strideY: i32,
  strideUV: i32,
  width: i32,
  height: i32,
  to: usize,
): void {
  const bytesOnly = isBytesOnly() && width <= APART_POINTS;
  const most = bytesOnly ? 1 : max(1, STRIP_POINTS / width);
  for (let row = 0; row < height; row += most) {
    const rows = min(most, height - row);
    fromPlanes(y, u, v, together, strideY, strideUV, width, row, rows, bytesOnly, to);
    if (bytesOnly) lookUp(to, width, table, size, true);
    else colour(to, rows * width, 0);
    to += (<usize>(rows * width)) << 2;
  }
}

/**
 * Colours `count` points in place, rounded up to eight.
 * `redAt`: bits below red, 0 for red, green, blue and 16 for blue, green, red; it leaves red first.
 */
export function colour(at: usize, count: i32, redAt: i32): void {
  if (!isBytesOnly()) return colourAny(at, count, redAt);
  for (; count > 0; count -= APART_POINTS, at += APART_POINTS << 2) {
    const some = min(count, APART_POINTS);
    setApart(at, some, redAt);
    lookUp(at, some, table, size, false);
  }
}

/** The same whatever the settings. Exported so that it stays a function of its own, in which there is room for its numbers. */
export function colourAny(at: usize, count: i32, redAt: i32): void {
  const end = at + ((<usize>count) << 2);
  const byte = held(i32x4.splat(255), 0);
  const opaque = held(i32x4.splat(0xff000000), 16);
  const whole = held(f32x4.splat(WHOLE), 32);
  const bits = held(i32x4.splat(WHOLE_BITS), 48);
  const zero = held(f32x4.splat(0.0), 64);
  const half = held(f32x4.splat(0.5), 80);
  const one = held(f32x4.splat(1.0), 96);
  const toUnit = held(f32x4.splat(1.0 / 255.0), 112);
  const steps = held(f32x4.splat(255.0), 128);
  const lr = held(f32x4.splat(LR), 144);
  const lg = held(f32x4.splat(LG), 160);
  const lb = held(f32x4.splat(LB), 176);
  const saturated = held(f32x4.splat(saturation), 192);
  const fromR = held(f32x4.splat(minR), 208);
  const fromG = held(f32x4.splat(minG), 224);
  const fromB = held(f32x4.splat(minB), 240);
  const stepR = held(f32x4.splat(perR), 256);
  const stepG = held(f32x4.splat(perG), 272);
  const stepB = held(f32x4.splat(perB), 288);
  const last = held(f32x4.splat(<f32>(size - 1)), 304);
  const below = held(f32x4.splat(<f32>(size - 2)), 320);
  // A place in the table: its cell above PLACE_BITS, its part within the cell below them; none is at the very end.
  const endPlaces = held(f32x4.splat(<f32>(((size - 1) << PLACE_BITS) - 1)), 352);
  const perPlace = held(f32x4.splat(<f32>(1 << PLACE_BITS)), 768);
  const part = held(i32x4.splat((1 << PLACE_BITS) - 1), 800);
  const rowLayer = held(i32x4.splat(1 | (size << 16)), 816);
  const layer = held(i32x4.splat(size * size), 832);
  const dx = held(i32x4.splat(8), 368);
  const dxy = held(i32x4.splat(8 ^ (8 * size)), 384);
  const dz = held(i32x4.splat(8 * size * size), 400);
  const far = held(i32x4.splat(8 * (1 + size + size * size)), 416);
  const way: u32 = 8 * (1 + size + size * size);
  const base = held(i32x4.splat(<i32>table), 432);
  const toBytes = held(i16x8.splat(<i16>(255 * 32768 / <i32>ENTRY)), 464);
  const entryOne = held(f32x4.splat(ENTRY), 752);
  const tableShare = held(i16x8.splat(<i16>(<i32>(strength * 32767.0 + 0.5))), 720);
  const ownShare = held(i16x8.splat(<i16>(<i32>((1.0 - strength) * 32767.0 + 0.5))), 736);
  const share = held(f32x4.splat(strength), 480);
  const toB = held(f32x4.splat(TO_B), 512);
  const toR = held(f32x4.splat(TO_R), 528);
  const fromCb = held(f32x4.splat(<f32>1.0 / TO_B), 544);
  const fromCr = held(f32x4.splat(<f32>1.0 / TO_R), 560);
  const perGreen = held(f32x4.splat(<f32>1.0 / LG), 576);
  const ub = held(f32x4.splat(keyUb), 592);
  const ur = held(f32x4.splat(keyUr), 608);
  const keyB = held(f32x4.splat(keyCb), 624);
  const keyR = held(f32x4.splat(keyCr), 640);
  const gone = held(f32x4.splat(keyGone), 656);
  const slope = held(f32x4.splat(keySlope), 672);
  const spilt = held(f32x4.splat(spill), 688);
  const three = held(f32x4.splat(3.0), 704);
  const lastCurve = held(f32x4.splat(255.0), 496);
  for (; at < end; at += 16) {
    let points = v128.load(at);
    if (redAt != 0)
      points = v128.shuffle<u8>(points, points, 2, 1, 0, 3, 6, 5, 4, 7, 10, 9, 8, 11, 14, 13, 12, 15);
    let r: v128 = zero;
    let g: v128 = zero;
    let b: v128 = zero;
    let alpha = v128.and(points, opaque);
    if (hasKey || !hasCurves) {
      r = f32x4.mul(f32x4.convert_i32x4_s(v128.and(points, byte)), toUnit);
      g = f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(points, 8), byte)), toUnit);
      b = f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(points, 16), byte)), toUnit);
      if (hasKey) {
        const y = lumaOf(r, g, b, lr, lg, lb);
        const cb = f32x4.mul(f32x4.sub(b, y), toB);
        const cr = f32x4.mul(f32x4.sub(r, y), toR);
        const db = f32x4.sub(cb, keyB);
        const dr = f32x4.sub(cr, keyR);
        const distance = f32x4.sqrt(f32x4.add(f32x4.mul(db, db), f32x4.mul(dr, dr)));
        const t = within(
          f32x4.mul(f32x4.sub(distance, gone), slope),
          zero,
          one,
        );
        const kept = f32x4.mul(f32x4.mul(t, t), f32x4.sub(three, f32x4.add(t, t)));
        const opacity = f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(points, 24)), kept);
        alpha = i32x4.shl(i32x4.sub(f32x4.add(opacity, whole), bits), 24);
        // Only what points more along the keyed colour than across it is its cast.
        const along = f32x4.add(f32x4.mul(cb, ub), f32x4.mul(cr, ur));
        const across = f32x4.abs(f32x4.sub(f32x4.mul(cb, ur), f32x4.mul(cr, ub)));
        const cast = f32x4.mul(f32x4.pmax(f32x4.sub(along, across), zero), spilt);
        r = f32x4.add(y, f32x4.mul(f32x4.sub(cr, f32x4.mul(cast, ur)), fromCr));
        b = f32x4.add(y, f32x4.mul(f32x4.sub(cb, f32x4.mul(cast, ub)), fromCb));
        g = f32x4.mul(
          f32x4.sub(f32x4.sub(y, f32x4.mul(r, lr)), f32x4.mul(b, lb)),
          perGreen,
        );
        r = within(r, zero, one);
        g = within(g, zero, one);
        b = within(b, zero, one);
        if (hasCurves) {
          r = onLine(0, f32x4.mul(r, steps), lastCurve, zero, half, whole, bits);
          g = onLine(CURVE, f32x4.mul(g, steps), lastCurve, zero, half, whole, bits);
          b = onLine(2 * CURVE, f32x4.mul(b, steps), lastCurve, zero, half, whole, bits);
        }
      }
    } else {
      r = gather(0, v128.and(points, byte));
      g = gather(CURVE, v128.and(i32x4.shr_u(points, 8), byte));
      b = gather(2 * CURVE, v128.and(i32x4.shr_u(points, 16), byte));
    }
    if (saturation != 1.0) {
      const y = lumaOf(r, g, b, lr, lg, lb);
      r = within(f32x4.add(y, f32x4.mul(f32x4.sub(r, y), saturated)), zero, one);
      g = within(f32x4.add(y, f32x4.mul(f32x4.sub(g, y), saturated)), zero, one);
      b = within(f32x4.add(y, f32x4.mul(f32x4.sub(b, y), saturated)), zero, one);
    }
    if (dimensions == 3) {
      const x = placeOf(r, fromR, stepR, perPlace, zero, endPlaces, whole, bits);
      const y = placeOf(g, fromG, stepG, perPlace, zero, endPlaces, whole, bits);
      const z = placeOf(b, fromB, stepB, perPlace, zero, endPlaces, whole, bits);
      const fx = v128.and(x, part);
      const fy = v128.and(y, part);
      const fz = v128.and(z, part);
      const xy = v128.or(i32x4.shr_u(x, PLACE_BITS), i32x4.shl(i32x4.shr_u(y, PLACE_BITS), 16));
      const entry = i32x4.add(
        i32x4.dot_i16x8_s(xy, rowLayer),
        i32x4.dot_i16x8_s(i32x4.shr_u(z, PLACE_BITS), layer),
      );
      const near = i32x4.add(base, i32x4.shl(entry, 3));
      // From the near corner to the far one along the axes in the order of their parts, greatest first.
      const more = i32x4.max_s(fx, fy);
      const less = i32x4.min_s(fx, fy);
      const high = i32x4.max_s(more, fz);
      const low = i32x4.min_s(less, fz);
      const middle = i32x4.sub(i32x4.sub(i32x4.add(i32x4.add(fx, fy), fz), high), low);
      const greenFirst = i32x4.gt_s(fy, fx);
      const zFirst = i32x4.gt_s(fz, more);
      const zBeforeLast = i32x4.gt_s(fz, less);
      const largerStep = v128.xor(dx, v128.and(dxy, greenFirst));
      const smallerStep = v128.xor(largerStep, dxy);
      const highStep = v128.xor(largerStep, v128.and(v128.xor(largerStep, dz), zFirst));
      const lowStep = v128.xor(dz, v128.and(v128.xor(smallerStep, dz), zBeforeLast));
      // By way of memory: taking lanes out one by one keeps the unit busy that the rest needs.
      v128.store(HELD + 848, near);
      v128.store(HELD + 864, i32x4.add(near, highStep));
      v128.store(HELD + 880, i32x4.sub(i32x4.add(near, far), lowStep));
      // Weights, two in a lane; together as much as the greatest part.
      const wab = v128.or(i32x4.sub(part, high), i32x4.shl(i32x4.sub(high, middle), 16));
      const wcd = v128.or(i32x4.sub(middle, low), i32x4.shl(low, 16));
      const p0 = mixed(0, way, v128.shuffle<i32>(wab, wab, 0, 0, 0, 0), v128.shuffle<i32>(wcd, wcd, 0, 0, 0, 0));
      const p1 = mixed(4, way, v128.shuffle<i32>(wab, wab, 1, 1, 1, 1), v128.shuffle<i32>(wcd, wcd, 1, 1, 1, 1));
      const p2 = mixed(8, way, v128.shuffle<i32>(wab, wab, 2, 2, 2, 2), v128.shuffle<i32>(wcd, wcd, 2, 2, 2, 2));
      const p3 = mixed(12, way, v128.shuffle<i32>(wab, wab, 3, 3, 3, 3), v128.shuffle<i32>(wcd, wcd, 3, 3, 3, 3));
      // Too bright is cut when it is narrowed, too dark with the last narrowing.
      let p01 = i16x8.narrow_i32x4_s(p0, p1);
      let p23 = i16x8.narrow_i32x4_s(p2, p3);
      if (strength != 1.0) {
        // From points by colour to colours by point.
        const rg = i16x8.narrow_i32x4_s(
          i32x4.sub(f32x4.add(f32x4.mul(r, entryOne), whole), bits),
          i32x4.sub(f32x4.add(f32x4.mul(g, entryOne), whole), bits),
        );
        const bb = i16x8.narrow_i32x4_s(i32x4.sub(f32x4.add(f32x4.mul(b, entryOne), whole), bits), zero);
        const was01 = v128.shuffle<i16>(rg, bb, 0, 4, 8, 12, 1, 5, 9, 13);
        const was23 = v128.shuffle<i16>(rg, bb, 2, 6, 10, 14, 3, 7, 11, 15);
        p01 = i16x8.add_sat_s(i16x8.q15mulr_sat_s(p01, tableShare), i16x8.q15mulr_sat_s(was01, ownShare));
        p23 = i16x8.add_sat_s(i16x8.q15mulr_sat_s(p23, tableShare), i16x8.q15mulr_sat_s(was23, ownShare));
      }
      const colours = i8x16.narrow_i16x8_u(
        i16x8.q15mulr_sat_s(p01, toBytes),
        i16x8.q15mulr_sat_s(p23, toBytes),
      );
      v128.store(at, v128.or(colours, alpha));
      continue;
    }
    if (dimensions == 1) {
      // Places in the table, in entries.
      const x = within(f32x4.mul(f32x4.sub(r, fromR), stepR), zero, last);
      const y = within(f32x4.mul(f32x4.sub(g, fromG), stepG), zero, last);
      const z = within(f32x4.mul(f32x4.sub(b, fromB), stepB), zero, last);
      const line = (<usize>size) << 2;
      r = f32x4.add(
        r,
        f32x4.mul(f32x4.sub(onLine(table, x, below, zero, half, whole, bits), r), share),
      );
      g = f32x4.add(
        g,
        f32x4.mul(f32x4.sub(onLine(table + line, y, below, zero, half, whole, bits), g), share),
      );
      b = f32x4.add(
        b,
        f32x4.mul(f32x4.sub(onLine(table + 2 * line, z, below, zero, half, whole, bits), b), share),
      );
    }
    const red = i32x4.sub(f32x4.add(f32x4.mul(within(r, zero, one), steps), whole), bits);
    const green = i32x4.sub(f32x4.add(f32x4.mul(within(g, zero, one), steps), whole), bits);
    const blue = i32x4.sub(f32x4.add(f32x4.mul(within(b, zero, one), steps), whole), bits);
    v128.store(
      at,
      v128.or(v128.or(red, i32x4.shl(green, 8)), v128.or(i32x4.shl(blue, 16), alpha)),
    );
  }
}
