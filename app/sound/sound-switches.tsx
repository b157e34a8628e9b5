import MicOffRounded from '@mui/icons-material/MicOffRounded';
import VolumeOffRounded from '@mui/icons-material/VolumeOffRounded';
import { useDesk, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** Cough (the voices are mute while it is held) and the emergency: everything silent. */
export function SoundSwitches() {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const { switches } = useDesk((now) => now.sound);
  const cough = (coughing: boolean) => desk.sound.setSwitches({ coughing });
  return (
    <>
      <button
        type="button"
        className="chip tall"
        aria-pressed={switches.coughing}
        data-tone={switches.coughing ? 'rose' : undefined}
        title={t('sound.voicesAreMuteWhileIt')}
        style={{ touchAction: 'none', width: 92 }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          cough(true);
        }}
        onPointerUp={() => cough(false)}
        onPointerCancel={() => cough(false)}
        onKeyDown={(e) => {
          if (e.key === ' ' || e.key === 'Enter') {
            e.preventDefault();
            cough(true);
          }
        }}
        onKeyUp={() => cough(false)}
        onBlur={() => switches.coughing && cough(false)}
      >
        <MicOffRounded sx={{ fontSize: 15, verticalAlign: '-3px', mr: 0.5 }} />
        {switches.coughing ? t('sound.muted') : t('sound.cough')}
      </button>
      <button
        type="button"
        className="chip tall"
        aria-pressed={switches.allMuted}
        data-tone={switches.allMuted ? 'rose' : undefined}
        title={t('sound.viewersAndTheRecordingHear')}
        style={{ width: 110 }}
        onClick={() => desk.sound.setSwitches({ allMuted: !switches.allMuted })}
      >
        <VolumeOffRounded sx={{ fontSize: 15, verticalAlign: '-3px', mr: 0.5 }} />
        {switches.allMuted ? t('sound.allIsMute') : t('sound.muteAll')}
      </button>
    </>
  );
}
