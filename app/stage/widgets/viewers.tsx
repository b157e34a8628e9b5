import type { ViewersWidget } from '~/core/audience/widgets/kinds/viewers';
import { ChoiceRow } from '../../studio/choice-row';
import type { WidgetPart } from '../widget-parts';

export const part: WidgetPart<ViewersWidget> = {
  of: 'viewers',
  Fields({ widget, onChange }) {
    return (
      <ChoiceRow
        label="Viewers"
        value={widget.show}
        options={[
          { value: 'sum', words: 'All together' },
          { value: 'each', words: 'Each platform' },
        ]}
        onChange={(show) => onChange({ ...widget, show })}
      />
    );
  },
};
