/** Any moment of a broadcast again: how the show and the programme stood, and what has to be played to draw it. */
import type { AudienceEvent } from '../audience/events';
import { changesBetween, documentOf, findRecord, type ShowDocument } from '../show/document';
import { kindOf } from '../show/input-kinds';
import { inputsOfScene } from '../show/inputs-shown';
import { CUT } from '../show/motion-records';
import type { AnyRecord, InputSource } from '../show/records';
import type { ProgrammeCommand, ProgrammeEntry } from './commands';
import { programmeAt, type ProgrammeState } from './programme-state';

/** An edit that was made while the broadcast ran. */
export interface ToldEdit {
  revision: number;
  atMs: number;
  put: AnyRecord[];
  removed: string[];
}

/** What is kept of a broadcast to tell it again. Times in milliseconds since 1970. */
export interface ToldBroadcast {
  startedMs: number;
  /** Null while it runs. */
  endedMs: number | null;
  /** The show and the programme as they were when it began. */
  records: AnyRecord[];
  programme: ProgrammeState;
  /** In order. */
  edits: ToldEdit[];
  entries: ProgrammeEntry[];
}

/** So much before the moment is played, so that what was on its way then, an alert or a glide, is where it was. */
export const LEAD_MS = 20_000;

export type ReplayStep =
  | { atMs: number; type: 'edit'; put: AnyRecord[]; removed: string[] }
  | { atMs: number; type: 'commands'; commands: readonly ProgrammeCommand[] }
  /** `past`: from before what is played; they set off nothing any more. */
  | { atMs: number; type: 'events'; events: AudienceEvent[]; past: boolean };

/** What draws a moment: a stage that begins so, takes these steps, and stops at the moment. */
export interface Replay {
  fromMs: number;
  atMs: number;
  records: AnyRecord[];
  /** What brings the programme to where it was at `fromMs`, and since when that scene was on air. */
  first: readonly ProgrammeCommand[];
  sinceMs: number;
  steps: readonly ReplayStep[];
  /** Clips that came on with their scene, and how far they were, seconds. */
  clips: readonly { inputId: string; seconds: number }[];
}

/** The show as it was at a moment. */
export function documentAt(told: ToldBroadcast, atMs: number): ShowDocument {
  const document = new Map(documentOf(told.records));
  for (const edit of told.edits) {
    if (edit.atMs > atMs) break;
    for (const id of edit.removed) document.delete(id);
    for (const record of edit.put) document.set(record.id, record);
  }
  return document;
}

export const stateAt = (told: ToldBroadcast, atMs: number): ProgrammeState =>
  programmeAt(told.programme, told.entries, atMs);

/** Inputs of the scene on air then whose picture cannot be made again, by name. */
export function goneInputs(document: ShowDocument, sceneId: string): string[] {
  return [...inputsOfScene(document, sceneId)].flatMap((id) => {
    const input = findRecord(document, 'input', id);
    return input && !kindOf(input.source).kept ? [input.name] : [];
  });
}

/** Opened where it is seen alone; one that must not be opened again waits for a track that nobody brings. */
function unopened(record: AnyRecord): AnyRecord {
  if (record.kind !== 'input') return record;
  const source: InputSource = kindOf(record.source).kept
    ? record.source
    : { type: 'screen', surface: 'screen' };
  return { ...record, source, keepReady: false };
}

/**
 * What has to be played to draw a moment.
 * @param events what viewers wrote and did until then, as far back as it may still be seen
 * @returns null where nothing was on air
 */
export function replayOf(told: ToldBroadcast, events: readonly AudienceEvent[], atMs: number): Replay | null {
  const now = stateAt(told, atMs);
  if (!now.onAir) return null;
  const fromMs = atMs - LEAD_MS;
  const begin = stateAt(told, fromMs);
  const onAir = begin.onAir ?? now.onAir;
  const first: ProgrammeCommand[] = [
    { type: 'take', sceneId: onAir.sceneId, poseId: onAir.poseId, transition: CUT },
  ];
  const { title } = begin;
  if (title && (title.untilMs === null || title.untilMs > fromMs))
    first.push({
      ...{ type: 'title', titleId: title.titleId, words: title.words },
      seconds: title.untilMs === null ? null : (title.untilMs - fromMs) / 1000,
    });
  const atFirst = documentAt(told, fromMs);
  // What was held was seen as it was when the holding began, or the scene came on: what was edited since comes after that.
  const seen = begin.held
    ? documentAt(told, Math.min(fromMs, Math.max(heldSince(told, fromMs), onAir.sinceMs)))
    : atFirst;
  if (begin.held) first.push({ type: 'hold', on: true });
  const { put, removed } = changesBetween(seen, atFirst);
  const unseen: ReplayStep[] =
    put.length + removed.length > 0 ? [{ atMs: fromMs, type: 'edit', put: put.map(unopened), removed }] : [];
  const within = (at: number) => at > fromMs && at <= atMs;
  const steps: ReplayStep[] = [
    ...told.edits.map((edit): ReplayStep => ({
      ...{ atMs: edit.atMs, type: 'edit', put: edit.put.map(unopened), removed: edit.removed },
    })),
    ...told.entries.map((entry): ReplayStep => ({ type: 'commands', ...entry })),
    ...events.map((event): ReplayStep => ({
      ...{ atMs: event.atMs, type: 'events', events: [event], past: false },
    })),
  ].filter((step) => within(step.atMs));
  const past = events.filter((event) => event.atMs <= fromMs);
  if (past.length > 0) steps.push({ atMs: fromMs, type: 'events', events: past, past: true });
  steps.sort((a, b) => a.atMs - b.atMs);
  steps.unshift(...unseen);
  const document = documentAt(told, atMs);
  const clips = [...inputsOfScene(document, now.onAir.sceneId)].flatMap((inputId) => {
    const source = findRecord(document, 'input', inputId)?.source;
    if (source?.type !== 'clips') return [];
    // One that always runs began with the page, at a moment that nobody wrote down: with the broadcast is the nearest.
    const since = source.start === 'always' ? told.startedMs : now.onAir!.sinceMs;
    return [{ inputId, seconds: Math.max(0, (atMs - since) / 1000) }];
  });
  return {
    ...{ fromMs, atMs, first, steps, clips, sinceMs: onAir.sinceMs },
    records: [...seen.values()].map(unopened),
  };
}

/** When edits of the scene on air began to be held; as long ago as one knows where nobody wrote it down. */
function heldSince(told: ToldBroadcast, atMs: number): number {
  const entry = told.entries.findLast(
    (one) => one.atMs <= atMs && one.commands.some((command) => command.type === 'hold' && command.on),
  );
  return entry?.atMs ?? told.startedMs;
}
