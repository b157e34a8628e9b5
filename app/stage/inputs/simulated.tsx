import type { SimulatedSource } from '~/core/show/input-kind';
import { useTranslation } from '../../words/words';
import type { InputPart } from '../input-parts';

export const part: InputPart<SimulatedSource> = { type: 'simulated', Fields: SimulatedHint };

function SimulatedHint() {
  const { t } = useTranslation();
  return <p className="hint">{t('kinds.simulatedHint')}</p>;
}
