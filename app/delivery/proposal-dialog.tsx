import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { pixelsCarried } from '~/core/delivery/computer-measure';
import { enabledDestinations } from '~/core/delivery/live-plan';
import { proposePlan } from '~/core/delivery/propose-plan';
import type { PlanSettings } from '~/core/delivery/settings';
import { recordsOf } from '~/core/show/document';
import { FRAME_NAMES, type PlanRecord } from '~/core/show/records';
import { ChoiceRow } from '../studio/choice-row';
import { NumberField } from '../studio/number-field';
import { useKeptMeasure } from './kept-measure';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** A plan from the line, with its reasons; taken, or kept beside the present one. */
export function ProposalDialog({ plan, onClose }: { plan: PlanRecord; onClose: () => void }) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const stage = useDesk((now) => now.stage);
  const document = useDocument();
  const [lineKbps, setLineKbps] = useState(plan.lineKbps ?? 8000);
  const [headroom, setHeadroom] = useState(plan.headroom);
  const [content, setContent] = useState<PlanSettings['content']>(plan.content);
  const show = recordsOf(document, 'show')[0];
  const used = FRAME_NAMES.filter((f) => show.frames[f].used);
  const recipients = enabledDestinations(document).filter((d) => used.includes(d.frame));
  const measure = useKeptMeasure();
  const now = Object.values(plan.frames).reduce((sum, f) => sum + f.width * f.height, 0) * plan.fps;
  // What is composed now without trouble can be taken as measured; how much more there is, only a trial tells.
  const composed = stage && stage.fps < plan.fps * 0.9 ? (now * stage.fps) / plan.fps : null;
  const pixelsPerSecond = measure ? pixelsCarried(measure, plan.encoder) : composed;
  const { plan: proposed, reasons } = proposePlan({
    lineKbps,
    headroom,
    content,
    recipients,
    frames: Object.fromEntries(
      used.map((f) => [f, { width: show.frames[f].width, height: show.frames[f].height }]),
    ),
    pixelsPerSecond,
  });
  const take = () => {
    store.edit(t('delivery.proposedPlan'), [{ ...plan, ...proposed }]);
    onClose();
  };
  const keepBeside = () => {
    const id = crypto.randomUUID();
    const plans = recordsOf(document, 'plan');
    store.edit(t('delivery.newPlan'), [
      {
        ...plan,
        ...proposed,
        id,
        name: `${plan.name}, proposed`,
        position: (plans.at(-1)?.position ?? 0) + 1,
      },
      { ...show, delivery: { ...show.delivery, planId: id } },
    ]);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>{t('delivery.proposeAPlan')}</DialogTitle>
      <DialogContent>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10, marginBottom: 12 }}>
          <NumberField
            label={t('delivery.uploadSpeed')}
            unit="kbps"
            value={lineKbps}
            min={300}
            max={1_000_000}
            step={100}
            onCommit={setLineKbps}
          />
          <NumberField
            label={t('delivery.headroom')}
            unit="%"
            value={headroom * 100}
            min={0}
            max={90}
            step={5}
            onCommit={(v) => setHeadroom(v / 100)}
          />
          <div style={{ gridColumn: '1 / 3' }}>
            <ChoiceRow
              label={t('delivery.contentType')}
              options={[
                { value: 'talk', words: t('delivery.talkMusicCrafts') },
                { value: 'game', words: t('delivery.fastGameOrSport') },
              ]}
              value={content}
              onChange={setContent}
            />
          </div>
        </div>
        <ul style={{ margin: 0, paddingLeft: 18, lineHeight: 1.55, fontSize: 14 }}>
          {reasons.map((reason) => (
            <li key={reason}>{reason}</li>
          ))}
        </ul>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('delivery.discard')}</Button>
        <Button onClick={keepBeside}>{t('delivery.keepBesideThePresentOne')}</Button>
        <Button variant="contained" onClick={take}>
          {t('delivery.apply')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
