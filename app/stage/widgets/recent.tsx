import type { RecentWidget } from '~/core/audience/widgets/kinds/recent';
import { NumberField } from '../../studio/number-field';
import type { WidgetPart } from '../widget-parts';

export const part: WidgetPart<RecentWidget> = {
  of: 'recent',
  Fields({ widget, onChange }) {
    return (
      <NumberField
        label="Lines"
        unit=""
        value={widget.lines}
        min={1}
        max={20}
        onCommit={(lines) => onChange({ ...widget, lines })}
      />
    );
  },
};
