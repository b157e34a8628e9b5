import type { ClockWidget } from '~/core/audience/widgets/kinds/clock';
import { Toggle } from '../../studio/toggle';
import type { WidgetPart } from '../widget-parts';

export const part: WidgetPart<ClockWidget> = {
  of: 'clock',
  Fields({ widget, onChange }) {
    return (
      <Toggle label="Seconds" on={widget.seconds} onChange={(seconds) => onChange({ ...widget, seconds })} />
    );
  },
};
