import Button from '@mui/material/Button';
import ListSubheader from '@mui/material/ListSubheader';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { findRecord, recordsOf } from '~/core/show/document';
import type { ChannelRecord } from '~/core/show/records';
import { SHIPPED_CHAINS } from '~/core/sound/chain/chain-presets';
import {
  MAX_PROCESSORS,
  newProcessor,
  PROCESSOR_NAMES,
  PROCESSOR_TYPES,
  type ChainSettings,
} from '~/core/sound/chain/chain-settings';
import { ALIGN_FRAMES } from '~/core/sound/format';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { ActionMenu } from './action-menu';
import { ChainCard } from './chain-card';
import { useChannelEdit } from './channel-edit';
import { MatchDialog } from './match-dialog';
import { SoundcheckDialog } from './soundcheck-dialog';
import { useStrip } from './use-readings';
import { useTranslation } from '../words/words';

/** A copy whose processors have ids of their own. */
function fresh(chain: ChainSettings): ChainSettings {
  return { ...chain, processors: chain.processors.map((p) => ({ ...p, id: crypto.randomUUID() })) };
}

/** What is done with a chain as a whole. */
export function ChainActions({ channel }: { channel: ChannelRecord }) {
  const { t } = useTranslation();
  const { desk, store } = useStudio();
  const sound = useDesk((now) => now.sound);
  const document = useDocument();
  const show = findRecord(document, 'show', channel.showId);
  const { edit } = useChannelEdit(channel);
  const [open, setOpen] = useState<'soundcheck' | 'match' | null>(null);
  const { chain } = channel;
  const comparing = sound.switches.compare === channel.id;
  const others = recordsOf(document, 'channel').filter((c) => c.id !== channel.id);
  const presets = recordsOf(document, 'chainPreset');
  const add = (type: (typeof PROCESSOR_TYPES)[number]) => {
    const processors = [...chain.processors];
    // A limiter stays last: it is what keeps the rest from clipping.
    const last =
      processors.at(-1)?.type === 'limiter' && type !== 'limiter' ? processors.length - 1 : processors.length;
    processors.splice(last, 0, newProcessor(type, crypto.randomUUID()));
    edit(`Add ${PROCESSOR_NAMES[type]}`, { chain: { ...chain, processors } });
  };
  const save = () =>
    store.edit(t('sound.keepTheChainOfName', { name: channel.name }), [
      {
        kind: 'chainPreset',
        id: crypto.randomUUID(),
        showId: channel.showId,
        name: `${channel.name} ${presets.length + 1}`,
        position: presets.length,
        chain,
      },
    ]);
  return (
    <>
      <Delay channelId={channel.id} />
      <span style={{ flex: 1 }} />
      <ActionMenu label={t('sound.addProcessor')} disabled={chain.processors.length >= MAX_PROCESSORS}>
        {(close) =>
          PROCESSOR_TYPES.map((type) => (
            <MenuItem
              key={type}
              onClick={() => {
                close();
                add(type);
              }}
            >
              {PROCESSOR_NAMES[type]}
            </MenuItem>
          ))
        }
      </ActionMenu>
      <ActionMenu label={t('sound.presets')}>
        {(close) => [
          ...SHIPPED_CHAINS.map(({ name, about, make }) => (
            <MenuItem
              key={name}
              onClick={() => {
                close();
                edit(t('sound.presetName', { name }), { chain: make(() => crypto.randomUUID()) });
              }}
            >
              <span>{name}</span>
              <span className="menu-words">{about}</span>
            </MenuItem>
          )),
          presets.length > 0 && <ListSubheader key="own">{t('sound.yourOwn')}</ListSubheader>,
          ...presets.map((preset) => (
            <MenuItem
              key={preset.id}
              onClick={() => {
                close();
                edit(t('sound.presetName', { name: preset.name }), { chain: fresh(preset.chain) });
              }}
            >
              {preset.name}
            </MenuItem>
          )),
          <MenuItem
            key="save"
            divider={false}
            onClick={() => {
              close();
              save();
            }}
          >
            {t('sound.keepThisChainAsA')}
          </MenuItem>,
          <ListSubheader key="copy">{t('sound.copyThisChainTo')}</ListSubheader>,
          ...others.map((other) => (
            <MenuItem
              key={other.id}
              onClick={() => {
                close();
                store.edit(t('sound.copyTheChainToName', { name: other.name }), [
                  { ...other, chain: fresh(chain) },
                ]);
              }}
            >
              {other.name}
            </MenuItem>
          )),
        ]}
      </ActionMenu>
      <button
        type="button"
        className="chip tall"
        aria-pressed={chain.bypassed}
        data-tone={chain.bypassed ? 'larch' : undefined}
        onClick={() =>
          edit(chain.bypassed ? t('sound.useTheChain') : t('sound.bypassTheChain'), {
            chain: { ...chain, bypassed: !chain.bypassed },
          })
        }
      >
        {chain.bypassed ? t('sound.bypassed') : t('sound.bypassAll')}
      </button>
      <button
        type="button"
        className="chip tall"
        aria-pressed={comparing}
        data-tone={comparing ? 'larch' : undefined}
        title={t('sound.hearItBeforeTheChain')}
        onClick={() => desk.sound.setSwitches({ compare: comparing ? null : channel.id })}
      >
        {comparing ? t('sound.hearingBefore') : t('sound.compare')}
      </button>
      <button type="button" className="chip tall" onClick={() => setOpen('match')}>
        {t('sound.match')}
      </button>
      <Button variant="outlined" size="small" onClick={() => setOpen('soundcheck')}>
        {t('sound.soundcheck')}
      </Button>
      {open === 'soundcheck' && show && (
        <SoundcheckDialog
          channel={channel}
          targetLufs={show.sound.targetLufs}
          onClose={() => setOpen(null)}
        />
      )}
      {open === 'match' && <MatchDialog channel={channel} onClose={() => setOpen(null)} />}
    </>
  );
}

