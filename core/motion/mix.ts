/** Everything about a layer's place that can lie between two values. */
import type { Crop, Placement } from '../show/records';

/** a at share 0, b at share 1; shares beyond go on in the same direction. */
export const mixNumber = (a: number, b: number, share: number): number => a + (b - a) * share;

function mixCrop(a: Crop, b: Crop, share: number): Crop {
  const one = (x: number, y: number) => Math.min(0.99, Math.max(0, mixNumber(x, y, share)));
  return {
    left: one(a.left, b.left),
    top: one(a.top, b.top),
    right: one(a.right, b.right),
    bottom: one(a.bottom, b.bottom),
  };
}

function channels(colour: string): [number, number, number, number] {
  const byte = (at: number) => parseInt(colour.slice(at, at + 2), 16);
  return [byte(1), byte(3), byte(5), colour.length > 7 ? byte(7) / 255 : 1];
}

/**
 * Between two colours `#rrggbb` or `#rrggbbaa`, as CSS mixes them: in sRGB, weighted by their opacity (CSS Color 4,
 * section 12.3).
 */
export function mixColour(a: string, b: string, share: number): string {
  if (a === b || share <= 0) return a;
  if (share >= 1) return b;
  const [x, y] = [channels(a), channels(b)];
  const alpha = mixNumber(x[3], y[3], share);
  const rgb = [0, 1, 2].map((i) => (alpha === 0 ? 0 : mixNumber(x[i] * x[3], y[i] * y[3], share) / alpha));
  const hex = (value: number) =>
    Math.round(Math.min(255, Math.max(0, value)))
      .toString(16)
      .padStart(2, '0');
  return `#${rgb.map(hex).join('')}${alpha < 1 ? hex(alpha * 255) : ''}`;
}

/** Turning goes the shorter way round. */
function mixTurn(a: number, b: number, share: number): number {
  const way = ((((b - a) % 360) + 540) % 360) - 180;
  return a + way * share;
}

/** Between two placements of the same layer in the same frame. */
export function mixPlacement(a: Placement, b: Placement, share: number): Placement {
  if (share <= 0 && share >= 0) return a;
  if (share === 1) return b;
  const n = (x: number, y: number) => mixNumber(x, y, share);
  const above = (least: number, x: number, y: number) => Math.max(least, n(x, y));
  return {
    cx: n(a.cx, b.cx),
    cy: n(a.cy, b.cy),
    width: above(1, a.width, b.width),
    height: above(1, a.height, b.height),
    rotationDeg: mixTurn(a.rotationDeg, b.rotationDeg, share),
    opacity: Math.min(1, above(0, a.opacity, b.opacity)),
    cornerPx: above(0, a.cornerPx, b.cornerPx),
    crop: mixCrop(a.crop, b.crop, share),
    // Nothing lies between a picture and its mirror image: it turns over half way.
    flipX: share < 0.5 ? a.flipX : b.flipX,
    flipY: share < 0.5 ? a.flipY : b.flipY,
    borderPx: above(0, a.borderPx, b.borderPx),
    borderColour: mixColour(a.borderColour, b.borderColour, share),
    shadowPx: above(0, a.shadowPx, b.shadowPx),
  };
}
