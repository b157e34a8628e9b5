import type { StopwatchWidget } from '~/core/audience/widgets/kinds/stopwatch';
import { ChoiceRow } from '../../studio/choice-row';
import type { WidgetPart } from '../widget-parts';

export const part: WidgetPart<StopwatchWidget> = {
  of: 'stopwatch',
  Fields({ widget, onChange }) {
    return (
      <ChoiceRow
        label="Since"
        value={widget.since}
        options={[
          { value: 'scene', words: 'Scene came on' },
          { value: 'broadcast', words: 'Broadcast began' },
        ]}
        onChange={(since) => onChange({ ...widget, since })}
      />
    );
  },
};
