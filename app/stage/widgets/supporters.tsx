import type { SupportersWidget } from '~/core/audience/widgets/kinds/supporters';
import { ChoiceRow } from '../../studio/choice-row';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<SupportersWidget> = {
  of: 'supporters',
  Fields({ widget, onChange }) {
    const { t } = useTranslation();
    return (
      <ChoiceRow
        label={t('kinds.supporters')}
        value={widget.show}
        options={[
          { value: 'latest', words: t('kinds.latest') },
          { value: 'largest', words: t('kinds.largest') },
          { value: 'evening', words: t('kinds.tonight') },
        ]}
        onChange={(show) => onChange({ ...widget, show })}
      />
    );
  },
};
