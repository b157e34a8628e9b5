/** What a drag makes of a placement: resized in its own turned directions, cropped, rounded, turned. */
import type { Crop, Fit, Placement } from '../show/records';
import { coverCrop, placementOfRect, rectOfPlacement, turned, type Rect, type Size } from './rect';
import { MIN_LAYER_PX, resizeRect, type Guide, type ResizeHandle } from './snapping';

/** Cropping leaves at least this part of a picture. */
const MIN_PART = 0.02;
/** Turning snaps to multiples of this, when it comes as near as SNAP_DEG. */
const STEP_DEG = 15;
const SNAP_DEG = 2.5;

/**
 * Drags a handle of a placement by (dx, dy) frame pixels; the opposite side stays where it is, also when it is turned.
 * Snaps only while upright: a turned edge lies on no line.
 */
export function resizePlacement(
  start: Placement,
  handle: ResizeHandle,
  dx: number,
  dy: number,
  aspect: number | null,
  lines: readonly Guide[],
  reach: number,
): { placement: Placement; guides: Guide[] } {
  const rect = rectOfPlacement(start);
  if (start.rotationDeg === 0) {
    const result = resizeRect(rect, handle, dx, dy, aspect, lines, reach);
    return { placement: { ...start, ...placementOfRect(result.rect) }, guides: result.guides };
  }
  const local = turned(dx, dy, -start.rotationDeg);
  const { rect: resized } = resizeRect(rect, handle, local.x, local.y, aspect, [], 0);
  return { placement: recentred(start, resized), guides: [] };
}

/** A placement whose box, seen in its own turned directions, becomes `rect`; the sides that did not move stay in place. */
function recentred(start: Placement, rect: Rect): Placement {
  const shift = turned(
    rect.x + rect.width / 2 - start.cx,
    rect.y + rect.height / 2 - start.cy,
    start.rotationDeg,
  );
  return {
    ...start,
    cx: start.cx + shift.x,
    cy: start.cy + shift.y,
    width: rect.width,
    height: rect.height,
  };
}

/** The crop that a box of another shape makes of a picture that fills it, added to the crop it has. */
export function visibleCrop(placement: Placement, picture: Size, fit: Fit): Crop {
  const { crop } = placement;
  if (fit !== 'fill') return crop;
  const width = picture.width * (1 - crop.left - crop.right);
  const height = picture.height * (1 - crop.top - crop.bottom);
  const cut = coverCrop({ width, height }, placement);
  return {
    left: crop.left + cut.x / picture.width,
    right: crop.right + cut.x / picture.width,
    top: crop.top + cut.y / picture.height,
    bottom: crop.bottom + cut.y / picture.height,
  };
}

/**
 * Drags an edge or corner so that the picture stays where it is and less, or more, of it is seen. Outward it stops where
 * the picture ends.
 *
 * @param picture size of the layer's whole picture, in any unit
 */
export function cropPlacement(
  start: Placement,
  picture: Size,
  fit: Fit,
  handle: ResizeHandle,
  dx: number,
  dy: number,
): Placement {
  // A flipped picture is cropped at the side that is seen there.
  const seen = (crop: Crop): Crop => ({
    left: start.flipX ? crop.right : crop.left,
    right: start.flipX ? crop.left : crop.right,
    top: start.flipY ? crop.bottom : crop.top,
    bottom: start.flipY ? crop.top : crop.bottom,
  });
  const crop = seen(visibleCrop(start, picture, fit));
  // Where the whole picture would lie, in the box's own directions.
  const wholeWidth = start.width / (1 - crop.left - crop.right);
  const wholeHeight = start.height / (1 - crop.top - crop.bottom);
  const rect = rectOfPlacement(start);
  const whole = { x: rect.x - crop.left * wholeWidth, y: rect.y - crop.top * wholeHeight };
  const local = turned(dx, dy, -start.rotationDeg);
  const { rect: resized } = resizeRect(rect, handle, local.x, local.y, null, [], 0);
  const minWidth = Math.max(MIN_LAYER_PX, wholeWidth * MIN_PART);
  const minHeight = Math.max(MIN_LAYER_PX, wholeHeight * MIN_PART);
  const left = Math.max(whole.x, Math.min(resized.x, rect.x + rect.width - minWidth));
  const top = Math.max(whole.y, Math.min(resized.y, rect.y + rect.height - minHeight));
  const right = Math.min(whole.x + wholeWidth, Math.max(resized.x + resized.width, rect.x + minWidth));
  const bottom = Math.min(whole.y + wholeHeight, Math.max(resized.y + resized.height, rect.y + minHeight));
  const part = (value: number) => Math.min(0.99, Math.max(0, value));
  const placed = recentred(start, { x: left, y: top, width: right - left, height: bottom - top });
  const sides = {
    left: part((left - whole.x) / wholeWidth),
    right: part((whole.x + wholeWidth - right) / wholeWidth),
    top: part((top - whole.y) / wholeHeight),
    bottom: part((whole.y + wholeHeight - bottom) / wholeHeight),
  };
  return { ...placed, crop: seen(sides) };
}

/** Rounds the corners by dragging the mark inside one by (dx, dy) frame pixels towards the middle. */
export function roundPlacement(start: Placement, dx: number, dy: number): Placement {
  const local = turned(dx, dy, -start.rotationDeg);
  const most = Math.min(start.width, start.height) / 2;
  return { ...start, cornerPx: Math.max(0, Math.min(most, start.cornerPx + (local.x + local.y) / 2)) };
}

/**
 * Turns a placement so that its turning handle (above the middle of its upper side) points at (x, y).
 * @param snap 'steps': multiples of 15° only; 'near': 15° when close; 'none'
 */
export function turnPlacement(
  start: Placement,
  x: number,
  y: number,
  snap: 'steps' | 'near' | 'none',
): Placement {
  let deg = (Math.atan2(y - start.cy, x - start.cx) * 180) / Math.PI + 90;
  const step = Math.round(deg / STEP_DEG) * STEP_DEG;
  if (snap === 'steps' || (snap === 'near' && Math.abs(deg - step) < SNAP_DEG)) deg = step;
  // −180…180, and one way only to write half a turn.
  deg = ((((deg + 180) % 360) + 360) % 360) - 180;
  return { ...start, rotationDeg: deg === -180 ? 180 : deg };
}

/** Moves and scales placements that stood within `from` so that they stand alike within `to`. */
export function scaleWithin<T extends Placement>(placements: readonly T[], from: Rect, to: Rect): T[] {
  const sx = from.width > 0 ? to.width / from.width : 1;
  const sy = from.height > 0 ? to.height / from.height : 1;
  return placements.map((p) => {
    // A layer turned on its side grows in height when its group grows in width.
    const sideways = Math.abs((((p.rotationDeg % 180) + 180) % 180) - 90) < 45;
    return {
      ...p,
      cx: to.x + (p.cx - from.x) * sx,
      cy: to.y + (p.cy - from.y) * sy,
      width: Math.max(1, p.width * (sideways ? sy : sx)),
      height: Math.max(1, p.height * (sideways ? sx : sy)),
      cornerPx: p.cornerPx * Math.min(sx, sy),
    };
  });
}
