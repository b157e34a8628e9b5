import { TEST_PATTERNS, type TestPictureInput } from '~/core/show/inputs/test-picture';
import { fullPlacements } from '~/core/show/stage-edits';
import { ChoiceRow } from '../../studio/choice-row';
import { Toggle } from '../../studio/toggle';
import { useTranslation } from '../../words/words';
import type { InputFieldsProps, InputPart } from '../input-parts';

export const part: InputPart<TestPictureInput> = {
  type: 'testPicture',
  Fields: TestPictureFields,
  offers: [
    {
      rank: 11,
      words: (t) => t('testPicture.name'),
      bring: ({ document, addInput, t }) =>
        addInput(
          t('testPicture.name'),
          { type: 'testPicture', pattern: 'bars', moving: true },
          fullPlacements(document),
        ),
    },
  ],
};

function TestPictureFields({ source, set }: InputFieldsProps<TestPictureInput>) {
  const { t } = useTranslation();
  return (
    <div className="field-stack">
      <ChoiceRow
        label={t('testPicture.pattern')}
        options={TEST_PATTERNS.map((value) => ({ value, words: t(`testPicture.of.${value}`) }))}
        value={source.pattern}
        onChange={(pattern) => set(t('testPicture.pattern'), { ...source, pattern })}
      />
      <Toggle
        label={t('testPicture.moving')}
        on={source.moving}
        onChange={(moving) => set(t('testPicture.moving'), { ...source, moving })}
      />
      <p className="hint">{t(`testPicture.hint.${source.pattern}`)}</p>
    </div>
  );
}
