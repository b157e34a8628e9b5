/** The running order, who can be named on the picture, and what hands, keys and pads can call. */
import type { PollAnswer } from '../audience/own-poll';
import type { Press } from '../commands/commands';
import type { ControlMode } from '../controllers/midi';
import type { RecordBase, SceneMark } from './record-base';
import type { Transition } from './motion-records';

/** What moves a segment on to the next one. */
export type SegmentEnd =
  | { type: 'hand' }
  /** The clips of its scene have run out. */
  | { type: 'clip' }
  /** The music list that plays has run out. */
  | { type: 'music' }
  /** A countdown of its scene is at zero. */
  | { type: 'countdown' }
  /** The poll that runs is over. */
  | { type: 'poll' }
  /** Its planned length is over. */
  | { type: 'length' }
  /** `HH:MM`, in the time of the computer the desk runs on. */
  | { type: 'clock'; at: string };
export const SEGMENT_ENDS = ['hand', 'clip', 'music', 'countdown', 'poll', 'length', 'clock'] as const;

/** What a segment does to a channel. */
export interface SegmentSound {
  channelId: string;
  /** Null leaves the fader. */
  gainDb: number | null;
  /** Null leaves the mute. */
  muted: boolean | null;
  /** How long the fade takes. */
  seconds: number;
}

export interface RundownRecord extends RecordBase<'rundown'> {
  /** `HH:MM`; empty: whenever it begins. */
  startsAt: string;
}

export interface SegmentRecord extends RecordBase<'segment'> {
  rundownId: string;
  /** Null: what is on stays. A scene that is gone is said, and the segment passed over. */
  sceneId: string | null;
  poseId: string | null;
  /** Null: as the scene says. */
  transition: Transition | null;
  plannedSeconds: number;
  /** *Make up time* leaves its length. */
  fixed: boolean;
  end: SegmentEnd;
  sound: SegmentSound[];
  /** Comes on with it, for its own time; null for none. */
  titleId: string | null;
  /** Done when it comes on. */
  presses: Press[];
  notes: string;
  mark: SceneMark;
  skipped: boolean;
  /** Segments that stand together under one name; empty for none. */
  group: string;
  /** The last of its group goes back to the group's first by itself, until somebody takes what is after the group. */
  repeats: boolean;
}

/** Somebody or something that can be named: `name` is the first line. */
export interface TitleRecord extends RecordBase<'title'> {
  line2: string;
  /** How long it stays by itself. */
  seconds: number;
}

export type CueStep =
  { type: 'press'; press: Press } | { type: 'wait'; seconds: number } | { type: 'cue'; cueId: string };

/** Actions in order, called by one press. */
export interface CueRecord extends RecordBase<'cue'> {
  steps: CueStep[];
}

/** A key that calls something; `name` says what. */
export interface ShortcutRecord extends RecordBase<'shortcut'> {
  /** `KeyboardEvent.code` with modifiers before it, as `Shift+KeyQ` or `Numpad1` (UI Events §6). */
  keys: string;
  press: Press;
}

export interface PadTile {
  press: Press;
  /** Over the name that the press has by itself; empty for that. */
  label: string;
}

/** One page of tiles for phones and tablets. */
export interface PadPageRecord extends RecordBase<'padPage'> {
  tiles: PadTile[];
  /** Channels with a fader below the tiles. */
  channelIds: string[];
}

/** A question to the viewers; `name` is the question. */
export interface PollRecord extends RecordBase<'poll'> {
  answers: PollAnswer[];
  /** It ends by itself after this; 0 when somebody ends it. */
  seconds: number;
}

export const REQUEST_METHODS = ['POST', 'PUT', 'GET'] as const;

/** A call of another program: lights, a bot, a door. Fields of the show stand in address and body as `{{name}}`. */
export interface RequestRecord extends RecordBase<'request'> {
  method: (typeof REQUEST_METHODS)[number];
  url: string;
  body: string;
  /** With a secret that is kept apart, as the specification Standard Webhooks says. */
  signed: boolean;
}

/** A control of a controller that calls something. `device`: its name, as the browser tells it. */
export interface ControlRecord extends RecordBase<'control'> {
  device: string;
  of: 'note' | 'cc';
  /** 0…15 */
  channel: number;
  /** 0…127 */
  number: number;
  mode: ControlMode;
  press: Press;
}

/** What every segment starts with beside its scene. */
export const PLAIN_SEGMENT = {
  poseId: null,
  transition: null,
  plannedSeconds: 300,
  fixed: false,
  end: { type: 'hand' },
  sound: [],
  titleId: null,
  presses: [],
  notes: '',
  mark: 'none',
  skipped: false,
  group: '',
  repeats: false,
} as const satisfies Partial<SegmentRecord>;
