import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { AlertOrder } from '~/core/audience/alert-engine';
import { AMOUNT_OF, START_WORDS } from '~/core/audience/alert-rules';
import { EVENT_TYPES, type EventType } from '~/core/audience/events';
import { decimalOfMinor } from '~/core/audience/money';
import { recordsOf } from '~/core/show/document';
import { PLAIN_ALERT_RULE, type AlertRuleRecord } from '~/core/show/audience-records';
import { ActionMenu } from '../sound/action-menu';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { orderOrSay } from '../studio/order';
import { RuleEditor } from './rule-editor';
import { useTranslation } from '../words/words';

export const EVENT_NAMES: Record<EventType, string> = {
  follow: 'Follow',
  subscription: 'Subscription',
  donation: 'Donation',
  cheer: 'Cheer',
  raid: 'Raid',
  member: 'Member',
  order: 'Order',
  poll: 'Poll',
  reward: 'Reward',
  command: 'Chat command',
  other: 'Anything else',
};

/** What a rule reacts to, in a few words. */
export function ruleWords(rule: AlertRuleRecord, currency: string): string {
  const kind = rule.way === 'any' ? EVENT_NAMES[rule.event] : `${EVENT_NAMES[rule.event]}, ${rule.way}`;
  const named = rule.title === '' ? kind : `${kind} “${rule.title}”`;
  if (rule.from === 0 || AMOUNT_OF[rule.event] === null) return named;
  const from =
    AMOUNT_OF[rule.event] === 'money'
      ? `${decimalOfMinor({ currency, minor: rule.from })} ${currency}`
      : AMOUNT_OF[rule.event] === 'months'
        ? `${rule.from} months`
        : String(rule.from);
  return `${named} from ${from}`;
}

/** Under its name: what it reacts to, or what it says when its name tells that already. */
function secondLine(rule: AlertRuleRecord, currency: string): string {
  const words = ruleWords(rule, currency);
  return words === rule.name ? rule.text.split('\n')[0] : words;
}

/** The bench: a button for each rule, the queue, and the rule that is chosen. */
export function AlertsPanel() {
  const { t } = useTranslation();
  const document = useDocument();
  const { store, showId, say } = useStudio();
  const rules = recordsOf(document, 'alertRule');
  const currency = recordsOf(document, 'show')[0]?.audience.currency ?? 'EUR';
  const [chosenId, setChosenId] = useState<string | null>(null);
  const chosen = rules.find((r) => r.id === chosenId) ?? null;
  const test = (rule: AlertRuleRecord, count = 1) =>
    void orderOrSay(`/show/${showId}/test-event`, { ruleId: rule.id, count }, say);
  const add = (event: EventType) => {
    const id = crypto.randomUUID();
    store.edit(`New alert: ${EVENT_NAMES[event]}`, [
      {
        kind: 'alertRule',
        id,
        showId,
        name: EVENT_NAMES[event],
        position: Math.max(-1, ...rules.map((r) => r.position)) + 1,
        ...PLAIN_ALERT_RULE,
        event,
        text: START_WORDS[event],
      },
    ]);
    setChosenId(id);
  };
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 8, height: '100%' }}>
      <QueueBar />
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: chosen ? '236px minmax(0, 1fr)' : '1fr',
          gap: 12,
          minHeight: 0,
        }}
      >
        <div className={chosen ? 'rules' : 'rules wide'}>
          {rules.length === 0 && (
            <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>{t('audience.anAlertShowsOnThe')}</p>
          )}
          {rules.map((rule) => (
            <div key={rule.id} className="rule-row" data-chosen={rule.id === chosenId || undefined}>
              <button
                type="button"
                className="rule-name"
                aria-expanded={rule.id === chosenId}
                onClick={() => setChosenId(rule.id === chosenId ? null : rule.id)}
              >
                <span>{rule.name}</span>
                <small>{`${rule.on ? '' : 'off · '}${secondLine(rule, currency)}`}</small>
              </button>
              <Button
                aria-label={t('audience.testName', { name: rule.name })}
                onClick={() => test(rule)}
                sx={{ color: 'var(--glacier)', minWidth: 0 }}
              >
                {t('audience.test')}
              </Button>
            </div>
          ))}
          <ActionMenu
            label={t('audience.addAnAlert')}
            words={
              <>
                <AddRounded sx={{ fontSize: 17, mr: 0.5 }} />
                {t('audience.addAnAlert')}
              </>
            }
          >
            {(close) =>
              EVENT_TYPES.map((event) => (
                <MenuItem
                  key={event}
                  onClick={() => {
                    close();
                    add(event);
                  }}
                >
                  {EVENT_NAMES[event]}
                </MenuItem>
              ))
            }
          </ActionMenu>
          <Button
            title={t('audience.n200TestEventsWithinFive')}
            onClick={() => void orderOrSay(`/show/${showId}/test-event`, { ruleId: null }, say)}
          >
            {t('audience.storm')}
          </Button>
        </div>
        {chosen && (
          <RuleEditor
            key={chosen.id}
            rule={chosen}
            currency={currency}
            onTest={(count) => test(chosen, count)}
            onRemoved={() => setChosenId(null)}
          />
        )}
      </div>
    </div>
  );
}

/** What the queue does now, and everything that can be done with it. */
export function QueueBar({ compact = false }: { compact?: boolean }) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const stage = useDesk((now) => now.stage);
  const alerts = stage?.alerts;
  const say = (order: AlertOrder) => desk.audience({ type: 'alertOrder', order });
  const now = !alerts
    ? 'starting'
    : alerts.running !== null
      ? alerts.running.split('\n')[0]
      : alerts.paused
        ? 'paused'
        : alerts.quiet
          ? 'quiet: the scene on air shows no alerts'
          : 'nothing on the picture';
  return (
    <div
      role="group"
      aria-label={t('audience.queueOfAlerts')}
      className={compact ? 'control-bar compact' : 'control-bar'}
    >
      <span className="one-line">
        <b className="figure" style={{ color: (alerts?.waiting ?? 0) > 0 ? 'var(--larch)' : 'var(--quiet)' }}>
          {alerts?.waiting ?? 0}
        </b>
        {t('audience.waiting')}
        <span style={{ color: 'var(--quiet)' }}>{now}</span>
      </span>
      <Button aria-pressed={alerts?.paused ?? false} onClick={() => say(alerts?.paused ? 'resume' : 'pause')}>
        {alerts?.paused ? t('audience.resume') : t('audience.pause')}
      </Button>
      <Button onClick={() => say('skip')} disabled={alerts?.running == null}>
        {t('audience.skip')}
      </Button>
      <Button onClick={() => say('replay')}>{t('audience.replay')}</Button>
      <Button onClick={() => say('clear')} disabled={(alerts?.waiting ?? 0) === 0}>
        {t('audience.clear')}
      </Button>
      <Button aria-pressed={alerts?.muted ?? false} onClick={() => say(alerts?.muted ? 'unmute' : 'mute')}>
        {alerts?.muted ? t('audience.unmute') : t('audience.mute')}
      </Button>
    </div>
  );
}
