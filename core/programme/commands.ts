/**
 * What is done to the programme while it runs. The document says how a show starts, the programme how it stands: takes,
 * levels, mutes, titles and where the rundown is are commands, each stamped with a moment of the programme's own time, so
 * that picture and sound of one command begin together, and any moment of a broadcast can be told again from the list.
 */
import type { Transition } from '../show/motion-records';

/** Two lines, as they are written on the picture. */
export interface TitleWords {
  line1: string;
  line2: string;
}

export type ProgrammeCommand =
  | { type: 'take'; sceneId: string; poseId: string | null; transition: Transition }
  /** A change of scene that a hand draws, forth and back; it is on air when a `take` follows. `share`: 0…1. */
  | { type: 'draw'; sceneId: string; poseId: string | null; transition: Transition; share: number }
  /** To another pose of the scene on air. `seconds`: how long the glide takes, for the sound that goes with it. */
  | { type: 'glide'; sceneId: string; poseId: string; seconds: number }
  /** What comes next, chosen by hand over what the rundown has; null for what that has. */
  | { type: 'prepare'; stop: { sceneId: string; poseId: string | null } | null }
  /** The fader of a channel; −60 is silence. `seconds`: a fade, 0 for at once. */
  | { type: 'level'; channelId: string; gainDb: number; seconds: number }
  | { type: 'mute'; channelId: string; muted: boolean }
  /** Everything but the voices is silent. */
  | { type: 'onlyVoices'; on: boolean }
  | { type: 'cover'; on: boolean }
  /** Whoever sits on a guest's seat is seen and heard by viewers, or waits in the wings. */
  | { type: 'seat'; inputId: string; on: boolean }
  /** Edits of the scene on air are not seen from here on; on again, or off, those made until now come on. */
  | { type: 'hold'; on: boolean }
  /** Levels and mutes of these channels are as the show has them. */
  | { type: 'asInShow'; channelIds: readonly string[] }
  /** `seconds`: until it leaves by itself; null stays. `words` null: the title that is on leaves. */
  | { type: 'title'; titleId: string | null; words: TitleWords | null; seconds: number | null }
  /** A poll begins; null ends the one that runs. `seconds`: until it ends by itself, 0 for never. */
  | { type: 'poll'; pollId: string | null; seconds: number }
  /** Where the rundown is; null: it does not run. */
  | { type: 'segment'; rundownId: string | null; segmentId: string | null };

/** Who or what gave a command. */
export const COMMAND_SOURCES = ['page', 'key', 'pad', 'controller', 'api', 'rundown', 'cue'] as const;
export type CommandSource = (typeof COMMAND_SOURCES)[number];

/** Commands that take hold together, in the order of their list, at one picture of the programme. */
export interface ProgrammeEntry {
  /** Counts up within a programme, from 1. */
  seq: number;
  /** Milliseconds since 1970 of the picture from which on it holds. */
  atMs: number;
  /** Of the show's records when it was given: what its ids meant. */
  revision: number;
  by: CommandSource;
  commands: readonly ProgrammeCommand[];
}
