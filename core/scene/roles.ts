/** What the layers of a scene are to a viewer, judged from what they show. */
import type { Size } from '../geometry/rect';
import { findRecord, type ShowDocument } from '../show/document';
import { kindOf } from '../show/input-kinds';
import type { LayerRecord } from '../show/records';
import type { LayerRole, ProposedLayer } from './propose';
import type { FrameName } from '../show/records';
import { croppedPart } from '../geometry/adjust';

export function roleOf(document: ShowDocument, layer: LayerRecord): LayerRole {
  const { content } = layer;
  if (content.type === 'inset') return 'screen';
  if (content.type !== 'input') return 'graphic';
  const input = findRecord(document, 'input', content.inputId);
  return input ? kindOf(input.source).role(input.source) : 'graphic';
}

/**
 * Size of a layer's picture after its crop, in its own pixels; null for what has no shape of its own.
 * @param inputSize size of an input's picture as it runs now, or null while it is not known
 */
export function pictureOf(
  document: ShowDocument,
  layer: LayerRecord,
  frame: FrameName,
  inputSize: (inputId: string) => Size | null,
): Size | null {
  const { content } = layer;
  const whole =
    content.type === 'input'
      ? inputSize(content.inputId)
      : content.type === 'inset'
        ? ([...document.values()].find((r) => r.kind === 'show')?.frames[frame] ?? null)
        : null;
  const crop = layer.placements[frame]?.crop;
  return whole && crop ? croppedPart(whole, crop) : whole;
}

/** The layers of a scene that stand in frame `from`, ready for a proposal. Lowest first. */
export function proposedLayers(
  document: ShowDocument,
  layers: readonly LayerRecord[],
  from: FrameName,
  inputSize: (inputId: string) => Size | null,
): ProposedLayer[] {
  return layers.flatMap((layer) => {
    const placement = layer.placements[from];
    if (!placement || layer.content.type === 'group') return [];
    const { type } = layer.content;
    return [
      {
        id: layer.id,
        role: roleOf(document, layer),
        placement,
        picture: pictureOf(document, layer, from, inputSize),
        flows: type === 'text' || type === 'chatPanel' || type === 'alert' || type === 'widget',
      },
    ];
  });
}
