/** What can be done to inputs, layers and scenes, as records to put: computed from the document, no interface. */
import { START_CHAT_PANEL } from '../audience/widgets/chat-settings';
import { containRect, placementOfRect, type Size } from '../geometry/rect';
import type { Template, TemplatePart } from '../scene/templates';
import { rectOfShare } from '../scene/templates';
import { findRecord, recordsOf, renumber, type ShowDocument } from './document';
import { kindOf } from './input-kinds';
import { layerTree, membersOfGroup, ownLayers, type LayerNode } from './layers';
import { posesOf } from './poses';
import {
  DEFAULT_TEXT_STYLE,
  FRAME_NAMES,
  fullPlacement,
  PLAIN_CHANNEL,
  PLAIN_INPUT,
  PLAIN_LAYER,
  PLAIN_SCENE,
  type AnyRecord,
  type FrameName,
  type InputRecord,
  type InputSource,
  type LayerContent,
  type LayerRecord,
  type Placement,
  type Placements,
  type SceneRecord,
} from './records';

export type NewId = () => string;

/** Frames that the show makes, Wide first. */
export function usedFrames(document: ShowDocument): FrameName[] {
  const show = recordsOf(document, 'show')[0];
  return FRAME_NAMES.filter((frame) => show?.frames[frame].used);
}

export function frameOf(document: ShowDocument, frame: FrameName): Size {
  return recordsOf(document, 'show')[0].frames[frame];
}

/** Position on top of everything in a scene (null: of the standing layers), at the top level. */
export function topPosition(document: ShowDocument, sceneId: string | null): number {
  return (ownLayers(document, sceneId).at(-1)?.position ?? -1) + 1;
}

/** A new layer on top of the scene. */
export function newLayer(
  document: ShowDocument,
  sceneId: string | null,
  id: string,
  name: string,
  content: LayerContent,
  placements: Placements,
): LayerRecord {
  return {
    kind: 'layer',
    id,
    showId: recordsOf(document, 'show')[0].id,
    name,
    position: topPosition(document, sceneId),
    sceneId,
    ...PLAIN_LAYER,
    content,
    placements,
  };
}

/** A centred placement with the shape of a picture, taking at most `share` of the frame. */
export function shapedPlacement(frame: Size, shape: Size, share: number): Placement {
  const scale = Math.min((frame.width * share) / shape.width, (frame.height * share) / shape.height);
  return {
    ...fullPlacement(frame),
    width: Math.round(shape.width * scale),
    height: Math.round(shape.height * scale),
  };
}

/** Such a placement in every frame the show makes. */
export function shapedPlacements(document: ShowDocument, shape: Size, share: number): Placements {
  return Object.fromEntries(
    usedFrames(document).map((frame) => [frame, shapedPlacement(frameOf(document, frame), shape, share)]),
  );
}

/** The whole frame, in every frame the show makes. */
export function fullPlacements(document: ShowDocument): Placements {
  return Object.fromEntries(
    usedFrames(document).map((frame) => [frame, fullPlacement(frameOf(document, frame))]),
  );
}

/** A box of so many pixels in a frame of 1080 lines, made smaller where the frame is narrower. */
export function boxPlacements(document: ShowDocument, box: Size, look: Partial<Placement> = {}): Placements {
  return Object.fromEntries(
    usedFrames(document).map((frame) => {
      const size = frameOf(document, frame);
      const unit = Math.min(size.width, size.height) / 1080;
      const fitted = containRect(box, {
        x: 0,
        y: 0,
        width: Math.min(box.width * unit, size.width * 0.9),
        height: Math.min(box.height * unit, size.height * 0.9),
      });
      return [
        frame,
        {
          ...fullPlacement(size),
          ...look,
          width: Math.round(fitted.width),
          height: Math.round(fitted.height),
        },
      ];
    }),
  );
}

export function newInput(document: ShowDocument, id: string, name: string, source: InputSource): InputRecord {
  const inputs = recordsOf(document, 'input');
  return {
    kind: 'input',
    id,
    showId: recordsOf(document, 'show')[0].id,
    name: freeName(
      inputs.map((i) => i.name),
      name,
    ),
    position: (inputs.at(-1)?.position ?? -1) + 1,
    source,
    ...PLAIN_INPUT,
  };
}

/** The name, or the name with a number where it is taken. */
export function freeName(taken: readonly string[], name: string): string {
  if (!taken.includes(name)) return name;
  for (let n = 2; ; n++) if (!taken.includes(`${name} ${n}`)) return `${name} ${n}`;
}

