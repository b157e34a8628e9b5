/**
 * Keeps what really comes out of a video encoder at or below the plan.
 *
 * Software encoders treat a constant rate as a wish: hard content comes out many times too large. The governor measures
 * every encoded picture and acts before the next one, in this order:
 * 1. it asks the encoder for another rate;
 * 2. it softens the picture (drawn smaller and enlarged again), which costs detail but neither motion nor a new header;
 * 3. it leaves a picture out before it is encoded, so that no reference is lost.
 * Keyframes are never left out: room for the next one is kept free.
 * When a line carries less than the plan, 1 and 2 follow it; leaving out stays tied to the plan, since what a line cannot
 * take is dropped behind the encoder in whole groups, and both at once would stand still.
 *
 * The bound held is: over any two seconds at most `CEILING` times the plan.
 */

/** Over two seconds never more than this times the plan; the promise is 1.1, the rest is for prediction error. */
const CEILING = 1.06;
/** What the encoder is steered to; the difference to 1 is room for a hard picture. */
const AIM = 0.93;
const WINDOW_SECONDS = 2;
/** Steps of softening: the picture is drawn at 1/n of its size. */
export const SOFTENING = [1, 2, 4, 8] as const;
export type Softening = (typeof SOFTENING)[number];
/** After a cut pictures start at this step: the eye does not see detail yet, and nobody knows yet how hard they are. */
const STEP_AFTER_CUT = 2;
/** Results at one step after a cut before the next sharper one is tried; about 0.2 s a step with an encoder's delay. */
const RESULTS_PER_STEP = 3;
const MIN_TARGET = 0.08;
/** On hard content one step of softening makes pictures about this many times smaller. */
const STEP_GAIN = 3;
/** A picture wanting more than this many times its share is too hard at this softening. */
const TOO_HARD = 1.6;
/** Guess of how much larger the first sharper pictures are; the results correct it. */
const SHARPER_GUESS = 1.4;
/** So many of them in a row: one alone may just be the detail coming back after a soft picture. */
const HARD_RESULTS = 3;
/** So many more may come before softening shows: the encoder's delay and some. */
const URGENT_PICTURES = 8;
/** An encoder that was asked for so little of what the line carries and gives so much more of it does not obey. */
const ASKED_LITTLE = 0.75;
const DEAF = 1.3;
/** Looks at it in a row, four a second: it takes some pictures to follow. */
const DEAF_LOOKS = 2;
/** Less than so much of what the line carries is filled: the picture could be sharper. */
const FILLED = 0.6;
/** First wait before a sharper picture is tried; doubles after every try that failed, up to the last. */
const RETRY_SECONDS = [1, 8] as const;

export interface PictureOrder {
  encode: boolean;
  keyframe: boolean;
  softening: Softening;
  /** What to ask the encoder for, kbps. */
  targetKbps: number;
}

export interface GovernorReport {
  plannedKbps: number;
  /** Mean over the whole run. */
  meanKbps: number;
  /** The worst two seconds of the run. */
  worstKbps: number;
  pictures: number;
  leftOut: number;
  softened: number;
  unaskedKeyframes: number;
}

export class RateGovernor {
  readonly #window: number;
  readonly #capBytes: number;
  readonly #shareBytes: number;
  /** Bytes of the last pictures, by index modulo the window; left-out pictures count 0, pending ones their prediction. */
  readonly #bytes: Float64Array;
  readonly #pending = new Map<number, { step: number; keyframe: boolean }>();
  #target: number;
  /** Index into SOFTENING. */
  #step: number = STEP_AFTER_CUT;
  /** Just after a cut: sharper as soon as results allow. */
  #settling = true;
  #resultsAtStep = 0;
  #retrying = false;
  #hardResults = 0;
  /** Expected bytes of a picture at the present softening. */
  #delta: number;
  #key: number;
  #index = -1;
  /** Number of the last group of pictures that has its keyframe. */
  #group = -1;
  #lastSteer = 0;
  #lastStep = 0;
  #retrySeconds: number = RETRY_SECONDS[0];
  #leftOutRecently = 0;
  #deafLooks = 0;
  #roomyLooks = 0;
  /** Steps of softening that the line asked for. */
  #forLine = 0;
  #sum = 0;
  readonly #report = { bytes: 0, worst: 0, pictures: 0, leftOut: 0, softened: 0, unasked: 0 };

