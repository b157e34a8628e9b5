/**
 * Layers on their way from one arrangement to another: functions of the two arrangements and the time alone.
 */
import type { Size } from '../geometry/rect';
import { finishReach, type LayerFinish } from '../show/finish-records';
import type { LayerMotion, Side } from '../show/motion-records';
import { NO_CROP, type Crop, type LayerContent, type LayerRecord, type Placement } from '../show/records';
import { mixColour, mixNumber, mixPlacement } from './mix';
import { mixFinish } from './mix-finish';

/** A size that words were laid out for, and how much of it is seen. */
export interface Layout {
  width: number;
  height: number;
  share: number;
}

/** A layer at one moment: where it is, and what of it is seen. */
export interface MovingLayer {
  layer: LayerRecord;
  placement: Placement;
  /** Parts of its box that a wipe hides, 0…1. */
  wipe: Crop;
  /** Of a shape; null for other layers. */
  colour: string | null;
  finish: LayerFinish;
  /** The grade it comes from, and how much of its own is seen already, 0…1; null when it has its own alone. */
  gradeFrom: GradeFrom | null;
  /** More than one while words flow from one box into another. Frame pixels. */
  layouts: readonly Layout[];
}

export interface GradeFrom {
  gradeId: string | null;
  share: number;
}

/** How far one layer has come at a moment, 0…1 and a little beyond for a spring. @param order its place among those that move */
export type Progress = (layer: LayerRecord, order: number) => number;

const LAYS_OUT: readonly LayerContent['type'][] = ['text', 'chatPanel', 'widget', 'alert'];
/** Sizes closer than this are one, frame pixels. */
const SAME_SIZE = 0.5;

/** A layer that stands still. */
export function standingLayer(layer: LayerRecord, placement: Placement): MovingLayer {
  const { width, height } = placement;
  return {
    layer,
    placement,
    wipe: NO_CROP,
    colour: layer.content.type === 'shape' ? layer.content.colour : null,
    finish: layer.finish,
    gradeFrom: null,
    layouts: [{ width, height, share: 1 }],
  };
}

/** Whether anything of it can be seen. */
export function isSeen({ placement, wipe }: MovingLayer): boolean {
  return placement.opacity > 0 && wipe.left + wipe.right < 1 && wipe.top + wipe.bottom < 1;
}

/**
 * What a layer is before it has entered, or after it has left, when it is next seen as `seen`.
 * @param how its way; `side`: where it comes from or goes to
 */
export function awayState(
  seen: MovingLayer,
  how: LayerMotion['enter'],
  side: Side,
  frame: Size,
): MovingLayer {
  const { placement } = seen;
  switch (how) {
    case 'cut':
    case 'fade':
      return { ...seen, placement: { ...placement, opacity: 0 } };
    case 'zoom':
      return {
        ...seen,
        placement: {
          ...placement,
          opacity: 0,
          width: Math.max(1, placement.width * 0.6),
          height: Math.max(1, placement.height * 0.6),
        },
      };
    case 'wipe': {
      const opposite = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' } as const;
      return { ...seen, wipe: { ...NO_CROP, [opposite[side]]: 1 } };
    }
    case 'slide': {
      // Just out of the frame, with its border and shadow, also when it is turned.
      const beyond = placement.borderPx + finishReach(placement.shadowPx, seen.finish);
      const reach = Math.hypot(placement.width, placement.height) / 2 + beyond;
      const level = placement.rotationDeg % 180 === 0;
      const half = {
        x: level ? placement.width / 2 + beyond : reach,
        y: level ? placement.height / 2 + beyond : reach,
      };
      const to: Record<Side, Partial<Placement>> = {
        left: { cx: -half.x },
        right: { cx: frame.width + half.x },
        top: { cy: -half.y },
        bottom: { cy: frame.height + half.y },
      };
      return { ...seen, placement: { ...placement, ...to[side] } };
    }
  }
}

function mixLayouts(a: readonly Layout[], b: readonly Layout[], share: number): readonly Layout[] {
  const s = Math.min(1, Math.max(0, share));
  const out: Layout[] = [];
  for (const [list, weight] of [
    [a, 1 - s],
    [b, s],
  ] as const)
    for (const one of list) {
      const same = out.find(
        (o) => Math.abs(o.width - one.width) < SAME_SIZE && Math.abs(o.height - one.height) < SAME_SIZE,
      );
      if (same) same.share += one.share * weight;
      else out.push({ ...one, share: one.share * weight });
    }
  return out.filter((l) => l.share > 0.004);
}

