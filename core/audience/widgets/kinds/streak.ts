import { colour, fields, list, number, words } from '../../../show/shape';
import { streakAt, type StreakSettings } from '../../streak';
import { cleanText } from '../../words';
import { gauge } from '../gauge';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export type StreakWidget = { of: 'streak' } & StreakSettings;

/** Support in quick succession. */
export const streak: WidgetKind<StreakWidget> = {
  ...PLAIN_WIDGET,
  name: 'Streak',
  start: () => ({
    of: 'streak',
    decayPerMinute: 1,
    levels: [
      { from: 2, name: 'Steam up', colour: '#83B168' },
      { from: 5, name: 'Full ahead', colour: '#E2AE45' },
      { from: 10, name: 'Night express', colour: '#E39A88' },
    ],
  }),
  shape: {
    decayPerMinute: number(0.01, 600),
    levels: list(fields({ from: number(0, 1e6), name: words(60), colour }), 12),
  },
  size: { width: 520, height: 140, sizePx: 40 },
  layout(widget, { book, nowMs }, room) {
    const { points, level, share } = streakAt(book.facts.supportMs, widget, nowMs);
    const reached = [...widget.levels].sort((a, b) => a.from - b.from)[level];
    // Nothing to see before the first level: a streak appears when there is one.
    if (!reached) return points > 0.5 ? gauge(room, 'Warming up', '', '', share, room.accent) : [];
    const count = `× ${Math.max(1, Math.floor(points))}`;
    return gauge(room, cleanText(reached.name, 60), count, '', share, reached.colour);
  },
  stamp(widget, { book, nowMs }) {
    const { points, level, share } = streakAt(book.facts.supportMs, widget, nowMs);
    return `${level}/${Math.floor(points)}/${Math.round(share * 400)}/${points > 0.5}`;
  },
};
