import { TITLE_LOOKS, type TitleWidget } from '~/core/audience/widgets/kinds/title';
import { ChoiceRow } from '../../studio/choice-row';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

const LOOK_WORDS = {
  plate: 'Plate',
  stack: 'Stack',
  rule: 'Rule',
  tab: 'Tab',
  lamp: 'Lamp',
  strata: 'Strata',
} as const;

export const part: WidgetPart<TitleWidget> = {
  of: 'title',
  Fields({ widget, onChange }) {
    const { t } = useTranslation();
    return (
      <ChoiceRow
        label={t('kinds.look')}
        value={widget.look}
        options={TITLE_LOOKS.map((value) => ({ value, words: LOOK_WORDS[value] }))}
        onChange={(look) => onChange({ ...widget, look })}
      />
    );
  },
};
