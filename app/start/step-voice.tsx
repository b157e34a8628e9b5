import Button from '@mui/material/Button';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { chooseMicrophone, firstVoice } from '~/core/show/new-show';
import type { ChannelRecord } from '~/core/show/records';
import { dbOfAmplitude } from '~/core/sound/decibel';
import { MeterTrack } from '../sound/meter-track';
import { SoundcheckDialog } from '../sound/soundcheck-dialog';
import { useStrip } from '../sound/use-readings';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { DeviceChoice } from './device-choice';
import { useDevices } from './use-devices';

const newId = () => crypto.randomUUID();

/** Microphone, its level in the bracket, the soundcheck. */
export function StepVoice() {
  const { t } = useTranslation();
  const { store } = useStudio();
  const document = useDocument();
  const devices = useDevices('microphone');
  const voice = firstVoice(document);
  const source = voice?.source.type === 'microphone' ? voice.source : null;
  return (
    <>
      <h2>{t('start.voice.title')}</h2>
      <div className="start-two">
        <div>
          <DeviceChoice
            of="voice"
            devices={devices}
            chosen={source}
            onChoose={(device) => {
              const { put, removed } = chooseMicrophone(store.document(), device, newId);
              store.edit(t('start.voice.microphones'), put, removed);
            }}
          />
        </div>
        {voice && <Level voice={voice} />}
      </div>
      <p className="start-advice">{t('start.voice.advice')}</p>
    </>
  );
}

/** Peaks above this clip sooner or later; below, one has to lean in; dBFS. */
const LOUD_DB = -6;
const GOOD_DB = -24;
const SILENT_DB = -60;

function Level({ voice }: { voice: ChannelRecord }) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const target = recordsOf(useDocument(), 'show')[0].sound.targetLufs;
  const [checking, setChecking] = useState(false);
  const word = useStrip(voice.id, (reading) => {
    const db = reading ? dbOfAmplitude(reading.held) : -Infinity;
    return db < SILENT_DB ? 'silent' : db < GOOD_DB ? 'quiet' : db < LOUD_DB ? 'good' : 'loud';
  });
  return (
    <div className="start-level">
      <MeterTrack
        name={voice.name}
        read={() => desk.readMeter(voice.id)}
        gainDb={voice.gainDb}
        muted={voice.muted}
      />
      <p>
        <span>{t('start.voice.bracket')}</span>
        <b data-word={word}>{t(`start.voice.${word}`)}</b>
      </p>
      <Button onClick={() => setChecking(true)}>{t('start.voice.soundcheck')}</Button>
      {voice.trimDb !== 0 && <span className="hint">✓ {t('start.voice.done')}</span>}
      {checking && (
        <SoundcheckDialog channel={voice} targetLufs={target} onClose={() => setChecking(false)} />
      )}
    </div>
  );
}
