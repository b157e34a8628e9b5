import { withMinus } from '~/core/format/numbers';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import { findRecord, recordsOf } from '~/core/show/document';
import type { GoneTo } from '../palette/entries';
import { AddChannel } from '../sound/add-channel';
import { ChainActions, ChainPanel } from '../sound/chain-panel';
import { ChannelFields } from '../sound/channel-fields';
import { ChannelRow } from '../sound/channel-row';
import { EchoNotice } from '../sound/echo-notice';
import { EffectsBank } from '../sound/effects-bank';
import { KeepAboveButton } from '../sound/keep-above-button';
import { trackShare } from '../sound/meter-track';
import { MonitorControl } from '../sound/monitor-control';
import { BalanceChip, ProgrammePanel, ProgrammeRow } from '../sound/programme-panel';
import { SoundSwitches } from '../sound/sound-switches';
import { TenSecondTest } from '../sound/ten-second-test';
import { Panel } from '../studio/panel';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

const SCALE = [-60, -48, -36, -24, -12, 0] as const;
const VIEWS = [
  { id: 'chain', words: 'Voice chain' },
  { id: 'channel', words: 'Channel' },
  { id: 'effects', words: 'Effects' },
  { id: 'programme', words: 'Programme' },
] as const;
type View = (typeof VIEWS)[number]['id'];

export default function Sound() {
  const { t } = useTranslation();
  const document = useDocument();
  const { desk, showId } = useStudio();
  const channels = recordsOf(document, 'channel');
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [view, setView] = useState<View>('chain');
  // Found from elsewhere.
  const gone = useLocation().state as GoneTo | null;
  useEffect(() => {
    if (gone?.channelId) setChosenId(gone.channelId);
  }, [gone]);
  const [testing, setTesting] = useState(false);
  const chosen = channels.find((c) => c.id === chosenId) ?? channels[0];
  const focusId = chosen?.id ?? null;
  useEffect(() => {
    desk.sound.setFocus(focusId);
    return () => desk.sound.setFocus(null);
  }, [desk, focusId]);
  const show = findRecord(document, 'show', showId);
  return (
    <div className="sound-place">
      <Panel
        label={t('sound.channels')}
        title={t('sound.channels')}
        aside={
          <div className="sound-bar" style={{ margin: 0, justifyContent: 'flex-end' }}>
            <BalanceChip />
            <KeepAboveButton voices={channels.filter((c) => c.role === 'voice' && !c.muted)} />
            <button type="button" className="chip tall" onClick={() => setTesting(true)}>
              {t('sound.tenSecondTest')}
            </button>
            <SoundSwitches />
            <MonitorControl />
            <AddChannel onAdded={setChosenId} />
          </div>
        }
        style={{
          display: 'grid',
          gridTemplateRows: 'auto auto auto minmax(0, 1fr) auto',
          overflow: 'hidden',
        }}
      >
        <div>
          <SoundState />
          <EchoNotice />
        </div>
        <Scale />
        <div style={{ overflowY: 'auto', minHeight: 0 }}>
          {channels.length === 0 && (
            <p className="hint" style={{ padding: 8 }}>
              {t('sound.noChannelYetAddA')}
            </p>
          )}
          {channels.map((channel) => (
            <ChannelRow
              key={channel.id}
              channel={channel}
              chosen={channel.id === chosen?.id}
              onChoose={() => setChosenId(channel.id)}
            />
          ))}
        </div>
        <ProgrammeRow />
      </Panel>
      <Panel
        label={t('sound.chosenChannel')}
        style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', overflow: 'hidden' }}
      >
        <div className="sound-bar">
          <div role="tablist" aria-label={t('sound.whatIsShown')} style={{ display: 'flex' }}>
            {VIEWS.map(({ id, words }) => (
              <button
                key={id}
                type="button"
                role="tab"
                id={`tab-${id}`}
                aria-selected={view === id}
                aria-controls="sound-view"
                tabIndex={view === id ? 0 : -1}
                className="sound-tab"
                onClick={() => setView(id)}
                onKeyDown={(e) => {
                  const by = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
                  if (by === 0) return;
                  const at = VIEWS.findIndex((v) => v.id === id);
                  const next = VIEWS[(at + by + VIEWS.length) % VIEWS.length].id;
                  setView(next);
                  globalThis.document.getElementById(`tab-${next}`)?.focus();
                }}
              >
                {words}
              </button>
            ))}
          </div>
          {chosen && (view === 'chain' || view === 'channel') && (
            <span className="chosen-name" title={chosen.name}>
              {chosen.name}
            </span>
          )}
          {view === 'chain' && chosen && <ChainActions key={chosen.id} channel={chosen} />}
        </div>
        <div
          id="sound-view"
          role="tabpanel"
          aria-labelledby={`tab-${view}`}
          className="sound-view"
          data-view={view}
          key={view === 'chain' || view === 'channel' ? chosen?.id : view}
        >
          {view === 'chain' && chosen && <ChainPanel channel={chosen} />}
          {view === 'channel' && chosen && (
            <ChannelFields channel={chosen} onRemoved={() => setChosenId(null)} />
          )}
          {view === 'effects' && <EffectsBank showId={showId} />}
          {view === 'programme' && <ProgrammePanel showId={showId} />}
        </div>
      </Panel>
      {testing && show && (
        <TenSecondTest targetLufs={show.sound.targetLufs} onClose={() => setTesting(false)} />
      )}
    </div>
  );
}

function SoundState() {
  const { t } = useTranslation();
  const sound = useDesk((now) => now.sound);
  if (sound.state === 'running' || sound.state === 'starting') return null;
  return (
    <div role="status" className="notice">
      <span style={{ flex: 1 }}>
        {sound.state === 'failed' ? sound.message : t('sound.theBrowserLetsSoundStart')}
      </span>
      {sound.state === 'waiting' && <Button size="small">{t('sound.startSound')}</Button>}
    </div>
  );
}

function Scale() {
  const { t } = useTranslation();
  return (
    <div aria-hidden className="channel-row" style={{ minHeight: 16, color: 'var(--quiet)', fontSize: 11 }}>
      <span />
      <span className="figure" style={{ position: 'relative', height: 15 }}>
        {SCALE.map((db) => (
          <span
            key={db}
            style={{
              position: 'absolute',
              left: `${trackShare(db) * 100}%`,
              transform: db === -60 ? undefined : 'translateX(-50%)',
            }}
          >
            {withMinus(String(db))}
          </span>
        ))}
      </span>
      <span style={{ textAlign: 'right' }}>{t('sound.fader')}</span>
      <span style={{ textAlign: 'right' }}>{t('sound.lufs')}</span>
      <span style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>{t('sound.aVoiceBelongsInThe')}</span>
    </div>
  );
}
