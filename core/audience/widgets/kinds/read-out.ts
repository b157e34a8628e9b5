import { layoutReadOut } from '../chat-panel';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface ReadOutWidget {
  of: 'readOut';
}

/** One comment, as it is read out. */
export const readOut: WidgetKind<ReadOutWidget> = {
  ...PLAIN_WIDGET,
  name: 'Read-out',
  start: () => ({ of: 'readOut' }),
  shape: {},
  size: { width: 1100, height: 260, sizePx: 56 },
  layout: (_, now, room) => (now.readOut ? layoutReadOut(now.readOut.message, room) : []),
  stamp: (_, now) => now.readOut?.message.key ?? '',
};
