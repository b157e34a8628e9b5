import { useMemo } from 'react';
import { messageOf } from '~/core/fault';
import { arrange, type ArrangeCommand } from '~/core/geometry/arrange';
import { pictureOf } from '~/core/scene/roles';
import { copyLayers, pasteLayers, type PasteWay } from '~/core/show/clipboard';
import { findRecord, reorder } from '~/core/show/document';
import { membersOfGroup, ownLayers, picturesOfScene } from '~/core/show/layers';
import { placed } from '~/core/show/placing';
import type { FrameName, LayerRecord, Placement } from '~/core/show/records';
import { duplicateLayers, frameOf, groupLayers, ungroup } from '~/core/show/stage-edits';
import { useStudio } from '../studio/studio-context';
import { useStage, type StageParts } from './stage-context';

const newId = () => crypto.randomUUID();

export type StageCommands = ReturnType<typeof commandsOf>;

export function useStageCommands(): StageCommands {
  const { newest } = useStage();
  const { say } = useStudio();
  return useMemo(() => commandsOf(newest, say), [newest, say]);
}

/** "Desk camera", or "3 layers". */
export function namesOf(layers: readonly { name: string }[]): string {
  return layers.length === 1 ? layers[0].name : `${layers.length} layers`;
}

/**
 * What can be done to the chosen layers, from keys, menus and buttons alike. Each starts from the stage as it is when
 * it is given: of two in quick succession the second builds on the first, also where the first is not shown yet.
 */
