import { idOr } from '../../../show/shape';
import { goalView } from '../../goals';
import { rowsOf } from '../drawing';
import { gauge } from '../gauge';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface GoalWidget {
  of: 'goal';
  goalId: string;
}

/** How far a goal of the show has come. */
export const goal: WidgetKind<GoalWidget> = {
  ...PLAIN_WIDGET,
  name: 'Goal',
  start: (goalId) => ({ of: 'goal', goalId }),
  shape: { goalId: idOr('') },
  size: { width: 640, height: 150, sizePx: 40 },
  layout({ goalId }, { goals, book, settings, nowMs }, room) {
    const found = goals.find((g) => g.id === goalId);
    if (!found) return rowsOf(room, [{ text: 'This goal was removed' }]);
    const view = goalView(found, book.goal(found.id), settings.currency, nowMs);
    const below = [`${view.valueText} of ${view.targetText}`, view.timeText].filter(Boolean).join(' · ');
    const name = view.reached ? `${found.name}: done!` : found.name;
    return gauge(room, name, `${view.percent}%`, below, view.share, room.accent);
  },
  stamp: (_, { eventStamp, nowMs }) => `${eventStamp}/${Math.floor(nowMs / 60_000)}`,
};
