import {
  intersection,
  intersects,
  rectOfPlacement,
  placementOfRect,
  type Rect,
  type Size,
} from '../geometry/rect';
import { findRecord, type ShowDocument } from './document';
import { kindOf } from './input-kinds';
import { layersOfScene } from './layers';
import type { FrameName, InputSource, LayerRecord, Placement, Placements } from './records';
import { frameOf, fullPlacements, shapedPlacements, usedFrames } from './stage-edits';

/** Covers so much of a frame: the scene has its ground. */
const WHOLE_SHARE = 0.85;
/** A camera in a corner: its width in parts of the frame's, and its distance from the edges in parts of the short side. */
const CORNER_WIDTH: Record<FrameName, number> = { wide: 0.28, tall: 0.46 };
const CORNER_MARGIN = 0.03;
const CORNER_ROUND = 0.02;

/**
 * Where a new input most likely belongs: the first picture of a scene fills the frame, a camera over it goes into the corner
 * where it covers least, everything else stands in the middle in its own shape.
 *
 * @param share of the frame that something in the middle takes at most
 */
export function guessedPlacements(
  document: ShowDocument,
  sceneId: string | null,
  source: InputSource,
  shape: Size,
  share: number,
): Placements {
  const middle = shapedPlacements(document, shape, share);
  if (sceneId === null || !kindOf(source).ground) return middle;
  const layers = layersOfScene(document, sceneId).filter((layer) => layer.visible);
  const whole = fullPlacements(document);
  return Object.fromEntries(
    usedFrames(document).map((frame) => {
      const size = frameOf(document, frame);
      const rects = layers.flatMap((layer) => rectIn(layer, frame));
      const ground = layers.some((layer) => fills(document, layer, frame, size));
      if (!ground) return [frame, whole[frame]!];
      return [frame, kindOf(source).corner ? inCorner(frame, size, shape, rects) : middle[frame]!];
    }),
  );
}

function rectIn(layer: LayerRecord, frame: FrameName): Rect[] {
  const placement = layer.placements[frame];
  return placement && layer.content.type !== 'group' ? [rectOfPlacement(placement)] : [];
}

/** Whether it is a picture that takes the frame; a plain ground does not count. */
function fills(document: ShowDocument, layer: LayerRecord, frame: FrameName, size: Size): boolean {
  const { content } = layer;
  if (content.type !== 'input') return false;
  const source = findRecord(document, 'input', content.inputId)?.source;
  if (!source || !kindOf(source).ground) return false;
  return rectIn(layer, frame).some((rect) => {
    const seen = intersection(rect, { x: 0, y: 0, ...size });
    return seen.width * seen.height >= WHOLE_SHARE * size.width * size.height;
  });
}

function inCorner(frame: FrameName, size: Size, shape: Size, taken: readonly Rect[]): Placement {
  const short = Math.min(size.width, size.height);
  const margin = Math.round(short * CORNER_MARGIN);
  const width = Math.round(size.width * CORNER_WIDTH[frame]);
  const height = Math.round((width * shape.height) / shape.width);
  const right = size.width - margin - width;
  const bottom = size.height - margin - height;
  // Faces are looked for where the eye ends: below left first.
  const corners: Rect[] = [
    { x: margin, y: bottom, width, height },
    { x: right, y: bottom, width, height },
    { x: right, y: margin, width, height },
    { x: margin, y: margin, width, height },
  ];
  const small = taken.filter((rect) => rect.width * rect.height < WHOLE_SHARE * size.width * size.height);
  const covered = (corner: Rect) =>
    small.reduce((sum, rect) => {
      if (!intersects(corner, rect)) return sum;
      const over = intersection(corner, rect);
      return sum + over.width * over.height;
    }, 0);
  const best = corners.reduce((a, b) => (covered(b) < covered(a) ? b : a));
  const whole: Placement = {
    ...{ rotationDeg: 0, opacity: 1, cornerPx: Math.round(short * CORNER_ROUND) },
    crop: { left: 0, top: 0, right: 0, bottom: 0 },
    ...{ flipX: false, flipY: false, borderPx: 0, borderColour: '#ECE8E1', shadowPx: 0 },
    ...placementOfRect(best),
  };
  return whole;
}