/** The sound channel that a source with sound brings along; null for the others. */
export function channelFor(document: ShowDocument, input: InputRecord, id: string): AnyRecord | null {
  return kindOf(input.source).sound === 'commonly' ? soundChannel(document, input, id) : null;
}

/** A channel for an input's sound: a person's voice, or what goes with a picture. */
export function soundChannel(document: ShowDocument, input: InputRecord, id: string): AnyRecord {
  const asPerson = { role: 'voice', gainDb: 0, monitor: 'with' } as const;
  const asPicture = { gainDb: -6, heard: 'with-picture', pictureInputId: input.id } as const;
  return {
    kind: 'channel',
    id,
    showId: input.showId,
    name: input.name,
    position: (recordsOf(document, 'channel').at(-1)?.position ?? -1) + 1,
    source: { type: 'input', inputId: input.id },
    ...PLAIN_CHANNEL,
    ...(input.source.type === 'seat' ? asPerson : asPicture),
  };
}

/** A new input with a layer that shows it, and a channel for its sound where it has one. */
export function newInputWithLayer(
  document: ShowDocument,
  sceneId: string | null,
  newId: NewId,
  name: string,
  source: InputSource,
  placements: Placements,
): { records: AnyRecord[]; input: InputRecord; layer: LayerRecord } {
  const input = newInput(document, newId(), name, source);
  const layer = newLayer(
    document,
    sceneId,
    newId(),
    input.name,
    { type: 'input', inputId: input.id, fit: kindOf(source).fills ? 'fill' : 'fit' },
    placements,
  );
  const channel = channelFor(document, input, newId());
  return { records: channel ? [input, layer, channel] : [input, layer], input, layer };
}

/** Copies of layers with new ids, whole groups included; `change` may alter each copy. */
export function copiesOf(
  layers: readonly LayerRecord[],
  newId: NewId,
  change: (copy: LayerRecord) => LayerRecord,
): LayerRecord[] {
  const ids = new Map(layers.map((layer) => [layer.id, newId()]));
  return layers.map((layer) =>
    change({
      ...layer,
      id: ids.get(layer.id)!,
      // A member that comes without its group stands by itself.
      groupId: layer.groupId === null ? null : (ids.get(layer.groupId) ?? null),
    }),
  );
}

/** The chosen layers with everything in the chosen groups, each once, in the scene's order. */
export function withMembers(document: ShowDocument, layers: readonly LayerRecord[]): LayerRecord[] {
  const found = new Map<string, LayerRecord>();
  for (const layer of layers)
    for (const one of [layer, ...membersOfGroup(document, layer)]) found.set(one.id, one);
  return [...found.values()].sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1));
}

/** The scene with all its layers under a new name, standing behind it. */
export function duplicateScene(document: ShowDocument, scene: SceneRecord, newId: NewId): AnyRecord[] {
  const scenes = recordsOf(document, 'scene');
  const copy: SceneRecord = {
    ...scene,
    id: newId(),
    name: freeName(
      scenes.map((s) => s.name),
      `${scene.name} copy`,
    ),
    position: scene.position + 0.5,
  };
  const originals = ownLayers(document, scene.id);
  const layers = copiesOf(originals, newId, (layer) => ({ ...layer, sceneId: copy.id }));
  const copyId = new Map(originals.map((layer, i) => [layer.id, layers[i].id]));
  const poses = posesOf(document, scene.id).map((pose) => ({
    ...pose,
    id: newId(),
    sceneId: copy.id,
    layers: Object.fromEntries(
      Object.entries(pose.layers).flatMap(([id, look]) => (copyId.has(id) ? [[copyId.get(id)!, look]] : [])),
    ),
  }));
  return [copy, ...layers, ...poses];
}

/** Copies beside the originals, a little aside, on top of their scene. */
export function duplicateLayers(
  document: ShowDocument,
  layers: readonly LayerRecord[],
  newId: NewId,
): LayerRecord[] {
  const all = withMembers(document, layers);
  const top = topPosition(document, layers[0]?.sceneId ?? null);
  const inside = new Set(all.map((l) => l.id));
  return copiesOf(all, newId, (copy) => copy).map((copy, i) => ({
    ...copy,
    name: inside.has(all[i].groupId ?? '') ? copy.name : `${copy.name} copy`.slice(0, 120),
    groupId: inside.has(all[i].groupId ?? '') ? copy.groupId : all[i].groupId,
    locked: false,
    position: top + i,
    placements: shifted(copy.placements, 40),
  }));
}

