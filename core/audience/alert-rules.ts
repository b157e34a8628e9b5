/** Which rule an event sets off, and in what words. */
import { fillFields } from '../scene/fields';
import type { AlertRuleRecord } from '../show/audience-records';
import type { EventType, ViewerEvent } from './events';
import { minorIn, moneyText, type Money } from './money';
import type { AudienceSettings } from './settings';
import { pictureName, pictureText, type PictureRules } from './picture-words';

type Counting = Pick<AudienceSettings, 'currency' | 'rates'>;

/** What a rule's amount is counted in, by kind; null where there is nothing to count. */
export const AMOUNT_OF: Record<EventType, 'money' | 'months' | 'count' | null> = {
  follow: null,
  subscription: 'months',
  donation: 'money',
  cheer: 'count',
  raid: 'count',
  member: 'months',
  order: 'money',
  poll: null,
  reward: 'count',
  command: null,
  other: null,
};

/** How large an event is in what its kind is counted in; null when that is not known. Gifts count their number. */
export function amountOf(event: ViewerEvent, { currency, rates }: Counting): number | null {
  switch (AMOUNT_OF[event.type]) {
    case 'money':
      return event.money === null ? null : minorIn(event.money, currency, rates);
    case 'months':
      return event.way === 'gifted' ? (event.count ?? 1) : event.months;
    case 'count':
      return event.count;
    case null:
      return null;
  }
}

function fits(rule: AlertRuleRecord, event: ViewerEvent, amount: number): boolean {
  if (!rule.on || rule.event !== event.type || rule.from > amount) return false;
  if (rule.way !== 'any' && rule.way !== event.way) return false;
  return rule.title === '' || rule.title.toLowerCase() === event.title.toLowerCase();
}

/** The rule with the highest amount that the event reaches; of equals the one that asks for more, then the first. */
export function ruleFor(
  event: ViewerEvent,
  rules: readonly AlertRuleRecord[],
  counting: Counting,
): AlertRuleRecord | null {
  const amount = amountOf(event, counting) ?? 0;
  let best: AlertRuleRecord | null = null;
  const asks = (rule: AlertRuleRecord) => (rule.way === 'any' ? 0 : 1) + (rule.title === '' ? 0 : 1);
  for (const rule of rules)
    if (
      fits(rule, event, amount) &&
      (best === null || rule.from > best.from || (rule.from === best.from && asks(rule) > asks(best)))
    )
      best = rule;
  return best;
}

/** Words that a new rule starts with. */
export const START_WORDS: Record<EventType, string> = {
  follow: '{{name}} follows along',
  subscription: '{{name}} subscribed',
  donation: '{{name}} gives {{amount}}',
  cheer: '{{name}} cheers {{amount}}',
  raid: '{{name}} arrives with {{amount}} viewers',
  member: '{{name}} is a member now',
  order: '{{name}} ordered {{title}}',
  poll: '{{title}}',
  reward: '{{name}} takes {{title}}',
  command: '{{name}}: {{message}}',
  other: '{{name}} {{title}}',
};

/** Words a rule can use. */
export const ALERT_FIELDS = ['name', 'amount', 'message', 'months', 'count', 'title', 'platform'] as const;

/** What an alert says: several events may have become one. */
export interface AlertFacts {
  event: ViewerEvent;
  /** Names in the order they came, without repeats; the first few are kept. */
  viewers: readonly string[];
  /** How many different viewers there were. */
  people: number;
  /** How many events it stands for. */
  events: number;
  /** Sum of the amounts, in what the kind is counted in. */
  total: number | null;
}

/** The words of an alert, with everything from outside made safe. */
export function alertText(
  template: string,
  facts: AlertFacts,
  settings: Pick<AudienceSettings, 'currency'> & PictureRules,
): string {
  const { event, viewers, people, events, total } = facts;
  const first = pictureName(viewers[0] ?? event.viewer, settings);
  const others = people - 1;
  const name =
    others === 0 ? first : others === 1 ? `${first} and one more` : `${first} and ${others} others`;
  return fillFields(template, {
    name,
    amount: amountText(event, events, total, settings.currency),
    message: events === 1 ? pictureText(event.message, settings, 200) : '',
    months: event.months === null ? '' : String(event.months),
    count: String(events === 1 ? (event.count ?? 1) : (total ?? events)),
    title: pictureText(event.title, settings, 80),
    platform: event.platform,
  });
}

function amountText(event: ViewerEvent, events: number, total: number | null, currency: string): string {
  if (AMOUNT_OF[event.type] === 'money') {
    // One donation is written in its own money, several in the show's.
    const money: Money | null =
      events === 1 ? event.money : total === null ? null : { currency, minor: total };
    return money === null ? '' : moneyText(money);
  }
  return total === null ? String(events) : String(total);
}

/** What would set off a rule: just the amount it asks for, or an ordinary one. For tests and previews. */
export function exampleEvent(rule: AlertRuleRecord, currency: string): Partial<ViewerEvent> {
  const way = rule.way === 'any' ? (rule.event === 'subscription' ? 'new' : null) : rule.way;
  const counted = AMOUNT_OF[rule.event];
  const titles: Partial<Record<EventType, string>> = {
    reward: 'Ring the bell',
    order: 'Lamp oil tin',
    command: 'route',
    poll: 'Which way over the pass?',
  };
  const talks = ['donation', 'cheer', 'subscription', 'command'].includes(rule.event);
  return {
    way,
    title: rule.title || (titles[rule.event] ?? ''),
    message: talks ? 'for the roof' : '',
    money: counted === 'money' ? { currency, minor: Math.max(rule.from, 500) } : null,
    count: counted === 'count' ? Math.max(rule.from, 20) : way === 'gifted' ? Math.max(rule.from, 5) : null,
    months: counted === 'months' && way !== 'gifted' && way !== 'new' ? Math.max(rule.from, 3) : null,
  };
}
