/** What pages and the web server say to each other about the audience. */
import Joi from 'joi';
import type { BookSnapshot } from '../core/audience/book';
import type { AudienceEvent, ChatMessage, Moderation } from '../core/audience/events';

/** An entry of the host's list. */
export interface ListedEntry {
  event: AudienceEvent;
  done: boolean;
  pinned: boolean;
  hidden: boolean;
}

export const ENTRY_SHOWS = ['all', 'chat', 'events', 'open', 'pinned'] as const;
export interface EntryFilter {
  search: string;
  /** `open`: events that are not done. */
  show: (typeof ENTRY_SHOWS)[number];
  /** Empty for all. */
  platform: string;
  /** Only entries with lower numbers: the nearest of them. */
  before: number | null;
  /** Only entries with higher numbers: the nearest of them. */
  after: number | null;
}

export const ENTRY_MARKS = ['done', 'not-done', 'pinned', 'not-pinned', 'hidden', 'not-hidden'] as const;
export type EntryMark = (typeof ENTRY_MARKS)[number];

/** Connection of one platform's audience feed, or of a chat server. */
export interface PlatformStatus {
  platform: string;
  by: 'events' | 'irc';
  connected: boolean;
  viewers: number | null;
  message: string;
}

/** What was not taken in, and why; counted since the studio started. */
export interface Rejection {
  /** Who sent it. */
  source: string;
  reason: string;
  count: number;
  lastMs: number;
}

/** One viewer's comment on the picture, what waits, and what was. */
export interface ReadOutState {
  shown: ChatMessage | null;
  sinceMs: number;
  queue: ChatMessage[];
  history: ChatMessage[];
}

export const READ_OUT_ORDERS = ['show', 'queue', 'next', 'previous', 'clear'] as const;
export type ReadOutOrder = (typeof READ_OUT_ORDERS)[number];

export type AudienceFromServer =
  /** At the beginning, and when everything was counted again: the book as it stands and the newest chat. */
  | { type: 'book'; book: BookSnapshot; chat: ChatMessage[]; readSeq: number }
  | { type: 'audience'; events: AudienceEvent[] }
  | { type: 'moderation'; moderation: Moderation }
  | { type: 'marked'; seq: number; mark: EntryMark }
  | { type: 'platforms'; platforms: PlatformStatus[]; rejections: Rejection[] }
  | { type: 'readOut'; readOut: ReadOutState };

export type AudienceFromPage =
  { type: 'readOut'; order: ReadOutOrder; seq: number | null } | { type: 'read'; seq: number };

const count = Joi.number().integer().min(0).required();

export const audienceFromPageSchemas = [
  Joi.object({
    type: Joi.string().valid('readOut').required(),
    order: Joi.string()
      .valid(...READ_OUT_ORDERS)
      .required(),
    seq: Joi.number().integer().min(1).allow(null).required(),
  }),
  Joi.object({ type: Joi.string().valid('read').required(), seq: count }),
];

export const entryFilterSchema = Joi.object<EntryFilter>({
  search: Joi.string().allow('').max(200).default(''),
  show: Joi.string()
    .valid(...ENTRY_SHOWS)
    .default('all'),
  platform: Joi.string().allow('').max(60).default(''),
  before: Joi.number().integer().min(1).allow(null).default(null),
  after: Joi.number().integer().min(1).allow(null).default(null),
});
