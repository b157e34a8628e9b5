import TextField from '@mui/material/TextField';
import type { CountdownWidget } from '~/core/audience/widgets/kinds/countdown';
import { ChoiceRow } from '../../studio/choice-row';
import { CommitField } from '../../studio/commit-field';
import { NumberField } from '../../studio/number-field';
import { Toggle } from '../../studio/toggle';
import type { WidgetPart } from '../widget-parts';

export const part: WidgetPart<CountdownWidget> = {
  of: 'countdown',
  Fields({ widget, onChange }) {
    return (
      <div style={{ display: 'grid', gap: 6 }}>
        <ChoiceRow
          label="Counts down"
          value={widget.to}
          options={[
            { value: 'length', words: 'For a length' },
            { value: 'clock', words: 'To a time' },
          ]}
          onChange={(to) => onChange({ ...widget, to })}
        />
        {widget.to === 'length' ? (
          <NumberField
            label="Length"
            unit="s"
            value={widget.seconds}
            min={1}
            max={86_400}
            onCommit={(seconds) => onChange({ ...widget, seconds })}
          />
        ) : (
          <TextField
            type="time"
            label="At"
            value={widget.clock}
            onChange={(e) =>
              /^\d\d:\d\d$/.test(e.target.value) && onChange({ ...widget, clock: e.target.value })
            }
            onKeyDown={(e) => e.stopPropagation()}
          />
        )}
        <CommitField
          label="At zero"
          value={widget.endText}
          max={80}
          allowEmpty
          onCommit={(endText) => onChange({ ...widget, endText })}
        />
        <Toggle
          label="Restart when the scene comes on"
          on={widget.restart}
          onChange={(restart) => onChange({ ...widget, restart })}
        />
        <Toggle
          label="Then bring on the next scene"
          on={widget.thenNext}
          onChange={(thenNext) => onChange({ ...widget, thenNext })}
        />
      </div>
    );
  },
};
