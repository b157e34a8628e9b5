/**
 * What an evening's events add up to: who was latest, who gave most, what goals have reached. Entering the same events in the
 * same order always gives the same book; a snapshot goes over the wire and is gone on with.
 */
import type { GoalRecord } from '../show/audience-records';
import { amountOf } from './alert-rules';
import { viewerKey, type AudienceEvent, type EventType, type ViewerEvent } from './events';
import { minorIn } from './money';
import type { AudienceSettings } from './settings';
import { cleanName } from './words';

/** Kinds that are support: they feed the streak and the supporters. */
export const SUPPORT_TYPES = ['subscription', 'donation', 'cheer', 'member', 'order'] as const;
const SUPPORT: ReadonlySet<string> = new Set(SUPPORT_TYPES);

export interface Supporter {
  name: string;
  platform: string;
  /** Money in minor units of the show's currency. */
  minor: number;
  /** Subscriptions taken or given, memberships and cheered points, each in its own count. */
  subscriptions: number;
  cheers: number;
  lastMs: number;
}

export interface Chatter {
  name: string;
  messages: number;
  moderator: boolean;
}

export interface BookSnapshot {
  /** Number of the last entry in it. */
  seq: number;
  /** When the evening began, milliseconds since 1970. */
  sinceMs: number;
  latest: Partial<Record<EventType, ViewerEvent>>;
  /** The largest of its kind, by amount. */
  top: Partial<Record<EventType, ViewerEvent>>;
  counts: Partial<Record<EventType, number>>;
  /** Money of the evening, minor units. */
  minor: number;
  messages: number;
  supporters: [string, Supporter][];
  chatters: [string, Chatter][];
  /** When support came, milliseconds since 1970. */
  supportMs: number[];
  recent: ViewerEvent[];
  poll: ViewerEvent | null;
  /** What goals have reached beyond their start, by id: minor units or a count. */
  goals: [string, number][];
}

/** A list of names longer than this is no longer read by anybody. */
const MAX_PEOPLE = 5000;
const MAX_RECENT = 40;
/** A streak is over long before so many. */
const MAX_SUPPORT = 2000;

export function emptyBook(sinceMs: number): BookSnapshot {
  return {
    seq: 0,
    sinceMs,
    latest: {},
    top: {},
    counts: {},
    minor: 0,
    messages: 0,
    supporters: [],
    chatters: [],
    supportMs: [],
    recent: [],
    poll: null,
    goals: [],
  };
}

/** By how much an event moves a goal, minor units or a count. */
export function goalStep(
  goal: Pick<GoalRecord, 'of' | 'sinceMs'>,
  event: ViewerEvent,
  settings: Pick<AudienceSettings, 'currency' | 'rates'>,
): number {
  if (event.test || event.atMs < goal.sinceMs) return 0;
  if (goal.of === 'money')
    return event.money === null ? 0 : (minorIn(event.money, settings.currency, settings.rates) ?? 0);
  if (goal.of !== event.type) return 0;
  if (event.type === 'cheer') return event.count ?? 0;
  return event.type === 'subscription' && event.way === 'gifted' ? (event.count ?? 1) : 1;
}

export class AudienceBook {
  #state: BookSnapshot;
  readonly #supporters: Map<string, Supporter>;
  readonly #chatters: Map<string, Chatter>;
  readonly #goals: Map<string, number>;
  static #made = 0;
  readonly #number = (AudienceBook.#made += 1);
  #changes = 0;
  #eventChanges = 0;

  constructor(snapshot: BookSnapshot) {
    this.#state = { ...snapshot, supportMs: [...snapshot.supportMs], recent: [...snapshot.recent] };
    this.#supporters = new Map(snapshot.supporters.map(([key, s]) => [key, { ...s }]));
    this.#chatters = new Map(snapshot.chatters.map(([key, c]) => [key, { ...c }]));
    this.#goals = new Map(snapshot.goals);
  }

