/**
 * What to draw for one picture, computed from records alone: no canvas, no device.
 */
import {
  boundsOfPlacement,
  contains,
  intersection,
  intersects,
  placementOfRect,
  rectOfPlacement,
  type Rect,
  type Size,
} from '../geometry/rect';
import { findRecord, recordsOf, type ShowDocument } from '../show/document';
import { layersOfScene, picturesOfScene } from '../show/layers';
import type {
  Fit,
  FrameName,
  InputRecord,
  LayerContent,
  LayerRecord,
  Placement,
  Shape,
} from '../show/records';
import { fillFields } from './fields';

export interface DrawItem {
  layerId: string;
  content: DrawContent;
  /** Where it goes, in output pixels, before rotation. */
  rect: Rect;
  rotationDeg: number;
  opacity: number;
  cornerPx: number;
  crop: Placement['crop'];
  flipX: boolean;
  flipY: boolean;
  borderPx: number;
  borderColour: string;
  shadowPx: number;
  /** Output pixels for one frame pixel; text sizes are given in frame pixels. */
  scale: number;
}

type ContentOf<T extends LayerContent['type']> = Extract<LayerContent, { type: T }>;

export type DrawContent =
  | { type: 'input'; inputId: string; fit: Fit }
  | { type: 'text'; text: string; style: ContentOf<'text'>['style'] }
  | { type: 'shape'; shape: Shape; colour: string }
  /** `size` is the scene's own frame, which the box shows like a picture. */
  | { type: 'inset'; sceneId: string; fit: Fit; size: Size }
  | ContentOf<'chatPanel'>
  | ContentOf<'alert'>
  | ContentOf<'widget'>;

export interface DrawList {
  sceneId: string;
  frame: FrameName;
  /** Without what viewers cause. */
  clean: boolean;
  background: string;
  items: DrawItem[];
}

/** Inputs whose picture has no transparent pixel: what lies wholly below them need not be drawn. */
export function isOpaqueInput({ source }: InputRecord): boolean {
  switch (source.type) {
    case 'camera':
    case 'screen':
    case 'clips':
    case 'simulated':
      return true;
    case 'background':
      return source.look === 'plain' && /^#[0-9a-f]{6}$/i.test(source.colour);
    case 'picture':
    case 'slides':
    case 'lottie':
      return false;
  }
}

/** What viewers cause on the picture: alerts, their chat, and what was read out of it. */
export function isFromViewers(content: LayerContent): boolean {
  return (
    content.type === 'alert' ||
    content.type === 'chatPanel' ||
    (content.type === 'widget' && content.widget.of === 'readOut')
  );
}

function covers(document: ShowDocument, item: DrawItem): boolean {
  if (item.opacity < 1 || item.cornerPx > 0 || item.rotationDeg % 180 !== 0) return false;
  const { content } = item;
  if (content.type === 'shape')
    return content.shape === 'rectangle' && /^#[0-9a-f]{6}$/i.test(content.colour);
  if (content.type !== 'input' || content.fit === 'fit') return false;
  const input = findRecord(document, 'input', content.inputId);
  return input !== null && isOpaqueInput(input);
}

function contentOf(
  content: LayerContent,
  fields: Readonly<Record<string, string>>,
  frame: Size,
): DrawContent | null {
  switch (content.type) {
    case 'group':
      return null;
    case 'text':
      return { ...content, text: fillFields(content.text, fields) };
    case 'inset':
      return { ...content, size: frame };
    default:
      return content;
  }
}

function itemOf(
  layer: LayerRecord,
  placement: Placement,
  content: DrawContent,
  scaleX: number,
  scaleY: number,
): DrawItem {
  const frameRect = rectOfPlacement(placement);
  const scale = Math.min(scaleX, scaleY);
  return {
    layerId: layer.id,
    content,
    rect: {
      x: frameRect.x * scaleX,
      y: frameRect.y * scaleY,
      width: frameRect.width * scaleX,
      height: frameRect.height * scaleY,
    },
    rotationDeg: placement.rotationDeg,
    opacity: placement.opacity,
    cornerPx: Math.min(
      placement.cornerPx * scale,
      (placement.width * scaleX) / 2,
      (placement.height * scaleY) / 2,
    ),
    crop: placement.crop,
    flipX: placement.flipX,
    flipY: placement.flipY,
    borderPx: placement.borderPx * scale,
    borderColour: placement.borderColour,
    shadowPx: placement.shadowPx * scale,
    scale,
  };
}

/**
 * The draw list of a scene in one frame, lowest first, for an output of `output` pixels.
 * Leaves out what is hidden, outside, fully transparent, or wholly behind something opaque.
 *
 * @param of `inside`: as an inset, the scene's own layers only; `clean`: without what viewers cause; `live`: fields that
 * events keep up, beside the show's own
 */
export function buildDrawList(
  document: ShowDocument,
  sceneId: string,
  frameName: FrameName,
  output: Size,
  of: { inside?: boolean; clean?: boolean; live?: Readonly<Record<string, string>> } = {},
): DrawList {
  const { inside = false, clean = false, live = {} } = of;
  const scene = findRecord(document, 'scene', sceneId);
  const list: DrawList = {
    sceneId,
    frame: frameName,
    clean,
    background: scene?.background ?? '#000000',
    items: [],
  };
  const show = recordsOf(document, 'show')[0];
  if (!scene || !show) return list;
  const frame = show.frames[frameName];
  const scaleX = output.width / frame.width;
  const scaleY = output.height / frame.height;
  const screen: Rect = { x: 0, y: 0, width: output.width, height: output.height };
  const coverers: Rect[] = [];
  const fields = { ...live, ...show.fields };
  const layers = inside ? picturesOfScene(document, sceneId) : layersOfScene(document, sceneId);
  for (let i = layers.length - 1; i >= 0; i--) {
    const layer = layers[i];
    const placement = layer.placements[frameName];
    if (!layer.visible || !placement || placement.opacity <= 0) continue;
    if (clean && isFromViewers(layer.content)) continue;
    const content = contentOf(layer.content, fields, frame);
    if (!content) continue;
    const item = itemOf(layer, placement, content, scaleX, scaleY);
    const reach = boundsOf(item);
    if (!intersects(reach, screen)) continue;
    if (coverers.length > 0) {
      const seen = intersection(reach, screen);
      if (coverers.some((rect) => contains(rect, seen))) continue;
    }
    if (covers(document, item)) coverers.push(item.rect);
    list.items.push(item);
  }
  list.items.reverse();
  return list;
}

/** Everything an item may touch: turned, with border and shadow. */
export function boundsOf(item: DrawItem): Rect {
  if (item.rotationDeg === 0 && item.borderPx === 0 && item.shadowPx === 0) return item.rect;
  const bounds = boundsOfPlacement({ ...placementOfRect(item.rect), rotationDeg: item.rotationDeg });
  const margin = item.borderPx + item.shadowPx * 2;
  return {
    x: bounds.x - margin,
    y: bounds.y - margin,
    width: bounds.width + 2 * margin,
    height: bounds.height + 2 * margin,
  };
}

/** A scene shown in a box is drawn as large as the box needs it, in its frame's shape. */
export function insetSize(item: DrawItem, frame: Size): Size {
  const { width, height } = item.rect;
  const scale = Math.min(1, Math.max(width / frame.width, height / frame.height));
  return {
    width: Math.max(2, Math.round(frame.width * scale)),
    height: Math.max(2, Math.round(frame.height * scale)),
  };
}