/** The voice chain of the chosen channel. */
export function ChainPanel({ channel }: { channel: ChannelRecord }) {
  const { t } = useTranslation();
  const sound = useDesk((now) => now.sound);
  const { edit } = useChannelEdit(channel);
  const { chain } = channel;
  const comparing = sound.switches.compare === channel.id;
  return (
    <>
      {comparing && sound.switches.monitor.deviceId === null && (
        <p className="hint">{t('sound.switchTheHeadphonesOnTop')}</p>
      )}
      {sound.noiseProblem !== '' && chain.processors.some((p) => p.type === 'noise') && (
        <p className="hint" style={{ color: 'var(--rose)' }}>
          {sound.noiseProblem}
        </p>
      )}
      {chain.processors.length === 0 ? (
        <div className="empty">
          <p className="hint">{t('sound.nothingShapes', { name: channel.name })}</p>
          <Button
            variant="contained"
            onClick={() =>
              edit(t('sound.presetVoice'), { chain: SHIPPED_CHAINS[0].make(() => crypto.randomUUID()) })
            }
          >
            {t('sound.takeTheVoicePreset')}
          </Button>
        </div>
      ) : (
        <div className="chain">
          {chain.processors.map((processor, index) => (
            <ChainCard key={processor.id} channel={channel} processor={processor} index={index} />
          ))}
        </div>
      )}
    </>
  );
}

/** What the chain costs in time, and that it is made up for. */
function Delay({ channelId }: { channelId: string }) {
  const { late, missing } = useStrip(channelId, (reading) => ({
    late: (reading?.latencyFrames ?? 0) / 48,
    missing: (reading?.missingFrames ?? 0) / 48,
  }));
  return (
    <span
      className="figure quiet-chip"
      title={`All channels leave ${ALIGN_FRAMES / 48} ms after they came in, together with their pictures, whatever their chains take.`}
      style={missing > 0 ? { color: 'var(--rose)' } : undefined}
    >
      {missing > 0
        ? `${missing.toFixed(0)} ms too late: use fewer processors or a later offset`
        : `Latency ${late.toFixed(1)} ms (compensated)`}
    </span>
  );
}
