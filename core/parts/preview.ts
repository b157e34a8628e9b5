/** Parts as they look before they are in a show: no camera is opened for them, and their alerts have a place. */
import { documentOf, recordsOf, type ShowDocument } from '../show/document';
import { kindOf } from '../show/input-kinds';
import { newLayer } from '../show/stage-edits';
import { DEFAULT_TEXT_STYLE, fullPlacement, type Placement } from '../show/records';

/** Of a frame's width and height. */
const ALERT_SHARE = { width: 0.56, height: 0.16, cy: 0.18 };

/** @param parts a show of its own, with frames (`documentWith`) */
export function previewed(parts: ShowDocument): ShowDocument {
  const records = [...parts.values()].map((record) => {
    if (record.kind !== 'input') return record;
    const picture = kindOf(record.source).previewed;
    return picture ? { ...record, source: { type: 'simulated' as const, picture } } : record;
  });
  const document = documentOf(records);
  const placed = recordsOf(document, 'layer').some(({ content }) => content.type === 'alert');
  if (placed || recordsOf(document, 'alertRule').length === 0) return document;
  const [{ frames }] = recordsOf(document, 'show');
  const at = ({ width, height }: { width: number; height: number }): Placement => ({
    ...fullPlacement({ width, height }),
    cy: height * ALERT_SHARE.cy,
    width: width * ALERT_SHARE.width,
    height: height * ALERT_SHARE.height,
  });
  const content = { type: 'alert', style: DEFAULT_TEXT_STYLE } as const;
  const placements = { wide: at(frames.wide), tall: at(frames.tall) };
  return documentOf([...records, newLayer(document, null, 'preview-alerts', 'Alerts', content, placements)]);
}
