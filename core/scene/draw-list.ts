/**
 * What to draw for one picture, computed from records alone: no canvas, no device.
 */
import { contains, intersects, rectOfPlacement, type Rect, type Size } from '../geometry/rect';
import { findRecord, layersOfScene, type ShowDocument } from '../show/document';
import type { FrameName, InputSource, LayerContent, LayerRecord, Placement } from '../show/records';
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
  borderPx: number;
  borderColour: string;
  shadowPx: number;
  /** Output pixels for one frame pixel; text sizes are given in frame pixels. */
  scale: number;
}

export type DrawContent =
  | { type: 'input'; inputId: string; fit: 'fill' | 'fit' | 'stretch' }
  | { type: 'text'; text: string; style: Extract<LayerContent, { type: 'text' }>['style'] }
  | { type: 'fill'; colour: string }
  | { type: 'chatPanel'; style: Extract<LayerContent, { type: 'chatPanel' }>['style']; keepSeconds: number }
  | { type: 'alert'; style: Extract<LayerContent, { type: 'alert' }>['style'] };

export interface DrawList {
  sceneId: string;
  background: string;
  items: DrawItem[];
}

/** Inputs whose picture has no transparent pixel: what lies wholly below them need not be drawn. */
function isOpaqueSource(source: InputSource): boolean {
  return (
    source.type === 'camera' ||
    source.type === 'screen' ||
    source.type === 'video' ||
    source.type === 'simulated'
  );
}

function covers(document: ShowDocument, item: DrawItem): boolean {
  if (item.opacity < 1 || item.cornerPx > 0 || item.rotationDeg % 90 !== 0 || item.rotationDeg % 180 !== 0)
    return false;
  if (item.content.type === 'fill') return /^#[0-9a-f]{6}$/i.test(item.content.colour);
  if (item.content.type !== 'input' || item.content.fit === 'fit') return false;
  const input = findRecord(document, 'input', item.content.inputId);
  return input !== null && isOpaqueSource(input.source);
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
    borderPx: placement.borderPx * scale,
    borderColour: placement.borderColour,
    shadowPx: placement.shadowPx * scale,
    scale,
  };
}

/**
 * The draw list of a scene in one frame, lowest first, for an output of `output` pixels.
 * Leaves out what is hidden, outside, fully transparent, or wholly behind something opaque.
 */
export function buildDrawList(
  document: ShowDocument,
  sceneId: string,
  frameName: FrameName,
  output: Size,
): DrawList {
  const scene = findRecord(document, 'scene', sceneId);
  const list: DrawList = { sceneId, background: scene?.background ?? '#000000', items: [] };
  const show = [...document.values()].find((record) => record.kind === 'show');
  if (!scene || !show) return list;
  const frame = show.frames[frameName];
  const scaleX = output.width / frame.width;
  const scaleY = output.height / frame.height;
  const screen: Rect = { x: 0, y: 0, width: output.width, height: output.height };
  const coverers: Rect[] = [];
  const layers = layersOfScene(document, sceneId);
  for (let i = layers.length - 1; i >= 0; i--) {
    const layer = layers[i];
    const placement = layer.placements[frameName];
    if (!layer.visible || !placement || placement.opacity <= 0) continue;
    const content: DrawContent =
      layer.content.type === 'text'
        ? { ...layer.content, text: fillFields(layer.content.text, show.fields) }
        : layer.content;
    const item = itemOf(layer, placement, content, scaleX, scaleY);
    const reach = boundsOf(item);
    if (!intersects(reach, screen)) continue;
    if (coverers.some((rect) => contains(rect, clip(reach, screen)))) continue;
    if (covers(document, item)) coverers.push(item.rect);
    list.items.push(item);
  }
  list.items.reverse();
  return list;
}

function clip(r: Rect, to: Rect): Rect {
  const x = Math.max(r.x, to.x);
  const y = Math.max(r.y, to.y);
  return {
    x,
    y,
    width: Math.min(r.x + r.width, to.x + to.width) - x,
    height: Math.min(r.y + r.height, to.y + to.height) - y,
  };
}

/** Everything an item may touch: turned, with border and shadow. */
function boundsOf(item: DrawItem): Rect {
  const { rect } = item;
  const angle = (item.rotationDeg * Math.PI) / 180;
  const cos = Math.abs(Math.cos(angle));
  const sin = Math.abs(Math.sin(angle));
  const width = rect.width * cos + rect.height * sin + 2 * (item.borderPx + item.shadowPx * 2);
  const height = rect.width * sin + rect.height * cos + 2 * (item.borderPx + item.shadowPx * 2);
  return { x: rect.x + rect.width / 2 - width / 2, y: rect.y + rect.height / 2 - height / 2, width, height };
}

/** Ids of the inputs a draw list shows. */
export function inputsOf(list: DrawList): Set<string> {
  const ids = new Set<string>();
  for (const item of list.items) if (item.content.type === 'input') ids.add(item.content.inputId);
  return ids;
}
