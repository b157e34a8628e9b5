import { renamed } from '../show/copy-show';
import { documentOf, recordsOf, type ShowDocument } from '../show/document';
import { kindOf } from '../show/input-kinds';
import type { AnyRecord, FrameName, RecordKind } from '../show/records';
import { freeName, resizedFrame, type NewId } from '../show/stage-edits';
import { partsOf, type Parts } from './parts';

const FRAMES: readonly FrameName[] = ['wide', 'tall'];
/** Of these one that is there already, the same in everything but its name, is used instead of a second one. */
const SHARED: ReadonlySet<RecordKind> = new Set(['input', 'grade']);

/**
 * Chosen parts as records of another show: laid out for its frames, under ids of their own and names that are free. An
 * input that the other show has too is used from there, so that one camera is opened once. Where an address or key belongs
 * to an input, it does not come along.
 *
 * @param wanted ids of chosen parts; what they need comes too
 * @param fields values for words that the other show does not have; those it has stay as they are
 * @returns what is to be put, and the new ids of the records that came, by their old ones
 */
export function takenOver(
  parts: Parts,
  wanted: Iterable<string>,
  target: ShowDocument,
  fields: Record<string, string>,
  newId: NewId,
): { put: AnyRecord[]; came: ReadonlyMap<string, string> } {
  const [show] = recordsOf(target, 'show');
  const chosen = resized(parts, wanted, target);
  const ids = new Map<string, string>();
  for (const record of chosen) {
    const twin = SHARED.has(record.kind) ? twinOf(record, ids, target) : null;
    if (twin !== null) ids.set(record.id, twin);
  }
  const coming = chosen.filter(({ id }) => !ids.has(id));
  for (const { id } of coming) ids.set(id, newId());
  const names = new Map<RecordKind, string[]>();
  const tops = new Map<RecordKind, number>();
  const keys = freshKeys(coming, target);
  const put = coming.map((record): AnyRecord => {
    const { kind } = record;
    const copy = { ...(renamed(keys(record), ids) as AnyRecord), id: ids.get(record.id)!, showId: show.id };
    // Layers and poses keep name and order within what they belong to.
    if (kind === 'layer' || kind === 'pose') return copy;
    const taken = names.get(kind) ?? recordsOf(target, kind).map(({ name }) => name);
    const name = freeName(taken, record.name);
    names.set(kind, [...taken, name]);
    const position = (tops.get(kind) ?? Math.max(-1, ...recordsOf(target, kind).map((r) => r.position))) + 1;
    tops.set(kind, position);
    return { ...copy, name, position };
  });
  const missing = Object.entries(partsOf(documentWith(parts, target), wanted).fields).filter(
    ([name]) => !Object.hasOwn(show.fields, name),
  );
  if (missing.length > 0)
    put.push({
      ...show,
      fields: {
        ...show.fields,
        ...Object.fromEntries(missing.map(([name, value]) => [name, fields[name] ?? value])),
      },
    });
  return { put, came: new Map(coming.map(({ id }) => [id, ids.get(id)!])) };
}

/** The parts as a show of their own, in frames of their size. */
export function documentWith(parts: Parts, target: ShowDocument): ShowDocument {
  const [show] = recordsOf(target, 'show');
  const frames = Object.fromEntries(
    FRAMES.map((frame) => [frame, { ...show.frames[frame], ...parts.frames[frame] }]),
  ) as typeof show.frames;
  return documentOf([
    { ...show, id: 'parts', showId: 'parts', frames, fields: parts.fields },
    ...parts.records,
  ]);
}

/** The chosen ones with what they need, inputs first, laid out for the target's frames. */
function resized(parts: Parts, wanted: Iterable<string>, target: ShowDocument): AnyRecord[] {
  let document = documentWith(parts, target);
  const [show] = recordsOf(target, 'show');
  for (const frame of FRAMES) {
    const changed = new Map(resizedFrame(document, frame, show.frames[frame]).map((r) => [r.id, r]));
    document = documentOf([...document.values()].map((record) => changed.get(record.id) ?? record));
  }
  const rank = (kind: RecordKind) => ['grade', 'input'].indexOf(kind);
  return partsOf(document, wanted).records.sort(
    // Grades before inputs before everything else: what others point at is known when they are compared.
    (a, b) =>
      (rank(a.kind) < 0 ? 9 : rank(a.kind)) - (rank(b.kind) < 0 ? 9 : rank(b.kind)) ||
      a.position - b.position,
  );
}

/** A record of the target that is the same in all but id, name and order; null without one. */
function twinOf(record: AnyRecord, ids: ReadonlyMap<string, string>, target: ShowDocument): string | null {
  // Two web pages or feeds may be the same in all but the address, which stands elsewhere.
  if (record.kind === 'input' && kindOf(record.source).addressed) return null;
  const bare = (one: unknown) => {
    const { id: _, showId: _s, name: _n, position: _p, ...rest } = one as AnyRecord;
    return JSON.stringify(sorted(rest));
  };
  const wanted = bare(renamed(record, ids));
  return recordsOf(target, record.kind).find((other) => bare(other) === wanted)?.id ?? null;
}

/** With keys in the order of the alphabet, so that equal things read equal. */
export function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, inner]) => [key, sorted(inner)]),
  );
}

/** Goals are named in texts by a key, and effects pressed by one: both must be free in the target. */
function freshKeys(coming: readonly AnyRecord[], target: ShowDocument): (record: AnyRecord) => AnyRecord {
  const taken = recordsOf(target, 'goal').map(({ key }) => key);
  const goals = new Map<string, string>();
  for (const record of coming)
    if (record.kind === 'goal') {
      const key = freeKey(taken, record.key);
      taken.push(key);
      if (key !== record.key) goals.set(record.key, key);
    }
  const pressed = new Set(recordsOf(target, 'effect').map(({ key }) => key));
  return (record) => {
    let next = record;
    for (const [from, to] of goals) next = withGoalKey(next, from, to);
    if (next.kind === 'goal') return { ...next, key: goals.get(next.key) ?? next.key };
    return next.kind === 'effect' && pressed.has(next.key) ? { ...next, key: '' } : next;
  };
}

function freeKey(taken: readonly string[], key: string): string {
  if (!taken.includes(key)) return key;
  for (let n = 2; ; n++) if (!taken.includes(`${key}${n}`)) return `${key}${n}`;
}

const withGoalKey = (record: AnyRecord, from: string, to: string): AnyRecord =>
  JSON.parse(JSON.stringify(record).replaceAll(`{{goal.${from}.`, `{{goal.${to}.`)) as AnyRecord;
