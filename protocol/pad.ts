/** What a pad at the door and the studio say to each other, over a WebSocket with JSON messages. */
import Joi from 'joi';
import type { AudienceEvent } from '../core/audience/events';
import type { Money } from '../core/audience/money';
import type { Press } from '../core/commands/commands';

/** How a tile stands: nothing of it is on, it is on, it comes next, or it silences or hides something. */
export type TileTone = 'plain' | 'on' | 'next' | 'alarm';

export interface PadTileNow {
  press: Press;
  label: string;
  /** A second, quieter line. */
  words: string;
  tone: TileTone;
  /** It does one thing while held, and the other when let go. */
  holds: boolean;
  /** It must be held for a second. */
  careful: boolean;
  /** Whose picture stands on it. */
  sceneId: string | null;
}

export interface PadFader {
  channelId: string;
  name: string;
  gainDb: number;
  muted: boolean;
  voice: boolean;
}

export interface PadState {
  nowMs: number;
  show: string;
  /** What the visitor is called, by the link that let them in. */
  name: string;
  onAir: 'off' | 'live' | 'rehearsal' | 'recording' | 'ending';
  startedAtMs: number | null;
  /** The desk's page is there: without it nothing can be pressed. */
  desk: boolean;
  /** Later (positive) or earlier than planned, seconds; null when no rundown runs. */
  overSeconds: number | null;
  next: { name: string; words: string } | null;
  on: { name: string; notes: string } | null;
  /** How many watch; null when nobody says. */
  viewers: number | null;
  trouble: string | null;
  /** Where a voice's level belongs, dBFS. */
  voiceBandDb: [number, number];
  pages: { name: string; tiles: PadTileNow[]; faders: PadFader[] }[];
  /** Always there, whatever the page. */
  standing: PadTileNow[];
  chat: { name: string; text: string }[];
}

/** What a viewer did, without what only the studio needs. */
export interface PadEvent {
  /** Counts up within a show. */
  seq: number;
  type: AudienceEvent['type'];
  platform: string;
  viewer: string;
  /** What they wrote; empty for nothing. */
  text: string;
  money: Money | null;
  count: number | null;
}

export type ToPad =
  | { type: 'state'; state: PadState }
  /** How loud channels are, dBFS. */
  | { type: 'levels'; levels: Record<string, number> }
  /** Something that viewers did, for other programs. */
  | { type: 'event'; event: PadEvent }
  /** How a scene looks: a JPEG in base64. */
  | { type: 'picture'; sceneId: string; jpeg: string }
  /** What came of a press; null when it was done. */
  | { type: 'pressed'; id: number; problem: string | null };

export type FromPad = { type: 'press'; id: number; press: Press; held: boolean };

/** Everything but the press itself, which has a schema of its own (`readPress`). */
export const fromPadSchema = Joi.object<FromPad>({
  type: Joi.string().valid('press').required(),
  id: Joi.number().integer().min(1).max(1e9).required(),
  press: Joi.object().required(),
  held: Joi.boolean().required(),
}).required();
