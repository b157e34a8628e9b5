/** Writes placements back into records: a layer has its own, a standing layer may have another one in a scene. */
import { findRecord, type ShowDocument } from './document';
import type { AnyRecord, FrameName, LayerRecord, Placement, SceneRecord } from './records';

/** Frame pixels are kept to a tenth: finer than anyone sees, and readable as numbers. */
export function roundedPlacement(p: Placement): Placement {
  const tenth = (value: number) => Math.round(value * 10) / 10;
  const part = (value: number) => Math.round(value * 1e5) / 1e5;
  return {
    ...p,
    cx: tenth(p.cx),
    cy: tenth(p.cy),
    width: Math.max(1, tenth(p.width)),
    height: Math.max(1, tenth(p.height)),
    rotationDeg: tenth(p.rotationDeg),
    cornerPx: tenth(p.cornerPx),
    crop: {
      left: part(p.crop.left),
      top: part(p.crop.top),
      right: part(p.crop.right),
      bottom: part(p.crop.bottom),
    },
  };
}

/** Whether a scene has put a standing layer in a place of its own, in this frame. */
export function hasOwnPlace(
  document: ShowDocument,
  layer: LayerRecord,
  sceneId: string,
  frame: FrameName,
): boolean {
  if (layer.sceneId !== null) return false;
  return findRecord(document, 'scene', sceneId)?.standing[layer.id]?.placements[frame] !== undefined;
}

/**
 * The records to put so that layers stand as given in one frame; null takes a layer out of that frame.
 * A standing layer is changed where it has its place: for this scene when the scene has one of its own, else everywhere.
 */
export function placed(
  document: ShowDocument,
  sceneId: string,
  frame: FrameName,
  placements: ReadonlyMap<string, Placement | null>,
): AnyRecord[] {
  const records: AnyRecord[] = [];
  let scene: SceneRecord | null = null;
  for (const [id, placement] of placements) {
    const layer = findRecord(document, 'layer', id);
    if (!layer || layer.content.type === 'group') continue;
    const rounded = placement && roundedPlacement(placement);
    if (hasOwnPlace(document, layer, sceneId, frame) && rounded) {
      scene ??= findRecord(document, 'scene', sceneId)!;
      const change: SceneRecord['standing'][string] = scene.standing[id];
      scene = {
        ...scene,
        standing: {
          ...scene.standing,
          [id]: { ...change, placements: { ...change.placements, [frame]: rounded } },
        },
      };
      continue;
    }
    const next = { ...layer.placements };
    if (rounded) next[frame] = rounded;
    else delete next[frame];
    records.push({ ...layer, placements: next });
  }
  return scene ? [...records, scene] : records;
}

/** Gives a standing layer a place of its own in a scene (where it stands now), or takes it away. */
export function ownPlace(layer: LayerRecord, scene: SceneRecord, own: boolean): SceneRecord {
  const before = scene.standing[layer.id] ?? { hidden: false, placements: {} };
  return standingChange(scene, layer.id, { ...before, placements: own ? layer.placements : {} });
}

/** Hides a standing layer in one scene, or shows it there again. */
export function hiddenIn(scene: SceneRecord, layerId: string, hidden: boolean): SceneRecord {
  const before = scene.standing[layerId] ?? { hidden: false, placements: {} };
  return standingChange(scene, layerId, { ...before, hidden });
}

function standingChange(
  scene: SceneRecord,
  layerId: string,
  change: SceneRecord['standing'][string],
): SceneRecord {
  const standing = { ...scene.standing };
  if (!change.hidden && Object.keys(change.placements).length === 0) delete standing[layerId];
  else standing[layerId] = change;
  return { ...scene, standing };
}
