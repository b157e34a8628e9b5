/** One drag on a frame: what was taken hold of, and what it makes of the layers. No interface, so that it can be tested. */
import {
  cropPlacement,
  resizePlacement,
  roundPlacement,
  scaleWithin,
  turnPlacement,
} from '~/core/geometry/gestures';
import { boundsOfPlacement, unionOf, type Rect, type Size } from '~/core/geometry/rect';
import {
  distancesOf,
  moveRect,
  resizeRect,
  snapLines,
  type Distance,
  type Guide,
  type ResizeHandle,
} from '~/core/geometry/snapping';
import type { Fit, Placement } from '~/core/show/records';

export interface DraggedLayer {
  id: string;
  placement: Placement;
  /** Pictures keep their shape when resized; words and shapes do not. */
  keepsShape: boolean;
  /** Whole picture and way of fitting, for cropping; null for what cannot be cropped. */
  picture: { size: Size; fit: Fit } | null;
}

export type Grip =
  { type: 'move' } | { type: 'handle'; handle: ResizeHandle } | { type: 'turn' } | { type: 'corner' };

export interface Drag {
  grip: Grip;
  layers: readonly DraggedLayer[];
  frame: Size;
  /** Rectangles of the other layers, to snap to. */
  others: readonly Rect[];
}

export interface DragKeys {
  /** Free shape instead of kept shape, or the other way round; turning in steps. */
  shift: boolean;
  /** No snapping. */
  alt: boolean;
  /** Dragging an edge crops. */
  crop: boolean;
}

export interface Dragged {
  placements: Map<string, Placement>;
  guides: Guide[];
  distances: Distance[];
}

/**
 * @param dx,dy how far the pointer has come, frame pixels
 * @param at where it is, frame pixels
 * @param reach snapping distance, frame pixels
 */
export function dragged(
  drag: Drag,
  dx: number,
  dy: number,
  at: { x: number; y: number },
  reach: number,
  keys: DragKeys,
): Dragged {
  const { grip, layers, frame, others } = drag;
  const snap = keys.alt ? 0 : reach;
  const lines = snap > 0 ? snapLines(frame, others) : [];
  const placements = new Map<string, Placement>();
  const bounds = unionOf(layers.map((l) => boundsOfPlacement(l.placement)));
  const [only] = layers.length === 1 ? layers : [];
  if (!bounds) return { placements, guides: [], distances: [] };
  let guides: Guide[] = [];
  if (grip.type === 'move') {
    const result = moveRect(bounds, dx, dy, lines, snap, snap > 0 ? others : []);
    const [mx, my] = [result.rect.x - bounds.x, result.rect.y - bounds.y];
    for (const { id, placement } of layers)
      placements.set(id, { ...placement, cx: placement.cx + mx, cy: placement.cy + my });
    guides = result.guides;
  } else if (grip.type === 'turn' && only)
    placements.set(
      only.id,
      turnPlacement(only.placement, at.x, at.y, keys.shift ? 'steps' : keys.alt ? 'none' : 'near'),
    );
  else if (grip.type === 'corner' && only) placements.set(only.id, roundPlacement(only.placement, dx, dy));
  else if (grip.type === 'handle' && only) {
    const { placement, picture } = only;
    if (keys.crop && picture)
      placements.set(only.id, cropPlacement(placement, picture.size, picture.fit, grip.handle, dx, dy));
    else {
      const aspect = only.keepsShape !== keys.shift ? placement.width / placement.height : null;
      const result = resizePlacement(placement, grip.handle, dx, dy, aspect, lines, snap);
      placements.set(only.id, result.placement);
      guides = result.guides;
    }
  } else if (grip.type === 'handle') {
    const aspect = keys.shift ? null : bounds.width / bounds.height;
    const result = resizeRect(bounds, grip.handle, dx, dy, aspect, lines, snap);
    const scaled = scaleWithin(
      layers.map((l) => l.placement),
      bounds,
      result.rect,
    );
    layers.forEach((layer, i) => placements.set(layer.id, scaled[i]));
    guides = result.guides;
  }
  const after = unionOf([...placements.values()].map(boundsOfPlacement));
  const showsDistances = after && (grip.type === 'move' || (grip.type === 'handle' && !keys.crop));
  return { placements, guides, distances: showsDistances ? distancesOf(after, frame, others) : [] };
}

/** What the step is called in the undo list. */
export function dragName(grip: Grip, keys: DragKeys): string {
  if (grip.type === 'move') return 'Move';
  if (grip.type === 'turn') return 'Turn';
  if (grip.type === 'corner') return 'Round';
  return keys.crop ? 'Crop' : 'Resize';
}
