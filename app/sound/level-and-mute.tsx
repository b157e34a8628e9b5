import type { ChannelRecord } from '~/core/show/records';
import { useStudio } from '../studio/studio-context';
import { MeterTrack } from './meter-track';
import { useStanding } from './use-standing';
import { useTranslation } from '../words/words';

/** A channel's level in its fader's track, and its mute beside it, as they stand on air. */
export function LevelAndMute({ channel }: { channel: ChannelRecord }) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const { gainDb, muted, setLevel, setMuted } = useStanding(channel);
  return (
    <>
      <MeterTrack
        aside
        name={channel.name}
        read={() => desk.readMeter(channel.id)}
        gainDb={gainDb}
        muted={muted}
        onGain={setLevel}
      />
      <button
        type="button"
        className="chip"
        aria-pressed={muted}
        aria-label={
          muted ? t('sound.mutedName', { name: channel.name }) : t('sound.muteName', { name: channel.name })
        }
        data-tone={muted ? 'rose' : undefined}
        onClick={() => setMuted(!muted)}
      >
        {muted ? t('sound.muted') : t('sound.mute')}
      </button>
    </>
  );
}
