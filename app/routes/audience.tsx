import { useDeferredValue, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { layersOfScene } from '~/core/show/layers';
import { posed } from '~/core/show/poses';
import { AlertsPanel } from '../audience/alerts-panel';
import { EntryList } from '../audience/entry-list';
import { askAhead } from '../audience/entry-pages';
import { FiltersPanel } from '../audience/filters-panel';
import { GoalsPanel } from '../audience/goals-panel';
import { ReadOutBar } from '../audience/read-out-bar';
import { SourcesPanel } from '../audience/sources-panel';
import { ChoiceRow } from '../studio/choice-row';
import { FramePair } from '../studio/frame-pair';
import { Panel } from '../studio/panel';
import { useDesk, useDocument } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

const PARTS = [
  { value: 'alerts', words: 'Alerts' },
  { value: 'goals', words: 'Goals' },
  { value: 'filters', words: 'Filters' },
  { value: 'sources', words: 'Sources' },
] as const;

export { askAhead as clientLoader };

export default function Audience() {
  const { t } = useTranslation();
  const document = useDocument();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const onAirPoseId = useDesk((now) => now.onAirPoseId);
  const [part, setPart] = useState<(typeof PARTS)[number]['value']>('alerts');
  // The list first: what is set once can come a moment later.
  const listed = useDeferredValue(true, false);
  const layers = onAirSceneId
    ? layersOfScene(posed(document, onAirSceneId, onAirPoseId), onAirSceneId).filter((l) => l.visible)
    : [];
  const has = (test: (content: (typeof layers)[number]['content']) => boolean) =>
    layers.some((l) => test(l.content));
  const missing = [
    has((c) => c.type === 'chatPanel') ? null : 'no chat panel',
    has((c) => c.type === 'alert') ? null : 'no place for alerts: they wait',
    has((c) => c.type === 'widget' && c.widget.of === 'readOut') ? null : 'no read-out',
  ].filter((words) => words !== null);
  const scene = recordsOf(document, 'scene').find((s) => s.id === onAirSceneId);
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.3fr)',
        gap: 12,
        height: '100%',
      }}
    >
      <Panel
        label={t('audience.chatAndEvents')}
        style={{ display: 'grid', gridTemplateRows: 'minmax(0, 1fr)', overflow: 'hidden' }}
      >
        <EntryList />
      </Panel>
      <div style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 12, minHeight: 0 }}>
        <Panel label={t('audience.onThePicture')}>
          <div style={{ height: '27vh', display: 'grid', placeItems: 'center' }}>
            <FramePair subject={{ type: 'onAir' }} label={t('audience.whatViewersSee')} />
          </div>
          <p style={{ color: 'var(--quiet)', margin: '6px 0', fontSize: 12.5 }}>
            {missing.length > 0
              ? t('audience.sceneWithout', {
                  scene: scene?.name ?? t('audience.nothing'),
                  missing: missing.join(', '),
                })
              : t('audience.sceneWithAll', { scene: scene?.name ?? t('audience.nothing') })}
          </p>
          <ReadOutBar />
        </Panel>
        <Panel
          label={t('audience.audienceGraphics')}
          style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 10, overflow: 'hidden' }}
        >
          <ChoiceRow label={t('audience.partOfAudience')} options={PARTS} value={part} onChange={setPart} />
          <div style={{ minHeight: 0 }}>
            {listed && part === 'alerts' && <AlertsPanel />}
            {listed && part === 'goals' && <GoalsPanel />}
            {listed && part === 'filters' && <FiltersPanel />}
            {listed && part === 'sources' && <SourcesPanel />}
          </div>
        </Panel>
      </div>
    </div>
  );
}
