import type { LottieInput } from '~/core/show/inputs/lottie';
import { NumberField } from '../../studio/number-field';
import { Toggle } from '../../studio/toggle';
import { useTranslation } from '../../words/words';
import type { InputFieldsProps, InputPart } from '../input-parts';

export const part: InputPart<LottieInput> = {
  type: 'lottie',
  Fields: LottieFields,
};

function LottieFields({ source, set }: InputFieldsProps<LottieInput>) {
  const { t } = useTranslation();
  return (
    <>
      <NumberField
        label={t('kinds.speed')}
        unit="%"
        value={source.speed * 100}
        min={5}
        max={2000}
        step={5}
        onCommit={(percent) => set(t('kinds.speed'), { ...source, speed: percent / 100 })}
      />
      <Toggle
        label={t('kinds.loop')}
        on={source.loop}
        onChange={(loop) => set(t('kinds.loop'), { ...source, loop })}
      />
    </>
  );
}
