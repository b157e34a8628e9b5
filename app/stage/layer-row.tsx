import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import DragIndicatorRounded from '@mui/icons-material/DragIndicatorRounded';
import ExpandMoreRounded from '@mui/icons-material/ExpandMoreRounded';
import LockOpenRounded from '@mui/icons-material/LockOpenRounded';
import LockRounded from '@mui/icons-material/LockRounded';
import VisibilityOffRounded from '@mui/icons-material/VisibilityOffRounded';
import VisibilityRounded from '@mui/icons-material/VisibilityRounded';
import { useState } from 'react';
import { FRAME_NAMES, fullPlacement, type FrameName, type LayerRecord } from '~/core/show/records';
import { hiddenIn } from '~/core/show/placing';
import { proposedLayers } from '~/core/scene/roles';
import { proposePlacements } from '~/core/scene/propose';
import { standingIn, layersOfScene } from '~/core/show/layers';
import { frameOf, usedFrames } from '~/core/show/stage-edits';
import { RenameField } from '../studio/rename-field';
import { SmallButton } from '../studio/small-button';
import { useDesk } from '../studio/studio-context';
import { nameOfFrame, useStageCommands } from './stage-commands';
import { memberCount, useStage } from './stage-context';
import { useTranslation } from '../words/words';

const KIND_WORDS = {
  input: '',
  text: 'text',
  shape: 'shape',
  group: 'group',
  inset: 'scene',
  chatPanel: 'chat',
  widget: 'widget',
  alert: 'alert',
} as const;

