import { useState } from 'react';
import { findRecord, recordsOf } from '~/core/show/document';
import { AtHand } from '../air/at-hand';
import { Faders } from '../air/faders';
import { Health } from '../air/health';
import { NextPanel } from '../air/next-panel';
import { NotesLine } from '../air/notes-line';
import { PosesOnAir } from '../air/poses-on-air';
import { RundownColumn } from '../air/rundown-column';
import { ScenesColumn } from '../air/scenes-column';
import { QueueBar } from '../audience/alerts-panel';
import { EntryList } from '../audience/entry-list';
import { askAhead } from '../audience/entry-pages';
import { ReadOutBar } from '../audience/read-out-bar';
import { EffectButtons } from '../sound/effects-bank';
import { ChoiceRow } from '../studio/choice-row';
import { GuestsPanel } from '../guests/guests-panel';
import { HoldButtons } from '../studio/hold-buttons';
import { FramePair } from '../studio/frame-pair';
import { Panel } from '../studio/panel';
import { useBus, useDesk, useDocument } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

export { askAhead as clientLoader };

type Left = 'rundown' | 'scenes' | 'effects';

/** On air: what is on, what is next, and everything a hand wants in a hurry. */
export default function OnAir() {
  const document = useDocument();
  const { t } = useTranslation();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const covered = useBus((now) => now.relay?.session?.state === 'covered');
  const held = useDesk((now) => now.programme.held);
  const [left, setLeft] = useState<Left>(() =>
    recordsOf(document, 'rundown').length > 0 ? 'rundown' : 'scenes',
  );
  const [people, setPeople] = useState<'chat' | 'guests'>('chat');
  const seatsOn = useDesk((now) => now.programme.seatsOn);
  const waiting = useBus((now) => now.guests).filter(
    ({ here, seatId }) => here && (seatId === null || !seatsOn.includes(seatId)),
  ).length;
  return (
    <div className="air">
      <Panel label={t('air.left')}>
        <ChoiceRow
          label={t('air.left')}
          value={left}
          options={(['rundown', 'scenes', 'effects'] as const).map((value) => ({
            value,
            words: t(`air.${value}`),
          }))}
          onChange={setLeft}
        />
        <div className="air-left">
          {left === 'rundown' ? <RundownColumn /> : left === 'scenes' ? <ScenesColumn /> : <EffectButtons />}
        </div>
      </Panel>
      <div className="air-middle">
        <div className="air-pictures">
          <Panel
            label={t('air.onAir')}
            title={<span className="on-air-word">{covered ? t('air.covered') : t('air.onAir')}</span>}
            aside={
              <>
                <span className="quiet one-line">{findRecord(document, 'scene', onAirSceneId)?.name}</span>
                {held && <HoldButtons />}
              </>
            }
            style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)' }}
          >
            <div className="air-picture" data-covered={covered}>
              <FramePair
                subject={{ type: 'onAir' }}
                label={covered ? t('air.seenCovered') : t('air.seen')}
                edge={{ border: `2px solid ${covered ? 'transparent' : 'var(--ember)'}` }}
              />
            </div>
          </Panel>
          <NextPanel />
        </div>
        <NotesLine />
        <PosesOnAir />
        <AtHand />
        <Panel label={t('air.soundAndHealth')}>
          <div className="air-bottom">
            <Faders />
            <Health />
          </div>
        </Panel>
      </div>
      <Panel
        label={t('air.audience')}
        title={
          <ChoiceRow
            label={t('air.audience')}
            value={people}
            options={[
              { value: 'chat', words: t('guests.chat') },
              {
                value: 'guests',
                words:
                  waiting > 0 ? (
                    <>
                      {t('guests.title')} <span className="waiting-count">{waiting}</span>
                    </>
                  ) : (
                    t('guests.title')
                  ),
                title: waiting > 0 ? t('guests.waiting', { count: waiting }) : undefined,
              },
            ]}
            onChange={setPeople}
          />
        }
        style={{
          display: 'grid',
          gridTemplateRows: 'auto minmax(0, 1fr) auto auto',
          gap: 8,
          overflow: 'hidden',
        }}
      >
        {people === 'chat' ? (
          <>
            <EntryList dense />
            <ReadOutBar compact />
            <QueueBar compact />
          </>
        ) : (
          <GuestsPanel />
        )}
      </Panel>
    </div>
  );
}
