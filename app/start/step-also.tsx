import Button from '@mui/material/Button';
import { useState } from 'react';
import { chooseShown, firstScreen, type AlsoShown } from '~/core/show/new-show';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { ChoiceList } from './choice-list';

const newId = () => crypto.randomUUID();

/** A game, the screen, or nothing beside the host. */
export function StepAlso() {
  const { t } = useTranslation();
  const { store, desk, say, control } = useStudio();
  const document = useDocument();
  const inputs = useDesk((now) => now.inputs);
  const [silent, setSilent] = useState(false);
  const screen = firstScreen(document);
  const chosen: AlsoShown =
    screen?.source.type !== 'screen' ? 'nothing' : screen.source.surface === 'window' ? 'game' : 'screen';
  const shown = inputs.find(({ inputId }) => inputId === screen?.id)?.state === 'ready';
  /** The browser lets the user choose; needs a click. */
  const share = async (inputId: string, what: AlsoShown) => {
    const answer = await desk.askScreen(what === 'game' ? 'window' : 'screen');
    if ('problem' in answer) return say(answer.problem);
    setSilent(answer.stream.getAudioTracks().length === 0);
    desk.useScreen(inputId, answer.stream);
    // What was chosen is looked at.
    const layers = [...store.document().values()];
    const layer = layers.find(
      (r) => r.kind === 'layer' && r.content.type === 'input' && r.content.inputId === inputId,
    );
    if (layer?.kind === 'layer' && layer.sceneId !== null) control.scene(layer.sceneId);
  };
  const choose = (what: AlsoShown) => {
    if (what === chosen) return;
    const { put, removed, inputId } = chooseShown(store.document(), what, newId);
    store.edit(t('start.also.title'), put, removed);
    if (inputId !== null) void share(inputId, what);
  };
  return (
    <>
      <h2>{t('start.also.title')}</h2>
      <ChoiceList
        label={t('start.also.title')}
        choices={(['game', 'screen', 'nothing'] as const).map((id) => ({
          id,
          title: t(`start.also.${id}`),
          hint: t(`start.also.${id}Hint`),
        }))}
        chosen={chosen}
        onChoose={(id) => choose(id as AlsoShown)}
      />
      {screen && (
        <Button onClick={() => void share(screen.id, chosen)} sx={{ mt: 1 }}>
          {t(
            shown ? 'start.also.chosen' : chosen === 'game' ? 'start.also.choose' : 'start.also.chooseScreen',
          )}
        </Button>
      )}
      {screen && shown && silent && <p className="hint">▲ {t('start.also.noSound')}</p>}
    </>
  );
}
