/**
 * A show as a set of records, and the edits that change it.
 *
 * An edit is data: records to put and ids to remove. Applying it gives its inverse, so undo, autosave and duplicate all
 * run through one path. Documents are never changed in place.
 */
import equal from 'fast-deep-equal';
import { Fault } from '../fault';
import { checkGroup, checkInsets } from './containment';
import type { AnyRecord, RecordKind, RecordOf } from './records';

export type ShowDocument = ReadonlyMap<string, AnyRecord>;

export interface Edit {
  /** Unique, so that a save that was sent twice counts once. */
  id: string;
  /** What the user did, for the undo list: "Move Desk camera". */
  name: string;
  put: AnyRecord[];
  removed: string[];
}

export function documentOf(records: Iterable<AnyRecord>): ShowDocument {
  const document = new Map<string, AnyRecord>();
  for (const record of records) document.set(record.id, record);
  return document;
}

/** Documents never change, so what was found in one stays true of it. */
const sorted = new WeakMap<ShowDocument, Map<RecordKind, AnyRecord[]>>();
/** What was found last of each kind: most edits leave it as it is, and whoever shows it need not look again. */
const newest = new Map<RecordKind, AnyRecord[]>();

/**
 * All records of a kind, in order. The list is shared: copy it before changing it. It is the same one as long as its records
 * are, also in a document that was edited elsewhere.
 */
export function recordsOf<K extends RecordKind>(document: ShowDocument, kind: K): readonly RecordOf<K>[] {
  let kinds = sorted.get(document);
  if (!kinds) sorted.set(document, (kinds = new Map()));
  let found = kinds.get(kind);
  if (!found) {
    found = [];
    for (const record of document.values()) if (record.kind === kind) found.push(record);
    found.sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1));
    const before = newest.get(kind);
    if (before?.length === found.length && before.every((record, i) => record === found![i])) found = before;
    newest.set(kind, found);
    kinds.set(kind, found);
  }
  return found as RecordOf<K>[];
}

/** The record with this id, when it is of this kind. */
export function findRecord<K extends RecordKind>(
  document: ShowDocument,
  kind: K,
  id: string | null,
): RecordOf<K> | null {
  const record = id === null ? undefined : document.get(id);
  return record && record.kind === kind ? (record as RecordOf<K>) : null;
}

/** Those of the records that are not in the document just as they are. */
export function changedRecords(document: ShowDocument, put: readonly AnyRecord[]): AnyRecord[] {
  return put.filter((record) => !equal(record, document.get(record.id)));
}

/** What changed between two documents that share their unchanged records. */
export function changesBetween(
  before: ShowDocument,
  after: ShowDocument,
): { put: AnyRecord[]; removed: string[] } {
  const put: AnyRecord[] = [];
  const removed: string[] = [];
  for (const [id, record] of after) if (before.get(id) !== record) put.push(record);
  for (const id of before.keys()) if (!after.has(id)) removed.push(id);
  return { put, removed };
}

/**
 * Records made from what somebody saw, for a document that may have gone on since: what they did not change is taken
 * from the document as it is now, down to single fields of what is inside; lists and other kinds count as a whole.
 *
 * @param seen the records as they were when the change was made
 */
export function rebased(
  put: readonly AnyRecord[],
  seen: ReadonlyMap<string, AnyRecord>,
  now: ShowDocument,
): AnyRecord[] {
  return put.map((record) => {
    const before = seen.get(record.id);
    const current = now.get(record.id);
    if (!before || !current || before === current || current.kind !== record.kind) return record;
    return rebasedValue(record, before, current) as AnyRecord;
  });
}

function rebasedValue(made: unknown, seen: unknown, now: unknown): unknown {
  if (made === seen) return now;
  if (seen === now || !isPlain(made) || !isPlain(seen) || !isPlain(now)) return made;
  // A content or source of another kind has other fields: half of one and half of the other is neither.
  if (made.type !== seen.type || made.type !== now.type) return made;
  const merged: Record<string, unknown> = { ...now };
  for (const [key, value] of Object.entries(made)) {
    const of = rebasedValue(value, seen[key], now[key]);
    // What was untouched here and has been taken away since stays away.
    if (key in now || value !== seen[key]) merged[key] = of;
  }
  for (const key of Object.keys(seen)) if (!(key in made)) delete merged[key];
  return merged;
}

