import ArrowDownwardRounded from '@mui/icons-material/ArrowDownwardRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import SkipNextRounded from '@mui/icons-material/SkipNextRounded';
import type { MusicSource } from '~/core/show/channels/music';
import { SmallButton } from '../../studio/small-button';
import { Toggle } from '../../studio/toggle';
import { useDesk, useStudio } from '../../studio/studio-context';
import { useChannelEdit } from '../channel-edit';
import type { ChannelFieldsProps, ChannelPart } from '../channel-parts';
import { FileButton } from '../../studio/file-button';

export const part: ChannelPart<MusicSource> = { type: 'music', Fields: MusicFields };

/** The list of a music channel: what plays, the order, what comes after the last. */
function MusicFields({ channel, source }: ChannelFieldsProps<MusicSource>) {
  const { desk } = useStudio();
  const sound = useDesk((now) => now.sound);
  const { edit } = useChannelEdit(channel);
  const now = sound.music.get(channel.id);
  const set = (what: string, part: Partial<typeof source>) => edit(what, { source: { ...source, ...part } });
  return (
    <div>
      <div style={{ display: 'flex', alignItems: 'center', gap: 4 }}>
        <SmallButton
          label={source.playing ? 'Fade the music out' : 'Play the music'}
          onClick={() =>
            set(source.playing ? 'Stop the music' : 'Play the music', { playing: !source.playing })
          }
        >
          {source.playing ? <PauseRounded /> : <PlayArrowRounded />}
        </SmallButton>
        <SmallButton
          label="Next piece"
          disabled={!source.playing}
          onClick={() => desk.sound.skipMusic(channel.id)}
        >
          <SkipNextRounded />
        </SmallButton>
        <span
          className="hint"
          style={{ margin: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          {now
            ? `${now.place + 1} of ${source.files.length}: ${now.name}`
            : source.playing
              ? 'starting'
              : 'stopped'}
        </span>
      </div>
      <ol className="tracks">
        {source.files.map((file, i) => (
          <li key={`${file.assetId} ${i}`} aria-current={now?.place === i || undefined}>
            <span
              style={{
                flex: 1,
                minWidth: 0,
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
            >
              {file.name}
            </span>
            <SmallButton
              label={`Later: ${file.name}`}
              disabled={i === source.files.length - 1}
              onClick={() => {
                const files = [...source.files];
                [files[i], files[i + 1]] = [files[i + 1], files[i]];
                set('Order', { files });
              }}
            >
              <ArrowDownwardRounded sx={{ fontSize: 15 }} />
            </SmallButton>
            <SmallButton
              label={`Remove ${file.name}`}
              disabled={source.files.length === 1}
              onClick={() => set('Remove a piece', { files: source.files.filter((_, k) => k !== i) })}
            >
              <CloseRounded sx={{ fontSize: 15 }} />
            </SmallButton>
          </li>
        ))}
      </ol>
      <FileButton
        label="Add music…"
        onFiles={(files) => set('Add music', { files: [...source.files, ...files] })}
      />
      <Toggle
        label="Shuffled"
        on={source.order === 'shuffled'}
        onChange={(on) => set('Shuffle', { order: on ? 'shuffled' : 'listed' })}
      />
      <Toggle label="From the top when it ends" on={source.loop} onChange={(loop) => set('Loop', { loop })} />
    </div>
  );
}