function mixState(a: MovingLayer, b: MovingLayer, share: number): MovingLayer {
  if (share === 0) return { ...a, layer: b.layer, gradeFrom: mixGrade(a, b, 0) };
  if (share === 1) return b;
  const side = (of: keyof Crop) => Math.min(1, Math.max(0, mixNumber(a.wipe[of], b.wipe[of], share)));
  return {
    layer: b.layer,
    placement: mixPlacement(a.placement, b.placement, share),
    wipe: { left: side('left'), right: side('right'), top: side('top'), bottom: side('bottom') },
    colour:
      a.colour !== null && b.colour !== null
        ? mixColour(a.colour, b.colour, Math.min(1, Math.max(0, share)))
        : b.colour,
    finish: mixFinish(a.finish, b.finish, share),
    gradeFrom: mixGrade(a, b, Math.min(1, Math.max(0, share))),
    layouts: LAYS_OUT.includes(b.layer.content.type) ? mixLayouts(a.layouts, b.layouts, share) : b.layouts,
  };
}

function mixGrade(a: MovingLayer, b: MovingLayer, share: number): GradeFrom | null {
  // Of one that was itself on its way, what was seen most of.
  const from = a.gradeFrom && a.gradeFrom.share < 0.5 ? a.gradeFrom.gradeId : a.layer.gradeId;
  return from === b.layer.gradeId || share === 1 ? null : { gradeId: from, share };
}

/** Whether a layer is somewhere else, or looks different, in the other arrangement. */
function differs(a: MovingLayer, b: MovingLayer): boolean {
  return (
    a.colour !== b.colour ||
    a.layer.gradeId !== b.layer.gradeId ||
    (a.finish !== b.finish && JSON.stringify(a.finish) !== JSON.stringify(b.finish)) ||
    JSON.stringify(a.wipe) !== JSON.stringify(b.wipe) ||
    JSON.stringify(a.placement) !== JSON.stringify(b.placement)
  );
}

/** Layers of two arrangements that are the same to a viewer: by id, and between scenes by what they show. */
export type Match = (
  from: readonly MovingLayer[],
  to: readonly MovingLayer[],
) => Map<MovingLayer, MovingLayer>;

/** Within a scene: the same layer. @returns by layer of `to` the one of `from` */
export const byLayer: Match = (from, to) => {
  const ids = new Map(from.map((f) => [f.layer.id, f]));
  return new Map(to.flatMap((t) => (ids.has(t.layer.id) ? [[t, ids.get(t.layer.id)!]] : [])));
};

function shows({ content, name }: LayerRecord): string | null {
  switch (content.type) {
    case 'input':
      return `input ${content.inputId}`;
    case 'inset':
      return `inset ${content.sceneId}`;
    case 'text':
      return `text ${content.text}`;
    case 'widget':
      return `widget ${JSON.stringify(content.widget)}`;
    case 'chatPanel':
    case 'alert':
      return content.type;
    case 'shape':
      return `shape ${content.shape} ${name}`;
    case 'group':
      return null;
  }
}

/** Between scenes: the same layer, or else layers that show the same thing, the lowest first. */
export const byContent: Match = (from, to) => {
  const found = byLayer(from, to);
  const open = from.filter((f) => ![...found.values()].includes(f));
  for (const t of to) {
    if (found.has(t)) continue;
    const what = shows(t.layer);
    const at = open.findIndex((f) => what !== null && shows(f.layer) === what);
    if (at >= 0) found.set(t, open.splice(at, 1)[0]);
  }
  return found;
};

/**
 * One arrangement on its way to another.
 *
 * @param from,to lowest layer first; what is not seen in this frame is not in them
 * @param frame size of the frame, frame pixels
 * @returns lowest first; what leaves stands where it stood among its neighbours, or below all when it has none left.
 * Layers that have left are still in it, unseen, so that a movement begun meanwhile finds them
 */
export function mixArrangements(
  from: readonly MovingLayer[],
  to: readonly MovingLayer[],
  match: Match,
  progress: Progress,
  frame: Size,
): MovingLayer[] {
  const before = match(from, to);
  const kept = new Map([...before].map(([t, f]) => [f, t]));
  const ordered: { from: MovingLayer | null; to: MovingLayer | null }[] = [];
  // What leaves is put before the next layer of the old order that stays.
  let leaving: MovingLayer[] = [];
  const leavers = new Map<MovingLayer | null, MovingLayer[]>();
  for (const f of from) {
    const t = kept.get(f);
    if (!t) leaving.push(f);
    else {
      leavers.set(t, leaving);
      leaving = [];
    }
  }
  leavers.set(null, leaving);
  for (const t of to) {
    for (const f of leavers.get(t) ?? []) ordered.push({ from: f, to: null });
    ordered.push({ from: before.get(t) ?? null, to: t });
  }
  for (const f of leavers.get(null)!) ordered.push({ from: f, to: null });
  let order = 0;
  return ordered.map(({ from: f, to: t }) => {
    const { layer } = (t ?? f)!;
    const { motion } = layer;
    const start = f ?? awayState(t!, motion.enter, motion.side, frame);
    const end = t ?? awayState(f!, motion.leave, motion.side, frame);
    if (!differs(start, end)) return { ...end, layouts: end.layouts };
    const cut = (!f && motion.enter === 'cut') || (!t && motion.leave === 'cut');
    const share = progress(layer, order++);
    return mixState(start, end, cut ? (share > 0 ? 1 : 0) : share);
  });
}