function commandsOf(newest: () => StageParts, say: (message: string) => void) {
  const place = (name: string, placements: ReadonlyMap<string, Placement | null>, of?: FrameName) => {
    const { document, scene, frame, edit } = newest();
    return edit(name, placed(document, scene.id, of ?? frame, placements));
  };

  const change = (name: string, to: (placement: Placement, layer: LayerRecord) => Placement) => {
    const { movable, frame } = newest();
    const placements = new Map<string, Placement>();
    for (const layer of movable) {
      const placement = layer.placements[frame];
      if (placement) placements.set(layer.id, to(placement, layer));
    }
    if (placements.size > 0) place(`${name} ${namesOf(movable)}`, placements);
  };

  const paste = async (text: string, way: PasteWay) => {
    try {
      const { readClipboard } = await import('~/protocol/layer-clipboard');
      const clipboard = readClipboard(text);
      if (!clipboard) return say('There are no layers on the clipboard: copy some first.');
      const { document, scene, edit, select } = newest();
      const { records, layerIds, left } = pasteLayers(document, scene.id, clipboard, way, newId);
      if (!edit(`Paste ${namesOf(clipboard.layers)}`, records)) return;
      select(layerIds);
      if (left.length > 0) say(`Left out: ${left.join(', ')}. What it shows is not in this show.`);
    } catch (error) {
      say(messageOf(error));
    }
  };

  const takePlace = async (text: string) => {
    try {
      const { readClipboard } = await import('~/protocol/layer-clipboard');
      const { frame } = newest();
      const from = readClipboard(text)?.layers.find((l) => l.placements[frame]);
      const given = from?.placements[frame];
      if (!given) return say('There is no place in this frame on the clipboard: copy a layer first.');
      change('Place', () => given);
    } catch (error) {
      say(messageOf(error));
    }
  };

  return {
    place,
    change,
    paste,
    takePlace,
    clipboardText: (): string | null => {
      const { document, chosen } = newest();
      return chosen.length === 0 ? null : JSON.stringify(copyLayers(document, chosen));
    },
    arrange: (command: ArrangeCommand, name: string) => {
      const { document, frame, movable, inputSize } = newest();
      const layers = movable.flatMap((layer) => {
        const placement = layer.placements[frame];
        return placement
          ? [{ id: layer.id, placement, picture: pictureOf(document, layer, frame, inputSize) }]
          : [];
      });
      place(`${name} ${namesOf(movable)}`, arrange(layers, command, frameOf(document, frame)));
    },
    moveBy: (dx: number, dy: number) => change('Move', (p) => ({ ...p, cx: p.cx + dx, cy: p.cy + dy })),
    remove: () => {
      const { chosen, edit, select } = newest();
      const unlocked = chosen.filter((l) => !l.locked);
      if (unlocked.length === 0) return;
      edit(
        `Delete ${namesOf(unlocked)}`,
        [],
        unlocked.map((l) => l.id),
      );
      select([]);
    },
    duplicate: () => {
      const { document, chosen, edit, select } = newest();
      if (chosen.length === 0) return;
      const copies = duplicateLayers(document, records(), newId);
      if (edit(`Duplicate ${namesOf(chosen)}`, copies))
        select(copies.filter((c) => !copies.some((g) => g.id === c.groupId)).map((c) => c.id));
    },
    group: () => {
      const { document, edit, select } = newest();
      const layers = records();
      if (layers.length === 0 || layers.some((l) => l.sceneId !== layers[0].sceneId)) return;
      const id = newId();
      const grouped = groupLayers(document, layers, id, 'Group');
      if (edit(`Group ${namesOf(layers)}`, grouped)) select([id]);
    },
    ungroup: () => {
      const { document, edit, select } = newest();
      const groups = records().filter((l) => l.content.type === 'group');
      if (groups.length === 0) return;
      const members = groups.flatMap((group) => ungroup(document, group));
      edit(
        `Ungroup ${namesOf(groups)}`,
        members,
        groups.map((g) => g.id),
      );
      select(members.map((m) => m.id));
    },
    /** One step up or down in the stack, or all the way. */
    order: (way: 'up' | 'down' | 'top' | 'bottom') => {
      const { document, edit } = newest();
      const [layer] = records();
      if (!layer) return;
      const siblings = ownLayers(document, layer.sceneId).filter((l) => l.groupId === layer.groupId);
      const at = siblings.findIndex((l) => l.id === layer.id);
      const to = { up: at + 1, down: at - 1, top: siblings.length - 1, bottom: 0 }[way];
      edit(`Order of ${layer.name}`, reorder(siblings, layer.id, to));
    },
    /** Makes the chosen layers stand above every scene, or brings them down into this one. */
    setStanding: (standing: boolean) => {
      const { document, scene, edit } = newest();
      const layers = records().filter((l) => (l.sceneId === null) !== standing);
      const top = ownLayers(document, standing ? null : scene.id).at(-1)?.position ?? -1;
      const ids = new Set(layers.map((l) => l.id));
      const all = layers.flatMap((l) => [l, ...membersOfGroup(document, l)]);
      edit(
        standing ? `${namesOf(layers)}: above every scene` : `${namesOf(layers)}: in this scene only`,
        all.map((layer, i) => ({
          ...layer,
          sceneId: standing ? null : scene.id,
          groupId: ids.has(layer.id) ? null : layer.groupId,
          position: top + 1 + i,
        })),
      );
    },
    selectAll: () => {
      const { document, scene, select } = newest();
      select(
        picturesOfScene(document, scene.id)
          .filter((l) => !l.locked)
          .map((l) => l.id),
      );
    },
    /** In or out of one frame; a layer that comes in stands where its other placement proposes, roughly. */
    setInFrame: (layer: LayerRecord, of: FrameName, inside: boolean, placement: Placement | null) =>
      place(
        inside ? `${layer.name}: in ${nameOfFrame(of)}` : `${layer.name}: not in ${nameOfFrame(of)}`,
        new Map([[layer.id, inside ? placement : null]]),
        of,
      ),
  };

  /** The records of what is chosen themselves, without what the scene changes of standing ones. */
  function records(): LayerRecord[] {
    const { document, chosen } = newest();
    return chosen.flatMap((l) => findRecord(document, 'layer', l.id) ?? []);
  }
}

export function nameOfFrame(frame: 'wide' | 'tall'): string {
  return frame === 'wide' ? 'Wide' : 'Tall';
}
