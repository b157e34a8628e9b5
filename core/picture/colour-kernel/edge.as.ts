/** Drawing in the edge of what a key has left: the arithmetic of `drawnIn` in vector instructions, a part of the kernel. */

/** Adding this leaves a number's nearest whole one in the low bits of its representation. */
const WHOLE: f32 = 8388608.0;
const WHOLE_BITS: i32 = 0x4b000000;
/** Bytes of opacity in a point lie above these bits. */
const OPACITY_BITS: i32 = 24;

/** Sums of three opacities beside each other for a row of points, those beyond its ends being 0; `line` is spare room. */
function sumsOf(at: usize, width: i32, line: usize, to: usize): void {
  store<u16>(line, 0);
  for (let x = 0; x < width; x += 8) {
    const from = at + ((<usize>x) << 2);
    v128.store(
      line + ((<usize>x) << 1),
      i16x8.narrow_i32x4_s(
        i32x4.shr_u(v128.load(from), OPACITY_BITS),
        i32x4.shr_u(v128.load(from, 16), OPACITY_BITS),
      ),
      2,
    );
  }
  store<u16>(line + ((<usize>width) << 1), 0, 2);
  for (let x = 0; x < width; x += 8) {
    const from = line + ((<usize>x) << 1);
    v128.store(
      to + ((<usize>x) << 1),
      i16x8.add(i16x8.add(v128.load(from), v128.load(from, 2)), v128.load(from, 4)),
    );
  }
}

/** Opacity in its place in four points, from what it is in them. */
@inline
function opacityOf(totals: v128, scale: v128, less: v128, zero: v128, most: v128, whole: v128, bits: v128): v128 {
  const value = f32x4.sub(f32x4.mul(f32x4.convert_i32x4_s(totals), scale), less);
  const cut = f32x4.pmin(f32x4.pmax(value, zero), most);
  return i32x4.shl(i32x4.sub(f32x4.add(cut, whole), bits), OPACITY_BITS);
}

/**
 * Opacity of a picture's points from the means of 3×3 of them, at its edge of those there are, in place.
 * `edge`: how far it is drawn in, above 0 to 0.5; `room`: of five times the bytes `width` + 32 take in 16 bits.
 */
export function drawIn(at: usize, width: i32, height: i32, edge: f32, room: usize): void {
  const e = edge * <f32>0.9;
  const less: f32 = (<f32>255.0 * e) / (<f32>1.0 - e);
  const stride = (<usize>(width + 32)) << 1;
  const line = room + stride;
  const sums = line + stride;
  memory.fill(room, 0, stride);
  const zero = f32x4.splat(0.0);
  const most = f32x4.splat(255.0);
  const whole = f32x4.splat(WHOLE);
  const bits = i32x4.splat(WHOLE_BITS);
  const lesses = f32x4.splat(less);
  const colour = i32x4.splat(0x00ffffff);
  sumsOf(at, width, line, sums);
  for (let y = 0; y < height; y++) {
    const row = at + ((<usize>(y * width)) << 2);
    const own = sums + stride * <usize>(y % 3);
    const above = y > 0 ? sums + stride * <usize>((y + 2) % 3) : room;
    let below = room;
    if (y < height - 1) {
      below = sums + stride * <usize>((y + 1) % 3);
      sumsOf(row + ((<usize>width) << 2), width, line, below);
    }
    const around: i32 = (1 + i32(y > 0) + i32(y < height - 1)) * 3;
    const middle: f32 = <f32>1.0 / (<f32>around * (<f32>1.0 - e));
    const end: f32 = width > 1 ? middle * <f32>1.5 : middle * <f32>3.0;
    const scale = f32x4.splat(middle);
    const endings = width - 1;
    let x = 0;
    for (; x + 8 <= width; x += 8) {
      const offset = (<usize>x) << 1;
      const total = i16x8.add(i16x8.add(v128.load(above + offset), v128.load(own + offset)), v128.load(below + offset));
      const low = opacityOf(i32x4.extend_low_i16x8_u(total), scale, lesses, zero, most, whole, bits);
      const high = opacityOf(i32x4.extend_high_i16x8_u(total), scale, lesses, zero, most, whole, bits);
      const point = row + ((<usize>x) << 2);
      v128.store(point, v128.or(v128.and(v128.load(point), colour), low));
      v128.store(point, v128.or(v128.and(v128.load(point, 16), colour), high), 16);
    }
    // What is left of the row, and its ends, which have fewer neighbours.
    for (let left = x; left < width; left++) one(row, above, own, below, left, middle, less);
    one(row, above, own, below, 0, end, less);
    one(row, above, own, below, endings, end, less);
  }
}

/** The same of one point. */
@inline
function one(row: usize, above: usize, own: usize, below: usize, x: i32, scale: f32, less: f32): void {
  const offset = (<usize>x) << 1;
  const total = i32(load<u16>(above + offset)) + i32(load<u16>(own + offset)) + i32(load<u16>(below + offset));
  const value = max<f32>(0.0, min<f32>(255.0, <f32>total * scale - less));
  store<u8>(row + ((<usize>x) << 2), <u8>(<i32>nearest<f32>(value)), 3);
}
