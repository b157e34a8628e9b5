import type { ViewersWidget } from '~/core/audience/widgets/kinds/viewers';
import { ChoiceRow } from '../../studio/choice-row';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<ViewersWidget> = {
  of: 'viewers',
  Fields({ widget, onChange }) {
    const { t } = useTranslation();
    return (
      <ChoiceRow
        label={t('kinds.viewers')}
        value={widget.show}
        options={[
          { value: 'sum', words: t('kinds.allTogether') },
          { value: 'each', words: t('kinds.eachPlatform') },
        ]}
        onChange={(show) => onChange({ ...widget, show })}
      />
    );
  },
};
