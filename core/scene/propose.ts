/**
 * Proposes placements for the other frame: people stay whole and come above, screens below and readable, graphics into
 * free space, nothing overlapping that did not before.
 */
import { boundsOfPlacement, intersection, type Rect, type Size } from '../geometry/rect';
import { fullPlacement, type Placement } from '../show/records';

/** What a layer is to a viewer; decides where it goes. */
export type LayerRole = 'background' | 'screen' | 'person' | 'graphic';

export interface ProposedLayer {
  id: string;
  role: LayerRole;
  /** Where it stands in the frame it is taken from. */
  placement: Placement;
  /** Shape of its picture after cropping; null for what flows into any box. */
  picture: Size | null;
  /** Words and panels may get another shape; a logo may not. */
  flows: boolean;
}

/** Space between things that stand freely, in parts of the shorter side. */
const MARGIN = 0.02;
/** A layer over so much of its frame is what the scene is about, not something standing on it. */
export const FULL_SHARE = 0.85;
/** People above take this part of a tall frame; screens get the lower two thirds. */
const TALL_TOP = 1 / 3;
/** Widest that a person's box may become for its height, and the other way round: beyond it a whole person has no room. */
const PERSON_MAX_ASPECT = 16 / 9;

function overlap(a: Rect, b: Rect): number {
  const both = intersection(a, b);
  return both.width > 0 && both.height > 0 ? both.width * both.height : 0;
}

const areaOf = (r: Size) => r.width * r.height;
const toPlacement = (base: Placement, rect: Rect): Placement => ({
  ...base,
  cx: rect.x + rect.width / 2,
  cy: rect.y + rect.height / 2,
  width: rect.width,
  height: rect.height,
});

/** Splits a rectangle into `count` equal ones, side by side or above each other. */
function split(rect: Rect, count: number, axis: 'x' | 'y'): Rect[] {
  return Array.from({ length: count }, (_, i) =>
    axis === 'x'
      ? { ...rect, x: rect.x + (i * rect.width) / count, width: rect.width / count }
      : { ...rect, y: rect.y + (i * rect.height) / count, height: rect.height / count },
  );
}

/**
 * Placements of all layers in the frame `to`, from where they stand in the frame `from`.
 * @param layers lowest first
 */
export function proposePlacements(
  layers: readonly ProposedLayer[],
  from: Size,
  to: Size,
): Map<string, Placement> {
  const result = new Map<string, Placement>();
  const full = fullPlacement(to);
  const tall = to.height > to.width;
  const scale = Math.min(to.width, to.height) / Math.min(from.width, from.height);
  /** Look that is kept: turned, faded, edged as before, in the other frame's pixels. */
  const base = (p: Placement): Placement => ({
    ...p,
    cornerPx: p.cornerPx * scale,
    borderPx: p.borderPx * scale,
    shadowPx: p.shadowPx * scale,
  });
  const isFull = (l: ProposedLayer) =>
    overlap(boundsOfPlacement(l.placement), { x: 0, y: 0, ...from }) >= FULL_SHARE * areaOf(from);

  const people = layers.filter((l) => l.role === 'person');
  const screens = layers.filter((l) => l.role === 'screen');
  const graphics = layers.filter((l) => l.role === 'graphic');
  // Free room is kept in one piece below the screens when something is to stand in it.
  const standing = graphics.some((l) => !isFull(l));
  const put = (layer: ProposedLayer, rect: Rect, edged: boolean) => {
    const look = base(layer.placement);
    result.set(
      layer.id,
      toPlacement(edged ? look : { ...look, cornerPx: 0, borderPx: 0, shadowPx: 0 }, rect),
    );
  };

  for (const layer of layers.filter((l) => l.role === 'background'))
    result.set(
      layer.id,
      isFull(layer) ? { ...full, opacity: layer.placement.opacity } : sameShare(layer, from, to, base),
    );

  const whole: Rect = { x: 0, y: 0, ...to };
  const oneFull = screens.length + people.length === 1;
  if (oneFull) {
    const [only] = [...screens, ...people];
    // One picture alone: it fills the frame if a person can stay whole in it, else it keeps its shape.
    if (isFull(only) && only.role === 'person') put(only, whole, false);
    else if (isFull(only)) put(only, keepShape(only, whole), false);
    else put(only, keepShape(only, inset(whole, MARGIN * Math.min(to.width, to.height) * 2)), true);
  } else if (tall) {
    const top = people.length > 0 ? TALL_TOP * to.height : 0;
    const above: Rect = { x: 0, y: 0, width: to.width, height: screens.length > 0 ? top : to.height };
    const axis = above.width / people.length >= above.height * 0.75 ? 'x' : 'y';
    split(above, people.length, axis).forEach((rect, i) => put(people[i], rect, false));
    const below: Rect = { x: 0, y: top, width: to.width, height: to.height - top };
    split(below, screens.length, 'y').forEach((rect, i) => {
      const kept = keepShape(screens[i], rect);
      put(screens[i], standing ? { ...kept, y: rect.y } : kept, false);
    });
  } else placeWide(people, screens, to, isFull, put);

  for (const layer of graphics) {
    if (isFull(layer)) {
      result.set(layer.id, { ...full, opacity: layer.placement.opacity });
      continue;
    }
    const before = boundsOfPlacement(layer.placement);
    const others = [...result].flatMap(([id, placement]) => {
      const other = layers.find((l) => l.id === id)!;
      if (other.role === 'background' || (other.role === 'graphic' && isFull(other))) return [];
      const lay = overlap(before, boundsOfPlacement(other.placement)) > 0;
      return [{ rect: boundsOfPlacement(placement), weight: lay ? (other.role === 'person' ? 4 : 1) : 1000 }];
    });
    const rect = placeGraphic(layer, from, to, scale, (r) =>
      others.reduce((sum, o) => sum + overlap(r, o.rect) * o.weight, 0),
    );
    result.set(layer.id, toPlacement(base(layer.placement), rect));
  }
  return result;
}

