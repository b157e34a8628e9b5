import Button from '@mui/material/Button';
import type { ScreenSource } from '~/core/show/inputs/screen';
import { useStudio } from '../../studio/studio-context';
import type { InputFieldsProps, InputPart } from '../input-parts';
import { useTranslation } from '../../words/words';

export const part: InputPart<ScreenSource> = {
  type: 'screen',
  Fields: ScreenFields,
  offers: [
    { rank: 1, words: (t) => t('addInput.screen'), bring: (ways) => void ways.addScreen('screen') },
    { rank: 2, words: (t) => t('addInput.window'), bring: (ways) => void ways.addScreen('window') },
    { rank: 3, words: (t) => t('addInput.region'), bring: (ways) => void ways.addScreen('region') },
  ],
};

function ScreenFields({ input, source }: InputFieldsProps<ScreenSource>) {
  const { t } = useTranslation();
  const { desk, say } = useStudio();
  const choose = async () => {
    const answer = await desk.askScreen(source.surface);
    if ('problem' in answer) say(answer.problem);
    else desk.useScreen(input.id, answer.stream);
  };
  return <Button onClick={() => void choose()}>{t('kinds.chooseScreenOrWindow')}</Button>;
}
