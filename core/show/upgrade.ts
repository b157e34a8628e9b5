import type { AnyRecord } from './records';

/**
 * Records as an earlier version wrote them, in the shape of this one: those in files that are brought in. Databases are
 * changed by their migrations. One step for each change of a kind; what is no record stays as it is, to be refused.
 */
export function upgraded(records: readonly unknown[]): AnyRecord[] {
  return records.map((record) => {
    if (typeof record !== 'object' || record === null) return record;
    // Before there were kits.
    if ((record as AnyRecord).kind === 'show' && !('kits' in record)) return { ...record, kits: [] };
    return record;
  }) as AnyRecord[];
}
