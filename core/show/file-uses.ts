/** Which records name which files, wherever in them that stands. */
import type { AnyRecord } from './records';

/** As files are named: the SHA-256 of their contents, forty digits of it. */
const FILE_ID = /^[0-9a-f]{40}$/;

/** Ids in one record. @param exists whether a file has this id */
export function filesIn(record: AnyRecord, exists: (id: string) => boolean): Set<string> {
  const found = new Set<string>();
  const look = (value: unknown): void => {
    if (typeof value === 'string') {
      if (FILE_ID.test(value) && exists(value)) found.add(value);
    } else if (Array.isArray(value)) value.forEach(look);
    else if (typeof value === 'object' && value !== null) Object.values(value).forEach(look);
  };
  look(record);
  return found;
}

/** By file the records that name it, in their order. */
export function fileUses(
  records: readonly AnyRecord[],
  exists: (id: string) => boolean,
): Map<string, AnyRecord[]> {
  const uses = new Map<string, AnyRecord[]>();
  for (const record of records)
    for (const id of filesIn(record, exists)) uses.set(id, [...(uses.get(id) ?? []), record]);
  return uses;
}

/**
 * Records that name one file, with another in its place everywhere in them, and its name where the file's own stood beside it.
 * @returns only those that name it
 */
export function withOtherFile(
  records: readonly AnyRecord[],
  from: { id: string; name: string },
  to: { id: string; name: string },
): AnyRecord[] {
  const put = (value: unknown): unknown => {
    if (value === from.id) return to.id;
    if (Array.isArray(value)) return value.map(put);
    if (typeof value !== 'object' || value === null) return value;
    const next = Object.fromEntries(Object.entries(value).map(([key, of]) => [key, put(of)]));
    const holds = Object.values(value).includes(from.id);
    if (holds && 'name' in value && value.name === from.name) next.name = to.name;
    return next;
  };
  return records
    .filter((record) => filesIn(record, (id) => id === from.id).size > 0)
    .map((record) => put(record) as AnyRecord);
}
