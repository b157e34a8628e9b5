/** Pictures as decoders and cameras give them: brightness for each point, two colour differences for each four. */

/** What such a picture says of its colours; names as in WebCodecs, null where it says nothing. */
export interface PlaneColours {
  matrix: string | null;
  fullRange: boolean | null;
  primaries: string | null;
  transfer: string | null;
}

/** Where the planes lie in their bytes; `together`: both differences by turns in one plane, that of `u`. */
export interface PlaneLayout {
  y: number;
  u: number;
  v: number;
  together: boolean;
  /** Bytes from one row to the next. */
  strideY: number;
  strideUV: number;
}

/** Red is `y·(Y − off) + rv·(V − 128)`, and so on, all in 0…255. */
export interface PlaneMatrix {
  off: number;
  y: number;
  rv: number;
  gu: number;
  gv: number;
  bu: number;
}

/** Parts of red and blue in brightness: ITU-T H.273, table 4. */
const PARTS: Record<string, readonly [number, number]> = {
  bt709: [0.2126, 0.0722],
  bt470bg: [0.299, 0.114],
  smpte170m: [0.299, 0.114],
};

/**
 * How a picture's planes become red, green and blue (ITU-T H.273, 8.3), or null where its colours are of another kind
 * than a screen's, so that more than that would have to be done.
 */
export function planeMatrix({ matrix, fullRange, primaries, transfer }: PlaneColours): PlaneMatrix | null {
  const parts = matrix === null ? undefined : PARTS[matrix];
  const likeScreen =
    primaries === 'bt709' &&
    (transfer === 'bt709' || transfer === 'iec61966-2-1' || transfer === 'smpte170m');
  if (!parts || !likeScreen || fullRange === null) return null;
  const [red, blue] = parts;
  const green = 1 - red - blue;
  const [y, c] = fullRange ? [1, 1] : [255 / 219, 255 / 224];
  const [toRed, toBlue] = [2 * (1 - red) * c, 2 * (1 - blue) * c];
  return {
    off: fullRange ? 0 : 16,
    y,
    rv: toRed,
    gu: (-blue / green) * toBlue,
    gv: (-red / green) * toRed,
    bu: toBlue,
  };
}

/** Red, green and blue of one point, 0…255, not rounded. */
export function pointOf(
  y: number,
  u: number,
  v: number,
  matrix: PlaneMatrix,
): [red: number, green: number, blue: number] {
  const base = matrix.y * (y - matrix.off);
  const within = (value: number) => Math.max(0, Math.min(255, value));
  return [
    within(base + matrix.rv * (v - 128)),
    within(base + matrix.gu * (u - 128) + matrix.gv * (v - 128)),
    within(base + matrix.bu * (u - 128)),
  ];
}
