import type { AlertRuleRecord } from '../show/records';
import { fillFields } from '../scene/fields';
import type { FollowEvent } from './events';

export interface RunningAlert {
  id: string;
  text: string;
  startedAt: number;
  seconds: number;
}

/** Moving in and out, seconds. */
const MOTION_SECONDS = 0.4;
/** A pause between two alerts, so that they are seen as two. */
const GAP_SECONDS = 0.3;
/** More waiting than this is a flood; the oldest are given up rather than shown an hour late. */
const MAX_WAITING = 50;

/** Alerts one after another, never over each other. Time is programme time in seconds. */
export class AlertQueue {
  readonly #waiting: { id: string; text: string; seconds: number }[] = [];
  #running: RunningAlert | null = null;
  #freeAt = 0;

  add(event: FollowEvent, rule: AlertRuleRecord): void {
    this.#waiting.push({
      id: event.id,
      text: fillFields(rule.text, { name: event.viewer }),
      seconds: rule.seconds,
    });
    if (this.#waiting.length > MAX_WAITING) this.#waiting.shift();
  }

  get waiting(): number {
    return this.#waiting.length;
  }

  /** The alert to be seen at `now`, or null. */
  at(now: number): RunningAlert | null {
    if (this.#running && now >= this.#running.startedAt + this.#running.seconds) {
      this.#freeAt = this.#running.startedAt + this.#running.seconds + GAP_SECONDS;
      this.#running = null;
    }
    if (!this.#running && now >= this.#freeAt) {
      const next = this.#waiting.shift();
      if (next) this.#running = { ...next, startedAt: now };
    }
    return this.#running;
  }
}

/** How far an alert is in view, 0…1, easing in and out. */
export function alertPresence(alert: RunningAlert, now: number): number {
  const into = (now - alert.startedAt) / MOTION_SECONDS;
  const outOf = (alert.startedAt + alert.seconds - now) / MOTION_SECONDS;
  const t = Math.max(0, Math.min(1, into, outOf));
  return 1 - (1 - t) ** 3;
}
