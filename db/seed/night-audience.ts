/** What viewers set off in the demonstration show. */
import { PLAIN_ALERT_RULE, type AlertRuleRecord } from '../../core/show/audience-records';
import { type AnyRecord } from '../../core/show/records';

/** One alert for each kind that matters this evening, two for gifts; and what the money is for. */
export function audience(showId: string): AnyRecord[] {
  const all: AnyRecord[] = [];
  const rule = (
    id: string,
    name: string,
    event: AlertRuleRecord['event'],
    text: string,
    more: Partial<AlertRuleRecord> = {},
  ) =>
    all.push({
      kind: 'alertRule',
      id,
      showId,
      name,
      position: all.length,
      ...PLAIN_ALERT_RULE,
      event,
      text,
      ...more,
    });
  rule('rule-follow', 'Follow', 'follow', '{{name}} follows', { seconds: 5 });
  rule('rule-subscription', 'Subscription', 'subscription', '{{name}} subscribed', {
    sound: { type: 'simulated', effect: 'bell' },
  });
  rule('rule-gifts', 'Gifted subscriptions', 'subscription', '{{name}} gifts {{amount}} subscriptions', {
    way: 'gifted',
    seconds: 7,
    motionIn: 'zoom',
    priority: 'high',
    sound: { type: 'simulated', effect: 'cheer' },
  });
  rule('rule-donation', 'Donation', 'donation', '{{name}} gives {{amount}}\n{{message}}', {
    sound: { type: 'simulated', effect: 'bell' },
    perViewerSeconds: 5,
  });
  rule('rule-large', 'Donation from 50', 'donation', '{{name}} puts {{amount}} on the roof!\n{{message}}', {
    from: 5000,
    seconds: 9,
    motionIn: 'zoom',
    priority: 'high',
    sound: { type: 'simulated', effect: 'cheer' },
  });
  rule('rule-cheer', 'Cheer', 'cheer', '{{name}} cheers {{amount}}', {
    from: 50,
    motionIn: 'rise',
    seconds: 5,
  });
  rule('rule-raid', 'Raid', 'raid', '{{name}} arrives with {{amount}} viewers', {
    motionIn: 'slide',
    priority: 'high',
    sound: { type: 'simulated', effect: 'whistle' },
  });
  rule('rule-member', 'Member', 'member', '{{name}} is a member now');
  rule('rule-order', 'Order', 'order', '{{name}} ordered {{title}}');
  rule('rule-reward', 'Reward', 'reward', '{{name}} takes {{title}}', {
    motionIn: 'slide',
    seconds: 4,
    sound: { type: 'simulated', effect: 'lever' },
  });
  all.push({
    kind: 'goal',
    id: 'goal-roof',
    showId,
    name: 'Roof of Hut Nine',
    position: 0,
    key: 'roof',
    of: 'money',
    target: 400_000,
    start: 272_000,
    sinceMs: 0,
    deadlineMs: null,
  });
  return all;
}
