/** A rundown as a table (RFC 4180), for people who plan in a spreadsheet: out, and in from what they paste. */
import { recordsOf, type ShowDocument } from '../show/document';
import { lengthText } from './length-text';
import { posesOf } from '../show/poses';
import { PLAIN_SEGMENT, type SegmentEnd, type SegmentRecord } from '../show/rundown-records';
import type { NewId } from '../show/stage-edits';

const COLUMNS = ['name', 'scene', 'pose', 'length', 'ends', 'fixed', 'skipped', 'group', 'notes'] as const;
/** Longer tables are no evening. */
export const MAX_SEGMENTS = 500;
const LONGEST_SECONDS = 30 * 3600;

/** Seconds of `5:00`, `1:02:03`, `90 s`, `12 min` or `12` (minutes); null for what is none, or more than 30 hours. */
export function readLength(text: string): number | null {
  const words = text.trim().toLowerCase();
  const clock = /^(?:(\d{1,2}):)?(\d{1,3}):([0-5]\d)$/.exec(words);
  const plain = /^(\d{1,6}(?:[.,]\d+)?)\s*(s|sec|min|m|h)?$/.exec(words);
  const unit = { s: 1, sec: 1, m: 60, min: 60, h: 3600 } as const;
  const value = clock
    ? Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3])
    : plain
      ? Number(plain[1].replace(',', '.')) * unit[(plain[2] ?? 'min') as keyof typeof unit]
      : NaN;
  return Number.isFinite(value) && value >= 0 && value <= LONGEST_SECONDS ? value : null;
}

const field = (value: string) => (/[",\r\n\t;]/.test(value) ? `"${value.replaceAll('"', '""')}"` : value);

const endText = (end: SegmentEnd): string => (end.type === 'clock' ? end.at : end.type);

/** Segments as a table with a head. */
export function rundownCsv(document: ShowDocument, segments: readonly SegmentRecord[]): string {
  const nameOf = (id: string | null) => (id === null ? '' : (document.get(id)?.name ?? ''));
  const rows = segments.map((one) => [
    one.name,
    nameOf(one.sceneId),
    nameOf(one.poseId),
    lengthText(one.plannedSeconds),
    endText(one.end),
    one.fixed ? 'yes' : '',
    one.skipped ? 'yes' : '',
    one.group,
    one.notes,
  ]);
  return [COLUMNS, ...rows].map((row) => row.map((value) => field(value)).join(',')).join('\r\n') + '\r\n';
}

/** Rows of a table with commas, semicolons or tabs, quoted as RFC 4180 has it. */
function readTable(text: string): string[][] {
  const head = text.slice(0, text.indexOf('\n') < 0 ? undefined : text.indexOf('\n'));
  const counts = ([',', ';', '\t'] as const).map((sign) => [sign, head.split(sign).length] as const);
  const sign = counts.reduce((best, one) => (one[1] > best[1] ? one : best))[0];
  const rows: string[][] = [[]];
  let value = '';
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (quoted) {
      if (c !== '"') value += c;
      else if (text[i + 1] === '"') {
        value += '"';
        i += 1;
      } else quoted = false;
    } else if (c === '"' && value === '') quoted = true;
    else if (c === sign || c === '\n') {
      rows.at(-1)!.push(value.replace(/\r$/, ''));
      value = '';
      if (c === '\n') rows.push([]);
    } else value += c;
  }
  rows.at(-1)!.push(value.replace(/\r$/, ''));
  return rows.filter((row) => row.some((cell) => cell.trim() !== ''));
}

function readEnd(text: string): SegmentEnd | null {
  const words = text.trim().toLowerCase();
  if (words === '') return { type: 'hand' };
  const clock = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(words);
  if (clock) return { type: 'clock', at: `${clock[1].padStart(2, '0')}:${clock[2]}` };
  return (['hand', 'clip', 'music', 'countdown', 'poll', 'length'] as const).includes(words as 'hand')
    ? { type: words as 'hand' }
    : null;
}

const yes = (text: string) => /^(yes|y|x|1|true)$/i.test(text.trim());

/** What of a row could not be taken as it was written. `row` counts from 1; of too many rows it is the last that was taken. */
export interface RowProblem {
  row: number;
  type: 'scene' | 'pose' | 'length' | 'end' | 'tooMany';
  value: string;
}

export interface ReadRundown {
  segments: SegmentRecord[];
  problems: RowProblem[];
}

/**
 * Segments from a table that was pasted. With a head the columns may stand in any order; without one a row is name, scene,
 * length. Scenes and poses are known by name; what is not known is said, and the row comes all the same.
 */
export function readRundown(
  text: string,
  document: ShowDocument,
  into: { showId: string; rundownId: string; position: number },
  newId: NewId,
): ReadRundown {
  const problems: RowProblem[] = [];
  const rows = readTable(text.replace(/^\uFEFF/, ''));
  const head = rows[0]?.map((cell) => cell.trim().toLowerCase()) ?? [];
  const headed = head.includes('name');
  const columns = headed ? head : ['name', 'scene', 'length'];
  const body = headed ? rows.slice(1) : rows;
  if (body.length > MAX_SEGMENTS)
    problems.push({ row: MAX_SEGMENTS, type: 'tooMany', value: String(body.length) });
  const scenes = recordsOf(document, 'scene');
  const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();
  const segments = body.slice(0, MAX_SEGMENTS).map((row, i): SegmentRecord => {
    const cell = (name: (typeof COLUMNS)[number]) => row[columns.indexOf(name)] ?? '';
    const wrong = (type: RowProblem['type'], value: string) =>
      problems.push({ row: i + 1, type, value: value.trim().slice(0, 60) });
    const sceneName = cell('scene').trim();
    const scene = sceneName === '' ? null : (scenes.find(({ name }) => same(name, sceneName)) ?? null);
    if (sceneName !== '' && !scene) wrong('scene', sceneName);
    const poseName = cell('pose').trim();
    const pose =
      scene && poseName !== '' ? posesOf(document, scene.id).find(({ name }) => same(name, poseName)) : null;
    if (poseName !== '' && !pose) wrong('pose', poseName);
    const length = cell('length').trim();
    const plannedSeconds = length === '' ? PLAIN_SEGMENT.plannedSeconds : readLength(length);
    if (plannedSeconds === null) wrong('length', length);
    const end = readEnd(cell('ends'));
    if (end === null) wrong('end', cell('ends'));
    return {
      ...PLAIN_SEGMENT,
      sound: [],
      presses: [],
      kind: 'segment',
      id: newId(),
      showId: into.showId,
      rundownId: into.rundownId,
      name: (cell('name').trim() || scene?.name || 'Segment').slice(0, 120),
      position: into.position + i,
      sceneId: scene?.id ?? null,
      poseId: pose?.id ?? null,
      plannedSeconds: plannedSeconds ?? PLAIN_SEGMENT.plannedSeconds,
      end: end ?? { type: 'hand' },
      fixed: yes(cell('fixed')),
      skipped: yes(cell('skipped')),
      group: cell('group').trim().slice(0, 80),
      notes: cell('notes').slice(0, 5000),
    };
  });
  return { segments, problems };
}
