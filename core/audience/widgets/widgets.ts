/** Every kind of widget: another is a file in `kinds` and a row here. */
import type { AudienceNow } from './audience-now';
import type { Mark, Room } from './drawing';
import { clock } from './kinds/clock';
import { countdown } from './kinds/countdown';
import { credits } from './kinds/credits';
import { goal } from './kinds/goal';
import { poll } from './kinds/poll';
import { qrCode } from './kinds/qr-code';
import { readOut } from './kinds/read-out';
import { recent } from './kinds/recent';
import { speaking } from './kinds/speaking';
import { stopwatch } from './kinds/stopwatch';
import { streak } from './kinds/streak';
import { supporters } from './kinds/supporters';
import { title } from './kinds/title';
import { viewers } from './kinds/viewers';
import type { WidgetKind } from './widget-kind';

/** In the order in which they are offered. */
export const WIDGETS = {
  viewers,
  supporters,
  recent,
  streak,
  goal,
  countdown,
  clock,
  stopwatch,
  poll,
  credits,
  readOut,
  speaking,
  title,
  qrCode,
};

export type WidgetName = keyof typeof WIDGETS;
export const WIDGET_NAMES = Object.keys(WIDGETS) as WidgetName[];

type SettingsOf<K> = K extends WidgetKind<infer W> ? W : never;
/** What a widget on the picture is set to. */
export type WidgetSettings = { [N in WidgetName]: SettingsOf<(typeof WIDGETS)[N]> }[WidgetName];

/** The kind of a widget, for settings of just that kind. */
export function widgetKind<W extends WidgetSettings>(of: W['of']): WidgetKind<W> {
  // Of each name its own kind: what the table's type says, and an index by a union cannot.
  return WIDGETS[of] as unknown as WidgetKind<W>;
}

/** What a new one is set to. @param goalId a goal of the show, for the kind that shows one */
export function startWidget<N extends WidgetName>(of: N, goalId = ''): SettingsOf<(typeof WIDGETS)[N]> {
  return WIDGETS[of].start(goalId) as SettingsOf<(typeof WIDGETS)[N]>;
}

/** What a widget looks like at a moment: a function of its settings, what is known of the audience, and the box. */
export function layoutWidget(widget: WidgetSettings, now: AudienceNow, room: Room): Mark[] {
  return widgetKind(widget.of).layout(widget, now, room);
}

/** A text that differs whenever the widget's picture may. */
export function widgetStamp(widget: WidgetSettings, now: AudienceNow): string {
  return widgetKind(widget.of).stamp(widget, now);
}