export function shifted(placements: Placements, by: number): Placements {
  return Object.fromEntries(
    Object.entries(placements).map(([frame, p]) => [frame, { ...p, cx: p.cx + by, cy: p.cy + by }]),
  );
}

/** Puts layers of one scene into a new group, which takes the place of the uppermost of them. */
export function groupLayers(
  document: ShowDocument,
  layers: readonly LayerRecord[],
  groupId: string,
  name: string,
): LayerRecord[] {
  const chosen = new Set(layers.map((l) => l.id));
  // A member of a chosen group stays in that group.
  const tops = layers.filter((l) => l.groupId === null || !chosen.has(l.groupId));
  if (tops.length === 0) return [];
  const { sceneId } = tops[0];
  const parent = tops.every((l) => l.groupId === tops[0].groupId) ? tops[0].groupId : null;
  const uppermost = tops.reduce((a, b) => (a.position > b.position ? a : b));
  const group: LayerRecord = {
    ...newLayer(document, sceneId, groupId, name, { type: 'group' }, {}),
    groupId: parent,
    position: uppermost.position,
  };
  return [group, ...tops.map((layer) => ({ ...layer, groupId }))];
}

/** Takes a group apart: its members stand where it stood. Returns what to put; the group is to be removed. */
export function ungroup(document: ShowDocument, group: LayerRecord): LayerRecord[] {
  const members = ownLayers(document, group.sceneId).filter((l) => l.groupId === group.id);
  return members.map((member, i) => ({
    ...member,
    groupId: group.groupId,
    position: group.position + i / (members.length + 1),
  }));
}

/** Rows of the layer list, top first, closed groups without their members. */
export function listedRows(
  document: ShowDocument,
  sceneId: string | null,
  closed: ReadonlySet<string>,
): { layer: LayerRecord; depth: number }[] {
  const rows: { layer: LayerRecord; depth: number }[] = [];
  const walk = (nodes: readonly LayerNode[]) => {
    for (const { layer, depth, members } of [...nodes].reverse()) {
      rows.push({ layer, depth });
      if (!closed.has(layer.id)) walk(members);
    }
  };
  walk(layerTree(document, sceneId));
  return rows;
}

/**
 * Moves a layer to where another one is in the list (top first): into that one's group, above or below it. Dropped on an
 * open group from above it becomes its uppermost member.
 */
export function moveLayer(
  document: ShowDocument,
  sceneId: string | null,
  id: string,
  overId: string,
  below: boolean,
): LayerRecord[] {
  const layers = ownLayers(document, sceneId);
  const moved = layers.find((l) => l.id === id);
  const over = layers.find((l) => l.id === overId);
  if (!moved || !over || id === overId) return [];
  if (membersOfGroup(document, moved).some((l) => l.id === overId)) return [];
  const into = below && over.content.type === 'group' ? over.id : over.groupId;
  const siblings = layers.filter((l) => l.groupId === into && l.id !== id);
  // The list is top first, positions are lowest first.
  const at = into === over.id ? siblings.length : siblings.indexOf(over) + (below ? 0 : 1);
  const ordered = [...siblings];
  ordered.splice(at, 0, { ...moved, groupId: into });
  const changed = renumber(ordered);
  if (moved.groupId !== into && !changed.some((l) => l.id === id)) changed.push({ ...moved, groupId: into });
  return changed;
}

/** Puts a layer right below another one, in the same group. */
export function placeBelow(document: ShowDocument, layer: LayerRecord, above: LayerRecord): LayerRecord[] {
  return moveLayer(document, above.sceneId, layer.id, above.id, true);
}

/** Moves a scene to where another one is: into its folder, before or after it. */
export function moveScene(document: ShowDocument, id: string, overId: string, after: boolean): SceneRecord[] {
  const scenes = recordsOf(document, 'scene');
  const moved = findRecord(document, 'scene', id);
  const over = findRecord(document, 'scene', overId);
  if (!moved || !over || id === overId) return [];
  const ordered = scenes.filter((s) => s.id !== id);
  ordered.splice(ordered.indexOf(over) + (after ? 1 : 0), 0, { ...moved, folder: over.folder });
  const changed = renumber(ordered);
  if (moved.folder !== over.folder && !changed.some((s) => s.id === id))
    changed.push({ ...moved, folder: over.folder });
  return changed;
}

