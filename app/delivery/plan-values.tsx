import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { Encode } from '~/core/delivery/encodes';
import { bitsPerPixel, judgePicture, mbps, planWarnings, viewersOf100 } from '~/core/delivery/plan-advice';
import { sizeOf, sizesOf } from '~/core/delivery/propose-plan';
import { KEEPS } from '~/core/delivery/settings';
import { recordsOf } from '~/core/show/document';
import type { FrameName, PlanRecord } from '~/core/show/records';
import { usedFrames } from '~/core/show/stage-edits';
import { NumberField } from '../studio/number-field';
import { Panel } from '../studio/panel';
import { useDocument, useStudio } from '../studio/studio-context';
import { SelectField } from '../studio/select-field';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';
import { PlanDiffers } from './plan-change';

const RATES = [24, 25, 29.97, 30, 50, 59.94, 60] as const;

/** What the plan means, where it goes against practice, and every value by hand. */
export function PlanValues({
  plan,
  encodes,
  onHealth,
}: {
  plan: PlanRecord;
  encodes: readonly Encode[];
  /** While live: back to how the broadcast does. */
  onHealth?: () => void;
}) {
  const { t } = useTranslation();
  const [byHand, setByHand] = useState(false);
  const warnings = planWarnings(plan, encodes);
  const [main] = encodes;
  const need = Math.max(0, ...encodes.map((e) => e.videoKbps + plan.audioKbps)) * 1.2;
  return (
    <Panel
      label={t('delivery.plan')}
      title={byHand ? t('delivery.values') : t('delivery.summary')}
      aside={
        <div style={{ display: 'flex', gap: 8 }}>
          {onHealth && (
            <Button onClick={onHealth} sx={{ bgcolor: 'var(--raised)' }}>
              {t('delivery.health')}
            </Button>
          )}
          <Button onClick={() => setByHand(!byHand)} sx={{ bgcolor: 'var(--raised)' }}>
            {byHand ? t('delivery.summary') : t('delivery.editValues')}
          </Button>
        </div>
      }
      style={{ minHeight: onHealth ? 250 : 232, maxHeight: onHealth ? 330 : undefined }}
    >
      {onHealth && <PlanDiffers />}
      {byHand ? (
        <Fields plan={plan} />
      ) : (
        <div style={{ display: 'grid', gridTemplateColumns: 'repeat(4, minmax(0, 1fr))', gap: 14 }}>
          {main && (
            <Fact
              title={t('delivery.pictureQuality')}
              figure={`${bitsPerPixel(main, plan.fps).toFixed(3)} bits a pixel`}
              words={judgePicture(main, plan.fps, plan.content)}
            />
          )}
          <Fact
            title={t('delivery.viewersNeed')}
            figure={`${mbps(need)} Mbps`}
            words={`about ${viewersOf100(need)} of 100 common lines`}
          />
          <Fact
            title={t('delivery.sound')}
            figure={`${plan.audioKbps} kbps AAC`}
            words={t('delivery.n48KhzStereo')}
          />
          <Fact
            title={t('delivery.keyframes')}
            figure={`${plan.keyframeSeconds.toFixed(2)} s`}
            words={
              plan.keyframeSeconds === 2 ? t('delivery.asPlatformsAsk') : t('delivery.platformsAskFor2S')
            }
          />
        </div>
      )}
      <div style={{ marginTop: 12, display: 'grid', gap: 6 }}>
        {encodes.map((e, i) => (
          <span key={e.id} style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
            Encode {'ABCDE'[i]}: {e.because}
          </span>
        ))}
        {warnings.map(({ level, text }) => (
          <span
            key={text}
            style={{
              color: level === 'stop' ? 'var(--rose)' : 'var(--larch)',
              fontSize: 13,
              lineHeight: 1.35,
            }}
          >
            {level === 'stop' ? '◆' : '▲'} {text}
          </span>
        ))}
      </div>
    </Panel>
  );
}

function Fact({ title, figure, words }: { title: string; figure: string; words: string }) {
  return (
    <div>
      <div style={{ color: 'var(--quiet)', fontSize: 12.5 }}>{title}</div>
      <div style={{ font: '700 17px "Bricolage Grotesque Variable"', margin: '3px 0' }}>{figure}</div>
      <div style={{ color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.4 }}>{words}</div>
    </div>
  );
}

