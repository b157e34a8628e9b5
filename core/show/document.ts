/**
 * A show as a set of records, and the edits that change it.
 *
 * An edit is data: records to put and ids to remove. Applying it gives its inverse, so undo, autosave and duplicate all
 * run through one path. Documents are never changed in place.
 */
import { Fault } from '../fault';
import type { AnyRecord, LayerRecord, RecordKind, RecordOf } from './records';

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

/** All records of a kind, in order. */
export function recordsOf<K extends RecordKind>(document: ShowDocument, kind: K): RecordOf<K>[] {
  const found: RecordOf<K>[] = [];
  for (const record of document.values()) if (record.kind === kind) found.push(record as RecordOf<K>);
  return found.sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1));
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

/** Layers of one scene, lowest first, then the standing layers above them. */
export function layersOfScene(document: ShowDocument, sceneId: string): LayerRecord[] {
  const layers = recordsOf(document, 'layer');
  return [...layers.filter((l) => l.sceneId === sceneId), ...layers.filter((l) => l.sceneId === null)];
}

/**
 * Applies an edit. Removing something that others need removes those too (a scene its layers, an input its layers and
 * channels), and the inverse brings all of it back.
 *
 * @throws Fault `edit.dangling` when a record would point at one that does not exist
 */
export function applyEdit(document: ShowDocument, edit: Edit): { document: ShowDocument; inverse: Edit } {
  const next = new Map(document);
  const inverse: Edit = { id: `undo:${edit.id}`, name: edit.name, put: [], removed: [] };
  const remove = (id: string) => {
    const old = next.get(id);
    if (!old) return;
    if (old.kind === 'show') throw new Fault('edit.show', 'the show itself cannot be removed by an edit');
    next.delete(id);
    const before = document.get(id);
    if (before) inverse.put.push(before);
    for (const record of [...next.values()]) if (dependsOn(record, id)) remove(record.id);
  };
  for (const record of edit.put) {
    const before = document.get(record.id);
    if (before && before.kind !== record.kind)
      throw new Fault(
        'edit.kind',
        `record ${record.id} is a ${before.kind} and cannot become a ${record.kind}`,
      );
    next.set(record.id, record);
    if (before) inverse.put.push(before);
    else inverse.removed.push(record.id);
  }
  for (const id of edit.removed) remove(id);
  for (const record of edit.put) {
    if (!next.has(record.id)) continue;
    for (const id of needs(record))
      if (!next.has(id))
        throw new Fault(
          'edit.dangling',
          `${record.kind} "${record.name}" points at ${id}, which does not exist`,
        );
  }
  return { document: next, inverse };
}

function needs(record: AnyRecord): string[] {
  if (record.kind === 'layer') {
    const ids = record.sceneId === null ? [] : [record.sceneId];
    if (record.content.type === 'input') ids.push(record.content.inputId);
    return ids;
  }
  if (record.kind === 'channel') {
    const ids = record.source.type === 'input' ? [record.source.inputId] : [];
    if (record.pictureInputId !== null) ids.push(record.pictureInputId);
    return ids;
  }
  return [];
}

function dependsOn(record: AnyRecord, id: string): boolean {
  return needs(record).includes(id);
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
  return rest.flatMap((s, i) => (s.position === i ? [] : [{ ...s, position: i }]));
}

/** Undo and redo as two stacks of edits. */
export class History {
  readonly #undo: Edit[] = [];
  readonly #redo: Edit[] = [];

  /** @param limit steps kept; older ones are forgotten */
  constructor(readonly limit = 200) {}

  get undoName(): string | null {
    return this.#undo.at(-1)?.name ?? null;
  }

  get redoName(): string | null {
    return this.#redo.at(-1)?.name ?? null;
  }

  /** Takes the inverse of an edit that was just applied. */
  record(inverse: Edit): void {
    this.#undo.push(inverse);
    if (this.#undo.length > this.limit) this.#undo.shift();
    this.#redo.length = 0;
  }

  /**
   * @param apply applies an edit and returns its inverse
   * @returns whether there was anything to undo
   */
  undo(apply: (edit: Edit) => Edit): boolean {
    const edit = this.#undo.pop();
    if (!edit) return false;
    this.#redo.push(apply(edit));
    return true;
  }

  redo(apply: (edit: Edit) => Edit): boolean {
    const edit = this.#redo.pop();
    if (!edit) return false;
    this.#undo.push(apply(edit));
    return true;
  }

  clear(): void {
    this.#undo.length = 0;
    this.#redo.length = 0;
  }
}
