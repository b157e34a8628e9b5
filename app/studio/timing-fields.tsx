import { line } from 'd3-shape';
import { easeOf, easingProblem } from '~/core/motion/easing';
import type { GlideTiming } from '~/core/show/motion-records';
import { CommitField } from './commit-field';
import { NumberField } from './number-field';
import { useNewest } from './use-newest';
import { useTranslation } from '../words/words';

const COURSES = [
  { value: 'linear', words: 'Linear' },
  { value: 'ease-in', words: 'Ease in' },
  { value: 'ease-out', words: 'Ease out' },
  { value: 'ease-in-out', words: 'Ease in and out' },
  { value: 'spring(0.35)', words: 'Spring' },
] as const;
const OWN = 'cubic-bezier(0.3, 0, 0.2, 1)';

export const courseName = (easing: string): string =>
  COURSES.find((c) => c.value === easing)?.words.toLowerCase() ?? 'custom curve';

/** How long a movement takes and how its speed goes, with the curve drawn. */
export function TimingFields({
  timing,
  onChange,
  least = 0,
}: {
  timing: GlideTiming;
  onChange: (timing: GlideTiming) => void;
  /** Shortest time, seconds. */
  least?: number;
}) {
  const { t } = useTranslation();
  const { seconds, easing } = timing;
  const set = useNewest<GlideTiming>({ seconds, easing }, onChange);
  const own = COURSES.every((c) => c.value !== easing);
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 64px', gap: 6 }}>
      <div style={{ display: 'grid', gap: 6 }}>
        <NumberField
          label={t('shell.duration')}
          unit="ms"
          value={seconds * 1000}
          min={least * 1000}
          max={10_000}
          step={50}
          onCommit={(ms) => set({ seconds: ms / 1000 })}
        />
        <select
          aria-label={t('shell.easing')}
          value={own ? OWN : easing}
          onChange={(e) => set({ easing: e.target.value })}
          className="plain-select"
        >
          {COURSES.map(({ value, words }) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
          <option value={OWN}>{t('shell.customCurve')}</option>
        </select>
      </div>
      <CurveDrawing easing={easing} />
      {own && (
        <div style={{ gridColumn: '1 / -1', marginTop: 4 }}>
          <CommitField
            label={t('shell.timingFunction')}
            value={easing}
            max={80}
            problem={easingProblem}
            onCommit={(next) => set({ easing: next })}
          />
        </div>
      )}
    </div>
  );
}

/** The way done over time; room above and below for curves that go beyond. */
function CurveDrawing({ easing }: { easing: string }) {
  const ease = easeOf(easing);
  const points = Array.from({ length: 41 }, (_, i) => [i / 40, ease(i / 40)] as [number, number]);
  const path = line<[number, number]>(
    ([t]) => 6 + t * 52,
    ([, done]) => 50 - done * 36,
  )(points);
  return (
    <svg
      viewBox="0 0 64 64"
      role="img"
      aria-label={`Curve: ${courseName(easing)}`}
      style={{ background: 'var(--ground)', borderRadius: 6, width: 64, height: 66 }}
    >
      <path d="M6 14H58M6 50H58" stroke="var(--line)" fill="none" />
      <path d={path ?? ''} stroke="var(--glacier)" strokeWidth={2} fill="none" />
    </svg>
  );
}
