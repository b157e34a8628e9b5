import type { GoalRecord } from '../../show/audience-records';
import type { AudienceBook } from '../book';
import type { ShownMessage } from '../chat-filter';
import type { AudienceSettings } from '../settings';
import type { PollResult } from '../own-poll';

/** How many watch on one platform: goes from one reading to the next within `SMOOTH_MS`, since a jumping figure draws the eye. */
export interface ViewerReading {
  before: number;
  now: number;
  sinceMs: number;
}
const SMOOTH_MS = 3000;

export function viewersAt({ before, now, sinceMs }: ViewerReading, nowMs: number): number {
  const share = Math.max(0, Math.min(1, (nowMs - sinceMs) / SMOOTH_MS));
  return Math.round(before + (now - before) * share);
}

/** One comment on the picture. */
export interface ReadOutNow {
  message: ShownMessage;
  sinceMs: number;
}

/** The title that is on the picture, or leaving it. Milliseconds since 1970. */
export interface TitleNow {
  line1: string;
  line2: string;
  sinceMs: number;
  /** When it begins to leave; null while it stays. */
  untilMs: number | null;
}

/** Everything widgets are drawn from. Times are milliseconds since 1970. */
export interface AudienceNow {
  nowMs: number;
  zoneOffsetMinutes: number;
  /** When the scene it stands in came on air. */
  sceneSinceMs: number;
  /** When it did for the first time. */
  sceneFirstMs: number;
  /** When the music will be over that played as the scene came on; null without any. */
  musicEndsMs: number | null;
  /** Null while not live. */
  broadcastSinceMs: number | null;
  book: AudienceBook;
  goals: readonly GoalRecord[];
  settings: AudienceSettings;
  /** The show's own fields, for lists. */
  fields: Readonly<Record<string, string>>;
  viewers: ReadonlyMap<string, ViewerReading>;
  messages: readonly ShownMessage[];
  /** Differs whenever `messages` do. */
  messagesVersion: number;
  /** Differs whenever what books say of events does: what is drawn from it is drawn anew. May lag behind in a flood. */
  eventStamp: string;
  readOut: ReadOutNow | null;
  /** The show's own poll while it runs. */
  ownPoll: PollResult | null;
  /** The title that is on the picture, or leaving it. */
  title: TitleNow | null;
  /** Names of the channels that are heard speaking. */
  speaking: readonly string[];
}

/** The sum over all platforms; null when none tells. */
export function viewerSum(viewers: AudienceNow['viewers'], nowMs: number): number | null {
  if (viewers.size === 0) return null;
  let sum = 0;
  for (const reading of viewers.values()) sum += viewersAt(reading, nowMs);
  return sum;
}
