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
import { kindOf } from '../show/input-kinds';
import { mixColour } from '../motion/mix';
import { isSeen, standingLayer, type GradeFrom, type Layout, type MovingLayer } from '../motion/moving';
import { arrangement, layersAt, movesLayers, passageShare, type OnAir } from '../motion/programme';
import { picturesOfScene } from '../show/layers';
import { posed } from '../show/poses';
import type { Crop, Fit, FrameName, LayerContent, Placement, Shape } from '../show/records';
import { fillFields } from './fields';
import { finishOf, type ItemFinish, type ItemShadow } from './item-finish';

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
  shadow: ItemShadow | null;
  finish: ItemFinish | null;
  /** How far anything of it reaches over its box, border aside. */
  reachPx: number;
  /** It fills its box, or its shape, without a transparent point. */
  solid: boolean;
  /** Output pixels for one frame pixel; text sizes are given in frame pixels. */
  scale: number;
  /** Parts of the box that are not seen; null for none. */
  wipe: Crop | null;
  /** The size words are laid out for, output pixels, when it is not that of the box. */
  layout: Size | null;
  /** It will be elsewhere in the next picture: what is made for just this size is not worth keeping. */
  moving: boolean;
}

type ContentOf<T extends LayerContent['type']> = Extract<LayerContent, { type: T }>;

export type DrawContent =
  | { type: 'input'; inputId: string; fit: Fit; gradeId: string | null; gradeFrom: GradeFrom | null }
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

/** What viewers cause on the picture: alerts, their chat, and what was read out of it. */
export function isFromViewers(content: LayerContent): boolean {
  return (
    content.type === 'alert' ||
    content.type === 'chatPanel' ||
    (content.type === 'widget' && content.widget.of === 'readOut')
  );
}

function covers(item: DrawItem): boolean {
  if (item.opacity < 1 || item.wipe || item.moving || item.cornerPx > 0 || item.rotationDeg % 180 !== 0)
    return false;
  if (item.finish && (item.finish.mask || item.finish.blend !== 'normal')) return false;
  return item.solid && (item.content.type !== 'shape' || item.content.shape === 'rectangle');
}

function isSolid(document: ShowDocument, content: DrawContent): boolean {
  if (content.type === 'shape') return /^#[0-9a-f]{6}$/i.test(content.colour);
  if (content.type !== 'input' || content.fit === 'fit') return false;
  const input = findRecord(document, 'input', content.inputId);
  return input !== null && input.key === null && kindOf(input.source).opaque(input.source);
}

function contentOf(
  { layer: { content, gradeId }, colour, gradeFrom }: MovingLayer,
  fields: Readonly<Record<string, string>>,
  frame: Size,
): DrawContent | null {
  switch (content.type) {
    case 'shape':
      return colour === null || colour === content.colour ? content : { ...content, colour };
    case 'group':
      return null;
    case 'input':
      return { ...content, gradeId, gradeFrom };
    case 'text': {
      // A box with nothing in it would only cover the picture: a field that is not filled in yet.
      const text = fillFields(content.text, fields);
      return text.trim() === '' ? null : { ...content, text };
    }
    case 'inset':
      return { ...content, size: frame };
    default:
      return content;
  }
}

function itemOf(
  { layer, placement, wipe, finish }: MovingLayer,
  content: DrawContent,
  solid: boolean,
  layout: Layout | null,
  moving: boolean,
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
    // Words that flow from one box into another are seen in both; where they are the same they do not get dimmer.
    opacity: placement.opacity * (layout ? Math.min(1, 2 * layout.share) : 1),
    cornerPx: cornerOf(
      Math.min(placement.cornerPx * scale, (placement.width * scaleX) / 2, (placement.height * scaleY) / 2),
      moving,
    ),
    crop: placement.crop,
    flipX: placement.flipX,
    flipY: placement.flipY,
    borderPx: placement.borderPx * scale,
    borderColour: placement.borderColour,
    ...finishOf(finish, placement, scale),
    solid,
    scale,
    wipe: wipe.left + wipe.top + wipe.right + wipe.bottom > 0 ? wipe : null,
    layout:
      layout && (layout.width !== placement.width || layout.height !== placement.height)
        ? { width: layout.width * scaleX, height: layout.height * scaleY }
        : null,
    moving,
  };
}

/** While it moves in whole pixels: words are painted anew for every corner there is. */
const cornerOf = (px: number, moving: boolean): number => (moving ? Math.round(px) : px);

