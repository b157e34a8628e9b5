import { withMinus } from '~/core/format/numbers';
import Popover from '@mui/material/Popover';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { channelKindOf } from '~/core/show/channel-kinds';
import { recordsOf } from '~/core/show/document';
import { heardIn } from '~/core/show/heard';
import type { ChannelRecord } from '~/core/show/records';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { DuckingFields } from './ducking-fields';
import { LevelField } from './level-field';
import { MeterTrack } from './meter-track';
import { TrackChoice } from './track-choice';
import { useStrip } from './use-readings';
import { useStanding } from './use-standing';
import { useTranslation } from '../words/words';

/** Where the channel comes from and when it is heard, in a few words. */
function describe(
  channel: ChannelRecord,
  sceneNames: readonly string[],
  playing: string | undefined,
): string {
  const { source, heard } = channel;
  const kind =
    source.type === 'microphone' && source.processed ? 'Microphone, processed' : channelKindOf(source).name;
  if (source.type === 'music') return playing ?? (source.playing ? 'starting' : 'Music, stopped');
  if (heard === 'with-picture') return `${kind} · with its picture`;
  if (heard === 'scenes')
    return sceneNames.length === 1 ? `only in ${sceneNames[0]}` : `in ${sceneNames.length} scenes`;
  return `${kind} · every scene`;
}

/** One channel: name, meter with its fader, level in figures, and what is pressed most. */
export function ChannelRow({
  channel,
  chosen,
  onChoose,
}: {
  channel: ChannelRecord;
  chosen: boolean;
  onChoose: () => void;
}) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const sound = useDesk((now) => now.sound);
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const onAirPoseId = useDesk((now) => now.onAirPoseId);
  const document = useDocument();
  const { gainDb, muted, setLevel, setMuted } = useStanding(channel);
  const problem = sound.problems.get(channel.id);
  const scenes = recordsOf(document, 'scene')
    .filter((s) => channel.sceneIds.includes(s.id))
    .map((s) => s.name);
  const heard = heardIn(
    document,
    channel,
    onAirSceneId === null ? null : { sceneId: onAirSceneId, poseId: onAirPoseId },
  );
  const soloed = sound.switches.solo.includes(channel.id);
  const row = useRef<HTMLDivElement>(null);
  // One that was just added, or chosen elsewhere, may stand below what is seen of the list.
  useEffect(() => {
    if (chosen) row.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const words = problem ?? describe(channel, scenes, sound.music.get(channel.id)?.name);
  return (
    <div ref={row} role="group" aria-label={channel.name} className="channel-row" data-chosen={chosen}>
      <button type="button" className="channel-name" aria-pressed={chosen} onClick={onChoose}>
        <span aria-hidden className="channel-mark" style={{ background: `var(--${markOf(channel)})` }} />
        <span className="channel-title" title={channel.name}>
          {channel.name}
        </span>
        <span className="channel-words" data-problem={problem !== undefined} title={words}>
          {words}
        </span>
      </button>
      <MeterTrack
        name={channel.name}
        read={() => desk.readMeter(channel.id)}
        gainDb={gainDb}
        muted={muted || !heard}
        onGain={setLevel}
      />
      <LevelField name={channel.name} gainDb={gainDb} onCommit={(db) => setLevel(db, true)} />
      <Loudness channelId={channel.id} />
      <div className="channel-buttons">
        <button
          type="button"
          className="chip"
          data-tone={muted ? 'rose' : undefined}
          aria-pressed={muted}
          style={{ width: 58 }}
          onClick={() => setMuted(!muted)}
        >
          {muted ? t('sound.muted') : t('sound.mute')}
        </button>
        <button
          type="button"
          className="chip"
          data-tone={soloed ? 'glacier' : undefined}
          aria-pressed={soloed}
          title={t('sound.hearItAloneInThe')}
          style={{ width: 46 }}
          onClick={() =>
            desk.sound.setSwitches({
              solo: soloed
                ? sound.switches.solo.filter((id) => id !== channel.id)
                : [...sound.switches.solo, channel.id],
            })
          }
        >
          {t('sound.solo')}
        </button>
        <Folded
          label={t('sound.duckingOfName', { name: channel.name })}
          words={<DuckWords channel={channel} />}
          pressed={channel.ducking !== null}
          width={92}
        >
          <DuckingFields channel={channel} />
        </Folded>
        <Folded
          label={t('sound.tracksOfName', { name: channel.name })}
          words={
            channel.tracks.length === 0
              ? t('sound.noTrack')
              : `Tracks ${[...channel.tracks].sort().join(' ')}`
          }
          width={104}
        >
          <TrackChoice channel={channel} />
        </Folded>
      </div>
    </div>
  );
}

function markOf({ colour }: ChannelRecord): string {
  return colour === 'slate' ? 'quiet' : colour;
}

function Loudness({ channelId }: { channelId: string }) {
  const { t } = useTranslation();
  const { samples, words } = useStrip(channelId, (reading) => {
    const lufs = reading?.shortTermLufs ?? -Infinity;
    return {
      samples: reading?.clipped ?? 0,
      words: lufs > -70 ? withMinus(lufs.toFixed(1)) : '—',
    };
  });
  const clipped = samples > 0;
  return (
    <span
      className="figure channel-lufs"
      title={clipped ? t('sound.samplesSamplesAtFullScale', { samples }) : t('sound.loudnessOfTheLast')}
      data-clipped={clipped}
    >
      {clipped ? `clip ${Math.min(999, samples)}` : words}
    </span>
  );
}

function DuckWords({ channel }: { channel: ChannelRecord }) {
  const { t } = useTranslation();
  const down = useStrip(channel.id, (reading) => Math.round(reading?.duckDb ?? 0));
  if (channel.ducking === null) return <>{t('sound.duck')}</>;
  return down < 0 ? (
    <span style={{ color: 'var(--larch)' }}>{t('sound.duckedBy', { db: withMinus(String(down)) })}</span>
  ) : (
    <>{t('sound.ducks')}</>
  );
}

/** A chip that opens what belongs to it. */
function Folded({
  label,
  words,
  pressed,
  width,
  children,
}: {
  label: string;
  words: ReactNode;
  pressed?: boolean;
  width: number;
  children: ReactNode;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className="chip"
        title={label}
        aria-haspopup="dialog"
        aria-expanded={anchor !== null}
        aria-pressed={pressed}
        style={{ width }}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {words}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': label, sx: { p: 2, width: 280 } } }}
      >
        {children}
      </Popover>
    </>
  );
}
