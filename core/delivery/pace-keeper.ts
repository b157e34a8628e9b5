/**
 * Which of the pictures of the grid are made on a machine that is short of time: evenly fewer instead of unevenly some. Thirty
 * of sixty look calm; forty of sixty stutter, and cost keyframes and sync as well.
 *
 * Steps down when, over two seconds, less than the middle between this pace and the next comes out, and that was no single
 * stumble; up again after some seconds without one, when the work of a picture leaves room for it. Each try that fails
 * doubles the wait.
 */

/** Fewer a second are no movement any more. */
const LEAST_FPS = 10;
const WINDOW_SECONDS = 2;
/** So much of the window must be known since the last change. */
const LEAST_SECONDS = 1;
/** Late pictures in the window; fewer are a stumble, however long. */
const STUMBLES = 4;
/** Without trouble before more is tried: at first, and at most. */
const HOLD_SECONDS = [3, 60] as const;
/** More is tried when the work of a picture takes less than this share of its time there. */
const ROOM = 0.75;
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

export class PaceKeeper {
  /** Each of these makes every so-manieth picture. */
  readonly divisors: readonly number[];
  #at = 0;
  #samples: PaceSample[] = [];
  #changedAt = -Infinity;
  #troubleAt = -Infinity;
  /** When more was tried, until that is known to have failed or not. */
  #triedAt: number | null = null;
  #hold: number = HOLD_SECONDS[0];

  /** @param keyframeInterval pictures between keyframes: every one of those is made at any pace */
  constructor(
    readonly fps: number,
    keyframeInterval: number,
  ) {
    this.divisors = [1, 2, 3, 4, 5, 6].filter(
      (by) => by === 1 || (fps / by >= LEAST_FPS - 0.1 && keyframeInterval % by === 0),
    );
  }

  /** One picture of so many is made. */
  get divisor(): number {
    return this.divisors[this.#at];
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
    const next = this.divisors[this.#at + 1];
    const stumbles = this.#samples.filter(({ missed }) => missed > 0).length;
    if (next === undefined || stumbles < STUMBLES) return false;
    const wanted = this.#samples.reduce((sum, { missed }) => sum + missed + 1, 0);
    const comes = this.#samples.length / wanted / this.divisor;
    if (comes > (1 / this.divisor + 1 / next) / 2) return false;
    if (this.#triedAt !== null) this.#hold = Math.min(HOLD_SECONDS[1], this.#hold * 2);
    this.#triedAt = null;
    this.#troubleAt = at;
    return this.#step(this.#at + 1, at);
  }

  #up(at: number): boolean {
    const more = this.divisors[this.#at - 1];
    if (more === undefined || at - this.#troubleAt < this.#hold) return false;
    const work = this.#samples.reduce((sum, { workSeconds }) => sum + workSeconds, 0) / this.#samples.length;
    if (work > (ROOM * more) / this.fps) return false;
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
