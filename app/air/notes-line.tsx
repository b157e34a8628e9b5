import Button from '@mui/material/Button';
import { segmentOn } from '~/core/rundown/rundown';
import { useControl, useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** What the host wrote for this segment, the title that is on, and cues that run: nothing while there is none of it. */
export function NotesLine() {
  const { control } = useStudio();
  const document = useDocument();
  const programme = useDesk((now) => now.programme);
  const cues = useControl((now) => now.cues);
  const { t } = useTranslation();
  const notes = segmentOn(document, programme)?.notes ?? '';
  const title = programme.title;
  const shown = title && (title.untilMs === null || title.untilMs > Date.now()) ? title : null;
  if (notes === '' && !shown && cues.length === 0) return <div hidden />;
  return (
    <section aria-label={t('air.notes')} className="air-notes">
      {notes !== '' && <p>{notes}</p>}
      {shown && (
        <span className="air-running">
          <span className="one-line">
            {t('air.title')}: <b>{shown.words.line1}</b>
          </span>
          <Button onClick={() => control.hideTitle()}>{t('air.hideTitle')}</Button>
        </span>
      )}
      {cues.map((cue) => (
        <span key={cue.id} className="air-running">
          <span className="one-line">
            {t('air.cueLeft', { name: cue.name, done: cue.done, all: cue.steps.length })}
          </span>
          <Button onClick={() => control.cues.stop(cue.id)}>{t('air.stopCue', { name: cue.name })}</Button>
        </span>
      ))}
    </section>
  );
}
