import type { SupportersWidget } from '~/core/audience/widgets/kinds/supporters';
import { ChoiceRow } from '../../studio/choice-row';
import type { WidgetPart } from '../widget-parts';

export const part: WidgetPart<SupportersWidget> = {
  of: 'supporters',
  Fields({ widget, onChange }) {
    return (
      <ChoiceRow
        label="Supporters"
        value={widget.show}
        options={[
          { value: 'latest', words: 'Latest' },
          { value: 'largest', words: 'Largest' },
          { value: 'evening', words: 'Tonight' },
        ]}
        onChange={(show) => onChange({ ...widget, show })}
      />
    );
  },
};
