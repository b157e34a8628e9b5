import { whole } from '../../../show/shape';
import { eventWords } from '../../events';
import { moneyText } from '../../money';
import { pictureName, pictureText } from '../../picture-words';
import { rowsOf } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface RecentWidget {
  of: 'recent';
  lines: number;
}

/** What has happened, the newest above. */
export const recent: WidgetKind<RecentWidget> = {
  ...PLAIN_WIDGET,
  name: 'Recent events',
  start: () => ({ of: 'recent', lines: 5 }),
  shape: { lines: whole(1, 20) },
  size: { width: 560, height: 300, sizePx: 34 },
  layout({ lines }, { book, settings }, room) {
    const events = book.facts.recent.slice(-lines).reverse();
    return rowsOf(
      room,
      events.length === 0
        ? [{ text: 'Nothing yet' }]
        : events.map((event) => ({
            text: `${pictureName(event.viewer, settings)} ${pictureText(eventWords(event, moneyText), settings, 120)}`,
          })),
    );
  },
  stamp: (_, now) => now.eventStamp,
};
