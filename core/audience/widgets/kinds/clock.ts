import { flag } from '../../../show/shape';
import { clockText } from '../../countdown';
import { rowsOf } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface ClockWidget {
  of: 'clock';
  seconds: boolean;
}

/** The time of the day where the studio is. */
export const clock: WidgetKind<ClockWidget> = {
  ...PLAIN_WIDGET,
  name: 'Clock',
  start: () => ({ of: 'clock', seconds: false }),
  shape: { seconds: flag },
  size: { width: 260, height: 96, sizePx: 56 },
  ...{ align: 'center', ofViewers: false },
  layout: ({ seconds }, { nowMs, zoneOffsetMinutes }, room) =>
    rowsOf(room, [{ text: clockText(nowMs, zoneOffsetMinutes, seconds) }]),
  stamp: ({ seconds }, { nowMs, zoneOffsetMinutes }) => clockText(nowMs, zoneOffsetMinutes, seconds),
};
