/**
 * Every command the studio has: what it is called by keys, tiles, controllers, cues, segments, the palette and other
 * programs, and what it wants to know. All of them do one thing, they press; what a press does stands in one place
 * (`app/commands`), and what of it concerns the programme becomes commands of the programme.
 */

/** What a parameter means; ids are of the show's records. */
export const PARAM_TYPES = [
  'sceneId',
  'poseId',
  'channelId',
  'musicId',
  'effectId',
  'segmentId',
  'titleId',
  'cueId',
  'pollId',
  'clipsId',
  'requestId',
  'seatId',
  'gainDb',
  'seconds',
  'toSeconds',
  'on',
  'share',
  'transition',
  'words',
] as const;
export type ParamType = (typeof PARAM_TYPES)[number];

/** Groups in lists, by the place they belong to. */
export const COMMAND_GROUPS = [
  'rundown',
  'picture',
  'sound',
  'titles',
  'guests',
  'audience',
  'broadcast',
  'studio',
] as const;
export type CommandGroup = (typeof COMMAND_GROUPS)[number];

interface CommandShape {
  group: CommandGroup;
  /** In order; a name is what stands in `params`. */
  required: readonly ParamType[];
  optional: readonly ParamType[];
  /** Does one thing while it is held, and the other when it is let go. */
  holds?: true;
  /** So much hangs on it that a key or tile must be held for a second. */
  careful?: true;
  /** It changes the show itself: only at the desk, not for somebody who was let in. */
  owners?: true;
}

const shape = (
  group: CommandGroup,
  required: readonly ParamType[] = [],
  more: Partial<CommandShape> = {},
): CommandShape => ({ group, required, optional: [], ...more });

export const COMMANDS = {
  take: shape('rundown'),
  prepare: shape('picture', ['sceneId']),
  previous: shape('rundown'),
  skipNext: shape('rundown', [], { owners: true }),
  jump: shape('rundown', ['segmentId']),
  scene: shape('picture', ['sceneId'], { optional: ['transition'] }),
  draw: shape('picture', ['share']),
  pose: shape('picture', ['poseId']),
  back: shape('picture'),
  clips: shape('picture', ['clipsId'], { optional: ['on'] }),
  clipsTo: shape('picture', ['clipsId', 'toSeconds']),
  mute: shape('sound', ['channelId'], { optional: ['on'] }),
  level: shape('sound', ['channelId', 'gainDb'], { optional: ['seconds'] }),
  nudge: shape('sound', ['channelId', 'gainDb']),
  onlyVoices: shape('sound', [], { optional: ['on'] }),
  muteAll: shape('sound', [], { optional: ['on'] }),
  cough: shape('sound', [], { holds: true }),
  keepAsStart: shape('sound', [], { owners: true }),
  backToStart: shape('sound'),
  effect: shape('sound', ['effectId']),
  stopEffects: shape('sound'),
  music: shape('sound', ['musicId'], { optional: ['on'] }),
  skipMusic: shape('sound', ['musicId']),
  title: shape('titles', ['titleId'], { optional: ['seconds'] }),
  queueTitle: shape('titles', ['titleId']),
  nextTitle: shape('titles'),
  hideTitle: shape('titles'),
  bringOn: shape('guests', ['seatId'], { optional: ['on'] }),
  bringAllOn: shape('guests', [], { optional: ['on'] }),
  talk: shape('guests', [], { optional: ['seatId'], holds: true }),
  cue: shape('rundown', ['cueId']),
  stopCues: shape('rundown'),
  skipAlert: shape('audience'),
  pauseAlerts: shape('audience', [], { optional: ['on'] }),
  replayAlert: shape('audience'),
  nextComment: shape('audience'),
  hideComment: shape('audience'),
  poll: shape('audience', ['pollId']),
  endPoll: shape('audience'),
  hold: shape('picture', [], { optional: ['on'] }),
  showEdits: shape('picture'),
  cover: shape('broadcast', [], { optional: ['on'] }),
  emergency: shape('broadcast'),
  keep: shape('broadcast'),
  marker: shape('broadcast', [], { optional: ['words'] }),
  goLive: shape('broadcast', [], { careful: true }),
  stop: shape('broadcast', [], { careful: true }),
  request: shape('studio', ['requestId']),
  undo: shape('studio', [], { owners: true }),
  redo: shape('studio', [], { owners: true }),
} as const satisfies Record<string, CommandShape>;

export type CommandId = keyof typeof COMMANDS;
export const COMMAND_IDS = Object.keys(COMMANDS) as CommandId[];

export const commandShape = (id: CommandId): CommandShape => COMMANDS[id];

export type ParamValue = string | number | boolean;

/** One call of a command. */
export interface Press {
  command: CommandId;
  params: Partial<Record<ParamType, ParamValue>>;
}

/** Ways of coming on that a press can ask for. */
export const PRESS_TRANSITIONS = ['own', 'cut', 'fade'] as const;
