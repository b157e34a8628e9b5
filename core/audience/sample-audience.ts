/** Events and rules for tests. Used by tests only. */
import { PLAIN_ALERT_RULE, type AlertRuleRecord, type GoalRecord } from '../show/audience-records';
import { PLAIN_EVENT, PLAIN_MESSAGE, type ChatMessage, type ViewerEvent } from './events';
import type { Measure, Room } from './widgets/drawing';
import { DEFAULT_TEXT_STYLE } from '../show/records';

let count = 0;

export function sampleEvent(type: ViewerEvent['type'], more: Partial<ViewerEvent> = {}): ViewerEvent {
  count += 1;
  return {
    ...PLAIN_EVENT,
    id: `e${count}`,
    platform: 'larch',
    viewer: 'mossbell',
    atMs: 1_000_000,
    type,
    ...more,
  };
}

export function sampleMessage(text: string, more: Partial<ChatMessage> = {}): ChatMessage {
  count += 1;
  return {
    ...PLAIN_MESSAGE,
    id: `m${count}`,
    platform: 'larch',
    viewer: 'tinlantern',
    atMs: 1_000_000,
    text,
    ...more,
  };
}

export function sampleRule(more: Partial<AlertRuleRecord> = {}): AlertRuleRecord {
  return {
    kind: 'alertRule',
    id: 'rule',
    showId: 'show',
    name: 'Rule',
    position: 0,
    ...PLAIN_ALERT_RULE,
    event: 'follow',
    text: '{{name}} follows',
    ...more,
  };
}

export function sampleGoal(more: Partial<GoalRecord> = {}): GoalRecord {
  return {
    kind: 'goal',
    id: 'goal-roof',
    showId: 'show',
    name: 'Roof of Hut Nine',
    position: 0,
    key: 'roof',
    of: 'money',
    target: 400_000,
    start: 272_000,
    sinceMs: 0,
    deadlineMs: null,
    ...more,
  };
}

/** Every letter as wide as 0.6 of its size, or 0 for marks: close enough to a font to lay out with. */
export const evenMeasure: Measure = (text, sizePx) =>
  [...text].reduce((sum, letter) => sum + (/\p{M}|\u200d/u.test(letter) ? 0 : 0.6 * sizePx), 0);

export function sampleRoom(width: number, height: number, sizePx = 40): Room {
  return {
    width,
    height,
    style: { ...DEFAULT_TEXT_STYLE, sizePx },
    scale: 1,
    accent: '#63BDBB',
    measure: evenMeasure,
  };
}
