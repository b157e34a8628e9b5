/**
 * Red, green and blue from brightness and colour differences, eight points at a time: the arithmetic of `planes.ts` in
 * vector instructions, a part of the kernel.
 */

import { APART, APART_AT } from './table.as';

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

/** Colour differences of eight points beside each other, in 2⁸ths, from bytes. */
@inline
function difference(bytes: v128, zero: v128, middle: v128): v128 {
  const upper = v128.shuffle<u8>(zero, bytes, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
  return v128.xor(upper, middle);
}

/** A byte of each point from 2⁶ths. */
@inline
function halves(sum: v128): v128 {
  return i16x8.shr_s(sum, 6);
}

/** As a byte, still in 16 bits. */
@inline
function cut(value: v128, zero: v128, most: v128): v128 {
  return i16x8.min_s(i16x8.max_s(value, zero), most);
}

/**
 * Rows of a picture from its planes, opaque, eight points at a time: up to seven beyond the end of a row are written,
 * which the next row puts right. `row`: the first of them, counted from 0; `to`: where its points go, or with `apart`
 * those of a single row go where `lookUp` expects them. `together`: blue and red differences lie by turns from `u` on, not
 * in planes of their own.
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
  apart: bool,
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
  const middle = i16x8.splat(-32768);
  for (let end = row + rows; row < end; row++) {
    const atY = y + row * strideY;
    const atU = u + (row >> 1) * strideUV;
    const atV = v + (row >> 1) * strideUV;
    for (let x = 0; x < width; x += 8) {
      const bright = i16x8.shl(i16x8.sub(v128.load_ext<u8>(atY + x), off), 7);
      // Each difference twice, in the upper byte of a lane: less its middle by its highest bit.
      let db: v128, dr: v128;
      if (together) {
        const both = v128.load64_zero(atU + x);
        db = v128.shuffle<u8>(both, both, 0, 0, 2, 2, 4, 4, 6, 6, 0, 0, 0, 0, 0, 0, 0, 0);
        dr = v128.shuffle<u8>(both, both, 1, 1, 3, 3, 5, 5, 7, 7, 1, 1, 1, 1, 1, 1, 1, 1);
      } else {
        const b = v128.load32_zero(atU + (x >> 1));
        const r = v128.load32_zero(atV + (x >> 1));
        db = v128.shuffle<u8>(b, b, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
        dr = v128.shuffle<u8>(r, r, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
      }
      db = difference(db, zero, middle);
      dr = difference(dr, zero, middle);
      const base = i16x8.add(i16x8.q15mulr_sat_s(bright, my), half);
      const r = halves(i16x8.add_sat_s(base, i16x8.q15mulr_sat_s(dr, rv)));
      const g = halves(
        i16x8.add_sat_s(base, i16x8.add(i16x8.q15mulr_sat_s(db, gu), i16x8.q15mulr_sat_s(dr, gv))),
      );
      const b = halves(i16x8.add_sat_s(base, i16x8.q15mulr_sat_s(db, bu)));
      if (apart) {
        const at = APART_AT + (<usize>(x >> 3)) * APART;
        v128.store(at, cut(r, zero, opaque));
        v128.store(at, cut(g, zero, opaque), 16);
        v128.store(at, cut(b, zero, opaque), 32);
        continue;
      }
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
