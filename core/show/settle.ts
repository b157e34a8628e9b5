/**
 * Edits of several windows at once: the server puts them in one order and tells everyone what came of each; a window
 * replays what it has not had confirmed yet on top.
 */
import equal from 'fast-deep-equal';
import { applyEdit, changedRecords, changesBetween, rebased, type Edit, type ShowDocument } from './document';
import type { AnyRecord } from './records';

/** What an edit came to: records as they are now, and every id that is gone, those that needed others too. */
export interface Change {
  put: AnyRecord[];
  removed: string[];
}

/** A change in its place in the order. */
export interface ToldChange extends Change {
  /** Of the show after it. */
  revision: number;
  /** Of the edit it came from. */
  id: string;
  /** What the user did: "Move Desk camera". */
  name: string;
}

export interface Settled {
  document: ShowDocument;
  change: Change;
  /** Brings everything back that the edit changed. */
  inverse: Edit;
  /** Names of records that were to be changed, and had been removed meanwhile: they stay removed. */
  gone: string[];
}

/**
 * Applies an edit that was made on an earlier state of the show. What it did not change itself stays as it is now, down to
 * single values; a value that was changed by both becomes what this edit says, since it comes later.
 *
 * @param seen the records as they were when the edit was made; those it made new are not in it
 * @throws Fault `edit.*` as `applyEdit`
 */
export function settle(now: ShowDocument, edit: Edit, seen: readonly AnyRecord[]): Settled {
  const before = new Map(seen.map((record) => [record.id, record]));
  const gone: string[] = [];
  const wanted = edit.put.filter((record) => {
    const left = now.has(record.id) || !before.has(record.id);
    if (!left) gone.push(record.name);
    return left;
  });
  const put = changedRecords(now, rebased(wanted, before, now));
  const { document, inverse } = applyEdit(now, { ...edit, put });
  return { document, change: changesBetween(now, document), inverse, gone };
}

/** Where two values differ, as paths: lists and other kinds count as a whole. */
export function changedPaths(before: unknown, after: unknown, at = ''): string[] {
  if (equal(before, after)) return [];
  if (!isPlain(before) || !isPlain(after)) return [at];
  return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((key) =>
    changedPaths(before[key], after[key], at === '' ? key : `${at}.${key}`),
  );
}

/** Whether one of them is the other, or lies within it. */
export function overlap(some: readonly string[], others: readonly string[]): boolean {
  return some.some((a) => others.some((b) => a === b || a.startsWith(`${b}.`) || b.startsWith(`${a}.`)));
}

function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
