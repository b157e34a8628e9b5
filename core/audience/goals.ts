import type { GoalRecord } from '../show/audience-records';
import { moneyText } from './money';

export interface GoalView {
  /** Start and what came since; minor units or a count. */
  value: number;
  /** 0…1, not above. */
  share: number;
  /** Rounded down: 100 only when it is reached; above 100 when it is passed. */
  percent: number;
  reached: boolean;
  valueText: string;
  targetText: string;
  missingText: string;
  /** How long there is time, or empty without a deadline. */
  timeText: string;
}

/** @param gained what came since the goal was set, as the book has it */
export function goalView(goal: GoalRecord, gained: number, currency: string, nowMs: number): GoalView {
  const value = goal.start + gained;
  const text = (n: number) => (goal.of === 'money' ? moneyText({ currency, minor: n }) : String(n));
  const share = goal.target <= 0 ? 1 : value / goal.target;
  return {
    value,
    share: Math.max(0, Math.min(1, share)),
    percent: Math.max(0, Math.floor(share * 100)),
    reached: share >= 1,
    valueText: text(value),
    targetText: text(goal.target),
    missingText: text(Math.max(0, goal.target - value)),
    timeText: goal.deadlineMs === null ? '' : timeLeft(goal.deadlineMs - nowMs),
  };
}

function timeLeft(ms: number): string {
  if (ms <= 0) return 'time is up';
  const minutes = Math.ceil(ms / 60_000);
  if (minutes < 60) return `${minutes} min left`;
  const hours = Math.ceil(minutes / 60);
  return hours < 48 ? `${hours} h left` : `${Math.ceil(hours / 24)} days left`;
}
