import type { PictureInput } from '~/core/show/inputs/picture';
import { Toggle } from '../../studio/toggle';
import { useTranslation } from '../../words/words';
import type { InputFieldsProps, InputPart } from '../input-parts';

export const part: InputPart<PictureInput> = { type: 'picture', Fields: PictureFields };

function PictureFields({ source, set }: InputFieldsProps<PictureInput>) {
  const { t } = useTranslation();
  return (
    <Toggle
      label={t('kinds.loopIfItMoves')}
      on={source.loop}
      onChange={(loop) => set(t('kinds.loop'), { ...source, loop })}
    />
  );
}
