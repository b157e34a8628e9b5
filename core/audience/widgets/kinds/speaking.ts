import { cleanName } from '../../words';
import { rowsOf } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface SpeakingWidget {
  of: 'speaking';
}

const MOST_NAMES = 8;

/** Names of the channels that are heard. */
export const speaking: WidgetKind<SpeakingWidget> = {
  ...PLAIN_WIDGET,
  ofViewers: false,
  name: 'Who is speaking',
  start: () => ({ of: 'speaking' }),
  shape: {},
  size: { width: 340, height: 160, sizePx: 36 },
  layout: (_, { speaking: names }, room) =>
    names.length === 0
      ? []
      : rowsOf(
          room,
          names.slice(0, MOST_NAMES).map((name) => ({ text: `● ${cleanName(name)}` })),
        ),
  stamp: (_, now) => now.speaking.join(),
};
