/**
 * Alerts one after another, never over each other, as a function of what came in and when. Time is programme time in seconds;
 * everything is said in the order of time. `at` of any later moment gives the same whether it was asked often or once.
 */
import type { AlertRuleRecord } from '../show/audience-records';
import { amountOf, type AlertFacts } from './alert-rules';
import { viewerKey, type ViewerEvent } from './events';
import type { AudienceSettings } from './settings';

/** A pause between two alerts, so that they are seen as two. */
const GAP_SECONDS = 0.3;
/** More waiting than this is a flood: what comes is counted into an alert that waits already, whatever its rule says. */
const MAX_WAITING = 100;
/** Names kept of an alert that stands for many. */
const MAX_NAMES = 3;
const MAX_PEOPLE = 2000;
/** An alert that goes on counting stays up to so many times its own length. */
const MAX_STRETCH = 3;
/** …and at least this long after the last one counted. */
const COUNT_SECONDS = 2;
const PRIORITY = { low: 0, normal: 1, high: 2, replay: 3 } as const;

export const ALERT_ORDERS = [
  'pause',
  'resume',
  'skip',
  'replay',
  'clear',
  'quiet',
  'unquiet',
  'mute',
  'unmute',
] as const;
export type AlertOrder = (typeof ALERT_ORDERS)[number];

interface Waiting extends AlertFacts {
  /** Counts up; unique. */
  number: number;
  rule: AlertRuleRecord;
  /** A priority above the rule's own: shown again by hand. */
  replayed: boolean;
  at: number;
  lastAt: number;
}

export interface RunningAlert extends Waiting {
  startedAt: number;
  endsAt: number;
  /** When it last counted one more; `startedAt` before. */
  countedAt: number;
}

/** An alert that waits, as it can be written down: for a page that is opened again. */
export interface KeptAlert extends AlertFacts {
  ruleId: string;
}

export class AlertEngine {
  #waiting: Waiting[] = [];
  #running: RunningAlert | null = null;
  #last: RunningAlert | null = null;
  #freeAt = 0;
  #paused = false;
  #quiet = false;
  #muted = false;
  #number = 0;
  readonly #people = new WeakMap<AlertFacts, Set<string>>();
  /** When a rule may show again, and when a viewer was last shown by a rule. */
  readonly #ruleFreeAt = new Map<string, number>();
  readonly #lastByViewer = new Map<string, number>();
  readonly counts = { shown: 0, merged: 0, limited: 0 };

  get waiting(): number {
    return this.#waiting.length;
  }

  get paused(): boolean {
    return this.#paused;
  }

  get quiet(): boolean {
    return this.#quiet;
  }

  /** Alerts are seen and not heard. */
  get muted(): boolean {
    return this.#muted;
  }

  add(
    event: ViewerEvent,
    rule: AlertRuleRecord,
    settings: Pick<AudienceSettings, 'currency' | 'rates'>,
    at: number,
  ): void {
    this.#advance(at);
    const who = `${rule.id}|${viewerKey(event)}`;
    const seen = this.#lastByViewer.get(who);
    const gift = event.way === 'gifted';
    if (!event.test && !gift && seen !== undefined && at - seen < rule.perViewerSeconds) {
      this.counts.limited += 1;
      return;
    }
    this.#lastByViewer.set(who, at);
    // Old entries are of no use any more.
    if (this.#lastByViewer.size > 5000) this.#lastByViewer.delete(this.#lastByViewer.keys().next().value!);
    const amount = amountOf(event, settings);
    if (this.#countIntoRunning(event, rule, amount, at)) return;
    const into = event.test ? undefined : this.#mergeable(event, rule, at);
    if (into) {
      this.#count(into, event, amount, at);
      return;
    }
    const entry: Waiting = {
      number: (this.#number += 1),
      rule,
      event,
      viewers: [event.viewer],
      people: 1,
      events: 1,
      total: amount,
      replayed: false,
      at,
      lastAt: at,
    };
    this.#people.set(entry, new Set([viewerKey(event)]));
    this.#waiting.push(entry);
    this.#advance(at);
  }

  /** What waits, in order, without what was asked for by hand. */
  kept(): KeptAlert[] {
    return this.#waiting
      .filter((entry) => !entry.replayed && !entry.event.test)
      .map(({ rule, event, viewers, people, events, total }) => ({
        ...{ ruleId: rule.id, event, viewers, people, events, total },
      }));
  }

  /** Takes up what waited before; of rules that are gone it is forgotten. */
  restore(kept: readonly KeptAlert[], rules: readonly AlertRuleRecord[], at: number): void {
    this.#advance(at);
    for (const { ruleId, ...facts } of kept.slice(0, MAX_WAITING)) {
      const rule = rules.find((r) => r.id === ruleId);
      if (!rule) continue;
      this.#waiting.push({
        ...facts,
        number: (this.#number += 1),
        rule,
        replayed: false,
        at,
        lastAt: at,
      });
    }
    this.#advance(at);
  }

  order(order: AlertOrder, at: number): void {
    this.#advance(at);
    switch (order) {
      case 'pause':
        this.#paused = true;
        break;
      case 'resume':
        this.#free(at, () => (this.#paused = false));
        break;
      case 'mute':
      case 'unmute':
        this.#muted = order === 'mute';
        break;
      case 'quiet':
        this.#quiet = true;
        break;
      case 'unquiet':
        this.#free(at, () => (this.#quiet = false));
        break;
      case 'skip':
        if (this.#running)
          this.#running.endsAt = Math.min(this.#running.endsAt, at + this.#running.rule.motionSeconds);
        break;
      case 'clear':
        this.#waiting = [];
        break;
      case 'replay': {
        const last = this.#running ?? this.#last;
        if (!last) break;
        const { rule, event, viewers, people, events, total } = last;
        this.#waiting.push({
          ...{ rule, event, viewers, people, events, total },
          number: (this.#number += 1),
          replayed: true,
          at,
          lastAt: at,
        });
        break;
      }
    }
    this.#advance(at);
  }

  /** The alert to be seen at `now`, or null. */
  at(now: number): RunningAlert | null {
    this.#advance(now);
    return this.#running && now >= this.#running.startedAt ? this.#running : null;
  }

  #free(at: number, change: () => void): void {
    change();
    this.#freeAt = Math.max(this.#freeAt, at);
  }

  /** Forty gifts from one hand are one alert that counts, also while it is on the picture. */
  #countIntoRunning(event: ViewerEvent, rule: AlertRuleRecord, amount: number | null, at: number): boolean {
    const running = this.#running;
    if (!running || event.way !== 'gifted' || event.test || running.rule.id !== rule.id) return false;
    if (running.event.way !== 'gifted' || viewerKey(running.event) !== viewerKey(event)) return false;
    // One that is leaving is left alone.
    if (at > running.endsAt - rule.motionSeconds) return false;
    this.#count(running, event, amount, at);
    running.countedAt = at;
    running.endsAt = Math.min(
      running.startedAt + MAX_STRETCH * rule.seconds,
      Math.max(running.endsAt, at + COUNT_SECONDS),
    );
    return true;
  }