function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** The document with these records put and removed, unchecked: for what `changesBetween` found. */
export function changesApplied(
  document: ShowDocument,
  put: readonly AnyRecord[],
  removed: readonly string[],
): ShowDocument {
  const next = new Map(document);
  for (const record of put) next.set(record.id, record);
  for (const id of removed) next.delete(id);
  return next;
}

/**
 * Applies an edit. Removing something that others need removes those too (a scene its layers and the insets that show
 * it, a group its members, an input its layers and channels), and the inverse brings all of it back.
 *
 * @throws Fault `edit.dangling` when a record would point at one that does not exist
 * @throws Fault `edit.cycle` when a scene or group would stand inside itself
 * @throws Fault `edit.group` when a layer would belong to something that is not a group of its scene
 */
export function applyEdit(document: ShowDocument, edit: Edit): { document: ShowDocument; inverse: Edit } {
  const next = new Map(document);
  const inverse: Edit = { id: `undo:${edit.id}`, name: edit.name, put: [], removed: [] };
  const seen = new Set<string>();
  for (const record of edit.put) {
    const before = document.get(record.id);
    if (before && before.kind !== record.kind)
      throw new Fault(
        'edit.kind',
        `record ${record.id} is a ${before.kind} and cannot become a ${record.kind}`,
      );
    next.set(record.id, record);
    if (seen.has(record.id)) continue;
    seen.add(record.id);
    if (before) inverse.put.push(before);
    else inverse.removed.push(record.id);
  }
  for (const id of withDependents(next, edit.removed)) {
    const old = next.get(id)!;
    if (old.kind === 'show') throw new Fault('edit.show', 'the show itself cannot be removed by an edit');
    next.delete(id);
    const before = document.get(id);
    if (before && !seen.has(id)) inverse.put.push(before);
  }
  for (const record of edit.put) {
    if (!next.has(record.id)) continue;
    for (const id of needs(record))
      if (!next.has(id))
        throw new Fault(
          'edit.dangling',
          `${record.kind} "${record.name}" points at ${id}, which does not exist`,
        );
    if (record.kind !== 'layer') continue;
    checkGroup(next, record);
    if (record.content.type === 'inset') checkInsets(next, record);
  }
  return { document: next, inverse };
}

/** The ids that are there, and everything that needs one of them, directly or not. */
function withDependents(document: ShowDocument, ids: readonly string[]): Set<string> {
  const gone = new Set(ids.filter((id) => document.has(id)));
  for (let before = -1; gone.size > 0 && gone.size !== before;) {
    before = gone.size;
    for (const record of document.values())
      if (!gone.has(record.id) && needs(record).some((id) => gone.has(id))) gone.add(record.id);
  }
  return gone;
}

function needs(record: AnyRecord): string[] {
  if (record.kind === 'layer') {
    const ids: string[] = [];
    if (record.sceneId !== null) ids.push(record.sceneId);
    if (record.groupId !== null) ids.push(record.groupId);
    if (record.content.type === 'input') ids.push(record.content.inputId);
    if (record.content.type === 'inset') ids.push(record.content.sceneId);
    return ids;
  }
  if (record.kind === 'pose') return [record.sceneId];
  // A segment whose scene is gone says so; without its rundown it is nothing.
  if (record.kind === 'segment') return [record.rundownId];
  if (record.kind === 'channel') {
    const ids = record.source.type === 'input' ? [record.source.inputId] : [];
    if (record.pictureInputId !== null) ids.push(record.pictureInputId);
    return ids;
  }
  return [];
}

/** Moves `id` so that it stands at `index` among `siblings`; returns the records whose position changed. */
export function reorder<T extends { id: string; position: number }>(
  siblings: readonly T[],
  id: string,
  index: number,
): T[] {
  const moved = siblings.find((s) => s.id === id);
  if (!moved) return [];
  const rest = siblings.filter((s) => s.id !== id);
  rest.splice(Math.max(0, Math.min(rest.length, index)), 0, moved);
  return renumber(rest);
}

/** Positions 0, 1, 2 … for a list in its order; returns the records whose position changed. */
export function renumber<T extends { position: number }>(ordered: readonly T[]): T[] {
  return ordered.flatMap((s, i) => (s.position === i ? [] : [{ ...s, position: i }]));
}
