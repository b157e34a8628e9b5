import MicOffRounded from '@mui/icons-material/MicOffRounded';
import VolumeOffRounded from '@mui/icons-material/VolumeOffRounded';
import { useDesk, useStudio } from '../studio/studio-context';

/** Cough (the voices are mute while it is held) and the emergency: everything silent. */
export function SoundSwitches() {
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
        title="Voices are mute while it is held. Key: hold C"
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
        {switches.coughing ? 'Muted' : 'Cough'}
      </button>
      <button
        type="button"
        className="chip tall"
        aria-pressed={switches.allMuted}
        data-tone={switches.allMuted ? 'rose' : undefined}
        title="Viewers and the recording hear nothing at all"
        style={{ width: 110 }}
        onClick={() => desk.sound.setSwitches({ allMuted: !switches.allMuted })}
      >
        <VolumeOffRounded sx={{ fontSize: 15, verticalAlign: '-3px', mr: 0.5 }} />
        {switches.allMuted ? 'All is mute' : 'Mute all'}
      </button>
    </>
  );
}
