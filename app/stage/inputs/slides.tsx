import type { SlidesInput } from '~/core/show/inputs/slides';
import { NumberField } from '../../studio/number-field';
import { Toggle } from '../../studio/toggle';
import { FIELD_GRID } from '../field-layout';
import { FileRows } from '../file-rows';
import type { InputFieldsProps, InputPart } from '../input-parts';
import { useTranslation } from '../../words/words';

export const part: InputPart<SlidesInput> = {
  type: 'slides',
  Fields: SlidesFields,
  offers: [{ rank: 6, words: (t) => t('addInput.slides'), bring: (ways) => ways.askFiles('slides') }],
};

function SlidesFields({ source, set }: InputFieldsProps<SlidesInput>) {
  const { t } = useTranslation();
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <FileRows
        files={source.files}
        kind="slides"
        onChange={(files) => set(t('kinds.files'), { ...source, files })}
      />
      <div style={FIELD_GRID}>
        <NumberField
          label={t('kinds.each')}
          unit="s"
          digits={1}
          value={source.intervalSeconds}
          min={0.2}
          max={3600}
          onCommit={(intervalSeconds) => set(t('kinds.interval'), { ...source, intervalSeconds })}
        />
        <NumberField
          label={t('kinds.fade')}
          unit="s"
          digits={1}
          step={0.1}
          value={source.fadeSeconds}
          min={0}
          max={30}
          onCommit={(fadeSeconds) => set(t('kinds.fade'), { ...source, fadeSeconds })}
        />
      </div>
      <Toggle
        label={t('kinds.shuffled')}
        on={source.order === 'shuffled'}
        onChange={(on) => set(t('kinds.order'), { ...source, order: on ? 'shuffled' : 'listed' })}
      />
    </div>
  );
}
