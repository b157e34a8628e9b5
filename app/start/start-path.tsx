import { curveMonotoneX, line } from 'd3-shape';
import { useTranslation } from '../words/words';

export const STEPS = ['me', 'voice', 'also', 'where'] as const;
export type Step = (typeof STEPS)[number];

/** The climb: where each step stands, in percent of the width and pixels of the height. */
const PLACE: Record<Step, readonly [number, number]> = {
  me: [12, 62],
  voice: [37, 50],
  also: [62, 42],
  where: [86, 24],
};
const HEIGHT = 84;

/** The four steps as a climb; any of them can be gone to at any time. */
export function StartPath({ now, onGo }: { now: Step; onGo: (step: Step) => void }) {
  const { t } = useTranslation();
  const at = STEPS.indexOf(now);
  const ridge = line<readonly [number, number]>().curve(curveMonotoneX);
  const places = STEPS.map((step) => PLACE[step]);
  return (
    <nav aria-label={t('start.steps')} className="start-path">
      <svg viewBox={`0 0 100 ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
        <path d={ridge([[0, 76], ...places, [100, 50]])!} stroke="var(--line)" />
        <path d={ridge([[0, 76], ...places.slice(0, at + 1)])!} stroke="var(--moss)" />
      </svg>
      <ol>
        {STEPS.map((step, i) => (
          <li key={step} style={{ left: `${PLACE[step][0]}%`, top: PLACE[step][1] - 30 }}>
            <button
              type="button"
              aria-current={step === now ? 'step' : undefined}
              data-state={i < at ? 'done' : step === now ? 'now' : 'later'}
              onClick={() => onGo(step)}
            >
              {t(`start.names.${step}`)}
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}
