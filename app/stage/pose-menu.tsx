import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { proposePlacements } from '~/core/scene/propose';
import { proposedLayers } from '~/core/scene/roles';
import { layersOfScene } from '~/core/show/layers';
import { placed } from '~/core/show/placing';
import {
  duplicatePose,
  intoPose,
  movedPose,
  posed,
  posesOf,
  updatedPose,
  withKey,
  withoutPose,
} from '~/core/show/poses';
import type { FrameName, PoseRecord } from '~/core/show/records';
import { frameOf, usedFrames } from '~/core/show/stage-edits';
import { useStudio } from '../studio/studio-context';
import { nameOfFrame } from './stage-commands';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

const KEYS = ['', ...'123456789'];

/** What can be done with a pose. */
export function PoseMenu({
  pose,
  index,
  onAir,
  anchor,
  onClose,
  onRename,
}: {
  pose: PoseRecord;
  index: number;
  onAir: boolean;
  anchor: HTMLElement | null;
  onClose: () => void;
  onRename: () => void;
}) {
  const { t } = useTranslation();
  const { store, say } = useStudio();
  const { document, scene, pose: edited, setPose, inputSize, base } = useStage();
  // The menu holds the focus until it is gone: only then can the name take it.
  const [renameNext, setRenameNext] = useState(false);
  const poses = posesOf(document, scene.id);
  const frames = usedFrames(document);
  const now = () => posesOf(store.document(), scene.id).find((p) => p.id === pose.id) ?? pose;
  const step = (run: () => void) => () => {
    onClose();
    run();
  };
  const applyTo = (to: FrameName) => {
    const from: FrameName = to === 'wide' ? 'tall' : 'wide';
    const show = store.document();
    const view = posed(show, scene.id, pose.id);
    const layers = layersOfScene(view, scene.id).filter((l) => l.visible);
    const placements = proposePlacements(
      proposedLayers(view, layers, from, inputSize),
      frameOf(view, from),
      frameOf(view, to),
    );
    store.edit(
      `${pose.name}: ${nameOfFrame(from)} to ${nameOfFrame(to)}`,
      intoPose(show, scene.id, pose.id, placed(view, scene.id, to, placements)),
    );
  };
  const remove = () => {
    if (onAir && poses.length > 1) return say(t('layout.nameIsOnAirGlide', { name: pose.name }));
    store.edit(t('layout.deleteName', { name: pose.name }), withoutPose(store.document(), now()), [pose.id]);
  };
  return (
    <Menu
      open={anchor !== null}
      anchorEl={anchor}
      onClose={onClose}
      disableRestoreFocus
      slotProps={{
        transition: {
          onExited: () => {
            if (renameNext) onRename();
            setRenameNext(false);
          },
        },
      }}
    >
      <MenuItem onClick={step(() => setRenameNext(true))}>{t('layout.rename')}</MenuItem>
      <MenuItem
        onClick={step(() => {
          const records = duplicatePose(store.document(), now(), () => crypto.randomUUID());
          if (records.length === 0) return say(t('layout.aSceneHasRoomFor'));
          store.edit(t('layout.duplicateName', { name: pose.name }), records);
          const copy = records.find((r) => !poses.some((p) => p.id === r.id));
          if (copy) setPose(copy.id);
        })}
      >
        {t('layout.duplicate')}
      </MenuItem>
      <MenuItem
        disabled={edited?.id === pose.id}
        title={t('layout.thePoseStandsFromThen')}
        onClick={step(() =>
          store.edit(t('layout.updateName', { name: pose.name }), [updatedPose(now(), base())]),
        )}
      >
        {edited && edited.id !== pose.id
          ? t('layout.updateFromTheFramesName', { name: edited.name })
          : t('layout.updateFromTheFrames')}
      </MenuItem>
      {frames.length > 1 &&
        frames.map((to) => (
          <MenuItem key={to} onClick={step(() => applyTo(to))}>
            {`Arrange ${nameOfFrame(to)} after ${nameOfFrame(to === 'wide' ? 'tall' : 'wide')}`}
          </MenuItem>
        ))}
      <MenuItem
        disabled={index === 0}
        onClick={step(() =>
          store.edit(
            t('layout.movePose'),
            movedPose(posesOf(store.document(), scene.id), pose.id, index - 1),
          ),
        )}
      >
        {t('layout.moveLeft')}
      </MenuItem>
      <MenuItem
        disabled={index === poses.length - 1}
        onClick={step(() =>
          store.edit(
            t('layout.movePose'),
            movedPose(posesOf(store.document(), scene.id), pose.id, index + 1),
          ),
        )}
      >
        {t('layout.moveRight')}
      </MenuItem>
      <MenuItem onClick={step(remove)}>{t('layout.delete')}</MenuItem>
      <Divider />
      <li role="none" style={{ padding: '4px 16px', display: 'flex', gap: 8, alignItems: 'center' }}>
        <label className="labelled-select" style={{ flex: 1 }}>
          <span>{t('layout.key')}</span>
          <select
            className="plain-select"
            value={pose.key}
            onKeyDown={(e) => e.stopPropagation()}
            onChange={(e) =>
              store.edit(
                t('layout.keyOfName', { name: pose.name }),
                withKey(store.document(), now(), e.target.value),
              )
            }
          >
            {KEYS.map((key) => (
              <option key={key} value={key}>
                {key || 'none'}
              </option>
            ))}
          </select>
        </label>
      </li>
    </Menu>
  );
}
