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
import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { memo, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { lengthText } from '~/core/rundown/length-text';
import { duplicated, inserted, moved, newSegment } from '~/core/rundown/rundown-edits';
import type { RundownTimes, SegmentStanding } from '~/core/rundown/rundown';
import { findRecord, type ShowDocument } from '~/core/show/document';
import { poseIn, posesOf } from '~/core/show/poses';
import type { SceneRecord } from '~/core/show/records';
import type { RundownRecord, SegmentRecord } from '~/core/show/rundown-records';
import { LiveView } from '../studio/live-view';
import { SmallButton } from '../studio/small-button';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { endWords } from './end-words';
import { clockText } from './use-times';

const newId = () => crypto.randomUUID();
/** Height of a segment: never too low to read, and so much for each minute, up to where a list would be endless. */
const LEAST_PX = 47;
const PX_A_MINUTE = 4;
const MOST_PX = 88;

interface ListProps {
  rundown: RundownRecord;
  times: RundownTimes;
  chosenId: string | null;
  onChoose: (id: string | null) => void;
}

/** The running order as layers of rock: each segment as high as it is long. */
export function RundownList({ rundown, times, chosenId, onChoose }: ListProps) {
  const document = useDeferredValue(useDocument());
  const choose = useRef(onChoose);
  choose.current = onChoose;
  const onChosen = useMemo(() => (id: string | null) => choose.current(id), []);
  return (
    <Rows
      document={document}
      rundown={useDeferredValue(rundown)}
      times={times}
      chosenId={chosenId}
      onChoose={onChosen}
    />
  );
}

const Rows = memo(function Rows({
  document,
  rundown,
  times,
  chosenId,
  onChoose,
}: ListProps & { document: ShowDocument }) {
  const { store } = useStudio();
  const { t } = useTranslation();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const key = times.segments.map(({ segment }) => segment.id).join();
  const ids = useMemo(() => key.split(',').filter(Boolean), [key]);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const segment = findRecord(document, 'segment', String(active.id));
    if (segment && over && active.id !== over.id)
      store.edit(`Move ${segment.name}`, moved(document, segment, ids.indexOf(String(over.id))));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol className="rundown" aria-label={t('plan.rundown')}>
          {times.segments.map(({ segment, standing, startMs }, i) => {
            const scene = findRecord(document, 'scene', segment.sceneId);
            const several = scene !== null && posesOf(document, scene.id).length > 1;
            return (
              <SegmentRow
                key={segment.id}
                segment={segment}
                standing={standing}
                clock={clockText(startMs)}
                index={i}
                last={i === times.segments.length - 1}
                elapsed={standing === 'on' ? times.elapsedSeconds : null}
                grouped={segment.group !== '' && times.segments[i - 1]?.segment.group === segment.group}
                chosen={segment.id === chosenId}
                scene={scene}
                poseName={(several && poseIn(document, scene.id, segment.poseId)?.name) || null}
                rundown={rundown}
                onChoose={onChoose}
              />
            );
          })}
        </ol>
      </SortableContext>
    </DndContext>
  );
});

