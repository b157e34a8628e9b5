import { findRecord } from '~/core/show/document';
import type { ChannelRecord } from '~/core/show/records';
import { Toggle } from '../studio/toggle';
import { useDocument } from '../studio/studio-context';
import { useChannelEdit } from './channel-edit';

/** Which recording tracks a channel goes to; the first is what viewers hear. */
export function TrackChoice({ channel }: { channel: ChannelRecord }) {
  const show = findRecord(useDocument(), 'show', channel.showId);
  const { edit } = useChannelEdit(channel);
  return (
    <div>
      <p className="hint">Track 1 is what viewers hear. The others are recorded beside it.</p>
      {(show?.sound.trackNames ?? []).map((name, i) => (
        <Toggle
          key={i}
          label={`${i + 1} ${name}`}
          on={channel.tracks.includes(i + 1)}
          onChange={(on) =>
            edit('Tracks', {
              tracks: on
                ? [...channel.tracks, i + 1].sort((a, b) => a - b)
                : channel.tracks.filter((t) => t !== i + 1),
            })
          }
        />
      ))}
    </div>
  );
}
