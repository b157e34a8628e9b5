/** How the programme stands: reduced from its commands, the same in page, server and worker. */
import { FADER_MIN_DB } from '../sound/decibel';
import type { ProgrammeCommand, ProgrammeEntry, TitleWords } from './commands';

/** A fader that is not where the show has it, or on its way. */
export interface ChannelLevel {
  /** Where it came from, dB; null: where the show has it. */
  fromDb: number | null;
  toDb: number;
  startMs: number;
  seconds: number;
}

export interface ProgrammeState {
  /** Of the last entry. */
  seq: number;
  /** `sinceMs`: when the scene came on; poses do not count. */
  onAir: { sceneId: string; poseId: string | null; sinceMs: number } | null;
  /** Chosen by hand as Next, over what the rundown has; null for that. */
  prepared: { sceneId: string; poseId: string | null } | null;
  /** By id of the channel: those that are not as the show has them. */
  levels: Readonly<Record<string, ChannelLevel>>;
  mutes: Readonly<Record<string, boolean>>;
  onlyVoices: boolean;
  covered: boolean;
  /** Guests' seats, by input, whose people viewers see and hear. */
  seatsOn: readonly string[];
  /** Viewers see the scene on air as it was when this began. */
  held: boolean;
  title: { titleId: string | null; words: TitleWords; sinceMs: number; untilMs: number | null } | null;
  /** The poll that runs, or ran last. */
  poll: { pollId: string; sinceMs: number; untilMs: number | null; endedMs: number | null } | null;
  /** Where the rundown is. `freely`: another scene was called since, and the rundown waits. */
  rundown: {
    rundownId: string;
    segmentId: string;
    /** When this segment came on, and when the rundown began. */
    sinceMs: number;
    startedMs: number;
    freely: boolean;
  } | null;
}

export const NO_PROGRAMME: ProgrammeState = {
  seq: 0,
  onAir: null,
  prepared: null,
  levels: {},
  mutes: {},
  onlyVoices: false,
  covered: false,
  seatsOn: [],
  held: false,
  title: null,
  poll: null,
  rundown: null,
};

/** How long the picture takes to change with these commands, seconds; null when they do not change it. */
export function pictureSeconds(commands: readonly ProgrammeCommand[]): number | null {
  let seconds: number | null = null;
  for (const command of commands)
    if (command.type === 'take') {
      const { type, stinger, seconds: own } = command.transition;
      seconds = type === 'cut' ? 0 : type === 'stinger' && stinger ? stinger.coverSeconds : own;
    } else if (command.type === 'glide') seconds = command.seconds;
  return seconds;
}

/** The state after an entry; one that was counted already changes nothing. */
export function reduceProgramme(state: ProgrammeState, entry: ProgrammeEntry): ProgrammeState {
  if (entry.seq <= state.seq) return state;
  let next: ProgrammeState = { ...state, seq: entry.seq };
  for (const command of entry.commands) next = obey(next, command, entry);
  return next;
}

function obey(state: ProgrammeState, command: ProgrammeCommand, entry: ProgrammeEntry): ProgrammeState {
  const { atMs } = entry;
  switch (command.type) {
    case 'take': {
      const { sceneId, poseId } = command;
      const same = state.onAir?.sceneId === sceneId;
      // The rundown's own take comes with its segment in one entry; any other takes the show out of it.
      const own = entry.commands.some((c) => c.type === 'segment');
      return {
        ...state,
        onAir: { sceneId, poseId, sinceMs: same ? state.onAir!.sinceMs : atMs },
        prepared: state.prepared?.sceneId === sceneId ? null : state.prepared,
        rundown: state.rundown && !own ? { ...state.rundown, freely: true } : state.rundown,
      };
    }
    case 'draw':
      // On its way it is not on air yet.
      return state;
    case 'glide':
      return state.onAir?.sceneId === command.sceneId
        ? {
            ...state,
            onAir: { ...state.onAir, poseId: command.poseId },
            prepared: state.prepared?.sceneId === command.sceneId ? null : state.prepared,
          }
        : state;
    case 'prepare':
      return { ...state, prepared: command.stop };
    case 'level': {
      const { channelId, gainDb, seconds } = command;
      const before = state.levels[channelId];
      return {
        ...state,
        levels: {
          ...state.levels,
          [channelId]: {
            fromDb: before ? levelAt(before, null, atMs) : null,
            toDb: gainDb,
            startMs: atMs,
            seconds,
          },
        },
      };
    }
    case 'mute':
      return { ...state, mutes: { ...state.mutes, [command.channelId]: command.muted } };
    case 'onlyVoices':
      return { ...state, onlyVoices: command.on };
    case 'cover':
      return { ...state, covered: command.on };
    case 'seat': {
      const { inputId, on } = command;
      const others = state.seatsOn.filter((id) => id !== inputId);
      return { ...state, seatsOn: on ? [...others, inputId] : others };
    }
    case 'hold':
      return { ...state, held: command.on };
    case 'asInShow':
      return {
        ...state,
        levels: without(state.levels, command.channelIds),
        mutes: without(state.mutes, command.channelIds),
      };
    case 'title': {
      const { titleId, words, seconds } = command;
      if (words === null) return { ...state, title: null };
      const untilMs = seconds === null ? null : atMs + seconds * 1000;
      return { ...state, title: { titleId, words, sinceMs: atMs, untilMs } };
    }
    case 'poll': {
      const { pollId, seconds } = command;
      if (pollId !== null) {
        const untilMs = seconds === 0 ? null : atMs + seconds * 1000;
        return { ...state, poll: { pollId, sinceMs: atMs, untilMs, endedMs: null } };
      }
      return state.poll && state.poll.endedMs === null
        ? { ...state, poll: { ...state.poll, endedMs: atMs } }
        : state;
    }
    case 'segment': {
      const { rundownId, segmentId } = command;
      if (rundownId === null || segmentId === null) return { ...state, rundown: null };
      const startedMs = state.rundown?.rundownId === rundownId ? state.rundown.startedMs : atMs;
      const rundown = { rundownId, segmentId, sinceMs: atMs, startedMs, freely: false };
      return { ...state, prepared: null, rundown };
    }
  }
}

