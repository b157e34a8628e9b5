import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import EditRounded from '@mui/icons-material/EditRounded';
import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import Divider from '@mui/material/Divider';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { memo, useState } from 'react';
import { rebased } from '~/core/show/document';
import { SCENE_MARKS, type AnyRecord, type SceneMark, type SceneRecord } from '~/core/show/records';
import { duplicateScene, freeName } from '~/core/show/stage-edits';
import { FramePair } from '../studio/frame-pair';
import { RenameField } from '../studio/rename-field';
import { SmallButton } from '../studio/small-button';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** A mark is told by its shape as well as its colour. */
const MARKS: Record<SceneMark, { words: string; shape: string; colour: string }> = {
  none: { words: 'No mark', shape: '', colour: 'transparent' },
  glacier: { words: 'Glacier mark', shape: '■', colour: 'var(--glacier)' },
  larch: { words: 'Larch mark', shape: '▲', colour: 'var(--larch)' },
  moss: { words: 'Moss mark', shape: '●', colour: 'var(--moss)' },
  rose: { words: 'Rose mark', shape: '◆', colour: 'var(--rose)' },
  slate: { words: 'Slate mark', shape: '✚', colour: 'var(--quiet)' },
};

interface CardProps {
  scene: SceneRecord;
  folders: readonly string[];
  number: number;
  onAir: boolean;
  edited: boolean;
  renaming: boolean;
  only: boolean;
  setRenaming: (id: string | null) => void;
  onEdit: (sceneId: string) => void;
}

/**
 * One scene: both frames live, its name, and what can be done with it. Drawn anew only when something about this scene
 * changes, since there may be many and edits are frequent.
 */
export const SceneCard = memo(function SceneCard({
  scene,
  folders,
  number,
  onAir,
  edited,
  renaming,
  only,
  setRenaming,
  onEdit,
}: CardProps) {
  const { t } = useTranslation();
  const { store, control, say } = useStudio();
  const edit = (name: string, put: AnyRecord[], removed: string[] = []) =>
    store.edit(name, rebased(put, new Map([[scene.id, scene]]), store.document()), removed);
  const onTake = () => {
    control.scene(scene.id);
    onEdit(scene.id);
  };
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  // The menu holds the focus until it is gone: only then can the name take it.
  const [renameNext, setRenameNext] = useState(false);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: scene.id,
  });
  const edge = onAir ? 'var(--ember)' : edited ? 'var(--glacier)' : 'transparent';
  const mark = MARKS[scene.mark];
  const close = () => setAnchor(null);
  const remove = () => {
    close();
    if (onAir) return say(t('layout.thisSceneIsOnAir'));
    edit(t('layout.deleteScene'), [], [scene.id]);
  };
  const moveTo = (folder: string) => {
    close();
    edit(t('layout.moveNameToFolder', { name: scene.name, folder }), [{ ...scene, folder }]);
  };
  return (
    <div
      ref={setNodeRef}
      style={{
        transform: CSS.Transform.toString(transform),
        transition,
        position: 'relative',
        zIndex: isDragging ? 1 : undefined,
        borderLeft: `3px solid ${edge}`,
        borderRadius: 8,
        padding: '3px 3px 2px 6px',
        marginBottom: 4,
        background: onAir ? 'color-mix(in srgb, var(--ember) 7%, var(--surface))' : 'var(--surface)',
      }}
    >
      <button
        type="button"
        {...listeners}
        {...attributes}
        onClick={onTake}
        onKeyDown={(e) => {
          // Enter takes the scene; the space bar takes it up to be moved.
          if (e.key !== 'Enter') listeners?.onKeyDown?.(e);
        }}
        aria-label={`${scene.name}: bring on air${number <= 9 ? `, Shift+${number}` : ''}`}
        aria-pressed={onAir}
        title={t('layout.pressToBringNameOn', { name: scene.name })}
        style={{
          display: 'block',
          width: '100%',
          padding: 0,
          border: 0,
          borderRadius: 5,
          overflow: 'hidden',
          cursor: 'pointer',
          background: 'none',
          touchAction: 'manipulation',
        }}
      >
        <FramePair subject={{ type: 'scene', sceneId: scene.id, poseId: null }} label="" gap={4} />
      </button>
      <div style={{ display: 'flex', alignItems: 'center', height: 28, gap: 2 }}>
        {renaming ? (
          <RenameField
            name={scene.name}
            label={t('layout.nameOfTheScene')}
            onDone={(name) => {
              setRenaming(null);
              if (name) edit(t('layout.renameScene'), [{ ...scene, name }]);
            }}
          />
        ) : (
          <span
            title={scene.name}
            onDoubleClick={() => setRenaming(scene.id)}
            style={{
              flex: 1,
              minWidth: 0,
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
              fontSize: 13,
            }}
          >
            {scene.mark !== 'none' && (
              <span
                role="img"
                aria-label={mark.words}
                style={{ color: mark.colour, marginRight: 5, fontSize: 11 }}
              >
                {mark.shape}
              </span>
            )}
            {scene.name}
          </span>
        )}
        {onAir ? (
          <span style={{ color: 'var(--ember)', fontSize: 11.5, whiteSpace: 'nowrap' }}>
            {t('layout.onAir')}
          </span>
        ) : (
          <SmallButton
            label={t('layout.editNameOffAir', { name: scene.name })}
            title={t('layout.workOnItWithoutBringing')}
            pressed={edited}
            onClick={() => onEdit(scene.id)}
          >
            <EditRounded />
          </SmallButton>
        )}
        <SmallButton
          label={t('layout.moreForName', { name: scene.name })}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <MoreVertRounded />
        </SmallButton>
      </div>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={close}
        disableRestoreFocus
        slotProps={{
          transition: {
            onExited: () => {
              if (renameNext) setRenaming(scene.id);
              setRenameNext(false);
            },
          },
        }}
      >
        <MenuItem
          onClick={() => {
            close();
            setRenameNext(true);
          }}
        >
          {t('layout.rename')}
        </MenuItem>
        <MenuItem
          onClick={() => {
            close();
            edit(
              t('layout.duplicateScene'),
              duplicateScene(store.document(), scene, () => crypto.randomUUID()),
            );
          }}
        >
          {t('layout.duplicate')}
        </MenuItem>
        <MenuItem disabled={only} onClick={remove}>
          {t('layout.delete')}
        </MenuItem>
        <Divider />
        <ListSubheader sx={{ lineHeight: '28px' }}>{t('layout.folder')}</ListSubheader>
        {folders
          .filter((f) => f !== scene.folder)
          .map((folder) => (
            <MenuItem key={folder} onClick={() => moveTo(folder)}>
              {`To ${folder || 'Scenes'}`}
            </MenuItem>
          ))}
        <MenuItem onClick={() => moveTo(freeName(folders, 'New folder'))}>
          {t('layout.toANewFolder')}
        </MenuItem>
        <Divider />
        <div role="group" aria-label={t('layout.mark')} style={{ display: 'flex', padding: '2px 12px' }}>
          {SCENE_MARKS.map((m) => (
            <SmallButton
              key={m}
              label={MARKS[m].words}
              pressed={scene.mark === m}
              onClick={() => {
                close();
                edit(t('layout.markName', { name: scene.name }), [{ ...scene, mark: m }]);
              }}
            >
              <span
                style={{ color: m === 'none' ? 'var(--quiet)' : MARKS[m].colour, fontSize: 14, width: 18 }}
              >
                {m === 'none' ? '–' : MARKS[m].shape}
              </span>
            </SmallButton>
          ))}
        </div>
      </Menu>
    </div>
  );
});
