/**
 * What is on air: one arrangement of one scene, or the way there from another. Times are seconds of the programme.
 */
import type { Size } from '../geometry/rect';
import { findRecord, recordsOf, type ShowDocument } from '../show/document';
import { layersOfScene } from '../show/layers';
import {
  CUT,
  FADE,
  START_GLIDE,
  type GlideTiming,
  type SceneGlide,
  type Stinger,
  type Transition,
} from '../show/motion-records';
import { poseIn, posed } from '../show/poses';
import type { FrameName, LayerRecord } from '../show/records';
import { easeOf } from './easing';
import {
  byContent,
  byLayer,
  mixArrangements,
  standingLayer,
  type MovingLayer,
  type Progress,
} from './moving';

/** Where the programme is, or is going. */
export interface Stop {
  sceneId: string;
  /** Null: the scene's first pose, or its layers as they are when it has none. */
  poseId: string | null;
}

export interface OnAir extends Stop {
  from: Passage | null;
  /** The show as it stood here, where it is not as it stands now: what was held until its edits were shown. */
  as?: ShowDocument;
}

/** A change that is going on; what was before it may itself have been on its way. */
export interface Passage {
  before: OnAir;
  startedAt: number;
  /** A change of scene; null for a glide from one pose to another. */
  transition: Transition | null;
  /** Drawn by hand: how much of it is done, 0…1, whatever the time. */
  hand?: number;
}

/** More movements at once nobody sees apart; the oldest are taken as finished. */
const MAX_DEPTH = 8;
/** Layers beyond this do not begin any later. */
const MAX_STAGGERED = 40;

/** The transition between two scenes: that of the pair, that of the scene coming on, or the show's. */
export function transitionFor(document: ShowDocument, fromId: string | null, toId: string): Transition {
  const scene = findRecord(document, 'scene', toId);
  const pair = fromId === null ? undefined : scene?.transitionAfter[fromId];
  return pair ?? scene?.transition ?? recordsOf(document, 'show')[0]?.transition ?? CUT;
}

/** Whether a change moves layers one by one, rather than whole pictures. */
export const movesLayers = ({ transition }: Passage): boolean =>
  transition === null || transition.type === 'carry';

/** All stingers that a show may need, by the id of their file. */
export function stingersOf(document: ShowDocument): Map<string, Stinger> {
  const all = new Map<string, Stinger>();
  const take = (transition: Transition | null | undefined) => {
    if (transition?.type === 'stinger' && transition.stinger)
      all.set(transition.stinger.assetId, transition.stinger);
  };
  take(recordsOf(document, 'show')[0]?.transition);
  for (const scene of recordsOf(document, 'scene'))
    for (const transition of [scene.transition, ...Object.values(scene.transitionAfter)]) take(transition);
  return all;
}

/** Brings a scene on air, from whatever is on now. */
export function takeScene(
  current: OnAir | null,
  to: Stop,
  transition: Transition,
  now: number,
  document: ShowDocument,
): OnAir {
  if (!current || current.sceneId === to.sceneId || transition.type === 'cut' || transition.seconds <= 0)
    return { ...to, from: null };
  return { ...to, from: { before: settled(current, now, document), startedAt: now, transition } };
}

/**
 * Draws a change of scene by hand, forth and back.
 * @param share how much of it is done, 0…1; at 0 nothing has come on, at 1 it stands there whole
 */
export function drawnTo(
  current: OnAir | null,
  to: Stop,
  transition: Transition,
  share: number,
  now: number,
  document: ShowDocument,
): OnAir | null {
  const drawn = current?.from?.hand !== undefined && current.sceneId === to.sceneId ? current : null;
  const before = drawn ? drawn.from!.before : current && settled(current, now, document);
  if (!before || share >= 1) return { ...to, from: null };
  if (share <= 0 || before.sceneId === to.sceneId) return before;
  // A cut has nothing between, and a clip runs by its own time: both are drawn as a fade.
  const way = transition.type === 'cut' || transition.type === 'stinger' ? FADE : transition;
  return { ...to, from: { before, startedAt: now, transition: way, hand: share } };
}

/** Goes from one pose of the scene on air to another. A movement that is going on goes over into this one. */
export function glideTo(current: OnAir, poseId: string, now: number, document: ShowDocument): OnAir {
  if (current.poseId === poseId) return current;
  return {
    sceneId: current.sceneId,
    poseId,
    from: { before: settled(current, now, document), startedAt: now, transition: null },
  };
}

/** From how a scene was held to how it is now, by a glide of its own. @param before the show as viewers saw it */
export function showEdits(current: OnAir, before: ShowDocument, now: number): OnAir {
  const { sceneId, poseId } = current;
  const was = { ...settled(current, now, before), as: before };
  return { sceneId, poseId, from: { before: was, startedAt: now, transition: null } };
}

