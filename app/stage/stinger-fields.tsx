import { useState } from 'react';
import { messageOf } from '~/core/fault';
import type { Transition } from '~/core/show/motion-records';
import { assetUrl } from '~/engine/asset-url';
import { FileButton } from '../studio/file-button';
import { NumberField } from '../studio/number-field';
import { useStudio } from '../studio/studio-context';
import { measureStinger } from './measure-stinger';
import { useTranslation } from '../words/words';

/** Longest clip: viewers wait for the scene meanwhile. */
const MAX_SECONDS = 10;

/** The clip of a stinger, where the scene changes under it, and how loud it is. */
export function StingerFields({
  transition,
  onChange,
}: {
  transition: Transition;
  onChange: (transition: Transition) => void;
}) {
  const { t } = useTranslation();
  const { say } = useStudio();
  const [measuring, setMeasuring] = useState<number | null>(null);
  const { stinger, seconds } = transition;
  const take = async ({ assetId, name, mime }: { assetId: string; name: string; mime: string }) => {
    try {
      setMeasuring(0);
      const facts = await measureStinger(assetUrl(assetId), mime, setMeasuring);
      if (facts.seconds > MAX_SECONDS)
        return say(
          `"${name}" is ${Math.round(facts.seconds)} s long: a stinger of at most ${MAX_SECONDS} s can be used.`,
        );
      if (!facts.clear) say(t('layout.nameHasNoTransparencyIt', { name }));
      else if (facts.coverSeconds === null) say(t('layout.nameNeverCoversTheWhole', { name }));
      onChange({
        ...transition,
        type: 'stinger',
        easing: 'linear',
        seconds: facts.seconds,
        stinger: {
          assetId,
          name,
          seconds: facts.seconds,
          coverSeconds: facts.coverSeconds ?? facts.seconds / 2,
          sounds: facts.sounds,
          gainDb: stinger?.gainDb ?? -6,
        },
      });
    } catch (error) {
      say(`"${name}" cannot be used: ${messageOf(error)}`);
    } finally {
      setMeasuring(null);
    }
  };
  return (
    <div style={{ display: 'grid', gap: 6 }}>
      {stinger && (
        <span
          className="pose-name"
          title={stinger.name}
        >{`Clip: ${stinger.name}, ${seconds.toFixed(2)} s`}</span>
      )}
      {measuring === null ? (
        <FileButton
          label={stinger ? t('layout.anotherClip') : t('layout.chooseAClipWebmApng')}
          accept="video/webm,video/*,image/apng,image/png,image/webp,image/gif,.json"
          onFiles={(files) => void take(files[0])}
        />
      ) : (
        <span
          role="status"
          className="quiet-note"
        >{`Looking for where it covers everything: ${Math.round(measuring * 100)}%`}</span>
      )}
      {stinger && (
        <>
          <NumberField
            label={t('layout.cutPoint')}
            unit="ms"
            value={stinger.coverSeconds * 1000}
            min={0}
            max={Math.floor(seconds * 1000)}
            step={10}
            onCommit={(ms) => onChange({ ...transition, stinger: { ...stinger, coverSeconds: ms / 1000 } })}
          />
          {stinger.sounds ? (
            <NumberField
              label={t('layout.levelOfItsSound')}
              unit="dB"
              value={stinger.gainDb}
              min={-60}
              max={12}
              digits={1}
              onCommit={(gainDb) => onChange({ ...transition, stinger: { ...stinger, gainDb } })}
            />
          ) : (
            <p className="quiet-note">{t('layout.itHasNoSound')}</p>
          )}
        </>
      )}
      {!stinger && <p className="quiet-note">{t('layout.untilAClipIsChosen')}</p>}
    </div>
  );
}
