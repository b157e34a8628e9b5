import AddRounded from '@mui/icons-material/AddRounded';
import EditRounded from '@mui/icons-material/EditRounded';
import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import type { SceneRecord } from '~/core/show/records';
import { LiveView } from '../studio/live-view';
import { Panel } from '../studio/panel';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { duplicateScene } from './layer-edits';

/** The scenes as live pictures, in their folders. A press on a picture brings it on air. */
export function SceneStrip({ editId, onEdit }: { editId: string | null; onEdit: (sceneId: string) => void }) {
  const { store, showId, take } = useStudio();
  const document = useDocument();
  const { onAirSceneId } = useDesk();
  const scenes = recordsOf(document, 'scene');
  const folders = [...new Set(scenes.map((s) => s.folder))];
  const [renaming, setRenaming] = useState<string | null>(null);

  const add = () => {
    const id = crypto.randomUUID();
    const last = scenes.at(-1);
    store.edit('Add scene', [
      {
        kind: 'scene',
        id,
        showId,
        name: 'New scene',
        position: (last?.position ?? -1) + 1,
        folder: last?.folder ?? '',
        transition: { type: 'fade', seconds: 0.5 },
        background: '#14181D',
      },
    ]);
    onEdit(id);
    setRenaming(id);
  };

  return (
    <Panel
      label="Scenes"
      title="Scenes"
      aside={
        <Button
          onClick={add}
          startIcon={<AddRounded />}
          sx={{ color: 'var(--glacier)', bgcolor: 'transparent' }}
        >
          Add
        </Button>
      }
    >
      {folders.map((folder) => (
        <div key={folder}>
          <div style={{ color: 'var(--quiet)', fontSize: 12, margin: '4px 0 6px' }}>{folder || 'Scenes'}</div>
          {scenes
            .filter((s) => s.folder === folder)
            .map((scene) => (
              <SceneCard
                key={scene.id}
                scene={scene}
                number={scenes.indexOf(scene) + 1}
                onAir={scene.id === onAirSceneId}
                edited={scene.id === editId}
                renaming={renaming === scene.id}
                setRenaming={setRenaming}
                onTake={() => {
                  take(scene.id);
                  onEdit(scene.id);
                }}
                onEdit={() => onEdit(scene.id)}
                only={scenes.length === 1}
              />
            ))}
        </div>
      ))}
    </Panel>
  );
}

interface CardProps {
  scene: SceneRecord;
  number: number;
  onAir: boolean;
  edited: boolean;
  renaming: boolean;
  only: boolean;
  setRenaming: (id: string | null) => void;
  onTake: () => void;
  onEdit: () => void;
}

function SceneCard({ scene, number, onAir, edited, renaming, only, setRenaming, onTake, onEdit }: CardProps) {
  const { store, say } = useStudio();
  const document = useDocument();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  // The menu holds the focus until it is gone: only then can the name take it.
  const [renameNext, setRenameNext] = useState(false);
  const afterMenu = () => {
    if (renameNext) setRenaming(scene.id);
    setRenameNext(false);
  };
  const edge = onAir ? 'var(--ember)' : edited ? 'var(--glacier)' : 'transparent';
  const rename = (name: string) => {
    setRenaming(null);
    if (name.trim() && name !== scene.name) store.edit('Rename scene', [{ ...scene, name: name.trim() }]);
  };
  const remove = () => {
    setAnchor(null);
    if (onAir) return say('This scene is on air: bring another one on first.');
    store.edit('Delete scene', [], [scene.id]);
  };
  return (
    <div
      style={{
        borderLeft: `3px solid ${edge}`,
        borderRadius: 8,
        padding: '3px 3px 4px 7px',
        marginBottom: 6,
        background: onAir ? 'color-mix(in srgb, var(--ember) 7%, transparent)' : undefined,
      }}
    >
      <button
        type="button"
        onClick={onTake}
        aria-label={`${scene.name}: bring on air${number <= 9 ? `, Shift+${number}` : ''}`}
        aria-pressed={onAir}
        style={{
          display: 'block',
          width: '100%',
          aspectRatio: '16 / 9',
          padding: 0,
          border: 0,
          borderRadius: 5,
          overflow: 'hidden',
          cursor: 'pointer',
          background: '#000',
        }}
      >
        <LiveView subject={{ type: 'scene', sceneId: scene.id }} label="" />
      </button>
      <div style={{ display: 'flex', alignItems: 'center', height: 28, gap: 2 }}>
        {renaming ? (
          <input
            autoFocus
            defaultValue={scene.name}
            aria-label="Name of the scene"
            onFocus={(e) => e.target.select()}
            onBlur={(e) => rename(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') rename(e.currentTarget.value);
              if (e.key === 'Escape') setRenaming(null);
            }}
            style={{
              flex: 1,
              minWidth: 0,
              background: 'var(--ground)',
              color: 'var(--text)',
              border: '1px solid var(--line)',
              borderRadius: 4,
              font: 'inherit',
              height: 24,
            }}
          />
        ) : (
          <span
            title={scene.name}
            style={{
              flex: 1,
              minWidth: 0,
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
              fontSize: 13,
            }}
          >
            {scene.name}
          </span>
        )}
        {onAir ? (
          <span style={{ color: 'var(--ember)', fontSize: 11.5, whiteSpace: 'nowrap' }}>on air</span>
        ) : (
          <Tooltip title="Work on it without bringing it on air">
            <IconButton
              aria-label={`Edit ${scene.name} off air`}
              aria-pressed={edited}
              onClick={onEdit}
              sx={{ p: 0.25, color: edited ? 'var(--glacier)' : 'var(--quiet)' }}
            >
              <EditRounded sx={{ fontSize: 15 }} />
            </IconButton>
          </Tooltip>
        )}
        <IconButton
          aria-label={`More for ${scene.name}`}
          onClick={(e) => setAnchor(e.currentTarget)}
          sx={{ p: 0.25, color: 'var(--quiet)' }}
        >
          <MoreVertRounded sx={{ fontSize: 16 }} />
        </IconButton>
      </div>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        disableRestoreFocus
        slotProps={{ transition: { onExited: afterMenu } }}
      >
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setRenameNext(true);
          }}
        >
          Rename
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            store.edit(
              'Duplicate scene',
              duplicateScene(document, scene, () => crypto.randomUUID()),
            );
          }}
        >
          Duplicate
        </MenuItem>
        <MenuItem disabled={only} onClick={remove}>
          Delete
        </MenuItem>
      </Menu>
    </div>
  );
}
