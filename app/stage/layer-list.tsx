import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useState } from 'react';
import { ownLayers } from '~/core/show/layers';
import { listedRows, moveLayer } from '~/core/show/stage-edits';
import { LayerRow } from './layer-row';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** The layers as strata, top first. Dragging a grip changes what covers what, and which group a layer is in. */
export function LayerList() {
  const { t } = useTranslation();
  const { document, scene, edit } = useStage();
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const toggleClosed = (id: string) =>
    setClosed((before) => {
      const next = new Set(before);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const list = (sceneId: string | null) => {
    const rows = listedRows(document, sceneId, closed);
    const ids = rows.map((r) => r.layer.id);
    const onDragEnd = ({ active, over }: DragEndEvent) => {
      if (!over || active.id === over.id) return;
      // In the list it lands where the other one is: below it when it came from above.
      const below = ids.indexOf(String(active.id)) < ids.indexOf(String(over.id));
      const moved = moveLayer(document, sceneId, String(active.id), String(over.id), below);
      if (moved.length > 0) edit(t('layout.reorderLayers'), moved);
    };
    return (
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {rows.map(({ layer, depth }) => (
            <LayerRow
              key={layer.id}
              layer={layer}
              depth={depth}
              closed={closed.has(layer.id)}
              onToggleClosed={() => toggleClosed(layer.id)}
            />
          ))}
        </SortableContext>
      </DndContext>
    );
  };
  return (
    <>
      {ownLayers(document, scene.id).length === 0 && (
        <p style={{ color: 'var(--quiet)', margin: '4px 0 10px', lineHeight: 1.45 }}>
          {t('layout.thisSceneIsEmptyUse')}
        </p>
      )}
      {list(scene.id)}
      {ownLayers(document, null).length > 0 && (
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
            {t('layout.standingLayers')}
          </div>
          {list(null)}
        </>
      )}
    </>
  );
}
