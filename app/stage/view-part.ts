/** Zooming and panning: which part of a frame its box on the page shows. */
import type { Point, Rect, Size } from '~/core/geometry/rect';

/** Largest zoom, screen pixels for one frame pixel. */
export const MAX_ZOOM = 8;

/** Screen pixels for one frame pixel. */
export function scaleOf(box: Size, frame: Size, part: Rect | null): number {
  return box.width / (part?.width ?? frame.width);
}

/**
 * The part after zooming to `scale` so that the frame's point `at` stays where it is; null when the whole frame fits.
 */
export function zoomed(box: Size, frame: Size, part: Rect | null, scale: number, at: Point): Rect | null {
  const least = box.width / frame.width;
  const next = Math.min(MAX_ZOOM, Math.max(least, scale));
  if (next <= least * 1.001) return null;
  const from = part ?? { x: 0, y: 0, ...frame };
  const width = box.width / next;
  const height = box.height / next;
  const x = at.x - ((at.x - from.x) / from.width) * width;
  const y = at.y - ((at.y - from.y) / from.height) * height;
  return kept({ x, y, width, height }, frame);
}

/** Moves the part by frame pixels. */
export function panned(part: Rect | null, frame: Size, dx: number, dy: number): Rect | null {
  return part && kept({ ...part, x: part.x + dx, y: part.y + dy }, frame);
}

/** At least half of the view stays over the frame. */
function kept(part: Rect, frame: Size): Rect {
  const within = (value: number, size: number, length: number) =>
    Math.min(length - size / 2, Math.max(-size / 2, value));
  return {
    ...part,
    x: within(part.x, part.width, frame.width),
    y: within(part.y, part.height, frame.height),
  };
}

/**
 * Sizes of the frames side by side in a room: the tall one a little smaller in area than the wide one, both as large as
 * they go.
 */
export function boardSizes(room: Size, frames: readonly Size[], gap: number): Size[] {
  const wanted = frames.map(({ width, height }, i) => {
    const area = i === 0 ? 1 : 0.7;
    const aspect = width / height;
    return { width: Math.sqrt(area * aspect), height: Math.sqrt(area / aspect) };
  });
  const across = wanted.reduce((sum, s) => sum + s.width, 0);
  const high = Math.max(...wanted.map((s) => s.height));
  const scale = Math.min((room.width - gap * (frames.length - 1)) / across, room.height / high);
  return wanted.map((s) => ({
    width: Math.max(64, Math.floor(s.width * scale)),
    height: Math.max(36, Math.floor(s.height * scale)),
  }));
}
