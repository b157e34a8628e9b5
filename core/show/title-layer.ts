import { startWidget } from '../audience/widgets/widgets';
import { recordsOf, type ShowDocument } from './document';
import { ownLayers } from './layers';
import {
  DEFAULT_TEXT_STYLE,
  FRAME_NAMES,
  fullPlacement,
  PLAIN_LAYER,
  type LayerRecord,
  type Placements,
} from './records';

/** A title above every scene, in the lower third of both frames, inside what every screen shows. */
export function newTitleLayer(document: ShowDocument, showId: string, id: string): LayerRecord {
  const { frames } = recordsOf(document, 'show')[0];
  const placements: Placements = {};
  for (const frame of FRAME_NAMES) {
    const { width, height } = frames[frame];
    const tall = height > width;
    const size = { width: width * (tall ? 0.86 : 0.5), height: Math.min(width, height) * 0.18 };
    placements[frame] = {
      ...fullPlacement(frames[frame]),
      ...size,
      cx: width * 0.07 + size.width / 2,
      // Below the middle of a tall picture platforms lay their own buttons over it.
      cy: height * (tall ? 0.68 : 0.8),
    };
  }
  return {
    ...PLAIN_LAYER,
    kind: 'layer',
    id,
    showId,
    name: 'Title',
    position: (ownLayers(document, null).at(-1)?.position ?? -1) + 1,
    sceneId: null,
    content: {
      type: 'widget',
      widget: startWidget('title'),
      style: { ...DEFAULT_TEXT_STYLE, sizePx: 64, weight: 500 },
      accent: '#63BDBB',
    },
    placements,
  };
}