function Fields({ plan }: { plan: PlanRecord }) {
  const { store } = useStudio();
  const { t } = useTranslation();
  const document = useDocument();
  const set = (change: Partial<PlanRecord>) =>
    store.edit(t('delivery.deliveryPlan'), [{ ...plan, ...change }]);
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 10 }}>
      {usedFrames(document).map((frame) => (
        <FrameFields key={frame} plan={plan} frame={frame} />
      ))}
      <TextField
        select
        label={t('delivery.frameRate')}
        value={plan.fps}
        onChange={(e) => set({ fps: Number(e.target.value) })}
      >
        {RATES.map((fps) => (
          <MenuItem key={fps} value={fps}>
            {fps}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label={t('delivery.soundAacStereo')}
        value={plan.audioKbps}
        onChange={(e) => set({ audioKbps: Number(e.target.value) })}
      >
        {[64, 96, 128, 160, 192, 256, 320].map((kbps) => (
          <MenuItem key={kbps} value={kbps}>
            {kbps} kbps
          </MenuItem>
        ))}
      </TextField>
      <SelectField
        label={t('delivery.encoderPreset')}
        value={plan.effort}
        options={[
          { value: 'quick', words: t('delivery.fastLeastWork') },
          { value: 'careful', words: t('delivery.qualityBetterMoreWork') },
        ]}
        onChange={(effort) => set({ effort })}
      />
      <SelectField
        label={t('delivery.encoder')}
        value={plan.encoder}
        options={[
          { value: 'any', words: t('delivery.automatic') },
          { value: 'cpu', words: t('delivery.cpu') },
          { value: 'gpu', words: t('delivery.gpu') },
        ]}
        onChange={(encoder) => set({ encoder })}
      />
      <NumberField
        label={t('delivery.keyframeInterval')}
        unit="s"
        digits={1}
        value={plan.keyframeSeconds}
        min={0.5}
        max={10}
        step={0.5}
        onCommit={(keyframeSeconds) => set({ keyframeSeconds })}
      />
      <NumberField
        label={t('delivery.uploadSpeed')}
        unit="kbps"
        value={plan.lineKbps ?? 0}
        min={0}
        max={1_000_000}
        step={100}
        onCommit={(kbps) => set({ lineKbps: kbps === 0 ? null : kbps })}
      />
      <NumberField
        label={t('delivery.headroom')}
        unit="%"
        value={plan.headroom * 100}
        min={0}
        max={90}
        step={5}
        onCommit={(percent) => set({ headroom: percent / 100 })}
      />
      <SelectField
        label={t('plans.keep')}
        value={plan.keep}
        options={KEEPS.map((value) => ({ value, words: t(`plans.keeps.${value}`) }))}
        onChange={(keep) => set({ keep })}
      />
      <Toggle
        label={t('delivery.adaptiveBitrate')}
        on={plan.adaptive}
        onChange={(adaptive) => set({ adaptive })}
      />
    </div>
  );
}

/** Size and rate of one frame's pictures. */
function FrameFields({ plan, frame }: { plan: PlanRecord; frame: FrameName }) {
  const { store } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const [other, setOther] = useState(false);
  const shape = recordsOf(document, 'show')[0].frames[frame];
  const sizes = sizesOf(shape);
  const now = plan.frames[frame] ?? { ...sizes[sizes.length - 1], videoKbps: 1200 };
  const key = (size: { width: number; height: number }) => `${size.width}x${size.height}`;
  const offered = sizes.some((s) => key(s) === key(now)) ? sizes : [...sizes, now];
  const name = frame === 'wide' ? 'Wide' : 'Tall';
  const set = (change: Partial<typeof now>) =>
    store.edit(t('delivery.nameInThePlan', { name }), [
      {
        ...plan,
        frames: {
          ...plan.frames,
          [frame]: { width: now.width, height: now.height, videoKbps: now.videoKbps, ...change },
        },
      },
    ]);
  return (
    <div
      role="group"
      aria-label={t('delivery.nameInThePlan', { name })}
      style={{
        gridColumn: '1 / 4',
        display: 'grid',
        gridTemplateColumns: 'subgrid',
        gap: 10,
        alignItems: 'center',
      }}
    >
      <TextField
        select
        label={t('delivery.namePicture', { name })}
        value={other ? 'other' : key(now)}
        onChange={(e) => {
          setOther(e.target.value === 'other');
          if (e.target.value === 'other') return;
          const [width, height] = e.target.value.split('x').map(Number);
          set({ width, height });
        }}
      >
        {offered.map((size) => (
          <MenuItem key={key(size)} value={key(size)}>
            {size.width} × {size.height}
          </MenuItem>
        ))}
        <MenuItem value="other">{t('plans.otherSize')}</MenuItem>
      </TextField>
      {other && (
        <NumberField
          label={t('plans.shortSide', { frame: name })}
          unit="px"
          value={Math.min(now.width, now.height)}
          min={64}
          max={Math.min(shape.width, shape.height)}
          step={2}
          onCommit={(side) => set(sizeOf(shape, side))}
        />
      )}
      <NumberField
        label={name}
        unit="kbps"
        value={now.videoKbps}
        min={100}
        max={50_000}
        step={100}
        onCommit={(videoKbps) => set({ videoKbps })}
      />
      <span style={{ color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.3 }}>
        {other && `${now.width} × ${now.height}: `}
        <span className="figure">{bitsPerPixel(now, plan.fps).toFixed(3)}</span> bits a pixel:{' '}
        {judgePicture(now, plan.fps, plan.content)}
      </span>
    </div>
  );
}
