import AddRounded from '@mui/icons-material/AddRounded';
import EastRounded from '@mui/icons-material/EastRounded';
import EditRounded from '@mui/icons-material/EditRounded';
import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { memo, useState } from 'react';
import { addPose, posesOf } from '~/core/show/poses';
import type { PoseRecord } from '~/core/show/records';
import { FramePair } from '../studio/frame-pair';
import { NumberField } from '../studio/number-field';
import { RenameField } from '../studio/rename-field';
import { SmallButton } from '../studio/small-button';
import { useDesk, useStudio } from '../studio/studio-context';
import { courseName, TimingFields } from '../studio/timing-fields';
import { Toggle } from '../studio/toggle';
import { PoseMenu } from './pose-menu';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** The arrangements of the scene as small live pictures, with the glides between them. */
export const PoseRow = memo(function PoseRow() {
  const { t } = useTranslation();
  const { store, say } = useStudio();
  const { document, scene, setPose, base } = useStage();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const onAirPoseId = useDesk((now) => now.onAirPoseId);
  const poses = posesOf(document, scene.id);
  const [renaming, setRenaming] = useState<string | null>(null);
  const onAir = scene.id === onAirSceneId;
  const onAirPose = onAir ? (poses.find((p) => p.id === onAirPoseId) ?? poses[0]) : undefined;
  const add = () => {
    // As the show stands now: the row may show it as it was a moment ago, before what was typed last.
    const records = addPose(store.document(), base(), scene.id, () => crypto.randomUUID());
    const made = records.at(-1);
    if (!made) return say(t('layout.aSceneHasRoomFor'));
    store.edit(t('layout.addPose'), records);
    setPose(made.id);
  };
  const button = (
    <Button startIcon={<AddRounded />} onClick={add} sx={{ flex: 'none' }}>
      {t('layout.addPose')}
    </Button>
  );
  if (poses.length === 0)
    return (
      <section aria-label={t('layout.poses')} className="pose-row" style={{ alignItems: 'center', gap: 10 }}>
        {button}
        <span style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
          {t('layout.anotherArrangementOfTheseLayers')}
        </span>
      </section>
    );
  return (
    <section aria-label={t('layout.poses')} className="pose-row">
      {poses.map((pose, i) => (
        <span key={pose.id} style={{ display: 'contents' }}>
          {i > 0 && <GlideButton pose={pose} />}
          <PoseTile
            pose={pose}
            index={i}
            onAir={pose.id === onAirPose?.id}
            renaming={renaming === pose.id}
            setRenaming={setRenaming}
          />
        </span>
      ))}
      <span style={{ display: 'grid', gap: 4, alignContent: 'center', flex: 'none' }}>
        {button}
        <SceneGlideButton />
      </span>
    </section>
  );
});

