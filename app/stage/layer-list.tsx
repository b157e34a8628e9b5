import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import DragIndicatorRounded from '@mui/icons-material/DragIndicatorRounded';
import LockOpenRounded from '@mui/icons-material/LockOpenRounded';
import LockRounded from '@mui/icons-material/LockRounded';
import VisibilityOffRounded from '@mui/icons-material/VisibilityOffRounded';
import VisibilityRounded from '@mui/icons-material/VisibilityRounded';
import IconButton from '@mui/material/IconButton';
import { useState, type ReactNode } from 'react';
import { recordsOf } from '~/core/show/document';
import type { LayerRecord } from '~/core/show/records';
import { Panel } from '../studio/panel';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { moveLayer, ownLayers } from './layer-edits';

interface Props {
  sceneId: string;
  selectedId: string | null;
  onSelect: (layerId: string | null) => void;
}

/** The layers as strata, top first. Dragging a grip changes what covers what. */
export function LayerList({ sceneId, selectedId, onSelect }: Props) {
  const { store } = useStudio();
  const document = useDocument();
  const own = [...ownLayers(document, sceneId)].reverse();
  const standing = recordsOf(document, 'layer')
    .filter((l) => l.sceneId === null)
    .reverse();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const to = own.findIndex((l) => l.id === over.id);
    const moved = moveLayer(own, String(active.id), to);
    if (moved.length > 0) store.edit('Reorder layers', moved);
  };
  const row = (layer: LayerRecord) => (
    <Stratum
      key={layer.id}
      layer={layer}
      selected={layer.id === selectedId}
      onSelect={() => onSelect(layer.id)}
      onGone={() => onSelect(null)}
    />
  );
  return (
    <Panel label="Layers" title="Layers, top first">
      {own.length === 0 && (
        <p style={{ color: 'var(--quiet)', margin: '4px 0 10px', lineHeight: 1.45 }}>
          This scene is empty. Use “Add layer” above the frame: a camera, a screen, a file or words.
        </p>
      )}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={own.map((l) => l.id)} strategy={verticalListSortingStrategy}>
          {own.map(row)}
        </SortableContext>
        {standing.length > 0 && (
          <>
            <div
              style={{
                borderTop: '1px dashed var(--line)',
                margin: '8px 0 6px',
                paddingTop: 6,
                color: 'var(--quiet)',
                fontSize: 12,
              }}
            >
              Standing above every scene
            </div>
            <SortableContext
              items={standing.map((l) => l.id)}
              strategy={verticalListSortingStrategy}
              disabled
            >
              {standing.map(row)}
            </SortableContext>
          </>
        )}
      </DndContext>
    </Panel>
  );
}

const KIND_WORDS = { input: '', text: 'text', fill: 'colour', chatPanel: 'chat', alert: 'alert' } as const;

function Stratum({
  layer,
  selected,
  onSelect,
  onGone,
}: {
  layer: LayerRecord;
  selected: boolean;
  onSelect: () => void;
  onGone: () => void;
}) {
  const { store } = useStudio();
  const { inputs } = useDesk();
  const [renaming, setRenaming] = useState(false);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: layer.id,
  });
  const { content } = layer;
  const state = content.type === 'input' ? inputs.find((i) => i.inputId === content.inputId) : undefined;
  const rename = (name: string) => {
    setRenaming(false);
    if (name.trim() && name.trim() !== layer.name)
      store.edit('Rename layer', [{ ...layer, name: name.trim() }]);
  };
  const remove = () => {
    store.edit(`Delete ${layer.name}`, [], [layer.id]);
    onGone();
  };
  return (
    <div
      ref={setNodeRef}
      data-testid={`layer-${layer.name}`}
      style={{
        transform: CSS.Transform.toString(transform),
        transition,
        position: 'relative',
        zIndex: isDragging ? 1 : undefined,
        display: 'flex',
        alignItems: 'center',
        minHeight: 38,
        marginBottom: 3,
        borderRadius: 6,
        background: selected ? 'color-mix(in srgb, var(--glacier) 16%, var(--raised))' : 'var(--raised)',
        boxShadow: selected ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
        opacity: layer.visible ? 1 : 0.6,
      }}
    >
      <span
        {...attributes}
        {...listeners}
        aria-label={`Move ${layer.name} up or down`}
        style={{
          display: 'grid',
          placeItems: 'center',
          width: 24,
          height: 34,
          cursor: 'grab',
          color: 'var(--quiet)',
          touchAction: 'none',
          visibility: layer.sceneId === null ? 'hidden' : undefined,
        }}
      >
        <DragIndicatorRounded sx={{ fontSize: 16 }} />
      </span>
      {renaming ? (
        <input
          autoFocus
          defaultValue={layer.name}
          aria-label="Name of the layer"
          onFocus={(e) => e.target.select()}
          onBlur={(e) => rename(e.target.value)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') rename(e.currentTarget.value);
            if (e.key === 'Escape') setRenaming(false);
          }}
          style={{
            flex: 1,
            minWidth: 0,
            background: 'var(--ground)',
            color: 'var(--text)',
            border: '1px solid var(--line)',
            borderRadius: 4,
            font: 'inherit',
            height: 26,
          }}
        />
      ) : (
        <button
          type="button"
          onClick={onSelect}
          onDoubleClick={() => setRenaming(true)}
          onKeyDown={(e) => e.key === 'F2' && setRenaming(true)}
          aria-pressed={selected}
          title={`${layer.name} — double-click or F2 to rename`}
          style={{
            flex: 1,
            minWidth: 0,
            textAlign: 'left',
            background: 'none',
            border: 0,
            color: 'inherit',
            font: 'inherit',
            padding: '4px 2px',
            cursor: 'pointer',
          }}
        >
          <span
            style={{
              display: 'block',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
              fontSize: 13.5,
            }}
          >
            {layer.name}{' '}
            <span style={{ color: 'var(--quiet)', fontSize: 11.5 }}>{KIND_WORDS[content.type]}</span>
          </span>
          {state && state.state !== 'ready' && (
            <span
              style={{
                display: 'block',
                color: state.state === 'failed' ? 'var(--rose)' : 'var(--quiet)',
                fontSize: 11.5,
                lineHeight: 1.3,
              }}
            >
              {state.message}
            </span>
          )}
        </button>
      )}
      <Toggle
        label={layer.visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
        onClick={() =>
          store.edit(layer.visible ? 'Hide layer' : 'Show layer', [{ ...layer, visible: !layer.visible }])
        }
      >
        {layer.visible ? <VisibilityRounded /> : <VisibilityOffRounded sx={{ color: 'var(--larch)' }} />}
      </Toggle>
      <Toggle
        label={layer.locked ? `Unlock ${layer.name}` : `Lock ${layer.name}`}
        onClick={() =>
          store.edit(layer.locked ? 'Unlock layer' : 'Lock layer', [{ ...layer, locked: !layer.locked }])
        }
      >
        {layer.locked ? <LockRounded sx={{ color: 'var(--larch)' }} /> : <LockOpenRounded />}
      </Toggle>
      <Toggle label={`Delete ${layer.name}`} disabled={layer.locked} onClick={remove}>
        <DeleteOutlineRounded />
      </Toggle>
    </div>
  );
}

function Toggle({
  label,
  onClick,
  disabled,
  children,
}: {
  label: string;
  onClick: () => void;
  disabled?: boolean;
  children: ReactNode;
}) {
  return (
    <IconButton
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
      sx={{ p: 0.4, color: 'var(--quiet)', '& svg': { fontSize: 16 } }}
    >
      {children}
    </IconButton>
  );
}
