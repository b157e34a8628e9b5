/**
 * Poses: several arrangements of one scene.
 *
 * A show seen in a pose is a show whose layers stand as the pose has them; everything that reads places reads them from
 * there. What was changed in it is written back with `intoPose`, so that no command has to know about poses.
 */
import { findRecord, recordsOf, type ShowDocument } from './document';
import { ownLayers } from './layers';
import type { PosedLayer } from './motion-records';
import type { AnyRecord, LayerRecord, PoseRecord, SceneRecord } from './records';

/** Keys given to new poses, in this order. */
const KEYS = '123456789'.split('');
const MAX_POSES = 60;

/** The poses of a scene, in order. */
export function posesOf(document: ShowDocument, sceneId: string): PoseRecord[] {
  return recordsOf(document, 'pose').filter((pose) => pose.sceneId === sceneId);
}

/** The pose of this scene with this id, or else its first one; null when it has none. */
export function poseIn(document: ShowDocument, sceneId: string, poseId: string | null): PoseRecord | null {
  const pose = findRecord(document, 'pose', poseId);
  return pose?.sceneId === sceneId ? pose : (posesOf(document, sceneId)[0] ?? null);
}

const seen = new WeakMap<ShowDocument, Map<string, ShowDocument>>();

/** The show with a scene's layers as one of its poses has them; the same show when the scene has none. Shared: do not change. */
export function posed(document: ShowDocument, sceneId: string, poseId: string | null): ShowDocument {
  const pose = poseIn(document, sceneId, poseId);
  if (!pose) return document;
  let poses = seen.get(document);
  if (!poses) seen.set(document, (poses = new Map()));
  let found = poses.get(pose.id);
  if (found) return found;
  const next = new Map(document);
  for (const [id, layer] of Object.entries(pose.layers)) {
    const own = findRecord(document, 'layer', id);
    if (own?.sceneId === sceneId) next.set(id, posedLayer(own, layer));
  }
  const scene = findRecord(document, 'scene', sceneId);
  if (scene) next.set(sceneId, { ...scene, standing: pose.standing });
  poses.set(pose.id, (found = next));
  return found;
}

function posedLayer(layer: LayerRecord, look: PosedLayer): LayerRecord {
  const { visible, placements, colour, gradeId = layer.gradeId } = look;
  const { content } = layer;
  const coloured = content.type === 'shape' && colour !== null ? { ...content, colour } : content;
  return { ...layer, visible, placements, gradeId, content: coloured };
}

const lookOf = ({ visible, placements, content, gradeId }: LayerRecord): PosedLayer => ({
  visible,
  placements,
  gradeId,
  colour: content.type === 'shape' ? content.colour : null,
});

function sameLook(a: PosedLayer, b: PosedLayer): boolean {
  return (
    a.visible === b.visible &&
    a.placements === b.placements &&
    a.colour === b.colour &&
    a.gradeId === b.gradeId
  );
}

/** Without what the pose holds: as the record is by itself. */
function unposed(changed: LayerRecord, own: LayerRecord): LayerRecord {
  const { content } = changed;
  const colour = content.type === 'shape' && own.content.type === 'shape' ? own.content.colour : null;
  return {
    ...changed,
    visible: own.visible,
    placements: own.placements,
    gradeId: own.gradeId,
    content:
      content.type === 'shape' && colour !== null && colour !== content.colour
        ? { ...content, colour }
        : content,
  };
}

function same(a: object, b: object): boolean {
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  return [...new Set([...Object.keys(x), ...Object.keys(y)])].every(
    // A colour that was put back makes a content of its own with the same in it.
    (key) => x[key] === y[key] || (key === 'content' && JSON.stringify(x[key]) === JSON.stringify(y[key])),
  );
}

/**
 * Records made in the show as a pose shows it, turned into what they change: where layers stand goes into the pose,
 * everything else into the records themselves.
 *
 * @param put records from `posed(document, sceneId, poseId)`, changed; new layers and other records are left as they are
 */
export function intoPose(
  document: ShowDocument,
  sceneId: string,
  poseId: string | null,
  put: readonly AnyRecord[],
): AnyRecord[] {
  const before = poseIn(document, sceneId, poseId);
  if (!before) return [...put];
  const view = posed(document, sceneId, poseId);
  // An edit of the pose itself comes along with what moves in it.
  let pose = put.find((r): r is PoseRecord => r.id === before.id && r.kind === 'pose') ?? before;
  const out: AnyRecord[] = [];
  for (const record of put) {
    if (record.id === before.id) continue;
    const own = document.get(record.id);
    if (
      record.kind === 'layer' &&
      own?.kind === 'layer' &&
      own.sceneId === sceneId &&
      record.sceneId === sceneId
    ) {
      const look = lookOf(record);
      if (!sameLook(look, lookOf(view.get(record.id) as LayerRecord)))
        pose = { ...pose, layers: { ...pose.layers, [record.id]: look } };
      const rest = unposed(record, own);
      if (!same(rest, own)) out.push(rest);
    } else if (record.kind === 'scene' && own?.kind === 'scene' && record.id === sceneId) {
      const shown = view.get(sceneId) as SceneRecord;
      if (record.standing !== shown.standing) pose = { ...pose, standing: record.standing };
      const rest = { ...record, standing: own.standing };
      if (!same(rest, own)) out.push(rest);
    } else out.push(record);
  }
  if (pose !== before) out.push(pose);
  return out;
}

