import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { minorDigits } from '~/core/audience/money';
import { recordsOf } from '~/core/show/document';
import { GOAL_KINDS, type GoalRecord } from '~/core/show/audience-records';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { useDocument, useStudio } from '../studio/studio-context';
import { FIELD_GRID } from '../stage/field-layout';
import { useTranslation } from '../words/words';

const KIND_WORDS: Record<GoalRecord['of'], string> = {
  money: 'Money',
  follow: 'Follows',
  subscription: 'Subscriptions',
  member: 'Members',
  cheer: 'Cheered points',
  order: 'Orders',
};

/** A key that no goal has yet. */
function freeKey(name: string, taken: readonly string[]): string {
  const plain =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 24) || 'goal';
  for (let n = 1; ; n++) {
    const key = n === 1 ? plain : `${plain}-${n}`;
    if (!taken.includes(key)) return key;
  }
}

const localTime = (ms: number) =>
  new Date(ms - new Date(ms).getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

/** What is to be reached together; each goal can stand on the picture and in any text. */
export function GoalsPanel() {
  const { t } = useTranslation();
  const document = useDocument();
  const { store, showId } = useStudio();
  const goals = recordsOf(document, 'goal');
  const currency = recordsOf(document, 'show')[0]?.audience.currency ?? 'EUR';
  const add = () =>
    store.edit(t('audience.newGoal'), [
      {
        kind: 'goal',
        id: crypto.randomUUID(),
        showId,
        name: 'New goal',
        position: Math.max(-1, ...goals.map((g) => g.position)) + 1,
        key: freeKey(
          'goal',
          goals.map((g) => g.key),
        ),
        of: 'money',
        target: 100 * 10 ** minorDigits(currency),
        start: 0,
        sinceMs: Date.now(),
        deadlineMs: null,
      },
    ]);
  return (
    <div style={{ overflowY: 'auto', height: '100%', display: 'grid', gap: 14, alignContent: 'start' }}>
      {goals.length === 0 && (
        <p style={{ color: 'var(--quiet)', lineHeight: 1.5, margin: 0 }}>
          {t('audience.aGoalCountsMoneyFollows')}
        </p>
      )}
      {goals.map((goal) => {
        const set = (what: string, part: Partial<GoalRecord>) =>
          store.edit(t('audience.whatOfName', { what, name: goal.name }), [{ ...goal, ...part }]);
        const unit = goal.of === 'money' ? 10 ** minorDigits(currency) : 1;
        const amount = (label: string, key: 'target' | 'start') => (
          <NumberField
            label={label}
            unit={goal.of === 'money' ? currency : ''}
            value={goal[key] / unit}
            min={0}
            max={1e9}
            digits={goal.of === 'money' ? minorDigits(currency) : 0}
            onCommit={(value) => set(label, { [key]: Math.round(value * unit) })}
          />
        );
        return (
          <section
            key={goal.id}
            aria-label={t('audience.goalName', { name: goal.name })}
            style={{ display: 'grid', gap: 8, paddingTop: 8 }}
          >
            <div style={FIELD_GRID}>
              <CommitField
                label={t('audience.name')}
                value={goal.name}
                onCommit={(name) => set(t('audience.name'), { name })}
              />
              <CommitField
                label={t('audience.keyInTexts')}
                value={goal.key}
                max={30}
                help={t('audience.goalKeyPercentValueTarget', { key: goal.key })}
                problem={(key) =>
                  !/^[a-z0-9-]{1,30}$/.test(key)
                    ? 'small letters, figures and dashes'
                    : goals.some((g) => g.id !== goal.id && g.key === key)
                      ? 'another goal has this key'
                      : null
                }
                onCommit={(key) => set(t('audience.key'), { key })}
              />
              <TextField
                select
                label={t('audience.counts')}
                value={goal.of}
                onChange={(e) => set(t('audience.kind'), { of: e.target.value as GoalRecord['of'] })}
              >
                {GOAL_KINDS.map((kind) => (
                  <MenuItem key={kind} value={kind}>
                    {KIND_WORDS[kind]}
                  </MenuItem>
                ))}
              </TextField>
              <TextField
                type="datetime-local"
                label={t('audience.untilMayBeEmpty')}
                value={goal.deadlineMs === null ? '' : localTime(goal.deadlineMs)}
                slotProps={{ inputLabel: { shrink: true } }}
                onChange={(e) => {
                  const ms = e.target.value === '' ? null : new Date(e.target.value).getTime();
                  if (ms === null || Number.isFinite(ms)) set(t('audience.deadline'), { deadlineMs: ms });
                }}
                onKeyDown={(e) => e.stopPropagation()}
              />
              {amount('Aim', 'target')}
              {amount('Had before', 'start')}
            </div>
            <div style={{ display: 'flex', gap: 6 }}>
              <Button onClick={() => set(t('audience.start'), { sinceMs: Date.now() })}>
                {t('audience.countFromNow')}
              </Button>
              <span style={{ flex: 1 }} />
              <Button
                sx={{ color: 'var(--rose)' }}
                onClick={() => store.edit(t('audience.goalNameRemoved', { name: goal.name }), [], [goal.id])}
              >
                {t('audience.remove')}
              </Button>
            </div>
          </section>
        );
      })}
      <div>
        <Button startIcon={<AddRounded />} onClick={add}>
          {t('audience.addAGoal')}
        </Button>
      </div>
    </div>
  );
}
