import Button from '@mui/material/Button';
import { useCallback, useDeferredValue, useState } from 'react';
import { rundownInUse } from '~/core/rundown/rundown';
import { fromScenes, newRundown } from '~/core/rundown/rundown-edits';
import { applyEdit, findRecord } from '~/core/show/document';
import type { RundownRecord } from '~/core/show/rundown-records';
import { BeforeRun } from '../plan/before-run';
import { CuesPanel } from '../plan/cues-panel';
import { PadsPanel } from '../plan/pads-panel';
import { PastList } from '../plan/past-list';
import { PollsPanel } from '../plan/polls-panel';
import { RequestsPanel } from '../plan/requests-panel';
import { RundownBar } from '../plan/rundown-bar';
import { RundownList } from '../plan/rundown-list';
import { SegmentFields } from '../plan/segment-fields';
import { TitlesPanel } from '../plan/titles-panel';
import { useTimes } from '../plan/use-times';
import { ChoiceRow } from '../studio/choice-row';
import { Panel } from '../studio/panel';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

const TABS = ['segment', 'titles', 'polls', 'cues', 'pads', 'past'] as const;
type Tab = (typeof TABS)[number];
const newId = () => crypto.randomUUID();

/** Plan: the running order of the evening, and what belongs to it. */
export default function Plan() {
  const document = useDocument();
  const programme = useDesk((now) => now.programme);
  const { t } = useTranslation();
  const [rundownId, setRundownId] = useState<string | null>(null);
  const [chosenId, setChosenId] = useState<string | null>(programme.rundown?.segmentId ?? null);
  const [tab, setTab] = useState<Tab>('segment');
  const rundown = findRecord(document, 'rundown', rundownId) ?? rundownInUse(document, programme);
  const segment = findRecord(document, 'segment', chosenId);
  const choose = useCallback((id: string | null) => {
    setChosenId(id);
    if (id) setTab('segment');
  }, []);
  const chooseRundown = useCallback((id: string) => {
    setRundownId(id);
    setChosenId(null);
  }, []);
  return (
    <div className="plan">
      <Panel label={t('plan.rundown')}>
        {rundown ? (
          <TimedRundown
            rundown={rundown}
            chosenId={segment?.rundownId === rundown.id ? chosenId : null}
            onChoose={choose}
            onRundown={chooseRundown}
          />
        ) : (
          <StartRundown />
        )}
      </Panel>
      <div className="plan-side">
        <Panel label={t('plan.inspector')}>
          <ChoiceRow
            label={t('plan.inspector')}
            value={tab}
            options={TABS.map((value) => ({ value, words: t(`plan.tabs.${value}`) }))}
            onChange={setTab}
          />
          <div className="plan-tab">
            {tab === 'titles' ? (
              <TitlesPanel />
            ) : tab === 'polls' ? (
              <PollsPanel />
            ) : tab === 'cues' ? (
              <>
                <CuesPanel />
                <RequestsPanel />
              </>
            ) : tab === 'past' ? (
              <PastList />
            ) : tab === 'pads' ? (
              <PadsPanel />
            ) : segment ? (
              <SegmentFields key={segment.id} segment={segment} />
            ) : (
              <p className="hint">{t('plan.choose')}</p>
            )}
          </div>
        </Panel>
        {rundown && (
          <Panel>
            <BeforeRun rundown={rundown} onChoose={choose} />
          </Panel>
        )}
      </div>
    </div>
  );
}

function TimedRundown(props: {
  rundown: RundownRecord;
  chosenId: string | null;
  onChoose: (id: string | null) => void;
  onRundown: (id: string) => void;
}) {
  // A long list follows an edit in small pieces, so that it does not hold up the hand.
  const times = useDeferredValue(useTimes(props.rundown));
  if (!times) return null;
  return (
    <>
      <RundownBar {...props} times={times} />
      <RundownList {...props} times={times} />
    </>
  );
}

/** What belongs here, and the first step. */
function StartRundown() {
  const { store, showId } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const start = (scenes: boolean) => {
    const rundown = newRundown(document, showId, t('plan.firstName'), newId);
    const withIt = applyEdit(document, { id: 'new', name: '', put: [rundown], removed: [] }).document;
    store.edit('Start a rundown', [rundown, ...(scenes ? fromScenes(withIt, rundown, newId) : [])]);
  };
  return (
    <div className="plan-empty">
      <p>{t('plan.empty')}</p>
      <div className="plan-head">
        <Button variant="contained" color="primary" onClick={() => start(true)}>
          {t('plan.fromScenes')}
        </Button>
        <Button onClick={() => start(false)}>{t('plan.start')}</Button>
      </div>
    </div>
  );
}
