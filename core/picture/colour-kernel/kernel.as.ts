/**
 * What becomes of the points of a picture, four at a time: the arithmetic of `grade.ts` and `cube-table.ts` in vector
 * instructions. In AssemblyScript; `npm run kernel` compiles it into `kernel-binary.ts`, and a test sees to it that the
 * two are of one age.
 *
 * Memory: curves from 0, the table behind them, then the picture, then its planes where it comes in such; `ColourKernel`
 * lays it out.
 */

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
/** Bits of the sum of its weights. */
const WEIGHT_BITS: i32 = 15;
/** Bytes of one curve: 257 entries. */
const CURVE: usize = 257 * 4;
/** Room behind the curves for numbers that are needed again and again. */
const HELD: usize = 4096;

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
 * fastest (3 axes).
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

/** A vector that is read where it is needed: a constant one would be put together anew, by four instructions each time. */
@inline
function held(vector: v128, at: usize): v128 {
  v128.store(HELD + at, vector);
  return v128.load(HELD + at);
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

/**
 * Red, green and blue of one point, in the measure of the entries: four entries by their weights, those of the first two and of the
 * last two in one lane each.
 */
@inline
function mixed(a: usize, b: usize, c: usize, d: usize, wab: v128, wcd: v128): v128 {
  const ab = v128.shuffle<i16>(v128.load64_zero(a), v128.load64_zero(b), 0, 8, 1, 9, 2, 10, 3, 11);
  const cd = v128.shuffle<i16>(v128.load64_zero(c), v128.load64_zero(d), 0, 8, 1, 9, 2, 10, 3, 11);
  return i32x4.shr_s(i32x4.add(i32x4.dot_i16x8_s(ab, wab), i32x4.dot_i16x8_s(cd, wcd)), WEIGHT_BITS);
}

/**
 * Colours `count` points in place, rounded up to four.
 * `redAt`: bits below red, 0 for red, green, blue and 16 for blue, green, red; it leaves red first.
 */
export function colour(at: usize, count: i32, redAt: i32): void {
  const blueAt = 16 - redAt;
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
  const row = held(f32x4.splat(<f32>size), 336);
  const layer = held(f32x4.splat(<f32>(size * size)), 352);
  const dx = held(i32x4.splat(8), 368);
  const dy = held(i32x4.splat(8 * size), 384);
  const dz = held(i32x4.splat(8 * size * size), 400);
  const far = held(i32x4.splat(8 * (1 + size + size * size)), 416);
  const base = held(i32x4.splat(<i32>table), 432);
  const most = held(f32x4.splat(32767.0), 448);
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
    const points = v128.load(at);
    let r: v128, g: v128, b: v128;
    let alpha = v128.and(points, opaque);
    if (hasKey || !hasCurves) {
      r = f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(points, redAt), byte)), toUnit);
      g = f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(points, 8), byte)), toUnit);
      b = f32x4.mul(f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(points, blueAt), byte)), toUnit);
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
      r = gather(0, v128.and(i32x4.shr_u(points, redAt), byte));
      g = gather(CURVE, v128.and(i32x4.shr_u(points, 8), byte));
      b = gather(2 * CURVE, v128.and(i32x4.shr_u(points, blueAt), byte));
    }
    if (saturation != 1.0) {
      const y = lumaOf(r, g, b, lr, lg, lb);
      r = within(f32x4.add(y, f32x4.mul(f32x4.sub(r, y), saturated)), zero, one);
      g = within(f32x4.add(y, f32x4.mul(f32x4.sub(g, y), saturated)), zero, one);
      b = within(f32x4.add(y, f32x4.mul(f32x4.sub(b, y), saturated)), zero, one);
    }
    if (dimensions != 0) {
      // Places in the table, in entries.
      const x = within(f32x4.mul(f32x4.sub(r, fromR), stepR), zero, last);
      const y = within(f32x4.mul(f32x4.sub(g, fromG), stepG), zero, last);
      const z = within(f32x4.mul(f32x4.sub(b, fromB), stepB), zero, last);
      if (dimensions == 3) {
        const cx = cellOf(x, below, zero, half, whole);
        const cy = cellOf(y, below, zero, half, whole);
        const cz = cellOf(z, below, zero, half, whole);
        const fx = f32x4.sub(x, cx);
        const fy = f32x4.sub(y, cy);
        const fz = f32x4.sub(z, cz);
        // Exact: a table has fewer entries than 2²².
        const entry = f32x4.add(f32x4.add(cx, f32x4.mul(cy, row)), f32x4.mul(cz, layer));
        const near = i32x4.add(base, i32x4.shl(i32x4.sub(f32x4.add(entry, whole), bits), 3));
        // From the near corner to the far one along the axes in the order of their parts, greatest first.
        const redFirst = f32x4.ge(fx, fy);
        const more = f32x4.pmax(fx, fy);
        const less = f32x4.pmin(fx, fy);
        const high = f32x4.pmax(more, fz);
        const low = f32x4.pmin(less, fz);
        const middle = f32x4.sub(f32x4.sub(f32x4.add(f32x4.add(fx, fy), fz), high), low);
        const highStep = v128.bitselect(v128.bitselect(dx, dy, redFirst), dz, f32x4.ge(more, fz));
        const lowStep = v128.bitselect(v128.bitselect(dy, dx, redFirst), dz, f32x4.le(less, fz));
        const first = i32x4.add(near, highStep);
        const whereFar = i32x4.add(near, far);
        const second = i32x4.sub(whereFar, lowStep);
        const wa = f32x4.sub(one, high);
        const wb = f32x4.sub(high, middle);
        const wc = f32x4.sub(middle, low);
        // A weight of 1 is 32767, two in a lane.
        const wab = v128.or(
          i32x4.sub(f32x4.add(f32x4.mul(wa, most), whole), bits),
          i32x4.shl(f32x4.add(f32x4.mul(wb, most), whole), 16),
        );
        const wcd = v128.or(
          i32x4.sub(f32x4.add(f32x4.mul(wc, most), whole), bits),
          i32x4.shl(f32x4.add(f32x4.mul(low, most), whole), 16),
        );
        const p0 = mixed(
          i32x4.extract_lane(near, 0),
          i32x4.extract_lane(first, 0),
          i32x4.extract_lane(second, 0),
          i32x4.extract_lane(whereFar, 0),
          v128.shuffle<i32>(wab, wab, 0, 0, 0, 0),
          v128.shuffle<i32>(wcd, wcd, 0, 0, 0, 0),
        );
        const p1 = mixed(
          i32x4.extract_lane(near, 1),
          i32x4.extract_lane(first, 1),
          i32x4.extract_lane(second, 1),
          i32x4.extract_lane(whereFar, 1),
          v128.shuffle<i32>(wab, wab, 1, 1, 1, 1),
          v128.shuffle<i32>(wcd, wcd, 1, 1, 1, 1),
        );
        const p2 = mixed(
          i32x4.extract_lane(near, 2),
          i32x4.extract_lane(first, 2),
          i32x4.extract_lane(second, 2),
          i32x4.extract_lane(whereFar, 2),
          v128.shuffle<i32>(wab, wab, 2, 2, 2, 2),
          v128.shuffle<i32>(wcd, wcd, 2, 2, 2, 2),
        );
        const p3 = mixed(
          i32x4.extract_lane(near, 3),
          i32x4.extract_lane(first, 3),
          i32x4.extract_lane(second, 3),
          i32x4.extract_lane(whereFar, 3),
          v128.shuffle<i32>(wab, wab, 3, 3, 3, 3),
          v128.shuffle<i32>(wcd, wcd, 3, 3, 3, 3),
        );
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

let offY: i16 = 0;
let mulY: i16 = 0;
let redV: i16 = 0;
let greenU: i16 = 0;
let greenV: i16 = 0;
let blueU: i16 = 0;

/**
 * How brightness and colour differences become red, green and blue: what is taken off brightness, half of what it is
 * multiplied with, and quarters of the parts of the differences, these as 2¹⁵ths.
 */
export function setMatrix(off: i32, y: i32, rv: i32, gu: i32, gv: i32, bu: i32): void {
  offY = <i16>off;
  mulY = <i16>y;
  redV = <i16>rv;
  greenU = <i16>gu;
  greenV = <i16>gv;
  blueU = <i16>bu;
}

/** A colour difference of eight points beside each other, in 2⁸ths: one for each two. */
@inline
function difference(four: v128): v128 {
  return i16x8.shl(i16x8.sub(four, i16x8.splat(128)), 8);
}

/** A byte of each point from 2⁶ths. */
@inline
function halves(sum: v128): v128 {
  return i16x8.shr_s(sum, 6);
}

/**
 * Rows of a picture from its planes, opaque, eight points at a time: up to seven beyond the end of a row are written,
 * which the next row puts right. `row`: the first of them, counted from 0; `to`: where its points go. `together`: blue
 * and red differences lie by turns from `u` on, not in planes of their own.
 */
export function fromPlanes(
  y: usize,
  u: usize,
  v: usize,
  together: bool,
  strideY: i32,
  strideUV: i32,
  width: i32,
  row: i32,
  rows: i32,
  to: usize,
): void {
  const zero = i16x8.splat(0);
  const off = i16x8.splat(offY);
  const my = i16x8.splat(mulY);
  const rv = i16x8.splat(redV);
  const gu = i16x8.splat(greenU);
  const gv = i16x8.splat(greenV);
  const bu = i16x8.splat(blueU);
  const opaque = i16x8.splat(255);
  const half = i16x8.splat(32);
  for (let end = row + rows; row < end; row++) {
    const atY = y + row * strideY;
    const atU = u + (row >> 1) * strideUV;
    const atV = v + (row >> 1) * strideUV;
    for (let x = 0; x < width; x += 8) {
      const bright = i16x8.shl(i16x8.sub(v128.load_ext<u8>(atY + x), off), 7);
      let db: v128, dr: v128;
      if (together) {
        const both = v128.load64_zero(atU + x);
        db = v128.shuffle<u8>(both, zero, 0, 16, 0, 16, 2, 16, 2, 16, 4, 16, 4, 16, 6, 16, 6, 16);
        dr = v128.shuffle<u8>(both, zero, 1, 16, 1, 16, 3, 16, 3, 16, 5, 16, 5, 16, 7, 16, 7, 16);
      } else {
        const b = v128.load32_zero(atU + (x >> 1));
        const r = v128.load32_zero(atV + (x >> 1));
        db = v128.shuffle<u8>(b, zero, 0, 16, 0, 16, 1, 16, 1, 16, 2, 16, 2, 16, 3, 16, 3, 16);
        dr = v128.shuffle<u8>(r, zero, 0, 16, 0, 16, 1, 16, 1, 16, 2, 16, 2, 16, 3, 16, 3, 16);
      }
      db = difference(db);
      dr = difference(dr);
      const base = i16x8.add(i16x8.q15mulr_sat_s(bright, my), half);
      const r = halves(i16x8.add_sat_s(base, i16x8.q15mulr_sat_s(dr, rv)));
      const g = halves(
        i16x8.add_sat_s(base, i16x8.add(i16x8.q15mulr_sat_s(db, gu), i16x8.q15mulr_sat_s(dr, gv))),
      );
      const b = halves(i16x8.add_sat_s(base, i16x8.q15mulr_sat_s(db, bu)));
      const rg = i8x16.narrow_i16x8_u(r, g);
      const ba = i8x16.narrow_i16x8_u(b, opaque);
      const reds = v128.shuffle<u8>(rg, zero, 0, 8, 1, 9, 2, 10, 3, 11, 4, 12, 5, 13, 6, 14, 7, 15);
      const blues = v128.shuffle<u8>(ba, zero, 0, 8, 1, 9, 2, 10, 3, 11, 4, 12, 5, 13, 6, 14, 7, 15);
      v128.store(to + (x << 2), v128.shuffle<u16>(reds, blues, 0, 8, 1, 9, 2, 10, 3, 11));
      v128.store(to + (x << 2), v128.shuffle<u16>(reds, blues, 4, 12, 5, 13, 6, 14, 7, 15), 16);
    }
    to += width << 2;
  }
}
