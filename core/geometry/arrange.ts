/** Commands that put layers in their place: each from what is there to placements, no interface. */
import { fullPlacement, NO_CROP, type Placement } from '../show/records';
import { boundsOfPlacement, containRect, placementOfRect, unionOf, type Rect, type Size } from './rect';

export interface ArrangedLayer {
  id: string;
  placement: Placement;
  /** Size of its picture after cropping, any unit; null where it has no shape of its own. */
  picture: Size | null;
}

export const REGIONS = {
  'left-half': [0, 0, 1 / 2, 1],
  'right-half': [1 / 2, 0, 1 / 2, 1],
  'top-half': [0, 0, 1, 1 / 2],
  'bottom-half': [0, 1 / 2, 1, 1 / 2],
  'left-third': [0, 0, 1 / 3, 1],
  'middle-third': [1 / 3, 0, 1 / 3, 1],
  'right-third': [2 / 3, 0, 1 / 3, 1],
  'top-third': [0, 0, 1, 1 / 3],
  'centre-third': [0, 1 / 3, 1, 1 / 3],
  'bottom-third': [0, 2 / 3, 1, 1 / 3],
  'left-two-thirds': [0, 0, 2 / 3, 1],
  'right-two-thirds': [1 / 3, 0, 2 / 3, 1],
  'top-two-thirds': [0, 0, 1, 2 / 3],
  'bottom-two-thirds': [0, 1 / 3, 1, 2 / 3],
} as const;
export type Region = keyof typeof REGIONS;

export const CORNERS = ['top-left', 'top-right', 'bottom-left', 'bottom-right'] as const;
export type Corner = (typeof CORNERS)[number];
export const ALIGNMENTS = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
export type Alignment = (typeof ALIGNMENTS)[number];

export type ArrangeCommand =
  | { type: 'fit' }
  | { type: 'fill' }
  | { type: 'stretch' }
  | { type: 'centre' }
  | { type: 'reset' }
  | { type: 'region'; region: Region }
  | { type: 'corner'; corner: Corner; marginPx: number }
  | { type: 'align'; to: Alignment }
  | { type: 'distribute'; axis: 'x' | 'y' }
  /** Like the first of them. */
  | { type: 'sameSize' }
  | { type: 'samePlace' }
  | { type: 'flip'; axis: 'x' | 'y' };

const withRect = (placement: Placement, rect: Rect): Placement => ({
  ...placement,
  ...placementOfRect(rect),
});
const upright = (placement: Placement): Placement => ({ ...placement, rotationDeg: 0 });
const frameRect = (frame: Size): Rect => ({ x: 0, y: 0, width: frame.width, height: frame.height });

/** Smallest rectangle of `content`'s shape that covers `box`, centred. */
function coverRect(content: Size, box: Rect): Rect {
  const scale = Math.max(box.width / content.width, box.height / content.height);
  const width = content.width * scale;
  const height = content.height * scale;
  return { x: box.x + (box.width - width) / 2, y: box.y + (box.height - height) / 2, width, height };
}

/**
 * Placements after a command, for the layers it changes. Layers are in the order of choosing: the first one is the
 * reference of `sameSize` and `samePlace`.
 */
