/** What happens on the picture when viewers do something, and what is to be reached together. Times in seconds. */
import type { EVENT_TYPES, SUBSCRIPTION_WAYS } from '../audience/events';
import type { RecordBase, SimulatedEffect, TextStyle } from './record-base';

export const ALERT_MOTIONS = ['drop', 'rise', 'slide', 'zoom', 'fade'] as const;
export type AlertMotion = (typeof ALERT_MOTIONS)[number];
export const ALERT_LAYOUTS = ['above', 'beside', 'behind'] as const;
export const ALERT_PRIORITIES = ['low', 'normal', 'high'] as const;

/** What happens on the picture for one kind of event, from one amount on. */
export interface AlertRuleRecord extends RecordBase<'alertRule'> {
  on: boolean;
  event: (typeof EVENT_TYPES)[number];
  /** Minor units of the show's currency, months, or a count, by kind; of several rules the highest that is reached counts. */
  from: number;
  way: (typeof SUBSCRIPTION_WAYS)[number] | 'any';
  /** Only for the reward, command or kind of this name; empty for any. */
  title: string;
  /** Words, with the fields of `ALERT_FIELDS`. */
  text: string;
  seconds: number;
  /** A still, an animated picture, a Lottie animation or a clip, as the file says. */
  picture: { assetId: string; name: string; as: 'picture' | 'lottie' | 'clip' } | null;
  /** Where the picture stands to the words. */
  layout: (typeof ALERT_LAYOUTS)[number];
  sound:
    ({ type: 'file'; assetId: string; name: string } | { type: 'simulated'; effect: SimulatedEffect }) | null;
  soundGainDb: number;
  /** Read aloud, where a speech engine is installed. */
  spoken: boolean;
  motionIn: AlertMotion;
  motionOut: AlertMotion;
  motionSeconds: number;
  /** Null for that of the alert layer. */
  style: TextStyle | null;
  priority: (typeof ALERT_PRIORITIES)[number];
  /** Those that come so close together while one waits become one that counts; 0 for never. */
  mergeSeconds: number;
  /** After one, none of this rule for so long: they wait. */
  coolDownSeconds: number;
  /** The same viewer sets it off no more often. */
  perViewerSeconds: number;
}

/** What every rule starts with beside its kind and its words. */
export const PLAIN_ALERT_RULE = {
  on: true,
  from: 0,
  way: 'any',
  title: '',
  seconds: 6,
  picture: null,
  layout: 'above',
  sound: null,
  soundGainDb: -6,
  spoken: false,
  motionIn: 'drop',
  motionOut: 'fade',
  motionSeconds: 0.4,
  style: null,
  priority: 'normal',
  mergeSeconds: 20,
  coolDownSeconds: 0,
  perViewerSeconds: 0,
} satisfies Partial<AlertRuleRecord>;

export const GOAL_KINDS = ['money', 'follow', 'subscription', 'member', 'cheer', 'order'] as const;

/** Something to be reached together. */
export interface GoalRecord extends RecordBase<'goal'> {
  /** Its name in fields: `{{goal.<key>.percent}}`. */
  key: string;
  of: (typeof GOAL_KINDS)[number];
  /** Minor units of the show's currency, or a count. */
  target: number;
  /** What there was before. */
  start: number;
  /** Events from then on count, milliseconds since 1970. */
  sinceMs: number;
  deadlineMs: number | null;
}
