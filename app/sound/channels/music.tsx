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
import { useTranslation } from '../../words/words';

export const part: ChannelPart<MusicSource> = { type: 'music', Fields: MusicFields };

/** The list of a music channel: what plays, the order, what comes after the last. */
function MusicFields({ channel, source }: ChannelFieldsProps<MusicSource>) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const sound = useDesk((now) => now.sound);
  const { edit } = useChannelEdit(channel);
  const now = sound.music.get(channel.id);
  const set = (what: string, part: Partial<typeof source>) => edit(what, { source: { ...source, ...part } });
  return (
    <div>
      <div style={{ display: 'flex', alignItems: 'center', gap: 4 }}>
        <SmallButton
          label={source.playing ? t('kinds.fadeTheMusicOut') : t('kinds.playTheMusic')}
          onClick={() =>
            set(source.playing ? t('kinds.stopTheMusic') : t('kinds.playTheMusic'), {
              playing: !source.playing,
            })
          }
        >
          {source.playing ? <PauseRounded /> : <PlayArrowRounded />}
        </SmallButton>
        <SmallButton
          label={t('kinds.nextPiece')}
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
              ? t('kinds.starting')
              : t('kinds.stopped')}
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
              label={t('kinds.laterName', { name: file.name })}
              disabled={i === source.files.length - 1}
              onClick={() => {
                const files = [...source.files];
                [files[i], files[i + 1]] = [files[i + 1], files[i]];
                set(t('kinds.order'), { files });
              }}
            >
              <ArrowDownwardRounded sx={{ fontSize: 15 }} />
            </SmallButton>
            <SmallButton
              label={t('kinds.removeName', { name: file.name })}
              disabled={source.files.length === 1}
              onClick={() => set(t('kinds.removeAPiece'), { files: source.files.filter((_, k) => k !== i) })}
            >
              <CloseRounded sx={{ fontSize: 15 }} />
            </SmallButton>
          </li>
        ))}
      </ol>
      <FileButton
        label={t('kinds.addMusic')}
        onFiles={(files) => set(t('kinds.addMusic2'), { files: [...source.files, ...files] })}
      />
      <Toggle
        label={t('kinds.shuffled')}
        on={source.order === 'shuffled'}
        onChange={(on) => set(t('kinds.shuffle'), { order: on ? 'shuffled' : 'listed' })}
      />
      <Toggle
        label={t('kinds.fromTheTopWhenIt')}
        on={source.loop}
        onChange={(loop) => set(t('kinds.loop'), { loop })}
      />
    </div>
  );
}