  #mergeable(event: ViewerEvent, rule: AlertRuleRecord, at: number): Waiting | undefined {
    const flood = this.#waiting.length >= MAX_WAITING;
    for (let i = this.#waiting.length - 1; i >= 0; i--) {
      const entry = this.#waiting[i];
      if (entry.replayed || entry.event.test || entry.rule.id !== rule.id) continue;
      if (flood) return entry;
      if (rule.mergeSeconds <= 0 || at - entry.lastAt > rule.mergeSeconds) continue;
      const oneGiver = event.way === 'gifted' && entry.event.way === 'gifted';
      if (!oneGiver || viewerKey(entry.event) === viewerKey(event)) return entry;
    }
    // A flood of rules that do not wait yet: the oldest of all takes it in, so that it is counted somewhere.
    return flood ? this.#waiting[0] : undefined;
  }

  #count(entry: Waiting, event: ViewerEvent, amount: number | null, at: number): void {
    this.counts.merged += 1;
    entry.events += 1;
    entry.lastAt = at;
    if (amount !== null) entry.total = (entry.total ?? 0) + amount;
    const people = this.#people.get(entry);
    const key = viewerKey(event);
    if (!people || people.has(key)) return;
    if (people.size < MAX_PEOPLE) people.add(key);
    entry.people += 1;
    if (entry.viewers.length < MAX_NAMES) entry.viewers = [...entry.viewers, event.viewer];
  }

  #advance(now: number): void {
    for (;;) {
      const running = this.#running;
      if (running) {
        if (now < running.endsAt) return;
        this.#freeAt = running.endsAt + GAP_SECONDS;
        this.#ruleFreeAt.set(running.rule.id, running.endsAt + running.rule.coolDownSeconds);
        this.#last = running;
        this.#running = null;
      }
      const next = this.#nextStart();
      if (next === null || next.startedAt > now) return;
      this.#waiting.splice(this.#waiting.indexOf(next.entry), 1);
      const { entry, startedAt } = next;
      this.#running = Object.assign(entry, {
        startedAt,
        countedAt: startedAt,
        endsAt: startedAt + entry.rule.seconds,
      });
      this.counts.shown += 1;
    }
  }

  /** What begins next and when, by priority among those that may begin at that moment. */
  #nextStart(): { entry: Waiting; startedAt: number } | null {
    if (this.#paused || this.#quiet || this.#waiting.length === 0) return null;
    const readyAt = (entry: Waiting) =>
      Math.max(
        this.#freeAt,
        entry.at,
        // Tests and replays are asked for by hand.
        entry.replayed || entry.event.test ? 0 : (this.#ruleFreeAt.get(entry.rule.id) ?? 0),
      );
    let startedAt = Infinity;
    for (const entry of this.#waiting) startedAt = Math.min(startedAt, readyAt(entry));
    let best: Waiting | null = null;
    for (const entry of this.#waiting)
      if (readyAt(entry) <= startedAt && (best === null || rank(entry) > rank(best))) best = entry;
    return best && { entry: best, startedAt };
  }
}

function rank(entry: Waiting): number {
  return PRIORITY[entry.replayed ? 'replay' : entry.rule.priority];
}

/** How far an alert is in view, 0…1, by its rule's motion; eases in and out. */
export function alertPresence(
  alert: Pick<RunningAlert, 'startedAt' | 'endsAt' | 'rule'>,
  now: number,
): {
  share: number;
  leaving: boolean;
} {
  const seconds = Math.max(0.01, alert.rule.motionSeconds);
  const into = (now - alert.startedAt) / seconds;
  const outOf = (alert.endsAt - now) / seconds;
  const t = Math.max(0, Math.min(1, into, outOf));
  return { share: 1 - (1 - t) ** 3, leaving: outOf < into };
}
