/** 3 dB: how loud centre and surrounds come into each side (ITU-R BS.775, annex 4). */
const SIDE = Math.SQRT1_2;

/**
 * Left and right of any number of channels. One serves both sides, 5.0 and 5.1 are mixed down, of other layouts the first
 * two are taken.
 * @param planes in the order L, R, C, (LFE,) Ls, Rs
 */
export function stereoOf(planes: readonly Float32Array[]): [Float32Array, Float32Array] {
  if (planes.length < 5) return [planes[0], planes[planes.length > 1 ? 1 : 0]];
  const [left, right, centre] = planes;
  const surround = planes.length === 5 ? 3 : 4;
  const side = (front: Float32Array, back: Float32Array) =>
    front.map((v, i) => v + SIDE * centre[i] + SIDE * (back?.[i] ?? 0));
  return [side(left, planes[surround]), side(right, planes[surround + 1])];
}

const FULL_SCALE = 32_768;

/** The two sides (−1…1) of interleaved 16-bit samples; they may begin at any byte. */
export function sidesOf(samples: Uint8Array): [Float32Array, Float32Array] {
  const view = new DataView(samples.buffer, samples.byteOffset, samples.length);
  const side = (at: number) =>
    Float32Array.from(
      { length: samples.length >> 2 },
      (_, i) => view.getInt16(4 * i + at, true) / FULL_SCALE,
    );
  return [side(0), side(2)];
}
