import { choice } from '../../../show/shape';
import type { ViewerEvent } from '../../events';
import { moneyText } from '../../money';
import { pictureName } from '../../picture-words';
import { lineOf, LINE, padOf, typeSize } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface SupportersWidget {
  of: 'supporters';
  show: 'latest' | 'largest' | 'evening';
}

/** Names of an evening on one strip. */
const MOST_NAMES = 20;

/** Who gave, side by side. */
export const supporters: WidgetKind<SupportersWidget> = {
  ...PLAIN_WIDGET,
  name: 'Supporter strip',
  start: () => ({ of: 'supporters', show: 'latest' }),
  shape: { show: choice(['latest', 'largest', 'evening']) },
  size: { width: 1400, height: 76, sizePx: 34 },
  layout({ show }, now, room) {
    const { latest, top } = now.book.facts;
    const said = (event: ViewerEvent | undefined, head: string) =>
      event
        ? `${head}: ${pictureName(event.viewer, now.settings)}${event.money ? ` · ${moneyText(event.money)}` : event.count ? ` · ${event.count}` : ''}`
        : null;
    let words: (string | null)[];
    if (show === 'evening') {
      const names = now.book
        .supporters()
        .slice(0, MOST_NAMES)
        .map((s) => pictureName(s.name, now.settings));
      words = [names.length === 0 ? null : `Supporters tonight: ${names.join(', ')}`];
    } else if (show === 'largest')
      words = [said(top.donation, 'Largest gift'), said(top.cheer, 'Largest cheer')];
    else
      words = [
        said(latest.donation, 'Latest gift'),
        said(latest.subscription, 'Latest subscriber'),
        said(latest.follow, 'Latest follower'),
      ];
    const known = words.filter((word) => word !== null);
    const pad = padOf(room);
    const sizePx = typeSize(room);
    const width = (room.width - 2 * pad) / Math.max(1, known.length);
    const texts = known.length === 0 ? ['No supporters yet: be the first'] : known;
    return texts.flatMap((text, i) =>
      lineOf(room, text, {
        x: pad + i * width,
        top: (room.height - sizePx * LINE) / 2,
        width: Math.max(
          1,
          (known.length === 0 ? room.width - 2 * pad : width) - (i < known.length - 1 ? sizePx * 0.6 : 0),
        ),
        sizePx,
      }),
    );
  },
  stamp: (_, now) => now.eventStamp,
};
