import { useEffect, useState } from 'react';
import { lengthText } from '~/core/rundown/length-text';
import type { PastBroadcast } from '../routes/past';
import { useStudio } from '../studio/studio-context';
import { DATE } from '../vault/format';
import { useTranslation } from '../words/words';

type State = { of: 'asking' } | { of: 'failed' } | { of: 'there'; broadcasts: PastBroadcast[] };

/** Broadcasts that were walked by a rundown: how long each segment was to be, and was. */
export function PastList() {
  const { showId } = useStudio();
  const { t } = useTranslation();
  const [state, setState] = useState<State>({ of: 'asking' });
  useEffect(() => {
    let gone = false;
    fetch(`/show/${showId}/past`)
      .then(async (response) => {
        if (!response.ok) throw new Error(String(response.status));
        const { broadcasts } = (await response.json()) as { broadcasts: PastBroadcast[] };
        if (!gone) setState({ of: 'there', broadcasts });
      })
      .catch(() => !gone && setState({ of: 'failed' }));
    return () => {
      gone = true;
    };
  }, [showId]);
  if (state.of === 'asking') return <p className="hint">{t('plan.pastAsking')}</p>;
  if (state.of === 'failed') return <p className="trouble">{t('plan.pastFailed')}</p>;
  if (state.broadcasts.length === 0) return <p className="hint">{t('plan.pastNone')}</p>;
  return (
    <div className="plan-fields">
      {state.broadcasts.map(({ id, startedMs, title, segments }) => {
        const sum = (of: 'plannedSeconds' | 'seconds') => segments.reduce((all, one) => all + one[of], 0);
        return (
          <section key={id} aria-label={DATE.format(startedMs)} className="cue">
            <b className="one-line">{title}</b>
            <span className="quiet">
              {t('plan.pastOf', {
                date: DATE.format(startedMs),
                planned: lengthText(sum('plannedSeconds')),
                actual: lengthText(sum('seconds')),
              })}
            </span>
            <ol className="past">
              {segments.map((segment, i) => {
                const over = Math.round(segment.seconds - segment.plannedSeconds);
                return (
                  <li key={i}>
                    <span className="one-line">{segment.name}</span>
                    <span className="figure quiet">{lengthText(segment.plannedSeconds)}</span>
                    <span className="figure">{lengthText(segment.seconds)}</span>
                    <span className="figure over" data-over={over > 0}>
                      {over > 0 ? `+${lengthText(over)}` : lengthText(over)}
                    </span>
                  </li>
                );
              })}
            </ol>
          </section>
        );
      })}
    </div>
  );
}
