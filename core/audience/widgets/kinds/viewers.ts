import { choice } from '../../../show/shape';
import { viewersAt, viewerSum } from '../audience-now';
import { rowsOf } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface ViewersWidget {
  of: 'viewers';
  show: 'sum' | 'each';
}

/** How many watch: all together, or on each platform. */
export const viewers: WidgetKind<ViewersWidget> = {
  ...PLAIN_WIDGET,
  name: 'Viewer count',
  start: () => ({ of: 'viewers', show: 'sum' }),
  shape: { show: choice(['sum', 'each']) },
  size: { width: 360, height: 84, sizePx: 40 },
  align: 'center',
  layout({ show }, { viewers: readings, nowMs }, room) {
    const sum = viewerSum(readings, nowMs);
    if (show === 'sum') return rowsOf(room, [{ text: sum === null ? '— watching' : `${sum} watching` }]);
    return rowsOf(
      room,
      readings.size === 0
        ? [{ text: '— watching' }]
        : [...readings].map(([platform, reading]) => ({ text: `${platform} ${viewersAt(reading, nowMs)}` })),
    );
  },
  stamp: ({ show }, { viewers: readings, nowMs }) =>
    `${viewerSum(readings, nowMs)}/${show === 'each' ? [...readings.values()].map((v) => viewersAt(v, nowMs)).join() : ''}`,
};
