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
import AddRounded from '@mui/icons-material/AddRounded';
import ExpandMoreRounded from '@mui/icons-material/ExpandMoreRounded';
import LibraryAddRounded from '@mui/icons-material/LibraryAddRounded';
import Button from '@mui/material/Button';
import { useMemo, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { moveScene } from '~/core/show/stage-edits';
import { PartsDialog } from '../parts/parts-dialog';
import { Panel } from '../studio/panel';
import { RenameField } from '../studio/rename-field';
import { SmallButton } from '../studio/small-button';
import { useDesk } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { SceneCard } from './scene-card';
import { useStage } from './stage-context';
import { TemplateDialog } from './template-dialog';

/** The scenes as live pictures, in their folders. A press on a picture brings it on air. */
export function SceneStrip({ onEdit }: { onEdit: (sceneId: string) => void }) {
  const { document, scene: edited, edit } = useStage();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const scenes = recordsOf(document, 'scene');
  const folderKey = [...new Set(scenes.map((s) => s.folder))].join('\n');
  const folders = useMemo(() => folderKey.split('\n'), [folderKey]);
  const [renaming, setRenaming] = useState<string | null>(null);
  const [renamingFolder, setRenamingFolder] = useState<string | null>(null);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [adding, setAdding] = useState(false);
  const [bringing, setBringing] = useState(false);
  const { t } = useTranslation();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const idKey = folders
    .flatMap((folder) => scenes.filter((s) => s.folder === folder).map((s) => s.id))
    .join();
  const ids = useMemo(() => idKey.split(','), [idKey]);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const after = ids.indexOf(String(active.id)) < ids.indexOf(String(over.id));
    const moved = moveScene(document, String(active.id), String(over.id), after);
    if (moved.length > 0) edit(t('layout.moveScene'), moved);
  };
  const toggle = (folder: string) =>
    setClosed((before) => {
      const next = new Set(before);
      if (!next.delete(folder)) next.add(folder);
      return next;
    });
  return (
    <Panel
      label={t('layout.scenes')}
      title={t('layout.scenes')}
      aside={
        <span style={{ display: 'flex', alignItems: 'center' }}>
          <SmallButton label={t('parts.open')} onClick={() => setBringing(true)}>
            <LibraryAddRounded />
          </SmallButton>
          <Button
            onClick={() => setAdding(true)}
            startIcon={<AddRounded />}
            sx={{ color: 'var(--glacier)', bgcolor: 'transparent' }}
          >
            {t('layout.add')}
          </Button>
        </span>
      }
    >
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {folders.map((folder) => {
            const inside = scenes.filter((s) => s.folder === folder);
            const open = !closed.has(folder);
            return (
              <div key={folder}>
                {renamingFolder === folder ? (
                  <div style={{ display: 'flex', margin: '4px 0 6px' }}>
                    <RenameField
                      name={folder}
                      label={t('layout.nameOfTheFolder')}
                      onDone={(name) => {
                        setRenamingFolder(null);
                        if (name)
                          edit(
                            `Rename folder ${folder || 'Scenes'}`,
                            inside.map((s) => ({ ...s, folder: name.slice(0, 80) })),
                          );
                      }}
                    />
                  </div>
                ) : (
                  <div
                    style={{ display: 'flex', alignItems: 'center', minHeight: 26, color: 'var(--quiet)' }}
                  >
                    <SmallButton
                      label={`${open ? 'Close' : 'Open'} folder ${folder || 'Scenes'}`}
                      onClick={() => toggle(folder)}
                    >
                      <ExpandMoreRounded style={{ transform: open ? undefined : 'rotate(-90deg)' }} />
                    </SmallButton>
                    <button
                      type="button"
                      title={t('layout.doubleClickOrF2To')}
                      onDoubleClick={() => setRenamingFolder(folder)}
                      onKeyDown={(e) => e.key === 'F2' && setRenamingFolder(folder)}
                      style={{
                        flex: 1,
                        minWidth: 0,
                        minHeight: 24,
                        textAlign: 'left',
                        border: 0,
                        padding: 0,
                        background: 'none',
                        font: 'inherit',
                        fontSize: 12,
                        color: 'inherit',
                        overflow: 'hidden',
                        textOverflow: 'ellipsis',
                        whiteSpace: 'nowrap',
                      }}
                    >
                      {folder || 'Scenes'}
                      {!open && ` · ${inside.length}`}
                    </button>
                  </div>
                )}
                {open &&
                  inside.map((scene) => (
                    <SceneCard
                      key={scene.id}
                      scene={scene}
                      folders={folders}
                      number={scenes.indexOf(scene) + 1}
                      onAir={scene.id === onAirSceneId}
                      edited={scene.id === edited.id}
                      renaming={renaming === scene.id}
                      setRenaming={setRenaming}
                      onEdit={onEdit}
                      only={scenes.length === 1}
                    />
                  ))}
              </div>
            );
          })}
        </SortableContext>
      </DndContext>
      {bringing && <PartsDialog onClose={() => setBringing(false)} />}
      {adding && (
        <TemplateDialog
          folder={edited.folder}
          onClose={() => setAdding(false)}
          onMade={(id) => {
            onEdit(id);
            setRenaming(id);
          }}
        />
      )}
    </Panel>
  );
}
