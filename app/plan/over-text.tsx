import { lengthText } from '~/core/rundown/length-text';
import { useTranslation } from '../words/words';

/** Over, under or on time; nothing while nothing can be said. */
export function OverText({ seconds }: { seconds: number | null }) {
  const { t } = useTranslation();
  if (seconds === null) return null;
  const whole = Math.round(seconds);
  if (Math.abs(whole) < 1) return <span className="figure over">{t('plan.onTime')}</span>;
  return (
    <span className="figure over" data-over={whole > 0}>
      {t(whole > 0 ? 'plan.over' : 'plan.under', { time: lengthText(Math.abs(whole)) })}
    </span>
  );
}
