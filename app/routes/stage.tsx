import Button from '@mui/material/Button';
import { memo, useCallback, useDeferredValue, useEffect, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import { findRecord, recordsOf } from '~/core/show/document';
import { poseIn } from '~/core/show/poses';
import type { FrameName } from '~/core/show/records';
import { usedFrames } from '~/core/show/stage-edits';
import type { GoneTo } from '../palette/entries';
import { AddLayer } from '../stage/add-layer';
import { ArrangeMenu } from '../stage/arrange-menu';
import { FrameBoard } from '../stage/frame-board';
import { FrameSizes } from '../stage/frame-sizes';
import { HistoryButtons } from '../stage/history-list';
import { InputList } from '../stage/input-list';
import { Inspector } from '../stage/inspector';
import { LayerList } from '../stage/layer-list';
import { OpeningButton } from '../stage/opening-button';
import { PoseRow } from '../stage/pose-row';
import { ProposeButton } from '../stage/propose-button';
import { SceneStrip } from '../stage/scene-strip';
import { nameOfFrame } from '../stage/stage-commands';
import { StageContext, StageProvider, useStage } from '../stage/stage-context';
import { TransitionChoice } from '../stage/transition-choice';
import { useStageClipboard } from '../stage/use-stage-clipboard';
import { ChoiceRow } from '../studio/choice-row';
import { HoldButtons } from '../studio/hold-buttons';
import { Panel } from '../studio/panel';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

export default function Stage() {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const document = useDocument();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const onAirPoseId = useDesk((now) => now.onAirPoseId);
  const [poses, setPoses] = useState<Record<string, string>>({});
  const [editId, setEditId] = useState<string | null>(onAirSceneId);
  const scene =
    findRecord(document, 'scene', editId) ??
    findRecord(document, 'scene', onAirSceneId) ??
    recordsOf(document, 'scene')[0];
  const sceneId = scene?.id ?? null;
  // Found from elsewhere.
  const gone = useLocation().state as GoneTo | null;
  useEffect(() => {
    if (gone?.sceneId) setEditId(gone.sceneId);
  }, [gone]);
  // What glides on air is followed; a pose chosen for editing holds until then.
  useEffect(() => {
    if (onAirSceneId && onAirPoseId) setPoses((before) => ({ ...before, [onAirSceneId]: onAirPoseId }));
  }, [onAirSceneId, onAirPoseId]);
  const poseId = sceneId === null ? null : (poseIn(document, sceneId, poses[sceneId] ?? null)?.id ?? null);
  useEffect(() => {
    if (sceneId) desk.edit({ sceneId, poseId });
  }, [desk, sceneId, poseId]);
  const setPose = useCallback(
    (id: string) => sceneId && setPoses((before) => ({ ...before, [sceneId]: id })),
    [sceneId],
  );
  if (!scene) return <p>{t('layout.thisShowHasNoScene')}</p>;
  return (
    <StageProvider sceneId={scene.id} poseId={poseId} setPose={setPose}>
      <Found gone={gone} />
      <StageLayout onEdit={setEditId} onAir={scene.id === onAirSceneId} />
    </StageProvider>
  );
}

/** Chooses what was found from elsewhere. */
function Found({ gone }: { gone: GoneTo | null }) {
  const stage = useStage();
  const latest = useRef(stage);
  latest.current = stage;
  // Once for each time it is gone to.
  useEffect(() => {
    const { select, setPanel, setInputId } = latest.current;
    if (gone?.layerId) select([gone.layerId]);
    if (!gone?.inputId) return;
    setPanel('inputs');
    setInputId(gone.inputId);
  }, [gone]);
  return null;
}

/**
 * The frames follow every edit and every step of a drag at once; the lists, fields and buttons around them follow when
 * there is time, in small pieces, so that no edit holds up the pointer.
 */
function StageLayout({ onEdit, onAir }: { onEdit: (id: string) => void; onAir: boolean }) {
  const { t } = useTranslation();
  const now = useStage();
  const calm = useDeferredValue(now);
  const clipboard = useStageClipboard();
  return (
    <div
      {...clipboard}
      data-testid="stage"
      // Lists and fields still show what was.
      aria-busy={calm !== now}
      style={{ display: 'grid', gridTemplateColumns: '196px minmax(0, 1fr) 300px', gap: 12, height: '100%' }}
    >
      <StageContext value={calm}>
        <Strip onEdit={onEdit} />
      </StageContext>
      <section
        aria-label={t('layout.frames')}
        style={{
          display: 'grid',
          // In a narrow window the bars take a second line rather than cut a button.
          gridTemplateRows: 'minmax(36px, auto) minmax(0, 1fr) auto minmax(48px, auto)',
          gap: 8,
          minWidth: 0,
          minHeight: 0,
        }}
      >
        <StageContext value={calm}>
          <Header onAir={onAir} />
        </StageContext>
        <FrameBoard />
        <StageContext value={calm}>
          <div className="pose-line">
            <PoseRow />
            {onAir && (
              <span>
                <HoldButtons />
              </span>
            )}
          </div>
          <BottomBar />
        </StageContext>
      </section>
      <StageContext value={calm}>
        <Side />
      </StageContext>
    </div>
  );
}

const Strip = memo(SceneStrip);

const Header = memo(function Header({ onAir }: { onAir: boolean }) {
  const { t } = useTranslation();
  const { scene } = useStage();
  return (
    <div style={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 6, minWidth: 0 }}>
      <h2
        title={scene.name}
        style={{
          font: '700 18px "Bricolage Grotesque Variable"',
          margin: '0 2px 0 0',
          minWidth: 40,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
        }}
      >
        {scene.name}
      </h2>
      <span
        style={{
          color: onAir ? 'var(--ember)' : 'var(--quiet)',
          fontSize: 12.5,
          whiteSpace: 'nowrap',
          marginRight: 4,
        }}
      >
        {onAir ? t('layout.onAir') : t('layout.offAir')}
      </span>
      <AddLayer />
      <ArrangeMenu />
      <OpeningButton />
      <ProposeButton key={scene.id} />
      <span style={{ flex: 1 }} />
      <HistoryButtons />
    </div>
  );
});

