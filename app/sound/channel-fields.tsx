import Button from '@mui/material/Button';
import { recordsOf } from '~/core/show/document';
import { CHANNEL_COLOURS, type ChannelRecord } from '~/core/show/records';
import { OFFSET_MAX_MS, OFFSET_MIN_MS } from '~/core/sound/format';
import { ChoiceRow } from '../studio/choice-row';
import { NameField } from '../studio/name-field';
import { NumberField } from '../studio/number-field';
import { Toggle } from '../studio/toggle';
import { useDocument, useStudio } from '../studio/studio-context';
import { useChannelEdit } from './channel-edit';
import { DuckingFields } from './ducking-fields';
import { ChannelSourceFields } from './channel-parts';
import { TrackChoice } from './track-choice';
import { levelText, useStrip } from './use-readings';
import { dbOfAmplitude } from '~/core/sound/decibel';

/** Everything a channel is set to beside its fader and its chain. */
export function ChannelFields({ channel, onRemoved }: { channel: ChannelRecord; onRemoved: () => void }) {
  const { store } = useStudio();
  const { edit } = useChannelEdit(channel);
  const scenes = recordsOf(useDocument(), 'scene');
  return (
    <div className="channel-fields">
      <div>
        <h3 className="small-head">Name and kind</h3>
        <NameField
          name={channel.name}
          label="Name of the channel"
          onRename={(name) => edit('Name', { name })}
        />
        <ChoiceRow
          label="Colour"
          height={26}
          options={CHANNEL_COLOURS.map((value) => ({
            value,
            title: value,
            words: (
              <span
                aria-label={value}
                style={{
                  display: 'inline-block',
                  width: 14,
                  height: 14,
                  borderRadius: 4,
                  verticalAlign: 'middle',
                  background: `var(--${value === 'slate' ? 'quiet' : value})`,
                }}
              />
            ),
          }))}
          value={channel.colour}
          onChange={(colour) => edit('Colour', { colour })}
        />
        <ChoiceRow
          label="Kind"
          options={[
            { value: 'voice', words: 'Voice', title: 'Stands above the rest; cough mutes it' },
            { value: 'background', words: 'Background' },
          ]}
          value={channel.role}
          onChange={(role) => edit('Kind', { role })}
        />
        <ChannelSourceFields channel={channel} />
        <Button
          color="inherit"
          size="small"
          onClick={() => {
            store.edit(`Remove ${channel.name}`, [], [channel.id]);
            onRemoved();
          }}
        >
          Remove channel
        </Button>
      </div>
      <div>
        <h3 className="small-head">Placing</h3>
        <NumberField
          label="Input gain"
          unit="dB"
          digits={1}
          value={channel.trimDb}
          min={-40}
          max={40}
          onCommit={(trimDb) => edit('Input gain', { trimDb })}
        />
        <NumberField
          label="Pan (−100 left, 100 right)"
          unit="%"
          value={Math.round(channel.pan * 100)}
          min={-100}
          max={100}
          onCommit={(pan) => edit('Pan', { pan: pan / 100 })}
        />
        <NumberField
          label="Sync offset"
          unit="ms"
          value={channel.offsetMs}
          min={OFFSET_MIN_MS}
          max={OFFSET_MAX_MS}
          onCommit={(offsetMs) => edit('Sync offset', { offsetMs })}
        />
        <Toggle label="One side (mono)" on={channel.mono} onChange={(mono) => edit('Mono', { mono })} />
        <Toggle
          label="Invert polarity"
          on={channel.inverted}
          onChange={(inverted) => edit('Phase', { inverted })}
        />
        <h3 className="small-head">In the headphones</h3>
        <ChoiceRow
          label="Monitor"
          options={[
            { value: 'off', words: 'Off' },
            { value: 'with', words: 'Headphones and viewers', title: 'You hear it, and viewers do' },
            { value: 'only', words: 'Headphones only', title: 'You hear it, viewers do not' },
          ]}
          value={channel.monitor}
          onChange={(monitor) => edit('Monitor', { monitor })}
        />
      </div>
      <div>
        <h3 className="small-head">Heard</h3>
        <ChoiceRow
          label="Heard"
          options={[
            { value: 'always', words: 'Every scene' },
            { value: 'scenes', words: 'Some' },
            ...(channel.pictureInputId !== null
              ? [{ value: 'with-picture' as const, words: 'With picture' }]
              : []),
          ]}
          value={channel.heard}
          onChange={(heard) => edit('Scenes', { heard })}
        />
        {channel.heard === 'scenes' && (
          <div className="scene-choice">
            {scenes.map((scene) => (
              <Toggle
                key={scene.id}
                label={scene.name}
                on={channel.sceneIds.includes(scene.id)}
                onChange={(on) =>
                  edit('Scenes', {
                    sceneIds: on
                      ? [...channel.sceneIds, scene.id]
                      : channel.sceneIds.filter((id) => id !== scene.id),
                  })
                }
              />
            ))}
          </div>
        )}
        <NumberField
          label="Comes and goes in"
          unit="s"
          digits={1}
          step={0.1}
          value={channel.fadeSeconds}
          min={0}
          max={10}
          onCommit={(fadeSeconds) => edit('Fade', { fadeSeconds })}
        />
        <Readings channelId={channel.id} />
      </div>
      <div>
        <h3 className="small-head">Tracks</h3>
        <TrackChoice channel={channel} />
      </div>
      <div>
        <h3 className="small-head">Ducking</h3>
        <DuckingFields channel={channel} />
      </div>
    </div>
  );
}

function Readings({ channelId }: { channelId: string }) {
  const shown = useStrip(
    channelId,
    (reading) =>
      reading && {
        facts: [
          ['Loudness', levelText(reading.integratedLufs || -Infinity, 'LUFS')],
          ['Range', `${reading.rangeLu.toFixed(1)} LU`],
          ['True peak', levelText(dbOfAmplitude(reading.truePeak), 'dBTP')],
          ['RMS', levelText(dbOfAmplitude(reading.rms), 'dB')],
          ['At full scale', `${reading.clipped} samples`],
        ],
        dcPercent: Math.abs(reading.dc) > 0.02 ? (reading.dc * 100).toFixed(0) : null,
        faults: reading.faults,
      },
  );
  if (!shown) return null;
  const { facts, dcPercent, faults } = shown;
  return (
    <>
      <dl className="figures" style={{ marginTop: 10 }}>
        {facts.map(([name, value]) => (
          <div key={name} style={{ display: 'contents' }}>
            <dt>{name}</dt>
            <dd className="figure">{value}</dd>
          </div>
        ))}
      </dl>
      {dcPercent !== null && (
        <p className="hint" style={{ color: 'var(--rose)' }}>
          There is a DC offset ({dcPercent}%): a high-pass takes it away, another cable or input cures it.
        </p>
      )}
      {faults > 0 && (
        <p className="hint" style={{ color: 'var(--rose)' }}>
          The device delivered {faults} samples that are no sound; they were left out.
        </p>
      )}
    </>
  );
}
