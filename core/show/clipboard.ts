/** Layers on the clipboard: plain JSON that carries everything needed to paste them into another scene or show. */
import { Fault } from '../fault';
import { unionOf, boundsOfPlacement } from '../geometry/rect';
import { findRecord, recordsOf, type ShowDocument } from './document';
import { copiesOf, frameOf, topPosition, usedFrames, withMembers, type NewId } from './stage-edits';
import type { AnyRecord, ChannelRecord, InputRecord, LayerRecord, Placements } from './records';

export const CLIPBOARD_FORMAT = 'dolomite-layers/1';

export interface LayerClipboard {
  format: typeof CLIPBOARD_FORMAT;
  layers: LayerRecord[];
  /** Inputs the layers show, with the channels of their sound, for a show that does not have them. */
  inputs: InputRecord[];
  channels: ChannelRecord[];
}

export function copyLayers(document: ShowDocument, chosen: readonly LayerRecord[]): LayerClipboard {
  const layers = withMembers(document, chosen);
  const ids = new Set(layers.flatMap((l) => (l.content.type === 'input' ? [l.content.inputId] : [])));
  const inputs = [...ids].flatMap((id) => findRecord(document, 'input', id) ?? []);
  const channels = recordsOf(document, 'channel').filter(
    (c) => c.source.type === 'input' && ids.has(c.source.inputId),
  );
  return { format: CLIPBOARD_FORMAT, layers, inputs, channels };
}

export type PasteWay = 'in place' | 'in the middle';

/**
 * The records to put so that the copied layers stand in a scene (null: above every scene), on top of it. Inputs that the
 * show does not have come along; an inset whose scene is not here is left out and named.
 *
 * @throws Fault `paste.empty` when nothing of it can stand here
 */
export function pasteLayers(
  document: ShowDocument,
  sceneId: string | null,
  clipboard: LayerClipboard,
  way: PasteWay,
  newId: NewId,
): { records: AnyRecord[]; layerIds: string[]; left: string[] } {
  const show = recordsOf(document, 'show')[0];
  const left: string[] = [];
  const inputIds = new Map<string, string>();
  const records: AnyRecord[] = [];
  for (const input of clipboard.inputs) {
    if (findRecord(document, 'input', input.id)) continue;
    // Another show may have used the same id for something else.
    const id = document.has(input.id) ? newId() : input.id;
    inputIds.set(input.id, id);
    records.push({ ...input, id, showId: show.id, standInId: null });
    const channel = clipboard.channels.find(
      (c) => c.source.type === 'input' && c.source.inputId === input.id,
    );
    if (channel)
      records.push({
        ...channel,
        id: newId(),
        showId: show.id,
        source: { type: 'input', inputId: id },
        pictureInputId: channel.pictureInputId === input.id ? id : null,
      });
  }
  const known = new Set(clipboard.inputs.map((i) => i.id));
  const usable = clipboard.layers.filter((layer) => {
    const { content } = layer;
    const good =
      content.type === 'input'
        ? known.has(content.inputId) || findRecord(document, 'input', content.inputId) !== null
        : content.type === 'inset'
          ? findRecord(document, 'scene', content.sceneId) !== null && content.sceneId !== sceneId
          : true;
    if (!good) left.push(layer.name);
    return good;
  });
  if (usable.length === 0)
    throw new Fault(
      'paste.empty',
      left.length > 0
        ? `${left.map((n) => `"${n}"`).join(', ')} cannot stand here: what it shows is not in this show`
        : 'there are no layers on the clipboard',
    );
  const top = topPosition(document, sceneId);
  const layers = copiesOf(usable, newId, (copy) => copy).map((copy, i): LayerRecord => {
    const { content } = copy;
    return {
      ...copy,
      showId: show.id,
      sceneId,
      position: top + i,
      content:
        content.type === 'input'
          ? { ...content, inputId: inputIds.get(content.inputId) ?? content.inputId }
          : content,
    };
  });
  const placed =
    way === 'in place'
      ? layers
      : layers.map((layer) => ({ ...layer, placements: centred(document, layers, layer.placements) }));
  return { records: [...records, ...placed], layerIds: placed.map((l) => l.id), left };
}

/** Moved so that all of them together stand in the middle of each frame; frames they were not in get them too. */
function centred(document: ShowDocument, all: readonly LayerRecord[], placements: Placements): Placements {
  const result: Placements = { ...placements };
  for (const frame of usedFrames(document)) {
    const size = frameOf(document, frame);
    const bounds = unionOf(
      all.flatMap((l) => (l.placements[frame] ? [boundsOfPlacement(l.placements[frame])] : [])),
    );
    const p = placements[frame];
    if (p && bounds)
      result[frame] = {
        ...p,
        cx: p.cx + size.width / 2 - (bounds.x + bounds.width / 2),
        cy: p.cy + size.height / 2 - (bounds.y + bounds.height / 2),
      };
  }
  return result;
}