const Side = memo(function Side() {
  const { t } = useTranslation();
  const { panel, setPanel } = useStage();
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateRows: 'minmax(120px, 1fr) minmax(0, 1.2fr)',
        gap: 12,
        minHeight: 0,
      }}
    >
      <Panel label={panel === 'layers' ? t('layout.layers') : t('layout.inputs')}>
        <div style={{ marginBottom: 8 }}>
          <ChoiceRow
            label={t('layout.list')}
            options={[
              { value: 'layers', words: t('layout.layersTopFirst') },
              { value: 'inputs', words: t('layout.inputsOfTheShow') },
            ]}
            value={panel}
            onChange={setPanel}
            height={28}
          />
        </div>
        {panel === 'layers' ? <LayerList /> : <InputList />}
      </Panel>
      <Inspector />
    </div>
  );
});

/** How the scene comes on air, and how the frames are looked at. */
const BottomBar = memo(function BottomBar() {
  const { t } = useTranslation();
  const { document, shown, setShown, parts, setPart, safeAreas, setSafeAreas } = useStage();
  const used = usedFrames(document);
  const magnified = used.filter((frame) => parts[frame]);
  return (
    <div
      style={{
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 8,
        background: 'var(--surface)',
        borderRadius: 10,
        padding: '4px 10px',
        minWidth: 0,
      }}
    >
      <TransitionChoice />
      <span style={{ flex: 1 }} />
      {magnified.map((frame) => (
        <Button key={frame} title={t('layout.key0ZoomWithCtrl')} onClick={() => setPart(frame, null)}>
          {`Whole ${nameOfFrame(frame)}`}
        </Button>
      ))}
      <Button
        aria-pressed={safeAreas}
        title={t('layout.safeAreasForActionAnd')}
        onClick={() => setSafeAreas(!safeAreas)}
        sx={{
          color: safeAreas ? 'var(--glacier)' : undefined,
          boxShadow: safeAreas ? 'inset 0 0 0 1px var(--glacier)' : undefined,
        }}
      >
        {t('layout.safeAreas')}
      </Button>
      {used.length > 1 && (
        <ChoiceRow<'both' | FrameName>
          label={t('layout.framesShown')}
          options={[
            { value: 'both', words: t('layout.both') },
            { value: 'wide', words: t('layout.wide') },
            { value: 'tall', words: t('layout.tall') },
          ]}
          value={shown}
          onChange={setShown}
        />
      )}
      <FrameSizes />
    </div>
  );
});
