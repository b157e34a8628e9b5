import RedoRounded from '@mui/icons-material/RedoRounded';
import UndoRounded from '@mui/icons-material/UndoRounded';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { findRecord, recordsOf } from '~/core/show/document';
import type { SceneRecord } from '~/core/show/records';
import { AddLayer } from '../stage/add-layer';
import { FrameEditor } from '../stage/frame-editor';
import { Inspector } from '../stage/inspector';
import { LayerList } from '../stage/layer-list';
import { SceneStrip } from '../stage/scene-strip';
import { NumberField } from '../studio/number-field';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';

export default function Stage() {
  const { desk, store } = useStudio();
  const document = useDocument();
  const { onAirSceneId, faults } = useDesk();
  const [editId, setEditId] = useState<string | null>(onAirSceneId);
  const [layerId, setLayerId] = useState<string | null>(null);
  const scene =
    findRecord(document, 'scene', editId) ??
    findRecord(document, 'scene', onAirSceneId) ??
    recordsOf(document, 'scene')[0];
  const sceneId = scene?.id ?? null;

  useEffect(() => {
    if (sceneId) desk.edit(sceneId);
  }, [desk, sceneId]);
  useEffect(() => setLayerId(null), [sceneId]);

  if (!scene) return <p>This show has no scene yet. Undo, or reload the studio.</p>;
  const onAir = scene.id === onAirSceneId;
  return (
    <div
      style={{ display: 'grid', gridTemplateColumns: '186px minmax(0, 1fr) 284px', gap: 12, height: '100%' }}
    >
      <SceneStrip editId={scene.id} onEdit={setEditId} />
      <section
        aria-label="Frames"
        style={{
          display: 'grid',
          gridTemplateRows: '36px minmax(0, 1fr) 48px',
          gap: 8,
          minWidth: 0,
          minHeight: 0,
        }}
      >
        <div style={{ display: 'flex', alignItems: 'center', gap: 10, minWidth: 0 }}>
          <h2
            style={{
              font: '700 18px "Bricolage Grotesque Variable"',
              margin: 0,
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
            }}
          >
            {scene.name}
          </h2>
          <span
            style={{ color: onAir ? 'var(--ember)' : 'var(--quiet)', fontSize: 12.5, whiteSpace: 'nowrap' }}
          >
            {onAir ? 'on air' : 'off air'}
          </span>
          <AddLayer sceneId={scene.id} onAdded={setLayerId} />
          <span style={{ flex: 1 }} />
          <Button
            startIcon={<UndoRounded />}
            disabled={!store.undoName}
            onClick={() => store.undo()}
            title={store.undoName ? `Undo: ${store.undoName} (Ctrl+Z)` : 'Nothing to undo'}
          >
            Undo
          </Button>
          <Button
            startIcon={<RedoRounded />}
            disabled={!store.redoName}
            onClick={() => store.redo()}
            title={store.redoName ? `Redo: ${store.redoName} (Ctrl+Shift+Z)` : 'Nothing to redo'}
          >
            Redo
          </Button>
        </div>
        <FrameEditor sceneId={scene.id} selectedId={layerId} onSelect={setLayerId} />
        <TransitionBar scene={scene} />
        {(faults.length > 0 || store.notice) && (
          <div
            role="alert"
            style={{
              position: 'fixed',
              left: 220,
              bottom: 72,
              background: 'var(--raised)',
              borderLeft: '4px solid var(--rose)',
              padding: '8px 14px',
              borderRadius: 6,
              maxWidth: 620,
            }}
          >
            {store.notice ?? faults.at(-1)}
          </div>
        )}
      </section>
      <div
        style={{
          display: 'grid',
          gridTemplateRows: 'minmax(120px, 1fr) minmax(0, 1.15fr)',
          gap: 12,
          minHeight: 0,
        }}
      >
        <LayerList sceneId={scene.id} selectedId={layerId} onSelect={setLayerId} />
        <Inspector layerId={layerId} />
      </div>
    </div>
  );
}

/** How the scene comes on air. */
function TransitionBar({ scene }: { scene: SceneRecord }) {
  const { store } = useStudio();
  const { type, seconds } = scene.transition;
  const set = (transition: SceneRecord['transition']) =>
    store.edit(`Transition of ${scene.name}`, [{ ...scene, transition }]);
  return (
    <div
      style={{
        display: 'flex',
        alignItems: 'center',
        gap: 8,
        background: 'var(--surface)',
        borderRadius: 10,
        padding: '0 12px',
      }}
    >
      <span style={{ color: 'var(--quiet)', fontSize: 12.5 }}>Comes on air by</span>
      {(['cut', 'fade'] as const).map((option) => (
        <Button
          key={option}
          aria-pressed={type === option}
          onClick={() => set({ type: option, seconds: option === 'fade' ? seconds || 0.5 : 0 })}
          sx={{
            color: type === option ? 'var(--glacier)' : undefined,
            boxShadow: type === option ? 'inset 0 0 0 1px var(--glacier)' : undefined,
          }}
        >
          {option === 'cut' ? 'Cut' : 'Fade'}
        </Button>
      ))}
      {type === 'fade' && (
        <div style={{ width: 138 }}>
          <NumberField
            label="Takes"
            unit="ms"
            value={seconds * 1000}
            min={100}
            max={5000}
            step={50}
            onCommit={(ms) => set({ type, seconds: ms / 1000 })}
          />
        </div>
      )}
      <span style={{ flex: 1 }} />
      <span style={{ color: 'var(--quiet)', fontSize: 12 }}>
        Press a scene to bring it on air; the pencil edits it unseen
      </span>
    </div>
  );
}