export function arrange(
  layers: readonly ArrangedLayer[],
  command: ArrangeCommand,
  frame: Size,
): Map<string, Placement> {
  const result = new Map<string, Placement>();
  const each = (change: (layer: ArrangedLayer) => Placement) => {
    for (const layer of layers) result.set(layer.id, change(layer));
  };
  const shapeOf = ({ picture, placement }: ArrangedLayer): Size => picture ?? placement;
  switch (command.type) {
    case 'fit':
      each((l) => withRect(upright(l.placement), containRect(shapeOf(l), frameRect(frame))));
      break;
    case 'fill':
      each((l) => withRect(upright(l.placement), coverRect(shapeOf(l), frameRect(frame))));
      break;
    case 'stretch':
      each((l) => withRect(upright(l.placement), frameRect(frame)));
      break;
    case 'centre':
      each((l) => ({ ...l.placement, cx: frame.width / 2, cy: frame.height / 2 }));
      break;
    case 'reset':
      each((l) => {
        const whole = fullPlacement(frame);
        if (!l.picture) return { ...whole, width: l.placement.width, height: l.placement.height };
        // The crop goes, so the whole picture's shape counts.
        const { crop } = l.placement;
        const shape = {
          width: l.picture.width / (1 - crop.left - crop.right),
          height: l.picture.height / (1 - crop.top - crop.bottom),
        };
        return withRect({ ...whole, crop: NO_CROP }, containRect(shape, frameRect(frame)));
      });
      break;
    case 'region': {
      const [x, y, width, height] = REGIONS[command.region];
      const rect = {
        x: x * frame.width,
        y: y * frame.height,
        width: width * frame.width,
        height: height * frame.height,
      };
      each((l) => withRect(upright(l.placement), rect));
      break;
    }
    case 'corner': {
      const { corner, marginPx } = command;
      each((l) => {
        const { width, height } = boundsOfPlacement(l.placement);
        return {
          ...l.placement,
          cx: corner.endsWith('left') ? marginPx + width / 2 : frame.width - marginPx - width / 2,
          cy: corner.startsWith('top') ? marginPx + height / 2 : frame.height - marginPx - height / 2,
        };
      });
      break;
    }
    case 'align':
      align(layers, command.to, frame, result);
      break;
    case 'distribute':
      distribute(layers, command.axis, result);
      break;
    case 'sameSize':
      for (const layer of layers.slice(1))
        result.set(layer.id, {
          ...layer.placement,
          width: layers[0].placement.width,
          height: layers[0].placement.height,
        });
      break;
    case 'samePlace':
      for (const layer of layers.slice(1)) {
        const { cx, cy, width, height, rotationDeg } = layers[0].placement;
        result.set(layer.id, { ...layer.placement, cx, cy, width, height, rotationDeg });
      }
      break;
    case 'flip':
      each(({ placement }) =>
        command.axis === 'x'
          ? { ...placement, flipX: !placement.flipX }
          : { ...placement, flipY: !placement.flipY },
      );
      break;
  }
  return result;
}

/** One layer aligns with the frame, several with the rectangle around them. */
function align(
  layers: readonly ArrangedLayer[],
  to: Alignment,
  frame: Size,
  result: Map<string, Placement>,
): void {
  const target =
    layers.length > 1 ? unionOf(layers.map((l) => boundsOfPlacement(l.placement))) : frameRect(frame);
  if (!target) return;
  for (const { id, placement } of layers) {
    const { width, height } = boundsOfPlacement(placement);
    const next = { ...placement };
    if (to === 'left') next.cx = target.x + width / 2;
    else if (to === 'centre') next.cx = target.x + target.width / 2;
    else if (to === 'right') next.cx = target.x + target.width - width / 2;
    else if (to === 'top') next.cy = target.y + height / 2;
    else if (to === 'middle') next.cy = target.y + target.height / 2;
    else next.cy = target.y + target.height - height / 2;
    result.set(id, next);
  }
}

/** Makes the gaps between neighbours equal; the outermost two stay. Fewer than three have nothing to share. */
function distribute(layers: readonly ArrangedLayer[], axis: 'x' | 'y', result: Map<string, Placement>): void {
  if (layers.length < 3) return;
  const spans = layers
    .map(({ id, placement }) => {
      const b = boundsOfPlacement(placement);
      return axis === 'x'
        ? { id, placement, from: b.x, length: b.width }
        : { id, placement, from: b.y, length: b.height };
    })
    .sort((a, b) => a.from + a.length / 2 - (b.from + b.length / 2));
  const last = spans[spans.length - 1];
  const room = last.from + last.length - spans[0].from - spans.reduce((sum, s) => sum + s.length, 0);
  const gap = room / (spans.length - 1);
  let at = spans[0].from;
  for (const { id, placement, length } of spans) {
    const middle = at + length / 2;
    result.set(id, axis === 'x' ? { ...placement, cx: middle } : { ...placement, cy: middle });
    at += length + gap;
  }
}
