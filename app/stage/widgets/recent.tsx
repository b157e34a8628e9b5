import type { RecentWidget } from '~/core/audience/widgets/kinds/recent';
import { NumberField } from '../../studio/number-field';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<RecentWidget> = {
  of: 'recent',
  Fields({ widget, onChange }) {
    const { t } = useTranslation();
    return (
      <NumberField
        label={t('kinds.lines')}
        unit=""
        value={widget.lines}
        min={1}
        max={20}
        onCommit={(lines) => onChange({ ...widget, lines })}
      />
    );
  },
};
