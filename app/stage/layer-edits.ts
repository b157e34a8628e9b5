/** What can be done to layers and scenes, as edits: computed from the document, no interface. */
import { layersOfScene, recordsOf, reorder, type ShowDocument } from '~/core/show/document';
import {
  fullPlacement,
  type AnyRecord,
  type InputRecord,
  type InputSource,
  type LayerContent,
  type LayerRecord,
  type Placement,
  type SceneRecord,
} from '~/core/show/records';

export interface NewIds {
  (): string;
}

/** Layers that belong to the scene itself, lowest first. */
export function ownLayers(document: ShowDocument, sceneId: string): LayerRecord[] {
  return recordsOf(document, 'layer').filter((l) => l.sceneId === sceneId);
}

export function frameOf(document: ShowDocument): { width: number; height: number } {
  return recordsOf(document, 'show')[0].frames.wide;
}

/** A new layer on top of the scene. */
export function newLayer(
  document: ShowDocument,
  sceneId: string,
  id: string,
  name: string,
  content: LayerContent,
  placement: Partial<Placement>,
): LayerRecord {
  const show = recordsOf(document, 'show')[0];
  const siblings = ownLayers(document, sceneId);
  return {
    kind: 'layer',
    id,
    showId: show.id,
    name,
    position: (siblings.at(-1)?.position ?? -1) + 1,
    sceneId,
    visible: true,
    locked: false,
    content,
    placements: { wide: { ...fullPlacement(show.frames.wide), ...placement } },
  };
}

/** A centred placement with the shape of a picture, taking at most `share` of the frame. */
export function shapedPlacement(
  frame: { width: number; height: number },
  width: number,
  height: number,
  share: number,
): Partial<Placement> {
  const scale = Math.min((frame.width * share) / width, (frame.height * share) / height);
  return {
    cx: frame.width / 2,
    cy: frame.height / 2,
    width: Math.round(width * scale),
    height: Math.round(height * scale),
  };
}

/** A new input with a layer that shows it; a video brings a channel for its sound. */
export function newInputWithLayer(
  document: ShowDocument,
  sceneId: string,
  newId: NewIds,
  name: string,
  source: InputSource,
  placement: Partial<Placement>,
): { records: AnyRecord[]; input: InputRecord; layer: LayerRecord } {
  const show = recordsOf(document, 'show')[0];
  const input: InputRecord = {
    kind: 'input',
    id: newId(),
    showId: show.id,
    name,
    position: recordsOf(document, 'input').length,
    source,
  };
  const layer = newLayer(
    document,
    sceneId,
    newId(),
    name,
    { type: 'input', inputId: input.id, fit: source.type === 'picture' ? 'fit' : 'fill' },
    placement,
  );
  const records: AnyRecord[] = [input, layer];
  if (source.type === 'video' || source.type === 'screen')
    records.push({
      kind: 'channel',
      id: newId(),
      showId: show.id,
      name,
      position: recordsOf(document, 'channel').length,
      source: { type: 'input', inputId: input.id },
      gainDb: -6,
      muted: false,
      heard: 'with-picture',
      pictureInputId: input.id,
    });
  return { records, input, layer };
}

/** The scene with all its layers under a new name, standing behind it. */
export function duplicateScene(document: ShowDocument, scene: SceneRecord, newId: NewIds): AnyRecord[] {
  const copy: SceneRecord = {
    ...scene,
    id: newId(),
    name: `${scene.name} copy`,
    position: scene.position + 0.5,
  };
  return [
    copy,
    ...ownLayers(document, scene.id).map((layer) => ({ ...layer, id: newId(), sceneId: copy.id })),
  ];
}

export function duplicateLayer(document: ShowDocument, layer: LayerRecord, newId: NewIds): LayerRecord {
  const { wide } = layer.placements;
  const siblings = layer.sceneId === null ? layersOfScene(document, '') : ownLayers(document, layer.sceneId);
  return {
    ...layer,
    id: newId(),
    name: `${layer.name} copy`,
    locked: false,
    position: (siblings.at(-1)?.position ?? 0) + 1,
    placements: {
      ...layer.placements,
      ...(wide && { wide: { ...wide, cx: wide.cx + 40, cy: wide.cy + 40 } }),
    },
  };
}

/** `list` is shown top first; moves one layer to where another one is in that list. */
export function moveLayer(list: readonly LayerRecord[], id: string, toIndex: number): LayerRecord[] {
  const lowestFirst = [...list].reverse();
  return reorder(lowestFirst, id, list.length - 1 - toIndex);
}