/** What a part of a template is filled with: an input that is there, or nothing yet. */
export type TemplateChoice = Record<string, { taken: boolean; inputId: string | null }>;

/** A new scene from a template: the parts that are taken, each in both frames. */
export function sceneFromTemplate(
  document: ShowDocument,
  template: Template,
  choice: TemplateChoice,
  name: string,
  folder: string,
  newId: NewId,
): AnyRecord[] {
  const show = recordsOf(document, 'show')[0];
  const scenes = recordsOf(document, 'scene');
  const scene: SceneRecord = {
    kind: 'scene',
    id: newId(),
    showId: show.id,
    name: freeName(
      scenes.map((s) => s.name),
      name,
    ),
    position: (scenes.at(-1)?.position ?? -1) + 1,
    ...PLAIN_SCENE,
    folder,
  };
  const layers = template.parts.flatMap((part, i) => {
    const { taken, inputId } = choice[part.id] ?? { taken: false, inputId: null };
    const content = contentOfPart(part, inputId);
    if (!taken || !content) return [];
    const named = inputId === null ? part.name : (findRecord(document, 'input', inputId)?.name ?? part.name);
    return [
      {
        ...newLayer(document, scene.id, newId(), named, content, placementsOfPart(document, part)),
        position: i,
      },
    ];
  });
  return [scene, ...layers];
}

function contentOfPart(part: TemplatePart, inputId: string | null): LayerContent | null {
  switch (part.type) {
    case 'text':
      return { type: 'text', text: part.text, style: { ...DEFAULT_TEXT_STYLE, ...part.style } };
    case 'chat':
      return {
        type: 'chatPanel',
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 32, weight: 500, box: '#14181DB8' },
        keepSeconds: 60,
        panel: START_CHAT_PANEL,
        accent: '#63BDBB',
      };
    default:
      return inputId === null ? null : { type: 'input', inputId, fit: 'fill' };
  }
}

function placementsOfPart(document: ShowDocument, part: TemplatePart): Placements {
  return Object.fromEntries(
    usedFrames(document).flatMap((frame) => {
      const share = part[frame];
      if (!share) return [];
      const size = frameOf(document, frame);
      const placement: Placement = {
        ...fullPlacement(size),
        ...placementOfRect(rectOfShare(share, size)),
        cornerPx: Math.round((part.corner ?? 0) * Math.min(size.width, size.height)),
      };
      return [[frame, placement]];
    }),
  );
}

/** The show with a frame of another size; every placement in it keeps its part of the frame. */
export function resizedFrame(document: ShowDocument, frame: FrameName, size: Size): AnyRecord[] {
  const show = recordsOf(document, 'show')[0];
  const before = show.frames[frame];
  const sx = size.width / before.width;
  const sy = size.height / before.height;
  const scaled = (placements: Placements): Placements => {
    const p = placements[frame];
    if (!p) return placements;
    const edge = Math.min(sx, sy);
    return {
      ...placements,
      [frame]: {
        ...p,
        cx: p.cx * sx,
        cy: p.cy * sy,
        width: Math.max(1, p.width * sx),
        height: Math.max(1, p.height * sy),
        cornerPx: p.cornerPx * edge,
        borderPx: Math.min(200, p.borderPx * edge),
        shadowPx: Math.min(200, p.shadowPx * edge),
      },
    };
  };
  return [
    { ...show, frames: { ...show.frames, [frame]: { ...before, width: size.width, height: size.height } } },
    ...recordsOf(document, 'layer')
      .filter((layer) => layer.placements[frame])
      .map((layer) => ({ ...layer, placements: scaled(layer.placements) })),
    ...recordsOf(document, 'scene')
      .filter((scene) => Object.keys(scene.standing).length > 0)
      .map((scene) => ({
        ...scene,
        standing: Object.fromEntries(
          Object.entries(scene.standing).map(([id, change]) => [
            id,
            { ...change, placements: scaled(change.placements) },
          ]),
        ),
      })),
    ...recordsOf(document, 'pose').map((pose) => ({
      ...pose,
      layers: Object.fromEntries(
        Object.entries(pose.layers).map(([id, look]) => [
          id,
          { ...look, placements: scaled(look.placements) },
        ]),
      ),
      standing: Object.fromEntries(
        Object.entries(pose.standing).map(([id, change]) => [
          id,
          { ...change, placements: scaled(change.placements) },
        ]),
      ),
    })),
  ];
}
