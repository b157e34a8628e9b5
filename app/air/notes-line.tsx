import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { ProgrammeState } from '~/core/programme/programme-state';
import { segmentOn } from '~/core/rundown/rundown';
import { recordsOf } from '~/core/show/document';
import { inputsOfScene } from '~/core/show/inputs-shown';
import { ClipTransport } from '../studio/clip-transport';
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
  const shown = useShown(title) ? title : null;
  const needed = programme.onAir ? inputsOfScene(document, programme.onAir.sceneId) : new Set<string>();
  const clips = recordsOf(document, 'input').filter(
    ({ id, source }) => source.type === 'clips' && needed.has(id),
  );
  if (notes === '' && !shown && cues.length === 0 && clips.length === 0) return <div hidden />;
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
      {clips.map(({ id, name }) => (
        <ClipTransport key={id} inputId={id} name={name} />
      ))}
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

/** Whether a title is still on the picture: it leaves by itself, without anybody telling. */
function useShown(title: ProgrammeState['title']): boolean {
  const [nowMs, setNowMs] = useState(Date.now);
  const untilMs = title?.untilMs ?? null;
  const sinceMs = title?.sinceMs ?? 0;
  useEffect(() => {
    setNowMs(Date.now());
    if (untilMs === null) return;
    const timer = setTimeout(() => setNowMs(Date.now()), Math.max(0, untilMs - Date.now()) + 20);
    return () => clearTimeout(timer);
  }, [untilMs, sinceMs]);
  return title !== null && (untilMs === null || untilMs > nowMs);
}
