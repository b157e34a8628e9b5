import Button from '@mui/material/Button';
import { encodesInUse, planInUse } from '~/core/delivery/live-plan';
import { mbps } from '~/core/delivery/plan-advice';
import {
  encodeDiffers,
  encodeValues,
  followPlan,
  planStep,
  stepWords,
  type PlanStep,
} from '~/core/delivery/plan-steps';
import { useBus, useDocument, useStudio } from '../studio/studio-context';
import { useBroadcastActions } from './broadcast-actions';
import { useTranslation } from '../words/words';

/** What helps, as buttons that do it to the running broadcast; at most two. */
export function StepButtons({ steps }: { steps: readonly PlanStep[] }) {
  const { t } = useTranslation();
  const document = useDocument();
  const on = useBus((now) => now.broadcast.state === 'on');
  const { store } = useStudio();
  const actions = useBroadcastActions();
  const plan = planInUse(document);
  if (!plan || !on) return null;
  const encodes = encodesInUse(document);
  const offered = steps.flatMap((step) => {
    const by = planStep(plan, step, encodes);
    return by ? [by] : [];
  });
  return offered.slice(0, 2).map((by) => (
    <Button
      key={stepWords(by)}
      onClick={() => {
        store.edit(`Plan: ${stepWords(by)}`, [{ ...plan, ...by }]);
        void actions.plan();
      }}
      title={t('delivery.fromTheNextKeyframeIn')}
      sx={{ bgcolor: 'var(--raised)', minHeight: 26, py: 0, whiteSpace: 'nowrap' }}
    >
      {stepWords(by)}
    </Button>
  ));
}

/** While live: what is sent, when the plan says something else by now, and a button that sends it so. */
export function PlanDiffers() {
  const { t } = useTranslation();
  const document = useDocument();
  const broadcast = useBus((now) => now.broadcast);
  const actions = useBroadcastActions();
  const plan = planInUse(document);
  if (!plan || broadcast.state !== 'on') return null;
  const { encodes, encoding } = broadcast;
  const planned = followPlan(encodes, encodesInUse(document));
  const at = encodes.findIndex((now, i) =>
    encodeDiffers(encodeValues(encoding, now), encodeValues(plan, planned[i])),
  );
  if (at < 0) return null;
  const { width, height, fps, kbps } = encodeValues(encoding, encodes[at]);
  return (
    <div
      role="status"
      aria-label={t('delivery.thePlanWasChanged')}
      style={{ display: 'flex', gap: 10, alignItems: 'center', fontSize: 13, marginBottom: 8 }}
    >
      <span style={{ flex: 1, color: 'var(--larch)', lineHeight: 1.35 }}>
        ▲ Viewers still get{' '}
        <span className="figure">
          {width} × {height}, {fps} a second, {mbps(kbps)} Mbps
        </span>
        : the plan has changed since.
      </span>
      <Button
        onClick={() => void actions.plan()}
        title={t('delivery.fromTheNextKeyframeIn')}
        sx={{ bgcolor: 'var(--raised)', whiteSpace: 'nowrap' }}
      >
        {t('delivery.sendByThePlanNow')}
      </Button>
    </div>
  );
}
