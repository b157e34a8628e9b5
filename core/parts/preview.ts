/** Parts as they look before they are in a show: no camera is opened for them, and their alerts have a place. */
import { intersection, rectOfPlacement, type Rect, type Size } from '../geometry/rect';
import { documentOf, recordsOf, type ShowDocument } from '../show/document';
import { kindOf } from '../show/input-kinds';
import { newLayer } from '../show/stage-edits';
import { DEFAULT_TEXT_STYLE, fullPlacement, type FrameName, type Placement } from '../show/records';

/** Of a frame's width and height; and where its middle may lie, the most usual first. */
const ALERT_SHARE = { width: 0.56, height: 0.16 };
const ALERT_AT = [0.14, 0.86, 0.32, 0.68, 0.5] as const;
/** What takes so much of a frame is a ground: alerts lie on it, as they do on shapes. */
const GROUND_SHARE = 0.5;

/** @param parts a show of its own, with frames (`documentWith`) */
export function previewed(parts: ShowDocument): ShowDocument {
  const records = [...parts.values()].map((record) => {
    if (record.kind !== 'input') return record;
    const source = kindOf(record.source).previewed ?? record.source;
    // Of a large show only what is seen is opened.
    return { ...record, source, keepReady: false };
  });
  const document = documentOf(records);
  const placed = recordsOf(document, 'layer').some(({ content }) => content.type === 'alert');
  if (placed || recordsOf(document, 'alertRule').length === 0) return document;
  const [{ frames }] = recordsOf(document, 'show');
  const at = (frame: FrameName) => calmest(document, frame, frames[frame]);
  const content = { type: 'alert', style: DEFAULT_TEXT_STYLE } as const;
  const placements = { wide: at('wide'), tall: at('tall') };
  return documentOf([...records, newLayer(document, null, 'preview-alerts', 'Alerts', content, placements)]);
}

/** Where in a frame an alert lies over least of what all the scenes show. */
function calmest(document: ShowDocument, frame: FrameName, size: Size): Placement {
  const rects = recordsOf(document, 'layer').flatMap(({ placements, content }) => {
    const placed = placements[frame];
    const rect = placed && rectOfPlacement(placed);
    if (content.type === 'shape') return [];
    return rect && areaOf(rect) < GROUND_SHARE * areaOf({ ...rect, ...size }) ? [rect] : [];
  });
  const places = ALERT_AT.map((cy) => ({
    ...fullPlacement(size),
    cy: size.height * cy,
    width: size.width * ALERT_SHARE.width,
    height: size.height * ALERT_SHARE.height,
  }));
  const covered = places.map((place) =>
    rects.reduce((sum, rect) => sum + areaOf(intersection(rect, rectOfPlacement(place))), 0),
  );
  return places[covered.indexOf(Math.min(...covered))];
}

const areaOf = ({ width, height }: Rect): number => Math.max(0, width) * Math.max(0, height);