/** What is on the frame, for a pose to hold. */
function taken(view: ShowDocument, sceneId: string): Pick<PoseRecord, 'layers' | 'standing'> {
  return {
    layers: Object.fromEntries(ownLayers(view, sceneId).map((layer) => [layer.id, lookOf(layer)])),
    standing: findRecord(view, 'scene', sceneId)?.standing ?? {},
  };
}

function freeKey(poses: readonly PoseRecord[]): string {
  return KEYS.find((key) => poses.every((pose) => pose.key !== key)) ?? '';
}

function newPose(
  document: ShowDocument,
  sceneId: string,
  id: string,
  name: string,
  poses: readonly PoseRecord[],
): PoseRecord {
  return {
    kind: 'pose',
    id,
    showId: recordsOf(document, 'show')[0].id,
    name,
    position: (poses.at(-1)?.position ?? -1) + 1,
    sceneId,
    key: freeKey(poses),
    glide: null,
    ...taken(document, sceneId),
  };
}

/**
 * Another pose of the scene, standing as what is on the frame. The first time there are two: what was there becomes the
 * first one.
 *
 * @param view the show as it is on the frame
 * @returns the records to put, the new pose last; none when there are too many already
 */
export function addPose(
  document: ShowDocument,
  view: ShowDocument,
  sceneId: string,
  newId: () => string,
): PoseRecord[] {
  const poses = posesOf(document, sceneId);
  if (poses.length >= MAX_POSES) return [];
  const first = poses.length === 0 ? [newPose(view, sceneId, newId(), 'Pose 1', [])] : [];
  const all = [...poses, ...first];
  let number = all.length + 1;
  while (all.some((p) => p.name === `Pose ${number}`)) number += 1;
  return [...first, newPose(view, sceneId, newId(), `Pose ${number}`, all)];
}

/** A copy right after the pose, with a key of its own. */
export function duplicatePose(document: ShowDocument, pose: PoseRecord, newId: () => string): PoseRecord[] {
  const poses = posesOf(document, pose.sceneId);
  if (poses.length >= MAX_POSES) return [];
  const copy = { ...pose, id: newId(), name: `${pose.name} copy`.slice(0, 120), key: freeKey(poses) };
  return movedPose([...poses, copy], copy.id, poses.indexOf(pose) + 1, new Set([copy.id]));
}

/** Moves a pose to a place in the row. Keys stay with their poses. */
export function movedPose(
  poses: readonly PoseRecord[],
  id: string,
  to: number,
  always: ReadonlySet<string> = new Set(),
): PoseRecord[] {
  const moved = poses.find((p) => p.id === id);
  if (!moved) return [];
  const ordered = poses.filter((p) => p.id !== id);
  ordered.splice(Math.max(0, Math.min(ordered.length, to)), 0, moved);
  return ordered.flatMap((p, i) => (p.position === i && !always.has(p.id) ? [] : [{ ...p, position: i }]));
}

/** The pose standing as what is on the frame. @param view the show as it is on the frame */
export function updatedPose(pose: PoseRecord, view: ShowDocument): PoseRecord {
  return { ...pose, ...taken(view, pose.sceneId) };
}

/**
 * Takes a pose away. The scene of which it was the last one keeps standing as it did.
 * @returns records to put; the pose itself is to be removed
 */
export function withoutPose(document: ShowDocument, pose: PoseRecord): AnyRecord[] {
  if (posesOf(document, pose.sceneId).some((p) => p.id !== pose.id)) return [];
  const view = posed(document, pose.sceneId, pose.id);
  return [findRecord(view, 'scene', pose.sceneId), ...ownLayers(view, pose.sceneId)].filter(
    (record): record is SceneRecord | LayerRecord => record !== null && document.get(record.id) !== record,
  );
}

/** The pose with a key, taken from whichever pose of its scene had it. */
export function withKey(document: ShowDocument, pose: PoseRecord, key: string): PoseRecord[] {
  const others = posesOf(document, pose.sceneId).filter(
    (p) => p.id !== pose.id && key !== '' && p.key === key,
  );
  return [{ ...pose, key }, ...others.map((p) => ({ ...p, key: '' }))];
}