/** One of many: drawn anew when something of it is another, and not with every second or edit elsewhere. */
const SegmentRow = memo(function SegmentRow({
  segment,
  standing,
  clock,
  index,
  last,
  elapsed,
  grouped,
  chosen,
  scene,
  poseName,
  rundown,
  onChoose,
}: {
  segment: SegmentRecord;
  standing: SegmentStanding;
  clock: string;
  index: number;
  last: boolean;
  elapsed: number | null;
  grouped: boolean;
  chosen: boolean;
  scene: SceneRecord | null;
  /** Where the scene has several. */
  poseName: string | null;
  rundown: RundownRecord;
  onChoose: (id: string | null) => void;
}) {
  const { store, control } = useStudio();
  const { t } = useTranslation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: segment.id });
  const row = useRef<HTMLButtonElement>(null);
  const on = standing === 'on';
  useEffect(() => {
    if (on) row.current?.scrollIntoView({ block: 'nearest' });
  }, [on]);
  const mark = segment.mark !== 'none' ? segment.mark : (scene?.mark ?? 'none');
  const height = Math.min(MOST_PX, Math.max(LEAST_PX, (segment.plannedSeconds / 60) * PX_A_MINUTE));
  const close = () => setAnchor(null);
  const remove = () => {
    close();
    store.edit(`Remove ${segment.name}`, [], [segment.id]);
    if (chosen) onChoose(null);
  };
  const move = (by: number) => {
    close();
    store.edit(`Move ${segment.name}`, moved(store.document(), segment, index + by));
  };
  const where =
    segment.sceneId === null
      ? t('plan.sceneStays')
      : scene
        ? [scene.name, ...(poseName === null ? [] : [poseName])].join(' · ')
        : t('plan.sceneGone');
  return (
    <li
      ref={setNodeRef}
      className="segment"
      data-standing={standing}
      data-chosen={chosen}
      data-grouped={grouped}
      style={{
        transform: CSS.Transform.toString(transform),
        transition,
        ['--rock' as string]: `var(--${mark === 'none' ? 'slate' : mark}, var(--quiet))`,
      }}
    >
      <span className="segment-clock figure">{clock}</span>
      <button
        ref={row}
        type="button"
        {...attributes}
        {...listeners}
        className="segment-body"
        aria-pressed={chosen}
        aria-current={on ? 'step' : undefined}
        style={{ height }}
        onClick={() => onChoose(segment.id)}
        onDoubleClick={() => control.run(segment, 'page')}
        onKeyDown={(event) => {
          // The space bar takes it up to be moved; Delete removes it.
          if (event.key === 'Delete') remove();
          else if (event.key !== 'Enter') listeners?.onKeyDown?.(event);
        }}
      >
        <span className="segment-head">
          <b>{segment.name}</b>
          <span className="figure">
            {lengthText(segment.plannedSeconds)}
            {elapsed !== null && ` ${t('plan.elapsed', { time: lengthText(elapsed) })}`}
          </span>
          {(standing === 'on' || standing === 'next' || standing === 'skipped') && (
            <span className="segment-state">
              {t(standing === 'on' ? 'plan.onAir' : standing === 'next' ? 'plan.next' : 'plan.skipped')}
            </span>
          )}
        </span>
        <span className="segment-words" data-trouble={standing === 'broken'}>
          {where} · <span>{endWords(segment)}</span>
        </span>
      </button>
      {scene && (
        <span className="segment-picture" aria-hidden>
          <LiveView
            subject={{ type: 'scene', frame: 'wide', sceneId: scene.id, poseId: segment.poseId }}
            label=""
          />
        </span>
      )}
      <span className="segment-menu">
        <SmallButton
          label={t('plan.menu', { name: segment.name })}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <MoreVertRounded />
        </SmallButton>
      </span>
      {/* Two hundred closed menus would be made anew with every edit. */}
      {anchor !== null && (
        <Menu open anchorEl={anchor} onClose={close}>
          <MenuItem
            onClick={() => {
              close();
              control.run(segment, 'page');
            }}
          >
            {t('plan.jump')}
          </MenuItem>
          <MenuItem
            onClick={() => {
              close();
              const added = newSegment(rundown, scene, t('plan.newSegment'), newId);
              store.edit('Add segment', inserted(store.document(), rundown.id, [added], segment.id));
              onChoose(added.id);
            }}
          >
            {t('plan.addAfter')}
          </MenuItem>
          <MenuItem
            onClick={() => {
              close();
              store.edit(`Duplicate ${segment.name}`, duplicated(store.document(), segment, newId));
            }}
          >
            {t('plan.duplicate')}
          </MenuItem>
          <MenuItem
            onClick={() => {
              close();
              set(segment, { skipped: !segment.skipped });
            }}
          >
            {t('plan.skip')}
          </MenuItem>
          <MenuItem disabled={index === 0} onClick={() => move(-1)}>
            {t('plan.moveUp')}
          </MenuItem>
          <MenuItem disabled={last} onClick={() => move(1)}>
            {t('plan.moveDown')}
          </MenuItem>
          <Divider />
          <MenuItem onClick={remove}>{t('plan.remove')}</MenuItem>
        </Menu>
      )}
    </li>
  );

  function set(of: SegmentRecord, part: Partial<SegmentRecord>): void {
    store.edit(`Skip ${of.name}`, [{ ...of, ...part }]);
  }
});
