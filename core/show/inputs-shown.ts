/** Which inputs a scene shows. */
import { findRecord, recordsOf, type ShowDocument } from './document';
import { layersOfScene, picturesOfScene } from './layers';
import { posed, posesOf } from './poses';
import type { LayerRecord } from './records';

/** What must be open for a scene in any of its poses: the inputs it shows, and those that stand in for them. */
export function inputsNeeded(document: ShowDocument, sceneId: string): Set<string> {
  const needed = inputsOfScene(document, sceneId);
  for (const id of [...needed]) {
    const standInId = findRecord(document, 'input', id)?.standInId;
    if (standInId) needed.add(standInId);
  }
  return needed;
}

/**
 * Ids of all inputs that a scene shows, through insets too; hidden layers count as not shown.
 * @param poseId in this pose only (null: the first one); left out: in any of them
 */
export function inputsOfScene(document: ShowDocument, sceneId: string, poseId?: string | null): Set<string> {
  const found = new Set<string>();
  const walk = (layers: readonly LayerRecord[], depth: number) => {
    for (const { visible, content } of layers) {
      if (!visible) continue;
      if (content.type === 'input') found.add(content.inputId);
      if (content.type === 'inset' && depth < 8) {
        const inner = posed(document, content.sceneId, null);
        walk(picturesOfScene(inner, content.sceneId), depth + 1);
      }
    }
  };
  const poses = posesOf(document, sceneId).map((pose) => pose.id);
  const seen = poseId !== undefined ? [poseId] : poses.length > 0 ? poses : [null];
  for (const id of seen) {
    const view = posed(document, sceneId, id);
    walk(layersOfScene(view, sceneId), 0);
  }
  return found;
}

/** The scene that comes after one in the order of the show; null after the last, or for one that is gone. */
export function sceneAfter(document: ShowDocument, sceneId: string): string | null {
  const scenes = recordsOf(document, 'scene');
  const at = scenes.findIndex((scene) => scene.id === sceneId);
  return at < 0 ? null : (scenes[at + 1]?.id ?? null);
}
