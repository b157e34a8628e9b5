import CompareArrowsRounded from '@mui/icons-material/CompareArrowsRounded';
import ContentCopyRounded from '@mui/icons-material/ContentCopyRounded';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import type { PlanRecord } from '~/core/show/records';
import { CompareDialog } from './compare-dialog';
import { NameField } from '../studio/name-field';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** The plan in use: named, changed for another, duplicated before trying anything, removed. */
export function PlanChoice({ plan }: { plan: PlanRecord | null }) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const live = useDesk((now) => now.live);
  const document = useDocument();
  const [comparing, setComparing] = useState(false);
  const plans = recordsOf(document, 'plan');
  const show = recordsOf(document, 'show')[0];
  if (!plan) return 'No plan';
  const choose = (id: string) =>
    store.edit(`Plan ${plans.find((p) => p.id === id)?.name ?? ''}`, [
      { ...show, delivery: { ...show.delivery, planId: id } },
    ]);
  const duplicate = () => {
    const id = crypto.randomUUID();
    store.edit(t('delivery.duplicateName', { name: plan.name }), [
      { ...plan, id, name: `${plan.name} copy`, position: (plans.at(-1)?.position ?? 0) + 1 },
      { ...show, delivery: { ...show.delivery, planId: id } },
    ]);
  };
  return (
    <span style={{ display: 'flex', alignItems: 'center', gap: 2 }}>
      {plans.length > 1 ? (
        <select
          aria-label={t('delivery.planInUse')}
          value={plan.id}
          onChange={(e) => choose(e.target.value)}
          title={live ? t('delivery.countsFromTheNextBroadcast') : undefined}
          style={{
            font: '700 16px "Bricolage Grotesque Variable"',
            color: 'var(--text)',
            background: 'var(--raised)',
            border: 0,
            borderRadius: 6,
            height: 32,
            maxWidth: 120,
            padding: '0 6px',
          }}
        >
          {plans.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      ) : null}
      <NameField
        label={t('delivery.nameOfThePlan')}
        name={plan.name}
        onRename={(name) => store.edit(t('delivery.renameName', { name: plan.name }), [{ ...plan, name }])}
      />
      <IconButton
        aria-label={t('delivery.duplicateName', { name: plan.name })}
        title={t('delivery.duplicateName', { name: plan.name })}
        onClick={duplicate}
      >
        <ContentCopyRounded sx={{ fontSize: 17 }} />
      </IconButton>
      {plans.length > 1 && (
        <IconButton
          aria-label={t('delivery.comparePlans')}
          title={t('delivery.comparePlans')}
          onClick={() => setComparing(true)}
        >
          <CompareArrowsRounded sx={{ fontSize: 19 }} />
        </IconButton>
      )}
      {comparing && <CompareDialog inUse={plan.id} onUse={choose} onClose={() => setComparing(false)} />}
      {plans.length > 1 && (
        <IconButton
          aria-label={t('delivery.removeName', { name: plan.name })}
          title={t('delivery.removeName', { name: plan.name })}
          onClick={() => store.edit(t('delivery.removeName', { name: plan.name }), [], [plan.id])}
        >
          <DeleteOutlineRounded sx={{ fontSize: 18 }} />
        </IconButton>
      )}
    </span>
  );
}