interface ListOptions {
  /** Without what viewers cause. */
  clean?: boolean;
  /** Fields that events keep up, beside the show's own. */
  live?: Readonly<Record<string, string>>;
}

/**
 * The draw list of a scene in one frame, lowest first, for an output of `output` pixels.
 * Leaves out what is hidden, outside, fully transparent, or wholly behind something opaque.
 *
 * @param of `poseId`: which of its poses, or else its first one; `inside`: as an inset, the scene's own layers only
 */
export function buildDrawList(
  document: ShowDocument,
  sceneId: string,
  frame: FrameName,
  output: Size,
  of: ListOptions & { poseId?: string | null; inside?: boolean } = {},
): DrawList {
  const { poseId = null, inside = false } = of;
  const layers = inside
    ? picturesOfScene(posed(document, sceneId, poseId), sceneId).flatMap((layer) => {
        const placement = layer.placements[frame];
        return layer.visible && placement ? [standingLayer(layer, placement)] : [];
      })
    : arrangement(document, { sceneId, poseId }, frame);
  const background = findRecord(document, 'scene', sceneId)?.background ?? '#000000';
  return listOf(document, sceneId, frame, output, layers, background, false, of);
}

/** Likewise for the layers on air at programme time `now`, seconds, while they move. */
export function buildMovingList(
  document: ShowDocument,
  onAir: OnAir,
  frame: FrameName,
  output: Size,
  now: number,
  of: ListOptions = {},
): DrawList {
  const backgroundOf = (sceneId: string) => findRecord(document, 'scene', sceneId)?.background ?? '#000000';
  const { from } = onAir;
  const background =
    from && movesLayers(from)
      ? mixColour(backgroundOf(from.before.sceneId), backgroundOf(onAir.sceneId), passageShare(onAir, now))
      : backgroundOf(onAir.sceneId);
  const layers = layersAt(document, onAir, frame, now);
  return listOf(document, onAir.sceneId, frame, output, layers, background, true, of);
}

function listOf(
  document: ShowDocument,
  sceneId: string,
  frameName: FrameName,
  output: Size,
  layers: readonly MovingLayer[],
  background: string,
  moving: boolean,
  { clean = false, live = {} }: ListOptions,
): DrawList {
  const list: DrawList = { sceneId, frame: frameName, clean, background, items: [] };
  const show = recordsOf(document, 'show')[0];
  if (!show || !findRecord(document, 'scene', sceneId)) return list;
  const frame = show.frames[frameName];
  const scaleX = output.width / frame.width;
  const scaleY = output.height / frame.height;
  const screen: Rect = { x: 0, y: 0, width: output.width, height: output.height };
  const coverers: Rect[] = [];
  const fields = { ...live, ...show.fields };
  for (let i = layers.length - 1; i >= 0; i--) {
    const layer = layers[i];
    if (!isSeen(layer)) continue;
    if (clean && isFromViewers(layer.layer.content)) continue;
    const content = contentOf(layer, fields, frame);
    if (!content) continue;
    const solid = isSolid(document, content);
    const item = itemOf(layer, content, solid, layer.layouts[0] ?? null, moving, scaleX, scaleY);
    const reach = boundsOf(item);
    if (!intersects(reach, screen)) continue;
    if (coverers.length > 0) {
      const seen = intersection(reach, screen);
      if (coverers.some((rect) => contains(rect, seen))) continue;
    }
    if (covers(item)) coverers.push(item.rect);
    list.items.push(item);
    for (const layout of layer.layouts.slice(1))
      list.items.push(itemOf(layer, content, solid, layout, moving, scaleX, scaleY));
  }
  list.items.reverse();
  return list;
}

/** Everything an item may touch: turned, with border and shadow. */
export function boundsOf(item: DrawItem): Rect {
  if (item.rotationDeg === 0 && item.borderPx === 0 && item.reachPx === 0) return item.rect;
  const bounds = boundsOfPlacement({ ...placementOfRect(item.rect), rotationDeg: item.rotationDeg });
  const margin = item.borderPx + item.reachPx;
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
  const needed = Math.min(1, Math.max(width / frame.width, height / frame.height));
  // While it moves, in steps: a canvas for each picture's size would only be thrown away.
  const scale = item.moving ? Math.min(1, Math.ceil(needed * 8) / 8) : needed;
  return {
    width: Math.max(2, Math.round(frame.width * scale)),
    height: Math.max(2, Math.round(frame.height * scale)),
  };
}
