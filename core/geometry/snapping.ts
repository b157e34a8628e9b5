import type { Rect, Size } from './rect';

/** A line that something snapped to, in frame pixels. */
export interface Guide {
  axis: 'x' | 'y';
  at: number;
  /** What lies there, for the label beside the line. */
  why: 'edge' | 'centre' | 'third' | 'safe' | 'layer' | 'gap';
  /** For equal gaps: where they are, along the axis, and at which height. */
  gaps?: { from: number; to: number; across: number }[];
}

export const RESIZE_HANDLES = ['nw', 'n', 'ne', 'e', 'se', 's', 'sw', 'w'] as const;
export type ResizeHandle = (typeof RESIZE_HANDLES)[number];

/** Nothing is made smaller than this: it could not be taken hold of again. */
export const MIN_LAYER_PX = 8;

/**
 * Safe areas of SMPTE ST 2046-1: action within 93 % and titles within 90 % of each dimension, so these shares lie
 * outside on every side.
 */
export const SAFE_SHARE = { action: 0.035, title: 0.05 } as const;

/** The rectangle of a safe area in a frame. */
export function safeArea(frame: Size, which: keyof typeof SAFE_SHARE): Rect {
  const share = SAFE_SHARE[which];
  return {
    x: frame.width * share,
    y: frame.height * share,
    width: frame.width * (1 - 2 * share),
    height: frame.height * (1 - 2 * share),
  };
}

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
    for (const share of Object.values(SAFE_SHARE)) {
      add(axis, length * share, 'safe');
      add(axis, length * (1 - share), 'safe');
    }
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

interface Snap {
  shift: number;
  guide: Guide | null;
}

function nearest(lines: readonly Guide[], axis: 'x' | 'y', points: readonly number[], reach: number): Snap {
  let best = reach;
  let found: Snap = { shift: 0, guide: null };
  for (const line of lines) {
    if (line.axis !== axis) continue;
    for (const point of points) {
      const distance = Math.abs(line.at - point);
      if (distance < best) {
        best = distance;
        found = { shift: line.at - point, guide: line };
      }
    }
  }
  return found;
}

/** A rectangle along one axis: where it begins and ends there, and its span across. */
interface Span {
  from: number;
  to: number;
  low: number;
  high: number;
}

function spanOf(r: Rect, axis: 'x' | 'y'): Span {
  return axis === 'x'
    ? { from: r.x, to: r.x + r.width, low: r.y, high: r.y + r.height }
    : { from: r.y, to: r.y + r.height, low: r.x, high: r.x + r.width };
}

/** Places where the gaps to two neighbours in one row (or column) become equal. */
function nearestGap(rect: Rect, axis: 'x' | 'y', others: readonly Rect[], reach: number): Snap {
  const me = spanOf(rect, axis);
  const row = others
    .map((other) => spanOf(other, axis))
    .filter((s) => s.low < me.high && me.low < s.high)
    .sort((a, b) => a.from - b.from);
  const length = me.to - me.from;
  const across = (me.low + me.high) / 2;
  let best = reach;
  let found: Snap = { shift: 0, guide: null };
  const offer = (from: number, gaps: readonly (readonly [number, number])[]) => {
    const distance = Math.abs(from - me.from);
    if (distance >= best) return;
    best = distance;
    found = {
      shift: from - me.from,
      guide: { axis, at: from, why: 'gap', gaps: gaps.map(([a, b]) => ({ from: a, to: b, across })) },
    };
  };
  for (let i = 0; i < row.length; i++)
    for (let j = 0; j < row.length; j++) {
      const [a, b] = [row[i], row[j]];
      const gap = b.from - a.to;
      if (i === j || gap <= 0) continue;
      // After the second, before the first, or in the middle between them.
      offer(b.to + gap, [
        [a.to, b.from],
        [b.to, b.to + gap],
      ]);
      offer(a.from - gap - length, [
        [a.from - gap, a.from],
        [a.to, b.from],
      ]);
      if (gap > length) {
        const side = (gap - length) / 2;
        offer(a.to + side, [
          [a.to, a.to + side],
          [b.from - side, b.from],
        ]);
      }
    }
  return found;
}

/**
 * Moves a rectangle by (dx, dy) and onto the nearest line or equal gap within `reach` pixels, by its edges or its
 * centre. A reach of 0 does not snap.
 *
 * @param others rectangles whose gaps count
 */
export function moveRect(
  rect: Rect,
  dx: number,
  dy: number,
  lines: readonly Guide[],
  reach: number,
  others: readonly Rect[] = [],
): { rect: Rect; guides: Guide[] } {
  const moved = { ...rect, x: rect.x + dx, y: rect.y + dy };
  const { x, y, width, height } = moved;
  const choose = (line: Snap, gap: Snap): Snap =>
    gap.guide && (!line.guide || Math.abs(gap.shift) < Math.abs(line.shift)) ? gap : line;
  const sx = choose(
    nearest(lines, 'x', [x, x + width / 2, x + width], reach),
    nearestGap(moved, 'x', others, reach),
  );
  const sy = choose(
    nearest(lines, 'y', [y, y + height / 2, y + height], reach),
    nearestGap(moved, 'y', others, reach),
  );
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

/** A free distance beside a rectangle, to be shown with its length. */
export interface Distance {
  axis: 'x' | 'y';
  from: number;
  to: number;
  /** Where across the axis the line is drawn. */
  across: number;
}

/** The nearest distance to each side: to the neighbour that faces it, else to the frame's edge. */
export function distancesOf(rect: Rect, frame: Size, others: readonly Rect[]): Distance[] {
  const found: Distance[] = [];
  for (const axis of ['x', 'y'] as const) {
    const me = spanOf(rect, axis);
    const across = (me.low + me.high) / 2;
    const end = axis === 'x' ? frame.width : frame.height;
    const facing = others.map((o) => spanOf(o, axis)).filter((s) => s.low < across && across < s.high);
    const before = Math.max(0, ...facing.filter((s) => s.to <= me.from).map((s) => s.to));
    const after = Math.min(end, ...facing.filter((s) => s.from >= me.to).map((s) => s.from));
    const sides = [
      { axis, from: before, to: me.from, across },
      { axis, from: me.to, to: after, across },
    ].filter((d) => d.to - d.from > 0.5);
    sides.sort((a, b) => a.to - a.from - (b.to - b.from));
    if (sides[0]) found.push(sides[0]);
  }
  return found;
}
