import Button from '@mui/material/Button';
import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import { useState, useSyncExternalStore } from 'react';
import { adviseHealth, CAUSE_WORDS, CAUSES, type Cause, type HealthSample } from '~/core/delivery/health';
import { mbps } from '~/core/delivery/plan-advice';
import type { PlanStep } from '~/core/delivery/plan-steps';
import { ChoiceRow } from '../studio/choice-row';
import { Panel } from '../studio/panel';
import { useStudio } from '../studio/studio-context';
import { PlanDiffers, StepButtons } from './plan-change';
import { useTranslation } from '../words/words';

const SPANS = { '1': 60, '5': 300, '10': 600 } as const;
type Span = keyof typeof SPANS;
const ROW = { width: 600, height: 24 };

/** Pictures lost, or how late it is, by cause and second: 0 is fine. */
const TROUBLE: Record<Cause, (s: HealthSample) => number> = {
  composition: (s) => Math.max(s.skipped / Math.max(1, s.due), 1 - s.pace / Math.max(1, s.planFps)),
  encoder: (s) => (s.encoderBusy + s.leftOut) / Math.max(1, s.due),
  line: (s) => Math.max(1 - s.share, Math.min(1, s.unackedMs / 3000) - 0.05, 0),
  destination: (s) =>
    Math.max(
      0,
      ...s.destinations.map((d) =>
        ['stalled', 'refused', 'unreachable'].includes(d.state) ? 1 : Math.min(1, d.dropped / 30),
      ),
    ),
};

/** How the broadcast does, by cause and destination, over the last minutes, with what to do. */
export function LiveHistory({ onPlan }: { onPlan: () => void }) {
  const { t } = useTranslation();
  const { history } = useStudio();
  const samples = useSyncExternalStore(history.subscribe, history.snapshot);
  const [span, setSpan] = useState<Span>('5');
  const shown = samples.slice(-SPANS[span]);
  const offered = new Set<PlanStep>();
  // Two of them may be helped by the same: one button does it.
  const advice = adviseHealth(samples)
    .slice(0, 3)
    .map((a) => {
      const steps = a.steps.filter((step) => !offered.has(step));
      for (const step of steps) offered.add(step);
      return { ...a, steps };
    });
  const names = shown.at(-1)?.destinations.map((d) => d.name) ?? [];
  return (
    <Panel
      label={t('delivery.health')}
      title={t('delivery.health')}
      aside={
        <div style={{ display: 'flex', gap: 8 }}>
          <Button onClick={onPlan} sx={{ bgcolor: 'var(--raised)' }}>
            {t('delivery.thePlan')}
          </Button>
          <ChoiceRow
            label={t('delivery.span')}
            options={[
              { value: '1', words: t('delivery.n1Min') },
              { value: '5', words: t('delivery.n5Min') },
              { value: '10', words: t('delivery.n10Min') },
            ]}
            value={span}
            onChange={setSpan}
          />
        </div>
      }
      style={{ minHeight: 250, maxHeight: 330 }}
    >
      <PlanDiffers />
      <div role="status" style={{ display: 'grid', gap: 5, marginBottom: 8, minHeight: 22 }}>
        {advice.length === 0 && (
          <span style={{ color: 'var(--moss)', fontSize: 13 }}>{t('delivery.allGood')}</span>
        )}
        {advice.map((a) => (
          <div key={a.text} style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
            <span style={{ flex: 1, color: 'var(--rose)', fontSize: 13, lineHeight: 1.35 }}>
              ◆ <b>{a.destination ?? CAUSE_WORDS[a.cause]}</b>: {a.text}
            </span>
            <StepButtons steps={a.steps} />
          </div>
        ))}
      </div>
      {CAUSES.map((cause) => (
        <TroubleRow
          key={cause}
          name={CAUSE_WORDS[cause]}
          samples={shown}
          span={SPANS[span]}
          of={TROUBLE[cause]}
        />
      ))}
      {names.map((name) => (
        <RateRow key={name} name={name} samples={shown} span={SPANS[span]} />
      ))}
    </Panel>
  );
}

const rowStyle = {
  display: 'grid',
  gridTemplateColumns: '132px minmax(0, 1fr) 132px',
  gap: 10,
  alignItems: 'center',
  minHeight: 26,
} as const;

function TroubleRow({
  name,
  samples,
  span,
  of,
}: {
  name: string;
  samples: readonly HealthSample[];
  span: number;
  of: (s: HealthSample) => number;
}) {
  const { t } = useTranslation();
  const x = scaleLinear([0, span - 1], [0, ROW.width]);
  const y = scaleLinear([0, 0.5], [ROW.height - 1, 2]).clamp(true);
  const from = span - samples.length;
  const path = area<HealthSample>()
    .x((_, i) => x(from + i))
    .y0(ROW.height - 1)
    .y1((s) => y(of(s)))(samples);
  const bad = samples.filter((s) => of(s) > 0.02).length;
  return (
    <div style={rowStyle}>
      <span style={{ fontSize: 12.5 }}>{name}</span>
      <svg
        viewBox={`0 0 ${ROW.width} ${ROW.height}`}
        preserveAspectRatio="none"
        style={{ width: '100%', height: ROW.height, background: 'var(--ground)', borderRadius: 4 }}
        role="img"
        aria-label={t('delivery.nameBadOfLengthSeconds', { name, bad, length: samples.length })}
      >
        <path d={path ?? ''} fill="var(--rose)" fillOpacity={0.75} />
      </svg>
      <span
        className="figure"
        style={{ fontSize: 12, color: bad > 0 ? 'var(--rose)' : 'var(--quiet)', textAlign: 'right' }}
      >
        {bad === 0 ? t('delivery.never') : `${bad} s`}
      </span>
    </div>
  );
}

function RateRow({ name, samples, span }: { name: string; samples: readonly HealthSample[]; span: number }) {
  const { t } = useTranslation();
  const of = (s: HealthSample) => s.destinations.find((d) => d.name === name);
  const top = Math.max(500, ...samples.map((s) => of(s)?.kbps ?? 0)) * 1.1;
  const x = scaleLinear([0, span - 1], [0, ROW.width]);
  const y = scaleLinear([0, top], [ROW.height - 1, 2]);
  const from = span - samples.length;
  const path = line<HealthSample>()
    .x((_, i) => x(from + i))
    .y((s) => y(of(s)?.kbps ?? 0))(samples);
  const last = samples.at(-1) && of(samples.at(-1)!);
  const dropped = samples.reduce((sum, s) => sum + (of(s)?.dropped ?? 0), 0);
  const fine = last?.state === 'live';
  return (
    <div style={rowStyle}>
      <span style={{ fontSize: 12.5 }}>{name}</span>
      <svg
        viewBox={`0 0 ${ROW.width} ${ROW.height}`}
        preserveAspectRatio="none"
        style={{ width: '100%', height: ROW.height, background: 'var(--ground)', borderRadius: 4 }}
        role="img"
        aria-label={`${name}: rate over time, up to ${mbps(top)} megabits a second`}
      >
        <path
          d={path ?? ''}
          fill="none"
          stroke="var(--glacier)"
          strokeWidth={1.8}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <span
        className="figure"
        style={{ fontSize: 12, color: fine ? 'var(--quiet)' : 'var(--rose)', textAlign: 'right' }}
      >
        {fine
          ? `${last?.kbps ?? 0} kbps${dropped > 0 ? `, ${dropped} lost` : ''}`
          : (last?.state ?? t('delivery.off'))}
      </span>
    </div>
  );
}