function without<T>(of: Readonly<Record<string, T>>, ids: readonly string[]): Readonly<Record<string, T>> {
  return Object.fromEntries(Object.entries(of).filter(([id]) => !ids.includes(id)));
}

/**
 * Where a fader is at a moment, dB. @param showDb where the show has it; null when that is not known, and the end of the
 * fade counts
 */
export function levelAt(level: ChannelLevel, showDb: number | null, atMs: number): number {
  const { fromDb, toDb, startMs, seconds } = level;
  const from = fromDb ?? showDb;
  const share = seconds <= 0 ? 1 : Math.min(1, Math.max(0, (atMs - startMs) / (seconds * 1000)));
  if (share === 1 || from === null) return toDb;
  const bottom = (db: number) => Math.max(FADER_MIN_DB, db);
  return bottom(from) + (bottom(toDb) - bottom(from)) * share;
}

/** What a channel is set to, with what was done to it since: where its fader goes, how fast, and whether it is muted. */
export function standingOf(
  state: ProgrammeState,
  channel: { id: string; gainDb: number; muted: boolean; role: 'voice' | 'background' },
): { gainDb: number; seconds: number; muted: boolean } {
  const level = state.levels[channel.id];
  return {
    gainDb: level?.toDb ?? channel.gainDb,
    seconds: level?.seconds ?? 0,
    muted: (state.mutes[channel.id] ?? channel.muted) || (state.onlyVoices && channel.role !== 'voice'),
  };
}

/** Channels whose level or mute is not as the show has it: what *Keep as start* would write. */
export function changedChannels<C extends { id: string; gainDb: number; muted: boolean }>(
  state: ProgrammeState,
  channels: readonly C[],
): C[] {
  return channels.flatMap((channel) => {
    const gainDb = state.levels[channel.id]?.toDb ?? channel.gainDb;
    const muted = state.mutes[channel.id] ?? channel.muted;
    return gainDb === channel.gainDb && muted === channel.muted ? [] : [{ ...channel, gainDb, muted }];
  });
}

/** The state at a moment of a broadcast, from where it began and what was done since. */
export function programmeAt(
  begin: ProgrammeState,
  entries: readonly ProgrammeEntry[],
  atMs: number,
): ProgrammeState {
  return entries.reduce(
    (state, entry) => (entry.atMs <= atMs ? reduceProgramme(state, entry) : state),
    begin,
  );
}

/**
 * Commands that bring levels, mutes, seats and titles back to where they were before an entry; takes stay.
 * @param inShow what the show has of a channel; null when it is gone
 */
export function inverseOf(
  before: ProgrammeState,
  entry: ProgrammeEntry,
  inShow: (channelId: string) => { gainDb: number; muted: boolean } | null,
): ProgrammeCommand[] {
  const back = new Map<string, ProgrammeCommand>();
  for (const command of entry.commands) {
    if (command.type === 'level') {
      const { channelId } = command;
      const gainDb = before.levels[channelId]?.toDb ?? inShow(channelId)?.gainDb;
      if (gainDb !== undefined)
        back.set(`level ${channelId}`, { type: 'level', channelId, gainDb, seconds: 0 });
    } else if (command.type === 'mute') {
      const { channelId } = command;
      const muted = before.mutes[channelId] ?? inShow(channelId)?.muted;
      if (muted !== undefined) back.set(`mute ${channelId}`, { type: 'mute', channelId, muted });
    } else if (command.type === 'onlyVoices')
      back.set('onlyVoices', { type: 'onlyVoices', on: before.onlyVoices });
    else if (command.type === 'seat') {
      const { inputId } = command;
      back.set(`seat ${inputId}`, { type: 'seat', inputId, on: before.seatsOn.includes(inputId) });
    } else if (command.type === 'title') {
      const { title } = before;
      back.set('title', {
        type: 'title',
        titleId: title?.titleId ?? null,
        words: title?.words ?? null,
        seconds: null,
      });
    }
  }
  return [...back.values()];
}
