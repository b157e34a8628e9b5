import { findRecord } from '~/core/show/document';
import type { ChannelRecord } from '~/core/show/records';
import { Toggle } from '../studio/toggle';
import { useDocument } from '../studio/studio-context';
import { useChannelEdit } from './channel-edit';
import { useTranslation } from '../words/words';

/** Which recording tracks a channel goes to; the first is what viewers hear. */
export function TrackChoice({ channel }: { channel: ChannelRecord }) {
  const { t } = useTranslation();
  const show = findRecord(useDocument(), 'show', channel.showId);
  const { edit } = useChannelEdit(channel);
  return (
    <div>
      <p className="hint">{t('sound.track1IsWhatViewers')}</p>
      {(show?.sound.trackNames ?? []).map((name, i) => (
        <Toggle
          key={i}
          label={`${i + 1} ${name}`}
          on={channel.tracks.includes(i + 1)}
          onChange={(on) =>
            edit(t('sound.tracks'), {
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
