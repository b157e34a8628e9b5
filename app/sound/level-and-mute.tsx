import type { ChannelRecord } from '~/core/show/records';
import { useStudio } from '../studio/studio-context';
import { MeterTrack } from './meter-track';
import { useStanding } from './use-standing';

/** A channel's level in its fader's track, and its mute beside it, as they stand on air. */
export function LevelAndMute({ channel }: { channel: ChannelRecord }) {
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
        aria-label={muted ? `Muted: ${channel.name}` : `Mute ${channel.name}`}
        data-tone={muted ? 'rose' : undefined}
        onClick={() => setMuted(!muted)}
      >
        {muted ? 'Muted' : 'Mute'}
      </button>
    </>
  );
}
