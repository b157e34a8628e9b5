import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { FADER_MAX_DB, FADER_MIN_DB } from '~/core/sound/decibel';
import type { ChannelRecord } from '~/core/show/records';
import { useDesk, useStudio } from '../studio/studio-context';
import { MeterTrack } from './meter-track';

export const ROW_COLUMNS = '190px minmax(200px, 1fr) 96px 168px';

function kindOf(channel: ChannelRecord): string {
  const kind = { simulated: 'Simulated', microphone: 'Microphone, raw', input: 'With its picture' }[
    channel.source.type
  ];
  return channel.source.type === 'simulated' && channel.heard === 'with-picture'
    ? 'Simulated · with its picture'
    : kind;
}

/** One channel: name, meter with its fader, level in figures, mute. */
export function ChannelRow({ channel }: { channel: ChannelRecord }) {
  const { store, desk } = useStudio();
  const { sound } = useDesk();
  const problem = sound.problems.get(channel.id);
  const setGain = (gainDb: number, done: boolean) => {
    if (done) store.commit(`Level of ${channel.name}`, [{ ...channel, gainDb }]);
    else store.preview([{ ...channel, gainDb }]);
  };
  return (
    <div
      role="group"
      aria-label={channel.name}
      style={{
        display: 'grid',
        gridTemplateColumns: ROW_COLUMNS,
        alignItems: 'center',
        gap: 16,
        minHeight: 56,
        padding: '2px 8px',
      }}
    >
      <div style={{ minWidth: 0 }}>
        <div
          style={{
            fontWeight: 600,
            fontSize: 14,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
          title={channel.name}
        >
          {channel.name}
        </div>
        <div style={{ color: problem ? 'var(--rose)' : 'var(--quiet)', fontSize: 12, lineHeight: 1.3 }}>
          {problem ?? kindOf(channel)}
        </div>
      </div>
      <MeterTrack
        name={channel.name}
        read={() => desk.readMeter(channel.id)}
        gainDb={channel.gainDb}
        muted={channel.muted}
        onGain={setGain}
      />
      <LevelField
        name={channel.name}
        gainDb={channel.gainDb}
        onCommit={(gainDb) => store.edit(`Level of ${channel.name}`, [{ ...channel, gainDb }])}
      />
      <div style={{ display: 'flex', gap: 6, alignItems: 'center', justifyContent: 'flex-end' }}>
        <Button
          aria-pressed={channel.muted}
          onClick={() =>
            store.edit(channel.muted ? `Unmute ${channel.name}` : `Mute ${channel.name}`, [
              { ...channel, muted: !channel.muted },
            ])
          }
          sx={{
            width: 84,
            ...(channel.muted && { color: 'var(--rose)', boxShadow: 'inset 0 0 0 1.5px var(--rose)' }),
          }}
        >
          {channel.muted ? 'Muted' : 'Mute'}
        </Button>
        <IconButton
          aria-label={`Remove ${channel.name}`}
          title={`Remove ${channel.name}`}
          onClick={() => store.edit(`Remove ${channel.name}`, [], [channel.id])}
          sx={{ color: 'var(--quiet)' }}
        >
          <DeleteOutlineRounded sx={{ fontSize: 18 }} />
        </IconButton>
      </div>
    </div>
  );
}

function LevelField({
  name,
  gainDb,
  onCommit,
}: {
  name: string;
  gainDb: number;
  onCommit: (db: number) => void;
}) {
  const shown = gainDb <= FADER_MIN_DB ? '−∞' : gainDb.toFixed(1).replace('-', '−');
  const [text, setText] = useState<string | null>(null);
  const commit = () => {
    const raw = (text ?? '').replace('−', '-').replace(',', '.');
    setText(null);
    const db = /∞|inf/i.test(raw) ? FADER_MIN_DB : Number(raw);
    if (text !== null && raw.trim() !== '' && Number.isFinite(db) && db !== gainDb)
      onCommit(Math.min(FADER_MAX_DB, Math.max(FADER_MIN_DB, db)));
  };
  return (
    <label
      className="figure"
      style={{ display: 'flex', alignItems: 'center', justifyContent: 'flex-end', gap: 6, fontSize: 13 }}
    >
      <input
        aria-label={`Level of ${name} in decibels`}
        value={text ?? shown}
        onFocus={(e) => {
          setText(shown);
          e.target.select();
        }}
        onChange={(e) => setText(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key === 'Escape') setText(null);
        }}
        style={{
          width: 56,
          textAlign: 'right',
          font: 'inherit',
          color: 'var(--text)',
          background: 'transparent',
          border: 0,
          height: 26,
        }}
      />
      dB
    </label>
  );
}
