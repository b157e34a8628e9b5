/** The running order: what comes next, what a segment does, and how time stands. */
import { glideSeconds, transitionFor } from '../motion/programme';
import type { ProgrammeCommand } from '../programme/commands';
import type { ProgrammeState } from '../programme/programme-state';
import { fillFields } from '../scene/fields';
import { findRecord, recordsOf, type ShowDocument } from '../show/document';
import { poseIn } from '../show/poses';
import type { RundownRecord, SegmentRecord, TitleRecord } from '../show/rundown-records';

/** Segments of a rundown in order. */
export function segmentsOf(document: ShowDocument, rundownId: string): SegmentRecord[] {
  return recordsOf(document, 'segment').filter((segment) => segment.rundownId === rundownId);
}

/** The rundown that runs, or else the show's first. */
export function rundownInUse(document: ShowDocument, state: ProgrammeState): RundownRecord | null {
  return (
    findRecord(document, 'rundown', state.rundown?.rundownId ?? null) ??
    recordsOf(document, 'rundown')[0] ??
    null
  );
}

/** The segment that is on; null when no rundown runs, or its segment was removed meanwhile. */
export function segmentOn(document: ShowDocument, state: ProgrammeState): SegmentRecord | null {
  return findRecord(document, 'segment', state.rundown?.segmentId ?? null);
}

/** Whether it can come on: not skipped, and its scene is there. */
export function canRun(document: ShowDocument, segment: SegmentRecord): boolean {
  return (
    !segment.skipped && (segment.sceneId === null || findRecord(document, 'scene', segment.sceneId) !== null)
  );
}

/** What comes after a segment by hand; after null the first. Null at the end. */
export function segmentAfter(
  document: ShowDocument,
  rundownId: string,
  segmentId: string | null,
): SegmentRecord | null {
  const segments = segmentsOf(document, rundownId);
  const at = segments.findIndex(({ id }) => id === segmentId);
  const { group, repeats } = segments[at] ?? { group: '', repeats: false };
  // By hand one leaves a group that would go round.
  const from = group !== '' && repeats ? lastOfGroup(segments, at) : at;
  return segments.slice(from + 1).find((segment) => canRun(document, segment)) ?? null;
}

/** The segment or scene that *Take* brings on; null at the end of the rundown, or without one. */
export type NextUp = { segment: SegmentRecord } | { stop: { sceneId: string; poseId: string | null } };

/** What *Take* brings on: chosen by hand, or what the rundown has next. */
export function nextUp(document: ShowDocument, state: ProgrammeState): NextUp | null {
  const { prepared, rundown: running } = state;
  if (prepared && findRecord(document, 'scene', prepared.sceneId)) return { stop: prepared };
  const rundown = rundownInUse(document, state);
  // After a free call the rundown waits where it was: Take comes back into it.
  const segment = rundown && segmentAfter(document, rundown.id, running?.segmentId ?? null);
  return segment && { segment };
}

/** Where it leads; null for a segment that leaves what is on. */
export function stopOf(next: NextUp): { sceneId: string; poseId: string | null } | null {
  if ('stop' in next) return next.stop;
  const { sceneId, poseId } = next.segment;
  return sceneId === null ? null : { sceneId, poseId };
}

/** What comes after a segment by itself: a group that repeats begins again. */
export function segmentByItself(document: ShowDocument, segment: SegmentRecord): SegmentRecord | null {
  const segments = segmentsOf(document, segment.rundownId);
  const at = segments.findIndex(({ id }) => id === segment.id);
  if (segment.group === '') return segmentAfter(document, segment.rundownId, segment.id);
  const later = segments.slice(at + 1, lastOfGroup(segments, at) + 1).find((one) => canRun(document, one));
  if (later) return later;
  const first = segments.slice(firstOfGroup(segments, at), at + 1);
  return segment.repeats || segments[lastOfGroup(segments, at)].repeats
    ? (first.find((one) => canRun(document, one)) ?? null)
    : segmentAfter(document, segment.rundownId, segment.id);
}

