import { useSyncExternalStore } from 'react';
import { recordsOf } from '~/core/show/document';
import { ChoiceRow } from '../studio/choice-row';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { setSwitching, switchingNow, watchSwitching } from './switching';

/** Every scene of the show: called at once, or prepared as Next. */
export function ScenesColumn() {
  const { control } = useStudio();
  const document = useDocument();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const prepared = useDesk((now) => now.programme.prepared);
  const { switching, way } = useSyncExternalStore(watchSwitching, switchingNow);
  const { t } = useTranslation();
  return (
    <>
      <ChoiceRow
        label={t('air.switching')}
        value={switching}
        options={[
          { value: 'direct', words: t('air.direct') },
          { value: 'two-step', words: t('air.twoStep') },
        ]}
        onChange={(next) => setSwitching({ switching: next, way })}
      />
      <div className="air-ways">
        <ChoiceRow
          label={t('air.way')}
          value={way}
          options={(['own', 'cut', 'fade'] as const).map((value) => ({ value, words: t(`air.${value}`) }))}
          onChange={(next) => setSwitching({ switching, way: next })}
        />
      </div>
      {recordsOf(document, 'scene').map((scene, i) => {
        const on = scene.id === onAirSceneId;
        const next = prepared?.sceneId === scene.id;
        return (
          <button
            key={scene.id}
            type="button"
            className="air-scene"
            data-standing={on ? 'on' : next ? 'next' : undefined}
            aria-pressed={on}
            onClick={() =>
              switching === 'direct'
                ? way === 'own'
                  ? control.scene(scene.id)
                  : control.quick(scene.id, way)
                : void control.prepare({ sceneId: scene.id, poseId: null })
            }
          >
            <span className="one-line">{scene.name}</span>
            <span className="figure">
              {on
                ? t('plan.onAir')
                : next
                  ? t('plan.next')
                  : i < 9
                    ? t('shell.shiftNumber', { number: i + 1 })
                    : ''}
            </span>
          </button>
        );
      })}
    </>
  );
}
