import { choice, flag, number, words } from '../../../show/shape';
import { countdownEnd, durationText, secondsLeft, type CountdownSettings } from '../../countdown';
import { cleanText } from '../../words';
import type { AudienceNow } from '../audience-now';
import { rowsOf } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export type CountdownWidget = { of: 'countdown' } & CountdownSettings;

const leftOf = (widget: CountdownWidget, now: AudienceNow): number =>
  secondsLeft(
    countdownEnd(widget, widget.restart ? now.sceneSinceMs : now.sceneFirstMs, now.zoneOffsetMinutes),
    now.nowMs,
  );

/** For a length, or to a time of the day. */
export const countdown: WidgetKind<CountdownWidget> = {
  ...PLAIN_WIDGET,
  name: 'Countdown',
  start: () => ({
    of: 'countdown',
    to: 'length',
    seconds: 300,
    clock: '20:00',
    restart: true,
    endText: 'Here we go',
    thenNext: false,
  }),
  shape: {
    to: choice(['length', 'clock']),
    seconds: number(1, 86_400),
    clock: {
      ...{ is: 'words', min: 0, max: 5 },
      like: {
        pattern: /^([01]\d|2[0-3]):[0-5]\d$/,
        say: 'a time of the day is written like 20:00',
      },
    },
    restart: flag,
    endText: words(80),
    thenNext: flag,
  },
  size: { width: 560, height: 200, sizePx: 140 },
  ...{ boxed: false, align: 'center', ofViewers: false },
  layout(widget, now, room) {
    const left = leftOf(widget, now);
    return rowsOf(room, [{ text: left === 0 ? cleanText(widget.endText, 80) : durationText(left) }]);
  },
  stamp: (widget, now) => String(leftOf(widget, now)),
};
