/**
 * What becomes of the points of a picture, four at a time: the arithmetic of `grade.ts` and `cube-table.ts` in vector
 * instructions. In AssemblyScript; `npm run kernel` compiles it into `kernel-binary.ts`, and a test sees to it that the
 * two are of one age.
 *
 * Memory: curves from 0, the table behind them, then the picture; `ColourKernel` lays it out.
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

/** A line for each channel (1 axis), or entries of four numbers, red changing fastest (3 axes). */
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

/** Red, green and blue of one point: four entries by their weights. */
@inline
function mixed(a: usize, b: usize, c: usize, d: usize, wa: v128, wb: v128, wc: v128, wd: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(v128.load(a), wa), f32x4.mul(v128.load(b), wb)),
    f32x4.add(f32x4.mul(v128.load(c), wc), f32x4.mul(v128.load(d), wd)),
  );
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
  const dx = held(i32x4.splat(16), 368);
  const dy = held(i32x4.splat(16 * size), 384);
  const dz = held(i32x4.splat(16 * size * size), 400);
  const far = held(i32x4.splat(16 * (1 + size + size * size)), 416);
  const base = held(i32x4.splat(<i32>table), 432);
  const scale = held(f32x4.splat(255.0 * strength), 448);
  const rest = held(f32x4.splat(255.0 * (1.0 - strength)), 464);
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
        const near = i32x4.add(base, i32x4.shl(i32x4.sub(f32x4.add(entry, whole), bits), 4));
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
        let p0 = f32x4.mul(
          mixed(
            i32x4.extract_lane(near, 0),
            i32x4.extract_lane(first, 0),
            i32x4.extract_lane(second, 0),
            i32x4.extract_lane(whereFar, 0),
            v128.shuffle<i32>(wa, wa, 0, 0, 0, 0),
            v128.shuffle<i32>(wb, wb, 0, 0, 0, 0),
            v128.shuffle<i32>(wc, wc, 0, 0, 0, 0),
            v128.shuffle<i32>(low, low, 0, 0, 0, 0),
          ),
          scale,
        );
        let p1 = f32x4.mul(
          mixed(
            i32x4.extract_lane(near, 1),
            i32x4.extract_lane(first, 1),
            i32x4.extract_lane(second, 1),
            i32x4.extract_lane(whereFar, 1),
            v128.shuffle<i32>(wa, wa, 1, 1, 1, 1),
            v128.shuffle<i32>(wb, wb, 1, 1, 1, 1),
            v128.shuffle<i32>(wc, wc, 1, 1, 1, 1),
            v128.shuffle<i32>(low, low, 1, 1, 1, 1),
          ),
          scale,
        );
        let p2 = f32x4.mul(
          mixed(
            i32x4.extract_lane(near, 2),
            i32x4.extract_lane(first, 2),
            i32x4.extract_lane(second, 2),
            i32x4.extract_lane(whereFar, 2),
            v128.shuffle<i32>(wa, wa, 2, 2, 2, 2),
            v128.shuffle<i32>(wb, wb, 2, 2, 2, 2),
            v128.shuffle<i32>(wc, wc, 2, 2, 2, 2),
            v128.shuffle<i32>(low, low, 2, 2, 2, 2),
          ),
          scale,
        );
        let p3 = f32x4.mul(
          mixed(
            i32x4.extract_lane(near, 3),
            i32x4.extract_lane(first, 3),
            i32x4.extract_lane(second, 3),
            i32x4.extract_lane(whereFar, 3),
            v128.shuffle<i32>(wa, wa, 3, 3, 3, 3),
            v128.shuffle<i32>(wb, wb, 3, 3, 3, 3),
            v128.shuffle<i32>(wc, wc, 3, 3, 3, 3),
            v128.shuffle<i32>(low, low, 3, 3, 3, 3),
          ),
          scale,
        );
        if (strength != 1.0) {
          // From points by colour to colours by point.
          const rg = v128.shuffle<i32>(r, g, 0, 4, 1, 5);
          const rgFar = v128.shuffle<i32>(r, g, 2, 6, 3, 7);
          const bb = v128.shuffle<i32>(b, zero, 0, 4, 1, 5);
          const bbFar = v128.shuffle<i32>(b, zero, 2, 6, 3, 7);
          p0 = f32x4.add(p0, f32x4.mul(v128.shuffle<i32>(rg, bb, 0, 1, 4, 5), rest));
          p1 = f32x4.add(p1, f32x4.mul(v128.shuffle<i32>(rg, bb, 2, 3, 6, 7), rest));
          p2 = f32x4.add(p2, f32x4.mul(v128.shuffle<i32>(rgFar, bbFar, 0, 1, 4, 5), rest));
          p3 = f32x4.add(p3, f32x4.mul(v128.shuffle<i32>(rgFar, bbFar, 2, 3, 6, 7), rest));
        }
        // Too bright is cut when it is narrowed.
        const colours = i8x16.narrow_i16x8_u(
          i16x8.narrow_i32x4_s(
            i32x4.sub(f32x4.add(f32x4.pmax(p0, zero), whole), bits),
            i32x4.sub(f32x4.add(f32x4.pmax(p1, zero), whole), bits),
          ),
          i16x8.narrow_i32x4_s(
            i32x4.sub(f32x4.add(f32x4.pmax(p2, zero), whole), bits),
            i32x4.sub(f32x4.add(f32x4.pmax(p3, zero), whole), bits),
          ),
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
