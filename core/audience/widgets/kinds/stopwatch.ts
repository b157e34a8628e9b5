import { choice } from '../../../show/shape';
import { durationText } from '../../countdown';
import type { AudienceNow } from '../audience-now';
import { rowsOf } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface StopwatchWidget {
  of: 'stopwatch';
  /** Since the scene came on, or since the broadcast began. */
  since: 'scene' | 'broadcast';
}

/** Seconds that have gone; 0 before it began. */
const goneOf = ({ since }: StopwatchWidget, now: AudienceNow): number => {
  const from = since === 'scene' ? now.sceneSinceMs : now.broadcastSinceMs;
  return from === null ? 0 : (now.nowMs - from) / 1000;
};

export const stopwatch: WidgetKind<StopwatchWidget> = {
  ...PLAIN_WIDGET,
  name: 'Stopwatch',
  start: () => ({ of: 'stopwatch', since: 'scene' }),
  shape: { since: choice(['scene', 'broadcast']) },
  size: { width: 260, height: 96, sizePx: 56 },
  ...{ align: 'center', ofViewers: false },
  layout: (widget, now, room) => rowsOf(room, [{ text: durationText(goneOf(widget, now)) }]),
  stamp: (widget, now) => String(Math.floor(goneOf(widget, now))),
};