function PoseTile({
  pose,
  index,
  onAir,
  renaming,
  setRenaming,
}: {
  pose: PoseRecord;
  index: number;
  onAir: boolean;
  renaming: boolean;
  setRenaming: (id: string | null) => void;
}) {
  const { t } = useTranslation();
  const { control, desk } = useStudio();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const { scene, setPose, pose: edited, edit } = useStage();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const sceneOnAir = scene.id === onAirSceneId;
  const chosen = edited?.id === pose.id;
  const edge = onAir ? 'var(--ember)' : chosen ? 'var(--glacier)' : 'transparent';
  const what = sceneOnAir ? 'glide to it on air' : 'put it on the frames';
  return (
    <div className="pose-tile" style={{ boxShadow: `inset 0 -3px 0 ${edge}` }}>
      <button
        type="button"
        aria-label={`${pose.name}: ${what}${pose.key ? `, key ${pose.key.toUpperCase()}` : ''}`}
        aria-pressed={sceneOnAir ? onAir : chosen}
        title={
          sceneOnAir
            ? t('layout.pressToGlideToName', { name: pose.name })
            : t('layout.pressToSeeNameOn', { name: pose.name })
        }
        onClick={() => {
          if (sceneOnAir) control.pose(pose.id);
          else if (edited && !chosen)
            desk.tryOut({
              from: { sceneId: scene.id, poseId: edited.id },
              to: { sceneId: scene.id, poseId: pose.id },
              ...{ transition: null, onlyLayer: null },
            });
          setPose(pose.id);
        }}
      >
        <FramePair subject={{ type: 'scene', sceneId: scene.id, poseId: pose.id }} label="" gap={3} />
      </button>
      <div style={{ display: 'flex', alignItems: 'center', gap: 2, height: 26 }}>
        {renaming ? (
          <RenameField
            name={pose.name}
            label={t('layout.nameOfThePose')}
            onDone={(name) => {
              setRenaming(null);
              if (name) edit(t('layout.renamePose'), [{ ...pose, name }]);
            }}
          />
        ) : (
          <span className="pose-name" title={pose.name} onDoubleClick={() => setRenaming(pose.id)}>
            {pose.key && <kbd>{pose.key.toUpperCase()}</kbd>}
            {pose.name}
          </span>
        )}
        {onAir && <span style={{ color: 'var(--ember)', fontSize: 11 }}>{t('layout.onAir')}</span>}
        {sceneOnAir && !onAir && (
          <SmallButton
            label={t('layout.editNameOffAir', { name: pose.name })}
            title={t('layout.workOnItWithoutGliding')}
            pressed={chosen}
            onClick={() => setPose(pose.id)}
          >
            <EditRounded />
          </SmallButton>
        )}
        <SmallButton
          label={t('layout.moreForName', { name: pose.name })}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <MoreVertRounded />
        </SmallButton>
      </div>
      <PoseMenu
        pose={pose}
        index={index}
        onAir={onAir}
        anchor={anchor}
        onClose={() => setAnchor(null)}
        onRename={() => setRenaming(pose.id)}
      />
    </div>
  );
}

/** The arrow into a pose: how long the glide takes, and a press to change it. */
function GlideButton({ pose }: { pose: PoseRecord }) {
  const { t } = useTranslation();
  const { scene, edit } = useStage();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { seconds, easing } = pose.glide ?? scene.glide;
  return (
    <>
      <button
        type="button"
        className="glide-arrow"
        aria-label={`Glide into ${pose.name}: ${Math.round(seconds * 1000)} milliseconds, ${courseName(easing)}`}
        title={t('layout.glideIntoName', { name: pose.name })}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <EastRounded fontSize="small" />
        <span className="figure">{`${Number(seconds.toFixed(2))} s`}</span>
      </button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div
          role="group"
          aria-label={t('layout.glideIntoName', { name: pose.name })}
          style={{ padding: 12, width: 290 }}
        >
          <Toggle
            label={t('layout.customTimingForName', { name: pose.name })}
            on={pose.glide !== null}
            onChange={(own) =>
              edit(t('layout.glide'), [{ ...pose, glide: own ? { seconds, easing } : null }])
            }
          />
          {pose.glide ? (
            <TimingFields
              timing={pose.glide}
              onChange={(glide) => edit(t('layout.glide'), [{ ...pose, glide }])}
            />
          ) : (
            <p style={{ color: 'var(--quiet)', margin: '4px 0', fontSize: 12.5 }}>
              {`As every glide of ${scene.name}: ${Math.round(seconds * 1000)} ms, ${courseName(easing)}.`}
            </p>
          )}
        </div>
      </Popover>
    </>
  );
}

function SceneGlideButton() {
  const { t } = useTranslation();
  const { edit, scene } = useStage();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { glide } = scene;
  return (
    <>
      <Button
        onClick={(e) => setAnchor(e.currentTarget)}
        title={t('layout.howNameGlides', { name: scene.name })}
      >
        {t('layout.glides')}
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div
          role="group"
          aria-label={t('layout.glidesOfName', { name: scene.name })}
          style={{ padding: 12, width: 290, display: 'grid', gap: 6 }}
        >
          <TimingFields
            timing={glide}
            onChange={(timing) =>
              edit(t('layout.glidesOfName', { name: scene.name }), [
                { ...scene, glide: { ...glide, ...timing } },
              ])
            }
          />
          <NumberField
            label={t('layout.eachLayerLaterThanThe')}
            unit="ms"
            value={glide.staggerSeconds * 1000}
            min={0}
            max={2000}
            step={10}
            onCommit={(ms) =>
              edit(t('layout.glidesOfName', { name: scene.name }), [
                { ...scene, glide: { ...glide, staggerSeconds: ms / 1000 } },
              ])
            }
          />
        </div>
      </Popover>
    </>
  );
}
