import type { AnyRecord } from './records';
import type { NewId } from './stage-edits';

/** Fields that name other records, or lists of them, by id. */
const NAMES_RECORDS = /Ids?$/;
/** Fields whose own keys are ids. */
const KEYED_BY_ID: ReadonlySet<string> = new Set(['standing', 'transitionAfter', 'layers']);

/**
 * The same show once more: every record with an id of its own, and all that point at each other pointing at the copies.
 * Files are shared, since they are known by their contents.
 *
 * @returns the records, and the new id of each old one
 */
export function copyShow(
  records: readonly AnyRecord[],
  showId: string,
  name: string,
  newId: NewId,
): { records: AnyRecord[]; ids: ReadonlyMap<string, string> } {
  const ids = new Map(records.map((record) => [record.id, record.kind === 'show' ? showId : newId()]));
  const copies = records.map((record) => {
    const copy = renamed(record, ids) as AnyRecord;
    const own = { ...copy, id: ids.get(record.id)!, showId };
    return own.kind === 'show' ? { ...own, name } : own;
  });
  return { records: copies, ids };
}

/** A value with every id that stands where records name each other put through `ids`; what is not in it stays. */
export function renamed(value: unknown, ids: ReadonlyMap<string, string>, names = false): unknown {
  if (typeof value === 'string') return names ? (ids.get(value) ?? value) : value;
  if (Array.isArray(value)) return value.map((one) => renamed(one, ids, names));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, inner]) => [
      key,
      KEYED_BY_ID.has(key) && typeof inner === 'object' && inner !== null && !Array.isArray(inner)
        ? Object.fromEntries(Object.entries(inner).map(([id, of]) => [ids.get(id) ?? id, renamed(of, ids)]))
        : renamed(inner, ids, NAMES_RECORDS.test(key)),
    ]),
  );
}
