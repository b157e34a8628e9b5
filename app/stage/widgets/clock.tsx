import type { ClockWidget } from '~/core/audience/widgets/kinds/clock';
import { Toggle } from '../../studio/toggle';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<ClockWidget> = {
  of: 'clock',
  Fields({ widget, onChange }) {
    const { t } = useTranslation();
    return (
      <Toggle
        label={t('kinds.seconds')}
        on={widget.seconds}
        onChange={(seconds) => onChange({ ...widget, seconds })}
      />
    );
  },
};
