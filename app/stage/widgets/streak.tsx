import Button from '@mui/material/Button';
import type { StreakWidget } from '~/core/audience/widgets/kinds/streak';
import { ColourField } from '../../studio/colour-field';
import { CommitField } from '../../studio/commit-field';
import { NumberField } from '../../studio/number-field';
import { FIELD_GRID } from '../field-layout';
import type { WidgetFieldsProps, WidgetPart } from '../widget-parts';
import { useTranslation } from '../../words/words';

export const part: WidgetPart<StreakWidget> = { of: 'streak', Fields: StreakFields };

function StreakFields({ widget, onChange }: WidgetFieldsProps<StreakWidget>) {
  const { t } = useTranslation();
  const level = (i: number, part: Partial<(typeof widget.levels)[number]>) =>
    onChange({ ...widget, levels: widget.levels.map((l, n) => (n === i ? { ...l, ...part } : l)) });
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <NumberField
        label={t('kinds.falls')}
        unit="a minute"
        value={widget.decayPerMinute}
        min={0.01}
        max={600}
        digits={2}
        step={0.1}
        onCommit={(decayPerMinute) => onChange({ ...widget, decayPerMinute })}
      />
      {widget.levels.map((one, i) => (
        <div key={i} style={{ display: 'grid', gap: 4 }}>
          <CommitField
            label={t('kinds.levelNumber', { number: i + 1 })}
            value={one.name}
            max={60}
            onCommit={(name) => level(i, { name })}
          />
          <div style={FIELD_GRID}>
            <NumberField
              label={t('kinds.from')}
              unit=""
              value={one.from}
              min={0}
              max={1e6}
              onCommit={(from) => level(i, { from })}
            />
            <ColourField
              label={t('kinds.colour')}
              value={one.colour}
              onChange={(colour) => level(i, { colour })}
            />
          </div>
        </div>
      ))}
      <div style={{ display: 'flex', gap: 6 }}>
        <Button
          disabled={widget.levels.length >= 12}
          onClick={() =>
            onChange({
              ...widget,
              levels: [
                ...widget.levels,
                {
                  from: Math.max(0, ...widget.levels.map((l) => l.from)) + 5,
                  name: 'Next level',
                  colour: '#63BDBB',
                },
              ],
            })
          }
        >
          {t('kinds.addALevel')}
        </Button>
        <Button
          disabled={widget.levels.length === 0}
          onClick={() => onChange({ ...widget, levels: widget.levels.slice(0, -1) })}
        >
          {t('kinds.removeTheLast')}
        </Button>
      </div>
    </div>
  );
}