/** What came before a segment, in the order of the list. */
export function segmentBefore(document: ShowDocument, segment: SegmentRecord): SegmentRecord | null {
  const segments = segmentsOf(document, segment.rundownId);
  const at = segments.findIndex(({ id }) => id === segment.id);
  return segments.slice(0, Math.max(0, at)).findLast((one) => canRun(document, one)) ?? null;
}

function lastOfGroup(segments: readonly SegmentRecord[], at: number): number {
  let last = at;
  while (segments[last + 1]?.group === segments[at].group) last += 1;
  return last;
}

function firstOfGroup(segments: readonly SegmentRecord[], at: number): number {
  let first = at;
  while (first > 0 && segments[first - 1].group === segments[at].group) first -= 1;
  return first;
}

/** The two lines of a title as they stand with the show's fields in them. */
export function titleWords(document: ShowDocument, title: TitleRecord): { line1: string; line2: string } {
  const fields = recordsOf(document, 'show')[0]?.fields ?? {};
  return { line1: fillFields(title.name, fields), line2: fillFields(title.line2, fields) };
}

/** What brings a scene on, in a pose of its own or its first: a glide where it is on already. */
export function sceneCommands(
  document: ShowDocument,
  state: ProgrammeState,
  sceneId: string,
  poseId: string | null,
  transition: SegmentRecord['transition'],
): ProgrammeCommand[] {
  if (!findRecord(document, 'scene', sceneId)) return [];
  const pose = poseIn(document, sceneId, poseId)?.id ?? null;
  const { onAir } = state;
  if (onAir?.sceneId === sceneId) {
    const before = poseIn(document, sceneId, onAir.poseId)?.id ?? null;
    if (pose === null || pose === before) return [];
    return [
      { type: 'glide', sceneId, poseId: pose, seconds: glideSeconds({ sceneId, poseId: pose }, document) },
    ];
  }
  return [
    {
      type: 'take',
      sceneId,
      poseId: pose,
      transition: transition ?? transitionFor(document, onAir?.sceneId ?? null, sceneId),
    },
  ];
}

/** Everything of the programme that a segment changes when it comes on; its presses come beside it. */
export function segmentCommands(
  document: ShowDocument,
  state: ProgrammeState,
  segment: SegmentRecord,
): ProgrammeCommand[] {
  const { id, rundownId, sceneId, poseId, transition, sound, titleId } = segment;
  const commands: ProgrammeCommand[] = [{ type: 'segment', rundownId, segmentId: id }];
  if (sceneId !== null) commands.push(...sceneCommands(document, state, sceneId, poseId, transition));
  for (const { channelId, gainDb, muted, seconds } of sound) {
    if (!findRecord(document, 'channel', channelId)) continue;
    if (gainDb !== null) commands.push({ type: 'level', channelId, gainDb, seconds });
    if (muted !== null) commands.push({ type: 'mute', channelId, muted });
  }
  const title = findRecord(document, 'title', titleId);
  if (title)
    commands.push({ type: 'title', titleId, words: titleWords(document, title), seconds: title.seconds });
  return commands;
}

/**
 * The moment of a clock time that is nearest to another one, milliseconds since 1970. Days of 23 and 25 hours are those of
 * the computer the desk runs on.
 * @param clock `HH:MM`
 */
export function clockNear(clock: string, nearMs: number): number {
  return clockTimes(clock, nearMs).reduce((best, ms) =>
    Math.abs(ms - nearMs) < Math.abs(best - nearMs) ? ms : best,
  );
}

/** The next time of a clock at or after a moment, milliseconds since 1970. */
export function clockAfter(clock: string, fromMs: number): number {
  return Math.min(...clockTimes(clock, fromMs).filter((ms) => ms >= fromMs));
}

/**
 * When a clock says so on the days around a moment, by this computer's own time: days of 23 and of 25 hours are among them. A
 * time that a change of the clocks leaves out counts as so much later, one that comes twice as the first.
 */
function clockTimes(clock: string, aroundMs: number): number[] {
  const [hours, minutes] = clock.split(':').map(Number);
  return [-1, 0, 1, 2].map((days) => {
    const date = new Date(aroundMs);
    date.setDate(date.getDate() + days);
    return date.setHours(hours, minutes, 0, 0);
  });
}

export type SegmentStanding = 'done' | 'on' | 'next' | 'coming' | 'skipped' | 'broken';