function inset(rect: Rect, by: number): Rect {
  return { x: rect.x + by, y: rect.y + by, width: rect.width - 2 * by, height: rect.height - 2 * by };
}

/** The largest box of the picture's own shape inside `room`, in its middle. */
function keepShape({ picture, placement }: ProposedLayer, room: Rect): Rect {
  const shape = picture ?? placement;
  const scale = Math.min(room.width / shape.width, room.height / shape.height);
  const [width, height] = [shape.width * scale, shape.height * scale];
  return { x: room.x + (room.width - width) / 2, y: room.y + (room.height - height) / 2, width, height };
}

/** As large a part of the frame, at the same relative place. */
function sameShare(layer: ProposedLayer, from: Size, to: Size, base: (p: Placement) => Placement): Placement {
  const { placement: p } = layer;
  const [sx, sy] = [to.width / from.width, to.height / from.height];
  return { ...base(p), cx: p.cx * sx, cy: p.cy * sy, width: p.width * sx, height: p.height * sy };
}

/** Wide: the screen fills the frame, people stand in its corners; without a screen they share the frame. */
function placeWide(
  people: readonly ProposedLayer[],
  screens: readonly ProposedLayer[],
  to: Size,
  isFull: (l: ProposedLayer) => boolean,
  put: (layer: ProposedLayer, rect: Rect, edged: boolean) => void,
): void {
  const whole: Rect = { x: 0, y: 0, ...to };
  if (screens.length === 0) {
    split(whole, people.length, 'x').forEach((rect, i) => put(people[i], rect, false));
    return;
  }
  if (people.length === 0) {
    split(whole, screens.length, 'x').forEach((rect, i) =>
      put(screens[i], keepShape(screens[i], rect), false),
    );
    return;
  }
  // Side by side, so that nothing lies on anything that did not before: people in a column, screens in the rest.
  const column = to.width * 0.28;
  const stack = split({ x: 0, y: 0, width: column, height: to.height }, people.length, 'y');
  people.forEach((person, i) => {
    const room = stack[i];
    const height = Math.min(room.height, isFull(person) ? room.height : column / 1);
    put(
      person,
      {
        x: room.x,
        y: room.y + (room.height - height) / 2,
        width: Math.min(column, height * PERSON_MAX_ASPECT),
        height,
      },
      false,
    );
  });
  split({ x: column, y: 0, width: to.width - column, height: to.height }, screens.length, 'y').forEach(
    (rect, i) => put(screens[i], keepShape(screens[i], rect), false),
  );
}

/** The best place for a graphic: of its size or smaller, near where it was, where `cost` is least. */
function placeGraphic(
  layer: ProposedLayer,
  from: Size,
  to: Size,
  scale: number,
  cost: (rect: Rect) => number,
): Rect {
  const { placement: p, flows } = layer;
  const margin = MARGIN * Math.min(to.width, to.height);
  let width = p.width * scale;
  let height = p.height * scale;
  const most = to.width - 2 * margin;
  if (width > most) {
    // Words that flow get the lost width back in height; other graphics shrink whole.
    height *= flows ? Math.min(1.6, width / most) : most / width;
    width = most;
  }
  height = Math.min(height, to.height - 2 * margin);
  const wanted = { x: (p.cx / from.width) * to.width, y: (p.cy / from.height) * to.height };
  let best: Rect | null = null;
  let least = Infinity;
  const steps = 24;
  for (let i = 0; i <= steps; i++)
    for (let j = 0; j <= steps; j++) {
      const rect = {
        x: margin + (i / steps) * (to.width - 2 * margin - width),
        y: margin + (j / steps) * (to.height - 2 * margin - height),
        width,
        height,
      };
      const away = Math.hypot(
        (rect.x + width / 2 - wanted.x) / to.width,
        (rect.y + height / 2 - wanted.y) / to.height,
      );
      const total = cost(rect) / (width * height) + away;
      if (total < least) {
        least = total;
        best = rect;
      }
    }
  return best ?? { x: margin, y: margin, width, height };
}
