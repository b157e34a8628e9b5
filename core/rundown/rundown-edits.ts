/** Edits of a rundown: what is added, moved and doubled. Each gives records to put; none changes a document. */
import { recordsOf, renumber, reorder, type ShowDocument } from '../show/document';
import type { AnyRecord, SceneRecord } from '../show/records';
import { PLAIN_SEGMENT, type RundownRecord, type SegmentRecord } from '../show/rundown-records';
import { freeName, type NewId } from '../show/stage-edits';
import { segmentsOf } from './rundown';

export function newRundown(
  document: ShowDocument,
  showId: string,
  name: string,
  newId: NewId,
): RundownRecord {
  const there = recordsOf(document, 'rundown');
  return {
    kind: 'rundown',
    id: newId(),
    showId,
    name: freeName(
      there.map((one) => one.name),
      name,
    ),
    position: (there.at(-1)?.position ?? -1) + 1,
    startsAt: '',
  };
}

/** A segment for a scene, or without one; not yet in its place. */
export function newSegment(
  rundown: RundownRecord,
  scene: SceneRecord | null,
  name: string,
  newId: NewId,
): SegmentRecord {
  return {
    ...PLAIN_SEGMENT,
    sound: [],
    presses: [],
    kind: 'segment',
    id: newId(),
    showId: rundown.showId,
    rundownId: rundown.id,
    name,
    position: 0,
    sceneId: scene?.id ?? null,
  };
}

/** Puts segments after one of the rundown, or at its end; returns them and those that made room. */
export function inserted(
  document: ShowDocument,
  rundownId: string,
  segments: readonly SegmentRecord[],
  afterId: string | null,
): SegmentRecord[] {
  const there = segmentsOf(document, rundownId);
  const at = afterId === null ? there.length : there.findIndex(({ id }) => id === afterId) + 1;
  const all = [...there.slice(0, at), ...segments, ...there.slice(at)];
  const moved = renumber(all);
  const ids = new Set(moved.map(({ id }) => id));
  return [...moved, ...segments.filter(({ id }) => !ids.has(id))];
}

/** One segment for each scene that has none in this rundown, in the order of the scenes, at its end. */
export function fromScenes(document: ShowDocument, rundown: RundownRecord, newId: NewId): SegmentRecord[] {
  const used = new Set(segmentsOf(document, rundown.id).map(({ sceneId }) => sceneId));
  const segments = recordsOf(document, 'scene')
    .filter(({ id }) => !used.has(id))
    .map((scene) => newSegment(rundown, scene, scene.name, newId));
  return inserted(document, rundown.id, segments, null);
}

/** The same once more, right after it. */
export function duplicated(document: ShowDocument, segment: SegmentRecord, newId: NewId): SegmentRecord[] {
  return inserted(document, segment.rundownId, [{ ...segment, id: newId() }], segment.id);
}

/** A segment at another place of its rundown; returns those whose position changed. */
export function moved(document: ShowDocument, segment: SegmentRecord, index: number): SegmentRecord[] {
  return reorder(segmentsOf(document, segment.rundownId), segment.id, index);
}

/** A rundown with all its segments, under another name. */
export function rundownCopy(document: ShowDocument, rundown: RundownRecord, newId: NewId): AnyRecord[] {
  const copy = newRundown(document, rundown.showId, rundown.name, newId);
  return [
    { ...copy, startsAt: rundown.startsAt },
    ...segmentsOf(document, rundown.id).map((segment) => ({ ...segment, id: newId(), rundownId: copy.id })),
  ];
}