/** Without the passages that are over at `now`, and with no more than anybody can follow. */
export function settled(onAir: OnAir, now: number, document: ShowDocument, depth = MAX_DEPTH): OnAir {
  if (!onAir.from) return onAir;
  const drawn = onAir.from.hand !== undefined;
  if (depth <= 0 || (!drawn && now >= onAir.from.startedAt + passageSeconds(onAir, document)))
    return { ...onAir, from: null };
  const before = settled(onAir.from.before, now, document, depth - 1);
  return before === onAir.from.before ? onAir : { ...onAir, from: { ...onAir.from, before } };
}

/** How long a glide into this pose takes by itself, seconds; layers may take longer or begin later. */
export const glideSeconds = (stop: Stop, document: ShowDocument): number => glideOf(document, stop).seconds;

function glideOf(document: ShowDocument, { sceneId, poseId }: Stop): SceneGlide {
  const scene = findRecord(document, 'scene', sceneId)?.glide ?? START_GLIDE;
  const pose = poseIn(document, sceneId, poseId)?.glide;
  return pose ? { ...scene, ...pose } : scene;
}

/** Timing of one layer in a passage, and when it begins, seconds after the passage. */
function timingOf(
  document: ShowDocument,
  stop: Stop,
  transition: Transition | null,
  layer: LayerRecord,
  order: number,
): GlideTiming & { delay: number } {
  const { seconds, easing, staggerSeconds } = glideOf(document, stop);
  const base = transition ?? { seconds, easing };
  const timing = layer.motion.timing ?? base;
  return {
    seconds: timing.seconds,
    easing: timing.easing,
    delay: staggerSeconds * Math.min(order, MAX_STAGGERED),
  };
}

/** How long the passage of `onAir` lasts in all, seconds; 0 when there is none. */
export function passageSeconds(onAir: OnAir, document: ShowDocument): number {
  const { from } = onAir;
  if (!from) return 0;
  if (!movesLayers(from)) return from.transition!.seconds;
  const layers = [
    ...layersOfScene(
      posed(from.before.as ?? document, from.before.sceneId, from.before.poseId),
      from.before.sceneId,
    ),
    ...layersOfScene(posed(document, onAir.sceneId, onAir.poseId), onAir.sceneId),
  ];
  // Both arrangements may have layers that move: at most so many begin one after the other.
  const last = new Set(layers.map((l) => l.id)).size - 1;
  return layers.reduce((longest, layer) => {
    const { seconds, delay } = timingOf(document, onAir, from.transition, layer, Math.max(0, last));
    return Math.max(longest, seconds + delay);
  }, 0);
}

/** How much of the passage is done at `now`, by its own timing function; 1 when there is none. */
export function passageShare({ from }: OnAir, now: number): number {
  if (!from?.transition) return 1;
  if (from.hand !== undefined) return from.hand;
  const { seconds, easing } = from.transition;
  return Math.min(1, Math.max(0, easeOf(easing)((now - from.startedAt) / seconds)));
}

/** The layers of a scene in a pose as they stand, lowest first, without what is not seen in this frame. */
export function arrangement(
  document: ShowDocument,
  { sceneId, poseId }: Stop,
  frame: FrameName,
): MovingLayer[] {
  return layersOfScene(posed(document, sceneId, poseId), sceneId).flatMap((layer) => {
    const placement = layer.placements[frame];
    return layer.visible && placement ? [standingLayer(layer, placement)] : [];
  });
}

/**
 * The layers on air in one frame at programme time `now`, lowest first; of the scene coming on where pictures as a whole
 * change over. A passage whose start was itself on its way goes on from there: neither place nor speed jumps.
 */
export function layersAt(live: ShowDocument, onAir: OnAir, frame: FrameName, now: number): MovingLayer[] {
  const document = onAir.as ?? live;
  const to = arrangement(document, onAir, frame);
  const { from } = onAir;
  if (!from || !movesLayers(from)) return to;
  const before = layersAt(document, from.before, frame, now);
  const elapsed = now - from.startedAt;
  const progress: Progress = (layer, order) => {
    if (from.hand !== undefined) return from.hand;
    const { seconds, easing, delay } = timingOf(document, onAir, from.transition, layer, order);
    return seconds <= 0 ? (elapsed >= delay ? 1 : 0) : easeOf(easing)((elapsed - delay) / seconds);
  };
  const size: Size = recordsOf(document, 'show')[0].frames[frame];
  return mixArrangements(before, to, from.transition ? byContent : byLayer, progress, size);
}
