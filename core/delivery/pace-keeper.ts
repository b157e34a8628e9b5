/**
 * Which of the pictures of the grid are made on a machine that is short of time, and how large: evenly fewer instead of
 * unevenly some. Thirty of sixty look calm; forty of sixty stutter, and cost keyframes and sync as well. Pictures that are
 * drawn smaller are enlarged by the encoder: the stream keeps its size.
 *
 * Steps down when, over two seconds, less than the middle between this pace and the next comes out, or a tenth is missing
 * where the next draws smaller, and that was no single stumble; up again after some seconds without one, when the work of a
 * picture leaves room for it. Each try that fails doubles the wait.
 */
import type { PlanSettings } from './settings';

/** Fewer a second are no movement any more. */
const LEAST_FPS = 10;
/** Down to here sharpness is kept before the rate, where that is what is to stay. */
const CALM_FPS = 15;
/** Sides of what is drawn, in parts of what is sent. */
const SCALES = [0.75, 0.5] as const;
/** So much of what is wanted comes, or it is drawn smaller. */
const ENOUGH = 0.9;
const WINDOW_SECONDS = 2;
/** So much of the window must be known since the last change. */
const LEAST_SECONDS = 1;
/** Late pictures in the window; fewer are a stumble, however long. */
const STUMBLES = 4;
/** Without trouble before more is tried: at first, and at most. */
const HOLD_SECONDS = [3, 60] as const;
/** More is tried when the work of a picture takes less than this share of its time there. */
const ROOM = 0.75;
/** Of the work of a picture, what grows with its size; the rest is the same for each. A try that fails costs little. */
const SIZE_SHARE = 0.6;
/** Trouble so soon after a try means that it failed. */
const TRY_SECONDS = 6;

export interface PaceSample {
  /** Programme time, seconds; rises. */
  at: number;
  /** Pictures of the present pace that were not made before this one. */
  missed: number;
  /** From when this one was due to be begun until it was done, seconds. */
  workSeconds: number;
}

export interface PaceStep {
  /** One picture of so many is made. */
  divisor: number;
  /** So large, in parts of each side. */
  scale: number;
}

/**
 * What is given up one after the other.
 * @param keyframeInterval pictures between keyframes: every one of those is made at any pace
 * @param keep what stays longest
 */
export function paceSteps(fps: number, keyframeInterval: number, keep: PlanSettings['keep']): PaceStep[] {
  const divisors = [1, 2, 3, 4, 5, 6].filter(
    (by) => by === 1 || (fps / by >= LEAST_FPS - 0.1 && keyframeInterval % by === 0),
  );
  const calm = divisors.filter((by) => by === 1 || (keep === 'sharpness' && fps / by >= CALM_FPS - 0.1));
  const last = calm[calm.length - 1];
  const least = SCALES[SCALES.length - 1];
  return [
    ...calm.map((divisor) => ({ divisor, scale: 1 })),
    ...SCALES.map((scale) => ({ divisor: last, scale })),
    ...divisors.filter((by) => by > last).map((divisor) => ({ divisor, scale: least })),
  ];
}

export class PaceKeeper {
  readonly steps: readonly PaceStep[];
  #at = 0;
  #samples: PaceSample[] = [];
  #changedAt = -Infinity;
  #troubleAt = -Infinity;
  /** When more was tried, until that is known to have failed or not. */
  #triedAt: number | null = null;
  #hold: number = HOLD_SECONDS[0];

  /** As `paceSteps`. */
  constructor(
    readonly fps: number,
    keyframeInterval: number,
    keep: PlanSettings['keep'],
  ) {
    this.steps = paceSteps(fps, keyframeInterval, keep);
  }

  /** One picture of so many is made. */
  get divisor(): number {
    return this.steps[this.#at].divisor;
  }

  /** So large is drawn, in parts of each side of what is sent. */
  get scale(): number {
    return this.steps[this.#at].scale;
  }

  /** Takes a picture that was made. @returns whether the pace is another one from now on */
  made(sample: PaceSample): boolean {
    const { at, missed } = sample;
    this.#samples.push(sample);
    while (this.#samples[0].at < at - WINDOW_SECONDS) this.#samples.shift();
    if (missed > 0) this.#troubleAt = at;
    if (this.#triedAt !== null && at - this.#triedAt > TRY_SECONDS) {
      this.#hold = HOLD_SECONDS[0];
      this.#triedAt = null;
    }
    if (at - this.#changedAt < LEAST_SECONDS) return false;
    return this.#down(at) || this.#up(at);
  }

  #down(at: number): boolean {
    const next = this.steps.at(this.#at + 1);
    const stumbles = this.#samples.filter(({ missed }) => missed > 0).length;
    if (next === undefined || stumbles < STUMBLES) return false;
    const wanted = this.#samples.reduce((sum, { missed }) => sum + missed + 1, 0);
    const comes = this.#samples.length / wanted / this.divisor;
    const enough =
      next.divisor === this.divisor ? ENOUGH / this.divisor : (1 / this.divisor + 1 / next.divisor) / 2;
    if (comes > enough) return false;
    if (this.#triedAt !== null) this.#hold = Math.min(HOLD_SECONDS[1], this.#hold * 2);
    this.#triedAt = null;
    this.#troubleAt = at;
    return this.#step(this.#at + 1, at);
  }

  #up(at: number): boolean {
    const more = this.#at > 0 ? this.steps[this.#at - 1] : undefined;
    if (more === undefined || at - this.#troubleAt < this.#hold) return false;
    const work = this.#samples.reduce((sum, { workSeconds }) => sum + workSeconds, 0) / this.#samples.length;
    const larger = work * (1 + SIZE_SHARE * ((more.scale / this.scale) ** 2 - 1));
    if (larger > (ROOM * more.divisor) / this.fps) return false;
    this.#triedAt = at;
    return this.#step(this.#at - 1, at);
  }

  #step(to: number, at: number): true {
    this.#at = to;
    this.#changedAt = at;
    this.#samples = [];
    return true;
  }
}