  constructor(
    readonly planKbps: number,
    readonly fps: number,
    readonly keyframeInterval: number,
  ) {
    this.#window = Math.max(1, Math.round(WINDOW_SECONDS * fps));
    this.#bytes = new Float64Array(this.#window);
    const planBytesPerSecond = (planKbps * 1000) / 8;
    this.#capBytes = planBytesPerSecond * WINDOW_SECONDS * CEILING;
    this.#shareBytes = planBytesPerSecond / fps;
    this.#target = planKbps * AIM;
    this.#delta = this.#shareBytes * 0.7;
    this.#key = this.#shareBytes * 6;
  }

  /** The picture has changed completely: start soft, nobody knows yet how hard it is. */
  cut(): void {
    while (this.#step < STEP_AFTER_CUT) this.#soften();
    this.#settling = true;
    this.#resultsAtStep = 0;
  }

  /** Whether picture `index` begins a group on the grid, or the one that did was never made. */
  keyframeDue(index: number): boolean {
    return Math.floor(index / this.keyframeInterval) > this.#group;
  }

  /**
   * Decides about picture `index`; call once for each due picture, in order. Skipped numbers count as not sent.
   * @param lineFactor 0…1, how much of the plan the line carries now
   */
  next(index: number, forceKeyframe: boolean, lineFactor = 1): PictureOrder {
    for (let i = this.#index + 1; i <= index; i++) this.#slot(i, 0);
    this.#index = index;
    // A keyframe whose own picture was skipped comes with the next one.
    const keyframe = forceKeyframe || this.keyframeDue(index);
    if (keyframe) this.#group = Math.floor(index / this.keyframeInterval);
    this.#steer(index, lineFactor);
    const step = this.#step;
    // A try on content known to be hard must fit even when it fails.
    const caution =
      !this.#settling && this.#resultsAtStep === 0 && this.#retrying ? STEP_GAIN / SHARPER_GUESS : 1;
    const predicted = (keyframe ? this.#key : this.#delta) * caution;
    let encode = true;
    if (!keyframe) {
      const overNow = this.#sum + predicted > this.#capBytes;
      const nextKey = index + this.keyframeInterval - (index % this.keyframeInterval);
      const overAtKey = this.#sumAfter(nextKey - this.#window) + predicted + this.#key > this.#capBytes;
      encode = !overNow && !overAtKey;
    }
    if (encode) {
      this.#slot(index, predicted);
      this.#pending.set(index, { step, keyframe });
      if (step > 0) this.#report.softened += 1;
    } else this.#report.leftOut += 1;
    this.#leftOutRecently += ((encode ? 0 : 1) - this.#leftOutRecently) * 0.04;
    return { encode, keyframe, softening: SOFTENING[step], targetKbps: this.#target };
  }

  /** What the encoder made of picture `index`. */
  encoded(index: number, bytes: number, wasKeyframe: boolean): void {
    const pending = this.#pending.get(index);
    if (!pending) return;
    this.#pending.delete(index);
    if (index > this.#index - this.#window) this.#slot(index, bytes);
    this.#report.bytes += bytes;
    this.#report.pictures += 1;
    if (wasKeyframe && !pending.keyframe) this.#report.unasked += 1;
    this.#report.worst = Math.max(this.#report.worst, this.#sum);
    if (pending.step === this.#step) this.#resultsAtStep += 1;
    // What it would be at the present softening. A softer picture tells little about a sharper one, since a
    // constant-rate encoder fills its target with any content: count it no higher than a hard picture.
    const scaled = bytes * STEP_GAIN ** (pending.step - this.#step);
    const here = pending.step > this.#step ? Math.min(scaled, Math.max(bytes, this.#shareBytes)) : scaled;
    // Up at once, down slowly: too large is worse than too soft.
    const follow = (old: number, down: number) => (here > old ? here : old + (here - old) * down);
    if (wasKeyframe) this.#key = follow(this.#key, 0.5);
    else {
      this.#delta = follow(this.#delta, 0.12);
      this.#hardResults = here > this.#shareBytes * TOO_HARD ? this.#hardResults + 1 : 0;
      const room = this.#capBytes - this.#sum;
      // The first sharper picture carries the detail that comes back, whatever the content: judge it mildly.
      const ahead = pending.step === this.#step && this.#resultsAtStep <= 1 ? 2 : URGENT_PICTURES;
      const urgent = this.#hardResults > 0 && here * ahead > room;
      const lasting = this.#hardResults >= HARD_RESULTS && (this.#delta * this.fps) / 2 > room;
      // Hard pictures for which there is room, such as those of a fade, are just sent.
      if (urgent || lasting)
        while (this.#delta > this.#shareBytes * TOO_HARD && this.#step < SOFTENING.length - 1) this.#soften();
    }
    if (this.#settling && this.#resultsAtStep >= RESULTS_PER_STEP) {
      // The last result alone: the ones before it carried the new picture or the detail coming back.
      this.#delta = here;
      const fits = here * STEP_GAIN * URGENT_PICTURES < this.#capBytes - this.#sum;
      if (this.#step > 0 && fits) this.#sharpen();
      else this.#settling = false;
    }
  }

  report(): GovernorReport {
    const { bytes, worst, pictures, leftOut, softened, unasked } = this.#report;
    const seconds = (this.#index + 1) / this.fps;
    return {
      plannedKbps: this.planKbps,
      meanKbps: seconds > 0 ? (bytes * 8) / 1000 / seconds : 0,
      worstKbps: (worst * 8) / 1000 / WINDOW_SECONDS,
      pictures,
      leftOut,
      softened,
      unaskedKeyframes: unasked,
    };
  }

  #sharpen(): void {
    this.#step -= 1;
    this.#lastStep = this.#index;
    this.#resultsAtStep = 0;
    this.#delta *= SHARPER_GUESS;
    this.#key *= SHARPER_GUESS;
  }

  #soften(): void {
    this.#settling = false;
    this.#retrying = false;
    this.#resultsAtStep = 0;
    // Soon after a try to be sharper: that try failed, so wait longer before the next.
    if (this.#index - this.#lastStep < this.fps)
      this.#retrySeconds = Math.min(RETRY_SECONDS[1], this.#retrySeconds * 2);
    this.#step += 1;
    this.#lastStep = this.#index;
    this.#delta /= STEP_GAIN;
    this.#key /= STEP_GAIN;
  }

  #slot(index: number, bytes: number): void {
    const at = index % this.#window;
    this.#sum += bytes - this.#bytes[at];
    this.#bytes[at] = bytes;
  }

  /** Bytes of the pictures after `first`, up to the newest. */
  #sumAfter(first: number): number {
    let sum = 0;
    for (let i = Math.max(first + 1, this.#index - this.#window + 1, 0); i <= this.#index; i++)
      sum += this.#bytes[i % this.#window];
    return sum;
  }

  #steer(index: number, lineFactor: number): void {
    // A quarter of a second between changes: encoders need a few pictures to follow.
    if (index - this.#lastSteer < this.fps / 4) return;
    this.#lastSteer = index;
    const span = Math.round(this.fps / 2);
    const recent = this.#sumAfter(index - span) / (span * this.#shareBytes);
    const goal = AIM * lineFactor;
    const ratio = this.#target / this.planKbps;
    if (recent > goal * 1.05)
      this.#target = this.planKbps * Math.max(MIN_TARGET, ratio * Math.max(0.6, goal / recent));
    else if (ratio > goal) this.#target = this.planKbps * goal;
    else this.#target = this.planKbps * Math.min(goal, ratio * 1.08 + 0.005);
    // The line carries less, and the encoder does not come down however little it is asked for: it needs less to do.
    const deaf = lineFactor < 1 && recent > goal * DEAF && ratio <= Math.max(MIN_TARGET, goal * ASKED_LITTLE);
    this.#deafLooks = deaf ? this.#deafLooks + 1 : 0;
    const roomy = this.#step > 0 && this.#forLine > 0 && recent < goal * FILLED;
    this.#roomyLooks = roomy ? this.#roomyLooks + 1 : 0;
    if (this.#leftOutRecently > 0.1 && this.#step < SOFTENING.length - 1) {
      this.#leftOutRecently = 0;
      this.#soften();
    } else if (this.#deafLooks >= DEAF_LOOKS && this.#step < SOFTENING.length - 1) {
      this.#deafLooks = 0;
      this.#forLine += 1;
      this.#soften();
    } else if (this.#roomyLooks >= DEAF_LOOKS) {
      // It was softened for the line, which carries more again than so soft a picture fills.
      this.#roomyLooks = 0;
      this.#forLine -= 1;
      this.#sharpen();
    } else if (
      this.#step > 0 &&
      index - this.#lastStep > this.#retrySeconds * this.fps &&
      this.#leftOutRecently < 0.02 &&
      recent < goal * 1.1
    ) {
      // A constant-rate encoder fills its target with any content, so sizes do not tell that it became easy: try.
      this.#sharpen();
      this.#forLine = Math.min(this.#forLine, this.#step);
      this.#retrying = true;
    } else if (this.#step === 0 && index - this.#lastStep > 2 * RETRY_SECONDS[1] * this.fps)
      this.#retrySeconds = RETRY_SECONDS[0];
  }
}
