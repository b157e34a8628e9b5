import type { AnyRecord, DestinationRecord, InputRecord } from './records';

/**
 * Records as an earlier version wrote them, in the shape of this one: those in files that are brought in. Databases are
 * changed by their migrations. One step for each change of a kind; what is no record stays as it is, to be refused.
 */
export function upgraded(records: readonly unknown[]): AnyRecord[] {
  return records.map((record) => {
    if (typeof record !== 'object' || record === null) return record;
    const { kind } = record as AnyRecord;
    // Before there were kits.
    if (kind === 'show' && !('kits' in record)) return { ...record, kits: [] };
    // Before an encoder could be chosen, and what stays on a computer that is overloaded.
    if (kind === 'plan') return { encoder: 'any', keep: 'sharpness', ...record };
    // Before services were described by files.
    if (kind === 'destination') {
      const {
        standIn = null,
        details,
        ...rest
      } = record as Partial<DestinationRecord> & { standIn?: string | null };
      return { connector: standIn, ...rest, details: { visibility: '', ...details } };
    }
    // Before cameras could be set, and deinterlaced.
    if (kind === 'input') {
      const { source } = record as Partial<InputRecord>;
      if (source?.type === 'camera')
        return { ...record, source: { controls: {}, deinterlace: false, ...(source as object) } };
    }
    return record;
  }) as AnyRecord[];
}
