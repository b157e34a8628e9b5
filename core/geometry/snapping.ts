import type { Rect, Size } from './rect';

/** A line that something snapped to, in frame pixels. */
export interface Guide {
  axis: 'x' | 'y';
  at: number;
  /** What lies there, for the label beside the line. */
  why: 'edge' | 'centre' | 'third' | 'layer';
}

export const RESIZE_HANDLES = ['nw', 'n', 'ne', 'e', 'se', 's', 'sw', 'w'] as const;
export type ResizeHandle = (typeof RESIZE_HANDLES)[number];

/** Nothing is made smaller than this: it could not be taken hold of again. */
export const MIN_LAYER_PX = 8;

/** Lines of a frame and of the other layers that a moving layer can snap to. */
export function snapLines(frame: Size, others: readonly Rect[]): Guide[] {
  const lines: Guide[] = [];
  const add = (axis: 'x' | 'y', at: number, why: Guide['why']) => lines.push({ axis, at, why });
  for (const axis of ['x', 'y'] as const) {
    const length = axis === 'x' ? frame.width : frame.height;
    add(axis, 0, 'edge');
    add(axis, length, 'edge');
    add(axis, length / 2, 'centre');
    add(axis, length / 3, 'third');
    add(axis, (2 * length) / 3, 'third');
    for (const r of others) {
      const from = axis === 'x' ? r.x : r.y;
      const size = axis === 'x' ? r.width : r.height;
      add(axis, from, 'layer');
      add(axis, from + size, 'layer');
      add(axis, from + size / 2, 'layer');
    }
  }
  return lines;
}

function nearest(
  lines: readonly Guide[],
  axis: 'x' | 'y',
  points: readonly number[],
  reach: number,
): { shift: number; guide: Guide | null } {
  let best = reach;
  let shift = 0;
  let guide: Guide | null = null;
  for (const line of lines) {
    if (line.axis !== axis) continue;
    for (const point of points) {
      const distance = Math.abs(line.at - point);
      if (distance < best) {
        best = distance;
        shift = line.at - point;
        guide = line;
      }
    }
  }
  return { shift, guide };
}

/**
 * Moves a rectangle by (dx, dy) and onto the nearest lines within `reach` pixels, by its edges or its centre.
 * A reach of 0 does not snap.
 */
export function moveRect(
  rect: Rect,
  dx: number,
  dy: number,
  lines: readonly Guide[],
  reach: number,
): { rect: Rect; guides: Guide[] } {
  const x = rect.x + dx;
  const y = rect.y + dy;
  const sx = nearest(lines, 'x', [x, x + rect.width / 2, x + rect.width], reach);
  const sy = nearest(lines, 'y', [y, y + rect.height / 2, y + rect.height], reach);
  return {
    rect: { ...rect, x: x + sx.shift, y: y + sy.shift },
    guides: [sx.guide, sy.guide].filter((g) => g !== null),
  };
}

/**
 * Drags one handle of a rectangle by (dx, dy); the opposite side stays.
 * @param aspect width by height to keep, or null for free sizes
 */
export function resizeRect(
  rect: Rect,
  handle: ResizeHandle,
  dx: number,
  dy: number,
  aspect: number | null,
  lines: readonly Guide[],
  reach: number,
): { rect: Rect; guides: Guide[] } {
  const west = handle.includes('w');
  const east = handle.includes('e');
  const north = handle.includes('n');
  const south = handle.includes('s');
  let left = rect.x;
  let right = rect.x + rect.width;
  let top = rect.y;
  let bottom = rect.y + rect.height;
  const guides: Guide[] = [];
  const snap = (axis: 'x' | 'y', value: number) => {
    const { shift, guide } = nearest(lines, axis, [value], reach);
    if (guide) guides.push(guide);
    return value + shift;
  };
  if (west) left = Math.min(snap('x', left + dx), right - MIN_LAYER_PX);
  if (east) right = Math.max(snap('x', right + dx), left + MIN_LAYER_PX);
  if (north) top = Math.min(snap('y', top + dy), bottom - MIN_LAYER_PX);
  if (south) bottom = Math.max(snap('y', bottom + dy), top + MIN_LAYER_PX);
  if (aspect !== null) {
    let width = right - left;
    let height = bottom - top;
    const byWidth =
      (west || east) &&
      (!(north || south) ||
        Math.abs(width - rect.width) * rect.height >= Math.abs(height - rect.height) * rect.width);
    if (byWidth) height = Math.max(MIN_LAYER_PX, width / aspect);
    else width = Math.max(MIN_LAYER_PX, height * aspect);
    const middleX = (rect.x + rect.x + rect.width) / 2;
    const middleY = (rect.y + rect.y + rect.height) / 2;
    if (west) left = right - width;
    else if (east) right = left + width;
    else [left, right] = [middleX - width / 2, middleX + width / 2];
    if (north) top = bottom - height;
    else if (south) bottom = top + height;
    else [top, bottom] = [middleY - height / 2, middleY + height / 2];
  }
  return { rect: { x: left, y: top, width: right - left, height: bottom - top }, guides };
}
