/** The layers of a scene in their order, with groups and the standing layers. */
import { findRecord, recordsOf, type ShowDocument } from './document';
import type { LayerRecord } from './records';

/** One row of the layer list: a layer and, for a group, its members. Lowest first. */
export interface LayerNode {
  layer: LayerRecord;
  depth: number;
  members: LayerNode[];
}

/** Key of the layers that stand above every scene. */
const STANDING = '';

const byScene = new WeakMap<ShowDocument, Map<string, LayerRecord[]>>();

/** All layers that belong to a scene (null: the standing ones), groups and members alike, by position. Shared: do not change. */
export function ownLayers(document: ShowDocument, sceneId: string | null): readonly LayerRecord[] {
  let index = byScene.get(document);
  if (!index) {
    index = new Map();
    for (const layer of recordsOf(document, 'layer')) {
      const key = layer.sceneId ?? STANDING;
      const list = index.get(key);
      if (list) list.push(layer);
      else index.set(key, [layer]);
    }
    byScene.set(document, index);
  }
  return index.get(sceneId ?? STANDING) ?? [];
}

/** The layers of a scene (null: the standing ones) as a tree, lowest first at every level. */
export function layerTree(document: ShowDocument, sceneId: string | null): LayerNode[] {
  const layers = ownLayers(document, sceneId);
  const membersOf = (groupId: string | null, depth: number): LayerNode[] =>
    layers
      .filter((layer) => layer.groupId === groupId)
      .map((layer) => ({
        layer,
        depth,
        members: layer.content.type === 'group' ? membersOf(layer.id, depth + 1) : [],
      }));
  return membersOf(null, 0);
}

/** Every layer below a group, groups included; empty for other layers. */
export function membersOfGroup(document: ShowDocument, group: LayerRecord): LayerRecord[] {
  if (group.content.type !== 'group') return [];
  return ownLayers(document, group.sceneId)
    .filter((layer) => layer.groupId === group.id)
    .flatMap((layer) => [layer, ...membersOfGroup(document, layer)]);
}

function leaves(nodes: readonly LayerNode[], visible: boolean, locked: boolean): LayerRecord[] {
  return nodes.flatMap(({ layer, members }) => {
    const seen = visible && layer.visible;
    const held = locked || layer.locked;
    if (layer.content.type === 'group') return leaves(members, seen, held);
    return seen === layer.visible && held === layer.locked
      ? [layer]
      : [{ ...layer, visible: seen, locked: held }];
  });
}

/**
 * The layers of a scene that have a picture, lowest first and without the standing ones. What a group hides is hidden,
 * what it locks is locked.
 */
export function picturesOfScene(document: ShowDocument, sceneId: string): LayerRecord[] {
  return leaves(layerTree(document, sceneId), true, false);
}

/** A standing layer as one scene has it. */
export function standingIn(document: ShowDocument, layer: LayerRecord, sceneId: string): LayerRecord {
  const change = findRecord(document, 'scene', sceneId)?.standing[layer.id];
  if (!change) return layer;
  return {
    ...layer,
    visible: layer.visible && !change.hidden,
    placements: { ...layer.placements, ...change.placements },
  };
}

const shownIn = new WeakMap<ShowDocument, Map<string, readonly LayerRecord[]>>();

/** The scene's own layers, then the standing ones as this scene has them; lowest first. Shared: do not change. */
export function layersOfScene(document: ShowDocument, sceneId: string): readonly LayerRecord[] {
  let scenes = shownIn.get(document);
  if (!scenes) shownIn.set(document, (scenes = new Map()));
  let found = scenes.get(sceneId);
  if (!found) scenes.set(sceneId, (found = allLayers(document, sceneId)));
  return found;
}

function allLayers(document: ShowDocument, sceneId: string): LayerRecord[] {
  const standing = leaves(layerTree(document, null), true, false).map((layer) =>
    standingIn(document, layer, sceneId),
  );
  return [...picturesOfScene(document, sceneId), ...standing];
}
