import type { StopwatchWidget } from '~/core/audience/widgets/kinds/stopwatch';
import { ChoiceRow } from '../../studio/choice-row';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<StopwatchWidget> = {
  of: 'stopwatch',
  Fields({ widget, onChange }) {
    const { t } = useTranslation();
    return (
      <ChoiceRow
        label={t('kinds.since')}
        value={widget.since}
        options={[
          { value: 'scene', words: t('kinds.sceneCameOn') },
          { value: 'broadcast', words: t('kinds.broadcastBegan') },
        ]}
        onChange={(since) => onChange({ ...widget, since })}
      />
    );
  },
};