export interface TimedSegment {
  segment: SegmentRecord;
  standing: SegmentStanding;
  /** When it begins, or began as planned; milliseconds since 1970. */
  startMs: number;
}

export interface RundownTimes {
  segments: TimedSegment[];
  /** Of all that are not skipped, seconds. */
  plannedSeconds: number;
  /** When the last one will be over. */
  endsMs: number;
  /** Later (positive) or earlier than planned, seconds; null while nothing runs and no time is set to begin. */
  overSeconds: number | null;
  /** Of the segment that is on: how long it has been, seconds; null without one. */
  elapsedSeconds: number | null;
}

/** How a rundown stands at a moment. */
export function rundownTimes(
  document: ShowDocument,
  rundown: RundownRecord,
  state: ProgrammeState,
  nowMs: number,
): RundownTimes {
  const segments = segmentsOf(document, rundown.id);
  const running = state.rundown?.rundownId === rundown.id ? state.rundown : null;
  const at = running ? segments.findIndex(({ id }) => id === running.segmentId) : -1;
  const next = segmentAfter(document, rundown.id, at < 0 ? null : segments[at].id);
  const counted = (segment: SegmentRecord) => canRun(document, segment);
  const plannedSeconds = segments.reduce((sum, one) => sum + (counted(one) ? one.plannedSeconds : 0), 0);
  const planned = rundown.startsAt === '' ? null : clockNear(rundown.startsAt, running?.startedMs ?? nowMs);
  const baseMs = planned ?? running?.startedMs ?? nowMs;
  let clockMs = at < 0 ? Math.max(baseMs, planned === null ? nowMs : baseMs) : baseMs;
  const timed = segments.map((segment, i): TimedSegment => {
    // What is on began when it did; from there on times are those that can be expected.
    if (i === at && running) clockMs = running.sinceMs;
    const startMs = clockMs;
    const standing: SegmentStanding = segment.skipped
      ? 'skipped'
      : !counted(segment)
        ? 'broken'
        : i === at
          ? 'on'
          : segment.id === next?.id
            ? 'next'
            : i < at
              ? 'done'
              : 'coming';
    if (i === at) clockMs = Math.max(nowMs, startMs + segment.plannedSeconds * 1000);
    else if (counted(segment)) clockMs += segment.plannedSeconds * 1000;
    return { segment, standing, startMs };
  });
  const overSeconds =
    running === null && planned === null ? null : (clockMs - (baseMs + plannedSeconds * 1000)) / 1000;
  return {
    segments: timed,
    plannedSeconds,
    endsMs: clockMs,
    overSeconds: running === null ? (planned === null ? null : 0) : overSeconds,
    elapsedSeconds: running && at >= 0 ? Math.max(0, (nowMs - running.sinceMs) / 1000) : null,
  };
}

/** No segment is made shorter than this, seconds. */
const LEAST_SECONDS = 15;

/**
 * Spreads what is over (or, below zero, what is left) on the segments that are still to come and not fixed, in proportion to
 * their lengths, to whole five seconds.
 * @returns the segments that change, and how much could not be made up, seconds
 */
export function madeUp(times: RundownTimes): { segments: SegmentRecord[]; leftSeconds: number } {
  let over = Math.round(times.overSeconds ?? 0);
  const open = times.segments
    .filter(({ standing, segment }) => (standing === 'next' || standing === 'coming') && !segment.fixed)
    .map(({ segment }) => segment);
  const changed: SegmentRecord[] = [];
  let rest = open.reduce((sum, { plannedSeconds }) => sum + plannedSeconds, 0);
  for (const segment of open) {
    const share = rest === 0 ? 0 : (over * segment.plannedSeconds) / rest;
    rest -= segment.plannedSeconds;
    const wanted = Math.round((segment.plannedSeconds - share) / 5) * 5;
    const plannedSeconds = Math.max(Math.min(LEAST_SECONDS, segment.plannedSeconds), wanted);
    over -= segment.plannedSeconds - plannedSeconds;
    if (plannedSeconds !== segment.plannedSeconds) changed.push({ ...segment, plannedSeconds });
  }
  return { segments: changed, leftSeconds: over };
}
