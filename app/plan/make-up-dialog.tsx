import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { madeUp, type RundownTimes } from '~/core/rundown/rundown';
import { lengthText } from '~/core/rundown/length-text';
import { findRecord } from '~/core/show/document';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** What *Make up time* would do, before it does it. */
export function MakeUpDialog({ times, onClose }: { times: RundownTimes; onClose: () => void }) {
  const { store } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const { segments, leftSeconds } = madeUp(times);
  const over = times.overSeconds ?? 0;
  const apply = () => {
    store.edit('Make up time', segments);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="make-up" fullWidth maxWidth="xs">
      <DialogTitle id="make-up" className="dialog-title">
        {t(over >= 0 ? 'plan.makeUpTitle' : 'plan.makeUpUnder', { time: lengthText(Math.abs(over)) })}
      </DialogTitle>
      <DialogContent>
        {segments.length === 0 ? (
          t('plan.makeUpNone')
        ) : (
          <>
            <p className="hint">{t('plan.makeUpHint')}</p>
            <ul className="made-up">
              {segments.map((segment) => (
                <li key={segment.id}>
                  <span>{segment.name}</span>
                  <span className="figure">
                    {lengthText(findRecord(document, 'segment', segment.id)?.plannedSeconds ?? 0)} →{' '}
                    {lengthText(segment.plannedSeconds)}
                  </span>
                </li>
              ))}
            </ul>
            {leftSeconds > 5 && (
              <p className="hint">{t('plan.makeUpLeft', { time: lengthText(leftSeconds) })}</p>
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('plan.cancel')}</Button>
        <Button
          variant="contained"
          color="primary"
          disabled={segments.length === 0}
          onClick={apply}
          autoFocus
        >
          {t('plan.makeUpApply')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
