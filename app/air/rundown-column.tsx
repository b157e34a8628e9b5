import { useEffect, useRef } from 'react';
import { rundownInUse, segmentOn, type TimedSegment } from '~/core/rundown/rundown';
import { lengthText } from '~/core/rundown/length-text';
import { findRecord } from '~/core/show/document';
import type { RundownRecord } from '~/core/show/rundown-records';
import { endWords } from '../plan/end-words';
import { OverText } from '../plan/over-text';
import { useTimes } from '../plan/use-times';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** The running order beside what is on air: a click on a segment takes it. */
export function RundownColumn() {
  const document = useDocument();
  const programme = useDesk((now) => now.programme);
  const rundown = rundownInUse(document, programme);
  const { t } = useTranslation();
  return rundown ? <Segments rundown={rundown} /> : <p className="hint">{t('plan.noRundown')}</p>;
}

function Segments({ rundown }: { rundown: RundownRecord }) {
  const times = useTimes(rundown);
  const document = useDocument();
  const programme = useDesk((now) => now.programme);
  const { t } = useTranslation();
  if (!times) return null;
  const on = segmentOn(document, programme);
  return (
    <>
      <div className="air-times">
        <span className="one-line">{rundown.name}</span>
        <OverText seconds={times.overSeconds} />
      </div>
      {programme.rundown?.freely && on && <p className="air-waits">{t('air.waits', { name: on.name })}</p>}
      <ol className="air-segments" aria-label={t('plan.rundown')}>
        {times.segments.map((timed) => (
          <Segment
            key={timed.segment.id}
            timed={timed}
            elapsed={timed.standing === 'on' ? times.elapsedSeconds : null}
          />
        ))}
      </ol>
    </>
  );
}

function Segment({ timed: { segment, standing }, elapsed }: { timed: TimedSegment; elapsed: number | null }) {
  const { control } = useStudio();
  const document = useDocument();
  const row = useRef<HTMLButtonElement>(null);
  const { t } = useTranslation();
  const on = standing === 'on';
  useEffect(() => {
    if (on) row.current?.scrollIntoView({ block: 'center' });
  }, [on]);
  const scene = findRecord(document, 'scene', segment.sceneId);
  const over = elapsed === null ? 0 : elapsed - segment.plannedSeconds;
  return (
    <li>
      <button
        ref={row}
        type="button"
        className="air-segment"
        data-standing={standing}
        aria-current={on ? 'step' : undefined}
        disabled={standing === 'broken'}
        onClick={() => control.run(segment, 'page')}
      >
        <b>{segment.name}</b>
        <span className="figure">
          {elapsed === null ? lengthText(segment.plannedSeconds) : lengthText(elapsed)}
        </span>
        <span className="one-line">
          {[
            scene?.name ?? (segment.sceneId === null ? t('plan.sceneStays') : t('plan.sceneGone')),
            endWords(segment),
          ].join(' · ')}
        </span>
        {on && (
          <span className="figure" data-over={over > 0}>
            {over > 0
              ? `+${lengthText(over)}`
              : t('air.planned', { time: lengthText(segment.plannedSeconds) })}
          </span>
        )}
        {standing === 'skipped' && <span className="figure">{t('plan.skipped')}</span>}
      </button>
    </li>
  );
}
