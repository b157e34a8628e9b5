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

/** The plan in use: named, changed for another, duplicated before trying anything, removed. */
export function PlanChoice({ plan }: { plan: PlanRecord | null }) {
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
    store.edit(`Duplicate ${plan.name}`, [
      { ...plan, id, name: `${plan.name} copy`, position: (plans.at(-1)?.position ?? 0) + 1 },
      { ...show, delivery: { ...show.delivery, planId: id } },
    ]);
  };
  return (
    <span style={{ display: 'flex', alignItems: 'center', gap: 2 }}>
      {plans.length > 1 ? (
        <select
          aria-label="Plan in use"
          value={plan.id}
          onChange={(e) => choose(e.target.value)}
          title={live ? 'Counts from the next broadcast' : undefined}
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
        label="Name of the plan"
        name={plan.name}
        onRename={(name) => store.edit(`Rename ${plan.name}`, [{ ...plan, name }])}
      />
      <IconButton aria-label={`Duplicate ${plan.name}`} title={`Duplicate ${plan.name}`} onClick={duplicate}>
        <ContentCopyRounded sx={{ fontSize: 17 }} />
      </IconButton>
      {plans.length > 1 && (
        <IconButton aria-label="Compare plans" title="Compare plans" onClick={() => setComparing(true)}>
          <CompareArrowsRounded sx={{ fontSize: 19 }} />
        </IconButton>
      )}
      {comparing && <CompareDialog inUse={plan.id} onUse={choose} onClose={() => setComparing(false)} />}
      {plans.length > 1 && (
        <IconButton
          aria-label={`Remove ${plan.name}`}
          title={`Remove ${plan.name}`}
          onClick={() => store.edit(`Remove ${plan.name}`, [], [plan.id])}
        >
          <DeleteOutlineRounded sx={{ fontSize: 18 }} />
        </IconButton>
      )}
    </span>
  );
}
