import type { SlidesInput } from '~/core/show/inputs/slides';
import { NumberField } from '../../studio/number-field';
import { Toggle } from '../../studio/toggle';
import { FIELD_GRID } from '../field-layout';
import { FileRows } from '../file-rows';
import type { InputFieldsProps, InputPart } from '../input-parts';

export const part: InputPart<SlidesInput> = {
  type: 'slides',
  Fields: SlidesFields,
  offers: [{ rank: 6, words: (t) => t('addInput.slides'), bring: (ways) => ways.askFiles('slides') }],
};

function SlidesFields({ source, set }: InputFieldsProps<SlidesInput>) {
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <FileRows files={source.files} kind="slides" onChange={(files) => set('Files', { ...source, files })} />
      <div style={FIELD_GRID}>
        <NumberField
          label="Each"
          unit="s"
          digits={1}
          value={source.intervalSeconds}
          min={0.2}
          max={3600}
          onCommit={(intervalSeconds) => set('Interval', { ...source, intervalSeconds })}
        />
        <NumberField
          label="Fade"
          unit="s"
          digits={1}
          step={0.1}
          value={source.fadeSeconds}
          min={0}
          max={30}
          onCommit={(fadeSeconds) => set('Fade', { ...source, fadeSeconds })}
        />
      </div>
      <Toggle
        label="Shuffled"
        on={source.order === 'shuffled'}
        onChange={(on) => set('Order', { ...source, order: on ? 'shuffled' : 'listed' })}
      />
    </div>
  );
}
