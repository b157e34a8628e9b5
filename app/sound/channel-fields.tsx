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
import { useTranslation } from '../words/words';

/** Everything a channel is set to beside its fader and its chain. */
export function ChannelFields({ channel, onRemoved }: { channel: ChannelRecord; onRemoved: () => void }) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const { edit } = useChannelEdit(channel);
  const scenes = recordsOf(useDocument(), 'scene');
  return (
    <div className="channel-fields">
      <div>
        <h3 className="small-head">{t('sound.nameAndKind')}</h3>
        <NameField
          name={channel.name}
          label={t('sound.nameOfTheChannel')}
          onRename={(name) => edit(t('sound.name'), { name })}
        />
        <ChoiceRow
          label={t('sound.colour')}
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
          onChange={(colour) => edit(t('sound.colour'), { colour })}
        />
        <ChoiceRow
          label={t('sound.kind')}
          options={[
            { value: 'voice', words: t('sound.voice'), title: t('sound.standsAboveTheRestCough') },
            { value: 'background', words: t('sound.background') },
          ]}
          value={channel.role}
          onChange={(role) => edit(t('sound.kind'), { role })}
        />
        <ChannelSourceFields channel={channel} />
        <Button
          color="inherit"
          size="small"
          onClick={() => {
            store.edit(t('sound.removeName', { name: channel.name }), [], [channel.id]);
            onRemoved();
          }}
        >
          {t('sound.removeChannel')}
        </Button>
      </div>
      <div>
        <h3 className="small-head">{t('sound.placing')}</h3>
        <NumberField
          label={t('sound.inputGain')}
          unit="dB"
          digits={1}
          value={channel.trimDb}
          min={-40}
          max={40}
          onCommit={(trimDb) => edit(t('sound.inputGain'), { trimDb })}
        />
        <NumberField
          label={t('sound.pan100Left100Right')}
          unit="%"
          value={Math.round(channel.pan * 100)}
          min={-100}
          max={100}
          onCommit={(pan) => edit(t('sound.pan'), { pan: pan / 100 })}
        />
        <NumberField
          label={t('sound.syncOffset')}
          unit="ms"
          value={channel.offsetMs}
          min={OFFSET_MIN_MS}
          max={OFFSET_MAX_MS}
          onCommit={(offsetMs) => edit(t('sound.syncOffset'), { offsetMs })}
        />
        <Toggle
          label={t('sound.oneSideMono')}
          on={channel.mono}
          onChange={(mono) => edit(t('sound.mono'), { mono })}
        />
        <Toggle
          label={t('sound.invertPolarity')}
          on={channel.inverted}
          onChange={(inverted) => edit(t('sound.phase'), { inverted })}
        />
        <h3 className="small-head">{t('sound.inTheHeadphones')}</h3>
        <ChoiceRow
          label={t('sound.monitor')}
          options={[
            { value: 'off', words: t('sound.off2') },
            { value: 'with', words: t('sound.headphonesAndViewers'), title: t('sound.youHearItAndViewers') },
            { value: 'only', words: t('sound.headphonesOnly'), title: t('sound.youHearItViewersDo') },
          ]}
          value={channel.monitor}
          onChange={(monitor) => edit(t('sound.monitor'), { monitor })}
        />
      </div>
      <div>
        <h3 className="small-head">{t('sound.heard')}</h3>
        <ChoiceRow
          label={t('sound.heard')}
          options={[
            { value: 'always', words: t('sound.everyScene') },
            { value: 'scenes', words: t('sound.some') },
            ...(channel.pictureInputId !== null
              ? [{ value: 'with-picture' as const, words: t('sound.withPicture') }]
              : []),
          ]}
          value={channel.heard}
          onChange={(heard) => edit(t('sound.scenes'), { heard })}
        />
        {channel.heard === 'scenes' && (
          <div className="scene-choice">
            {scenes.map((scene) => (
              <Toggle
                key={scene.id}
                label={scene.name}
                on={channel.sceneIds.includes(scene.id)}
                onChange={(on) =>
                  edit(t('sound.scenes'), {
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
          label={t('sound.comesAndGoesIn')}
          unit="s"
          digits={1}
          step={0.1}
          value={channel.fadeSeconds}
          min={0}
          max={10}
          onCommit={(fadeSeconds) => edit(t('sound.fade'), { fadeSeconds })}
        />
        <Readings channelId={channel.id} />
      </div>
      <div>
        <h3 className="small-head">{t('sound.tracks')}</h3>
        <TrackChoice channel={channel} />
      </div>
      <div>
        <h3 className="small-head">{t('sound.ducking')}</h3>
        <DuckingFields channel={channel} />
      </div>
    </div>
  );
}

function Readings({ channelId }: { channelId: string }) {
  const { t } = useTranslation();
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
          {t('sound.dcOffset', { percent: dcPercent })}
        </p>
      )}
      {faults > 0 && (
        <p className="hint" style={{ color: 'var(--rose)' }}>
          {t('sound.noSound', { faults })}
        </p>
      )}
    </>
  );
}
