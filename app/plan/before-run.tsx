import Button from '@mui/material/Button';
import { memo, useDeferredValue, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { rundownChecks, type RundownCheck } from '~/core/rundown/checks';
import { lengthText } from '~/core/rundown/length-text';
import type { ShowDocument } from '~/core/show/document';
import type { RundownRecord } from '~/core/show/rundown-records';
import { FieldsDialog } from '../stage/fields-dialog';
import { useBus, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { useClipLengths } from './use-clip-lengths';
import { useMissingFiles } from './use-missing-files';

/** *Before this can run*: looks at the rundown by itself, each trouble with what can be done about it. */
export function BeforeRun({
  rundown,
  onChoose,
}: {
  rundown: RundownRecord;
  onChoose: (segmentId: string) => void;
}) {
  // It looks when there is time: nobody waits for it.
  const document = useDeferredValue(useDocument());
  const choose = useRef(onChoose);
  choose.current = onChoose;
  const onChosen = useMemo(() => (id: string) => choose.current(id), []);
  return <Checks document={document} rundownId={rundown.id} onChoose={onChosen} />;
}

const Checks = memo(function Checks({
  document,
  rundownId,
  onChoose,
}: {
  document: ShowDocument;
  rundownId: string;
  onChoose: (segmentId: string) => void;
}) {
  const { t } = useTranslation();
  const [fields, setFields] = useState(false);
  const clipSeconds = useClipLengths(document, rundownId);
  const guests = useBus((now) => now.guests);
  const gone = useMissingFiles(document, rundownId);
  const taken = (seatId: string) => guests.some((guest) => guest.here && guest.seatId === seatId);
  const checks = rundownChecks(document, rundownId, clipSeconds, taken, gone);
  return (
    <section aria-label={t('plan.before')} className="before-run">
      <h2 className="small-head">{t('plan.before')}</h2>
      {checks.length === 0 ? (
        <p className="fine-line">
          <span aria-hidden>●</span> {t('plan.allFine')}
        </p>
      ) : (
        <ul>
          {checks.map((check) => (
            <li key={`${check.type}/${'segment' in check ? check.segment.id : ''}`}>
              <span aria-hidden className="trouble-mark">
                ◆
              </span>
              <CheckWords check={check} />
              <Fix check={check} onChoose={onChoose} onFields={() => setFields(true)} />
            </li>
          ))}
        </ul>
      )}
      {fields && <FieldsDialog onClose={() => setFields(false)} />}
    </section>
  );
});

function CheckWords({ check }: { check: RundownCheck }) {
  const { t } = useTranslation();
  if (check.type === 'empty') return <span>{t('plan.checks.empty')}</span>;
  if (check.type === 'emptyFields')
    return (
      <span>{t('plan.checks.emptyFields', { names: new Intl.ListFormat('en').format(check.names) })}</span>
    );
  const { name, end, plannedSeconds } = check.segment;
  if (check.type === 'seatsEmpty')
    return (
      <span>
        {t('plan.checks.seatsEmpty', { name, seats: new Intl.ListFormat('en').format(check.names) })}
      </span>
    );
  if (check.type === 'filesGone')
    return (
      <span>
        {t('plan.checks.filesGone', { name, inputs: new Intl.ListFormat('en').format(check.names) })}
      </span>
    );
  if (check.type === 'neverEnds')
    return <span>{t('plan.checks.neverEnds', { name, how: t(`plan.neverHow.${end.type}`) })}</span>;
  if (check.type === 'otherLength')
    return (
      <span>
        {t('plan.checks.otherLength', {
          name,
          clip: lengthText(check.seconds),
          planned: lengthText(plannedSeconds),
        })}
      </span>
    );
  return <span>{t(`plan.checks.${check.type}`, { name })}</span>;
}

function Fix({
  check,
  onChoose,
  onFields,
}: {
  check: RundownCheck;
  onChoose: (segmentId: string) => void;
  onFields: () => void;
}) {
  const { store } = useStudio();
  const { t } = useTranslation();
  if (check.type === 'empty') return null;
  if (check.type === 'emptyFields') return <Button onClick={onFields}>{t('plan.fix.fields')}</Button>;
  const { segment } = check;
  const set = (part: Partial<typeof segment>) =>
    store.edit(`Mend ${segment.name}`, [{ ...segment, ...part }]);
  switch (check.type) {
    case 'poseGone':
      return <Button onClick={() => set({ poseId: null })}>{t('plan.fix.clear')}</Button>;
    case 'titleGone':
      return <Button onClick={() => set({ titleId: null })}>{t('plan.fix.clear')}</Button>;
    case 'neverEnds':
      return <Button onClick={() => set({ end: { type: 'hand' } })}>{t('plan.fix.byHand')}</Button>;
    case 'otherLength':
      return (
        <Button onClick={() => set({ plannedSeconds: Math.round(check.seconds) })}>
          {t('plan.fix.use', { time: lengthText(check.seconds) })}
        </Button>
      );
    case 'seatsEmpty':
      return (
        <Button component={Link} to="../air">
          {t('plan.fix.invite')}
        </Button>
      );
    case 'filesGone':
      return (
        <Button component={Link} to="../stage">
          {t('plan.fix.stage')}
        </Button>
      );
    default:
      return <Button onClick={() => onChoose(segment.id)}>{t('plan.fix.show')}</Button>;
  }
}
