import TextField from '@mui/material/TextField';
import type { CountdownWidget } from '~/core/audience/widgets/kinds/countdown';
import { ChoiceRow } from '../../studio/choice-row';
import { CommitField } from '../../studio/commit-field';
import { NumberField } from '../../studio/number-field';
import { Toggle } from '../../studio/toggle';
import type { WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<CountdownWidget> = {
  of: 'countdown',
  Fields({ widget, onChange }) {
    const { t } = useTranslation();
    return (
      <div style={{ display: 'grid', gap: 6 }}>
        <ChoiceRow
          label={t('kinds.countsDown')}
          value={widget.to}
          options={[
            { value: 'length', words: t('kinds.forALength') },
            { value: 'clock', words: t('kinds.toATime') },
          ]}
          onChange={(to) => onChange({ ...widget, to })}
        />
        {widget.to === 'length' ? (
          <NumberField
            label={t('kinds.length')}
            unit="s"
            value={widget.seconds}
            min={1}
            max={86_400}
            onCommit={(seconds) => onChange({ ...widget, seconds })}
          />
        ) : (
          <TextField
            type="time"
            label={t('kinds.at')}
            value={widget.clock}
            onChange={(e) =>
              /^\d\d:\d\d$/.test(e.target.value) && onChange({ ...widget, clock: e.target.value })
            }
            onKeyDown={(e) => e.stopPropagation()}
          />
        )}
        <CommitField
          label={t('kinds.atZero')}
          value={widget.endText}
          max={80}
          allowEmpty
          onCommit={(endText) => onChange({ ...widget, endText })}
        />
        <Toggle
          label={t('kinds.restartWhenTheSceneComes')}
          on={widget.restart}
          onChange={(restart) => onChange({ ...widget, restart })}
        />
        <Toggle
          label={t('kinds.thenBringOnTheNext')}
          on={widget.thenNext}
          onChange={(thenNext) => onChange({ ...widget, thenNext })}
        />
      </div>
    );
  },
};