  snapshot(): BookSnapshot {
    return {
      ...this.#state,
      supportMs: [...this.#state.supportMs],
      recent: [...this.#state.recent],
      supporters: [...this.#supporters].map(([key, s]) => [key, { ...s }]),
      chatters: [...this.#chatters].map(([key, c]) => [key, { ...c }]),
      goals: [...this.#goals],
    };
  }

  /** Differs whenever what books say does, from one book to another too. */
  get stamp(): string {
    return `${this.#number}.${this.#changes}`;
  }

  /** Differs whenever what they say of events does, but not with what is said in the chat. */
  get eventStamp(): string {
    return `${this.#number}.${this.#eventChanges}`;
  }

  /** Without the long lists, which are asked for by `supporters` and `chatters`. */
  get facts(): Readonly<Omit<BookSnapshot, 'supporters' | 'chatters' | 'goals'>> {
    return this.#state;
  }

  /** Who gave, most first; of equals who came first. */
  supporters(): readonly Supporter[] {
    return [...this.#supporters.values()].sort(
      (a, b) => b.minor - a.minor || b.subscriptions - a.subscriptions || b.cheers - a.cheers,
    );
  }

  chatters(): readonly Chatter[] {
    return [...this.#chatters.values()];
  }

  goal(id: string): number {
    return this.#goals.get(id) ?? 0;
  }

  /**
   * Enters one event; one that is in it already (by number) changes nothing.
   * @returns whether it was new
   */
  enter(
    event: AudienceEvent,
    goals: readonly GoalRecord[],
    settings: Pick<AudienceSettings, 'currency' | 'rates'>,
  ): boolean {
    const state = this.#state;
    if (event.seq <= state.seq) return false;
    state.seq = event.seq;
    if (event.type === 'chat') {
      if (event.atMs < state.sinceMs) return true;
      this.#changes += 1;
      state.messages += 1;
      this.#chatted(viewerKey(event), event.viewer, event.badges.includes('moderator'));
      return true;
    }
    if (event.test) return true;
    this.#changes += 1;
    this.#eventChanges += 1;
    for (const goal of goals) {
      const step = goalStep(goal, event, settings);
      if (step !== 0) this.#goals.set(goal.id, (this.#goals.get(goal.id) ?? 0) + step);
    }
    if (event.atMs < state.sinceMs) return true;
    const { type } = event;
    const known = state.latest[type];
    if (!known || event.atMs >= known.atMs) state.latest = { ...state.latest, [type]: event };
    const best = state.top[type];
    const amount = amountOf(event, settings);
    if (amount !== null && (!best || amount > (amountOf(best, settings) ?? 0)))
      state.top = { ...state.top, [type]: event };
    state.counts = { ...state.counts, [type]: (state.counts[type] ?? 0) + 1 };
    if (type === 'poll') {
      state.poll = event;
      return true;
    }
    if (type !== 'command') {
      state.recent.push(event);
      if (state.recent.length > MAX_RECENT) state.recent.shift();
    }
    if (SUPPORT.has(type)) this.#supported(event, settings);
    return true;
  }

  #supported(event: ViewerEvent, settings: Pick<AudienceSettings, 'currency' | 'rates'>): void {
    const state = this.#state;
    state.supportMs.push(event.atMs);
    if (state.supportMs.length > MAX_SUPPORT) state.supportMs.shift();
    const minor = event.money === null ? 0 : (minorIn(event.money, settings.currency, settings.rates) ?? 0);
    state.minor += minor;
    const key = viewerKey(event);
    let supporter = this.#supporters.get(key);
    if (!supporter) {
      if (this.#supporters.size >= MAX_PEOPLE) return;
      supporter = {
        name: cleanName(event.viewer),
        platform: event.platform,
        minor: 0,
        subscriptions: 0,
        cheers: 0,
        lastMs: 0,
      };
      this.#supporters.set(key, supporter);
    }
    supporter.minor += minor;
    supporter.lastMs = Math.max(supporter.lastMs, event.atMs);
    if (event.type === 'cheer') supporter.cheers += event.count ?? 0;
    if (event.type === 'subscription' || event.type === 'member')
      supporter.subscriptions += event.way === 'gifted' ? (event.count ?? 1) : 1;
  }

  #chatted(key: string, viewer: string, moderator: boolean): void {
    const chatter = this.#chatters.get(key);
    if (chatter) {
      chatter.messages += 1;
      chatter.moderator ||= moderator;
    } else if (this.#chatters.size < MAX_PEOPLE)
      this.#chatters.set(key, { name: cleanName(viewer), messages: 1, moderator });
  }
}
