import Button from '@mui/material/Button';
import { useState } from 'react';
import { stopOf } from '~/core/rundown/rundown';
import { findRecord } from '~/core/show/document';
import { poseIn } from '~/core/show/poses';
import { FramePair } from '../studio/frame-pair';
import { Panel } from '../studio/panel';
import { useControl, useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** What comes next, and the press that brings it on. */
export function NextPanel() {
  const { control, say } = useStudio();
  const document = useDocument();
  useDesk((now) => now.programme);
  const before = useControl((now) => now.before);
  const { t } = useTranslation();
  const next = control.next();
  const segment = next && 'segment' in next ? next.segment : null;
  const stop = next && stopOf(next);
  const scene = stop ? findRecord(document, 'scene', stop.sceneId) : null;
  const pose = stop && scene ? poseIn(document, scene.id, stop.poseId) : null;
  const words = [segment && scene?.name, pose && pose.name].filter(Boolean).join(' · ');
  const press = (command: 'take' | 'previous' | 'back') =>
    void control.press({ command, params: {} }, 'page').then((problem) => problem && say(problem));
  return (
    <Panel
      label={t('air.next')}
      title={<span className="next-word">{t('air.next')}</span>}
      aside={
        <b className="one-line" title={words || undefined}>
          {segment?.name ?? scene?.name ?? ''}
        </b>
      }
    >
      <div className="next-panel">
        <div className="next-picture" data-empty={!scene}>
          {stop && scene ? (
            <FramePair
              subject={{ type: 'scene', sceneId: scene.id, poseId: stop.poseId }}
              label={t('air.next')}
              gap={4}
            />
          ) : (
            <span className="hint">{next ? t('plan.sceneStays') : t('air.nothingNext')}</span>
          )}
        </div>
        <Button
          className="take"
          disabled={!next}
          title={t('air.takeHint')}
          aria-keyshortcuts="Enter"
          onClick={() => press('take')}
        >
          {t('air.take')} <kbd>{t('shell.enter')}</kbd>
        </Button>
        <ByHand disabled={!next} />
        <div className="next-more">
          <Button onClick={() => press('previous')} aria-keyshortcuts="Shift+Enter">
            {t('air.previous')}
          </Button>
          <Button onClick={() => press('back')} disabled={!before} aria-keyshortcuts="B" title="B">
            {t('air.back')}
          </Button>
        </div>
      </div>
    </Panel>
  );
}

/** The transition drawn by pointer or arrow keys, forth and back; let go on the way it stays there. */
function ByHand({ disabled }: { disabled: boolean }) {
  const { control, say } = useStudio();
  const { t } = useTranslation();
  const [share, setShare] = useState(0);
  const draw = (to: number) => {
    const problem = control.draw(to / 100);
    if (problem !== null) {
      say(problem);
      return setShare(0);
    }
    // There: the slider is at its beginning for what comes after.
    setShare(to >= 100 ? 0 : to);
  };
  return (
    <input
      type="range"
      className="by-hand"
      aria-label={t('air.byHand')}
      title={t('air.byHand')}
      min={0}
      max={100}
      step={2}
      value={share}
      disabled={disabled}
      onChange={({ target }) => draw(Number(target.value))}
    />
  );
}