/** One stratum of the list: which layer it is, in which frames it is seen, and whether it is shown and locked. */
export function LayerRow({
  layer,
  depth,
  closed,
  onToggleClosed,
}: {
  layer: LayerRecord;
  depth: number;
  closed: boolean;
  onToggleClosed: () => void;
}) {
  const { t } = useTranslation();
  const stage = useStage();
  const { document, scene, selection, select, toggle, edit } = stage;
  const inputs = useDesk((now) => now.inputs);
  const [renaming, setRenaming] = useState(false);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: layer.id,
  });
  const { content } = layer;
  const standing = layer.sceneId === null;
  const here = standing ? standingIn(document, layer, scene.id) : layer;
  const selected = selection.includes(layer.id);
  const state = content.type === 'input' ? inputs.find((i) => i.inputId === content.inputId) : undefined;
  const troubled = state?.state === 'failed' || state?.state === 'waiting';

  const setVisible = () => {
    // A standing layer is hidden where one looks: in this scene. In the others it stays.
    if (standing && layer.visible)
      edit(here.visible ? `Hide ${layer.name} in ${scene.name}` : `Show ${layer.name} in ${scene.name}`, [
        hiddenIn(scene, layer.id, here.visible),
      ]);
    else
      edit(layer.visible ? t('layout.hideLayer') : t('layout.showLayer'), [
        { ...layer, visible: !layer.visible },
      ]);
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
        minHeight: 36,
        marginBottom: 3,
        marginLeft: depth * 14,
        borderRadius: 6,
        background: selected ? 'color-mix(in srgb, var(--glacier) 16%, var(--raised))' : 'var(--raised)',
        boxShadow: selected ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
      }}
    >
      <span
        {...attributes}
        {...listeners}
        aria-label={t('layout.moveNameUpOrDown', { name: layer.name })}
        style={{
          display: 'grid',
          placeItems: 'center',
          width: 24,
          height: 34,
          cursor: 'grab',
          color: 'var(--quiet)',
          touchAction: 'none',
          flexShrink: 0,
        }}
      >
        <DragIndicatorRounded style={{ fontSize: 16 }} />
      </span>
      {content.type === 'group' && (
        <SmallButton
          label={
            closed ? t('layout.openName', { name: layer.name }) : t('layout.closeName', { name: layer.name })
          }
          onClick={onToggleClosed}
        >
          <ExpandMoreRounded style={{ transform: closed ? 'rotate(-90deg)' : undefined }} />
        </SmallButton>
      )}
      {renaming ? (
        <RenameField
          name={layer.name}
          label={t('layout.nameOfTheLayer')}
          onDone={(name) => {
            setRenaming(false);
            if (name) edit(t('layout.renameLayer'), [{ ...layer, name }]);
          }}
        />
      ) : (
        <button
          type="button"
          onClick={(e) => (e.shiftKey || e.ctrlKey || e.metaKey ? toggle(layer.id) : select([layer.id]))}
          onDoubleClick={() => setRenaming(true)}
          onKeyDown={(e) => e.key === 'F2' && setRenaming(true)}
          aria-pressed={selected}
          title={t('layout.nameDoubleClickOrF22', { name: layer.name })}
          style={{
            flex: 1,
            minWidth: 0,
            textAlign: 'left',
            background: 'none',
            border: 0,
            color: here.visible ? 'inherit' : 'var(--quiet)',
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
            <span style={{ color: 'var(--quiet)', fontSize: 11.5 }}>
              {content.type === 'group' ? memberCount(document, layer) : KIND_WORDS[content.type]}
            </span>
          </span>
          {troubled && (
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
      {content.type !== 'group' && <FrameSigns layer={here} />}
      <SmallButton
        label={
          here.visible
            ? t('layout.hideName', { name: layer.name })
            : t('layout.showName', { name: layer.name })
        }
        title={
          standing && layer.visible
            ? here.visible
              ? t('layout.hideNameInThisScene', { name: layer.name })
              : t('layout.showNameInThisScene', { name: layer.name })
            : undefined
        }
        onClick={setVisible}
      >
        {here.visible ? <VisibilityRounded /> : <VisibilityOffRounded style={{ color: 'var(--larch)' }} />}
      </SmallButton>
      <SmallButton
        label={
          layer.locked
            ? t('layout.unlockName', { name: layer.name })
            : t('layout.lockName', { name: layer.name })
        }
        onClick={() =>
          edit(layer.locked ? t('layout.unlockLayer') : t('layout.lockLayer'), [
            { ...layer, locked: !layer.locked },
          ])
        }
      >
        {layer.locked ? <LockRounded style={{ color: 'var(--larch)' }} /> : <LockOpenRounded />}
      </SmallButton>
      <SmallButton
        label={t('layout.deleteName', { name: layer.name })}
        disabled={layer.locked}
        onClick={() => {
          edit(t('layout.deleteName', { name: layer.name }), [], [layer.id]);
          select(selection.filter((id) => id !== layer.id));
        }}
      >
        <DeleteOutlineRounded />
      </SmallButton>
    </div>
  );
}

/** A small wide and a small tall sign: in which frames the layer is. A press takes it out or puts it in. */
function FrameSigns({ layer }: { layer: LayerRecord }) {
  const stage = useStage();
  const commands = useStageCommands();
  const frames = usedFrames(stage.document);
  if (frames.length < 2) return null;
  const press = (frame: FrameName) => {
    const inside = layer.placements[frame] !== undefined;
    commands.setInFrame(layer, frame, !inside, inside ? null : comeIn(frame));
  };
  /** Where it would stand, from where it stands in the other frame. */
  const comeIn = (frame: FrameName) => {
    const from = FRAME_NAMES.find((f) => f !== frame && layer.placements[f]);
    const whole = frameOf(stage.document, frame);
    if (!from) return fullPlacement(whole);
    const all = layersOfScene(stage.document, stage.scene.id).filter((l) => l.visible);
    const proposed = proposePlacements(
      proposedLayers(
        stage.document,
        all.some((l) => l.id === layer.id) ? all : [...all, layer],
        from,
        stage.inputSize,
      ),
      frameOf(stage.document, from),
      whole,
    );
    return proposed.get(layer.id) ?? fullPlacement(whole);
  };
  return (
    <span style={{ display: 'flex', flexShrink: 0 }}>
      {frames.map((frame) => {
        const inside = layer.placements[frame] !== undefined;
        return (
          <button
            key={frame}
            type="button"
            aria-pressed={inside}
            aria-label={`${layer.name} in ${nameOfFrame(frame)}`}
            title={
              inside
                ? `In ${nameOfFrame(frame)}; press to leave it out`
                : `Not in ${nameOfFrame(frame)}; press to put it in`
            }
            onClick={() => press(frame)}
            style={{
              width: 24,
              height: 28,
              border: 0,
              background: 'none',
              display: 'grid',
              placeItems: 'center',
              padding: 0,
              cursor: 'pointer',
            }}
          >
            <span
              style={{
                width: frame === 'wide' ? 16 : 8,
                height: frame === 'wide' ? 10 : 13,
                borderRadius: 2,
                boxShadow: `inset 0 0 0 1.3px ${inside ? 'var(--glacier)' : 'var(--line)'}`,
                background: inside ? 'color-mix(in srgb, var(--glacier) 45%, transparent)' : undefined,
              }}
            />
          </button>
        );
      })}
    </span>
  );
}
