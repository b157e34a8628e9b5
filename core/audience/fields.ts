/** Fields that events keep up: usable in any text, like the show's own. */
import type { GoalRecord } from '../show/audience-records';
import type { AudienceBook } from './book';
import { goalView } from './goals';
import { moneyText } from './money';
import type { AudienceSettings } from './settings';
import { pictureName, type PictureRules } from './picture-words';

/** Names of the fields that events keep up, but for those of goals. */
export const AUDIENCE_FIELDS = [
  'latest.follower',
  'latest.subscriber',
  'latest.member',
  'latest.donor',
  'latest.donation',
  'latest.cheerer',
  'latest.raider',
  'top.donor',
  'top.donation',
  'top.cheerer',
  'top.cheer',
  'evening.money',
  'evening.follows',
  'evening.subscriptions',
  'evening.messages',
  'viewers',
] as const;
type FieldName = (typeof AUDIENCE_FIELDS)[number];
const GOAL_FIELDS = ['name', 'percent', 'value', 'target', 'missing'] as const;

/** Everything a text can use beside the show's own fields. */
export function audienceFieldNames(goals: readonly Pick<GoalRecord, 'key'>[]): string[] {
  return [
    ...AUDIENCE_FIELDS,
    ...goals.flatMap(({ key }) => GOAL_FIELDS.map((field) => `goal.${key}.${field}`)),
  ];
}

/** What stands in a text before anything has happened. */
const NOBODY = '—';

/**
 * `latest.follower`, `latest.donor`, `top.donation`, `evening.money`, `goal.<key>.percent` and so on; documented in the README.
 * @param viewers watching now over all platforms; null when no platform tells
 */
export function audienceFields(
  book: AudienceBook,
  goals: readonly GoalRecord[],
  settings: Pick<AudienceSettings, 'currency' | 'rates'> & PictureRules,
  viewers: number | null,
): Record<string, string> {
  const { latest, top, counts, minor, messages } = book.facts;
  const name = (event: { viewer: string } | undefined) =>
    event ? pictureName(event.viewer, settings) : NOBODY;
  const money = (event: { money: Parameters<typeof moneyText>[0] | null } | undefined) =>
    event?.money ? moneyText(event.money) : NOBODY;
  const own: Record<FieldName, string> = {
    'latest.follower': name(latest.follow),
    'latest.subscriber': name(latest.subscription),
    'latest.member': name(latest.member),
    'latest.donor': name(latest.donation),
    'latest.donation': money(latest.donation),
    'latest.cheerer': name(latest.cheer),
    'latest.raider': name(latest.raid),
    'top.donor': name(top.donation),
    'top.donation': money(top.donation),
    'top.cheerer': name(top.cheer),
    'top.cheer': top.cheer?.count == null ? NOBODY : String(top.cheer.count),
    'evening.money': moneyText({ currency: settings.currency, minor }),
    'evening.follows': String(counts.follow ?? 0),
    'evening.subscriptions': String(counts.subscription ?? 0),
    'evening.messages': String(messages),
    viewers: viewers === null ? NOBODY : String(viewers),
  };
  const fields: Record<string, string> = own;
  for (const goal of goals) {
    const view = goalView(goal, book.goal(goal.id), settings.currency, 0);
    fields[`goal.${goal.key}.name`] = goal.name;
    fields[`goal.${goal.key}.percent`] = `${view.percent}%`;
    fields[`goal.${goal.key}.value`] = view.valueText;
    fields[`goal.${goal.key}.target`] = view.targetText;
    fields[`goal.${goal.key}.missing`] = view.missingText;
  }
  return fields;
}
