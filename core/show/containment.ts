/** What stands inside what: groups in groups, scenes in scenes. Nothing may stand inside itself. */
import { Fault } from '../fault';
import type { AnyRecord, LayerRecord } from './records';

/** Deeper nesting than this nobody means; it also bounds every walk. */
export const MAX_GROUP_DEPTH = 6;

/**
 * @throws Fault `edit.group` when the layer's group is not a group of the same scene, `edit.cycle` when it stands in itself
 */
export function checkGroup(records: ReadonlyMap<string, AnyRecord>, layer: LayerRecord): void {
  let { groupId } = layer;
  for (let depth = 0; groupId !== null; depth++) {
    const group = records.get(groupId);
    if (group?.kind !== 'layer' || group.content.type !== 'group' || group.sceneId !== layer.sceneId)
      throw new Fault(
        'edit.group',
        `layer "${layer.name}" belongs to ${groupId}, which is no group of its scene`,
      );
    if (group.id === layer.id)
      throw new Fault('edit.cycle', `group "${layer.name}" would stand inside itself: move it elsewhere`);
    if (depth >= MAX_GROUP_DEPTH)
      throw new Fault(
        'edit.cycle',
        `groups go at most ${MAX_GROUP_DEPTH} deep: take "${layer.name}" out of one`,
      );
    groupId = group.groupId;
  }
}

/** Ids of scenes shown as insets by the layers of a scene. */
function insetsOf(records: ReadonlyMap<string, AnyRecord>, sceneId: string): string[] {
  const found: string[] = [];
  for (const record of records.values())
    if (record.kind === 'layer' && record.sceneId === sceneId && record.content.type === 'inset')
      found.push(record.content.sceneId);
  return found;
}

/** Whether `outerId` is reached from `sceneId` through insets, or is that scene. */
export function showsScene(
  records: ReadonlyMap<string, AnyRecord>,
  sceneId: string,
  outerId: string,
): boolean {
  const seen = new Set<string>();
  const open = [sceneId];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    if (id === outerId) return true;
    if (seen.has(id)) continue;
    seen.add(id);
    open.push(...insetsOf(records, id));
  }
  return false;
}

/** @throws Fault `edit.cycle` when the inset would show the scene it stands in */
export function checkInsets(records: ReadonlyMap<string, AnyRecord>, layer: LayerRecord): void {
  if (layer.content.type !== 'inset' || layer.sceneId === null) return;
  if (showsScene(records, layer.content.sceneId, layer.sceneId))
    throw new Fault(
      'edit.cycle',
      `"${layer.name}" would show its own scene inside itself: choose another scene for it`,
    );
}
