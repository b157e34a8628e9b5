/**
 * Finds out how much a line carries from what leaves it, and says how much to send: down within two seconds, up with
 * care. Knows no sockets: it is told a few times a second what was handed over and what has arrived.
 */

export interface LineSample {
  atMs: number;
  /** Bytes that have arrived since the connection began. */
  deliveredBytes: number;
  /** Age of the oldest byte that was handed over and has not arrived, 0 for none. */
  waitingMs: number;
  /** Bytes handed over or held back that have not arrived. */
  waitingBytes: number;
}

export type LineState = 'clear' | 'slow' | 'blocked';

export interface LineVerdict {
  state: LineState;
  /** What to send in all, kbps. */
  kbps: number;
}

/** Waiting this much longer than the line's own delay is a queue, not a round trip. */
const QUEUE_MS = 300;
/** So many samples in a row: one late sample is nothing. */
const QUEUE_SAMPLES = 3;
/** The queue is gone. */
const CLEAR_MS = 150;
/** What arrives is averaged over this. */
const RATE_MS = 1000;
/** Nothing has arrived for so long: the line is down rather than slow. */
const BLOCKED_MS = 1200;
/** Of what the line was seen to carry. */
const USE = 0.9;
/** While the queue drains: it is to be gone after this. */
const DRAIN_SECONDS = 2;
const LEAST_WHILE_DRAINING = 0.4;
/** After the line was down: what it carried before, less a little. */
const AFTER_BLOCK = 0.75;
/** Between two steps up. */
const STEP_MS = 1000;
/** First step up, and the largest; each that goes well is twice the one before. */
const STEPS = { first: 0.05, most: 0.25 } as const;
/** So much above what failed the steps grow, and then it was another time. */
const PAST = 1.06;
const LONG_PAST = 1.3;
/** Waits before going above what failed; doubles each time that fails. */
const HOLD_MS = { first: 3000, most: 12_000 } as const;
/** A plan's rate kept for so long makes up for earlier failures. */
const FORGIVE_MS = 60_000;
/** The shortest delay seen over this is the line's own. */
const FLOOR_MS = 20_000;

const leastOf = (planKbps: number) => Math.min(planKbps, Math.max(150, planKbps * 0.1));

export class LineController {
  #state: LineState = 'clear';
  #kbps: number;
  #samples: LineSample[] = [];
  #queued = 0;
  /** The line was seen to carry no more than this; Infinity when nothing failed yet. */
  #ceiling = Infinity;
  #holdMs: number = HOLD_MS.first;
  #holdUntil = 0;
  #lastStepMs = 0;
  #step: number = STEPS.first;
  #beforeBlock = 0;
  /** What arrives is a mean over a second, which after an outage still holds the outage. */
  #trustRateFrom = 0;
  #clearSince: number | null = null;
  #floors: { atMs: number; ms: number }[] = [];

  /**
   * @param planKbps what is sent when the line carries it
   * @param leastKbps never less: sound and a picture that can just be followed
   */
  constructor(
    public planKbps: number,
    public leastKbps = leastOf(planKbps),
  ) {
    this.#kbps = planKbps;
  }

  /** Another rate is sent from now on, when the line carries it. */
  plan(kbps: number): void {
    if (kbps === this.planKbps) return;
    const all = this.#kbps >= this.planKbps;
    this.planKbps = kbps;
    this.leastKbps = leastOf(kbps);
    this.#kbps = all ? kbps : this.#bounded(this.#kbps);
  }

  get verdict(): LineVerdict {
    return { state: this.#state, kbps: Math.round(this.#kbps) };
  }

  /** The line's own delay, ms: what even an empty line needs. */
  get floorMs(): number {
    return this.#floors.length === 0 ? 0 : Math.min(...this.#floors.map((f) => f.ms));
  }

  /** Takes what is known now; call every 50–250 ms. */
  sample(sample: LineSample): LineVerdict {
    const { atMs, waitingMs } = sample;
    this.#samples.push(sample);
    while (this.#samples.length > 2 && this.#samples[1].atMs <= atMs - RATE_MS) this.#samples.shift();
    this.#watchFloor(atMs, waitingMs);
    const excess = Math.max(0, waitingMs - this.floorMs);
    this.#queued = excess > QUEUE_MS ? this.#queued + 1 : 0;
    const rate = this.#deliveredKbps();
    if (waitingMs > BLOCKED_MS && this.#standsStill(atMs)) this.#block();
    else if (this.#state === 'blocked') {
      // Something arrives again: what was before is the best guess.
      if (rate > 0) this.#comeBack(atMs);
    } else if (this.#queued >= QUEUE_SAMPLES) this.#slow(atMs, rate, sample.waitingBytes);
    else if (this.#state === 'slow') {
      if (excess < CLEAR_MS) {
        this.#state = 'clear';
        this.#kbps = this.#bounded(this.#ceiling * USE);
        this.#holdUntil = atMs + this.#holdMs;
        this.#holdMs = Math.min(HOLD_MS.most, this.#holdMs * 2);
        this.#step = STEPS.first;
        this.#lastStepMs = atMs;
      }
    } else this.#up(atMs, excess);
    return this.verdict;
  }

  #watchFloor(atMs: number, waitingMs: number): void {
    this.#floors = this.#floors.filter((f) => f.atMs > atMs - FLOOR_MS);
    const last = this.#floors.at(-1);
    if (last && atMs - last.atMs < 1000) last.ms = Math.min(last.ms, waitingMs);
    else this.#floors.push({ atMs, ms: waitingMs });
  }

  #deliveredKbps(): number {
    const first = this.#samples[0];
    const last = this.#samples[this.#samples.length - 1];
    const ms = last.atMs - first.atMs;
    return ms <= 0 ? 0 : ((last.deliveredBytes - first.deliveredBytes) * 8) / ms;
  }

  /** Whether nothing at all arrived over the last second. */
  #standsStill(atMs: number): boolean {
    const first = this.#samples[0];
    return atMs - first.atMs >= RATE_MS * 0.8 && this.#deliveredKbps() === 0;
  }

  #block(): void {
    if (this.#state !== 'blocked') this.#beforeBlock = this.#kbps;
    this.#state = 'blocked';
    this.#kbps = this.leastKbps;
    this.#clearSince = null;
  }

  #comeBack(atMs: number): void {
    this.#state = 'slow';
    this.#kbps = this.#bounded(this.#beforeBlock * AFTER_BLOCK);
    this.#ceiling = this.#kbps / USE;
    this.#holdMs = HOLD_MS.first;
    this.#lastStepMs = atMs;
    this.#trustRateFrom = atMs + RATE_MS;
  }

  #slow(atMs: number, rate: number, waitingBytes: number): void {
    const fresh = this.#state !== 'slow';
    this.#state = 'slow';
    this.#clearSince = null;
    // With a queue standing, what arrives is what the line carries.
    if (rate > 0 && atMs >= this.#trustRateFrom)
      this.#ceiling = fresh ? rate : this.#ceiling + (rate - this.#ceiling) * 0.15;
    const drain = (waitingBytes * 8) / 1000 / DRAIN_SECONDS;
    const wanted = Math.max(this.#ceiling * LEAST_WHILE_DRAINING, this.#ceiling * USE - drain);
    if (fresh || wanted < this.#kbps) this.#kbps = this.#bounded(Math.min(this.#kbps, wanted));
    this.#lastStepMs = atMs;
  }

  #up(atMs: number, excess: number): void {
    if (this.#kbps >= this.planKbps) {
      this.#clearSince ??= atMs;
      if (atMs - this.#clearSince > FORGIVE_MS) this.#holdMs = HOLD_MS.first;
      return;
    }
    this.#clearSince = null;
    if (excess > CLEAR_MS || atMs < this.#holdUntil || atMs - this.#lastStepMs < STEP_MS) return;
    this.#lastStepMs = atMs;
    this.#kbps = this.#bounded(this.#kbps * (1 + this.#step));
    // Around what failed small steps: going over it again is to cost little.
    if (this.#kbps > this.#ceiling * PAST) this.#step = Math.min(STEPS.most, this.#step * 2);
    if (this.#kbps > this.#ceiling * LONG_PAST) {
      this.#ceiling = Infinity;
      this.#holdMs = HOLD_MS.first;
    }
  }

  #bounded(kbps: number): number {
    return Math.min(this.planKbps, Math.max(this.leastKbps, kbps));
  }
}

export interface DestinationOnLine {
  encode: string;
  verdict: LineVerdict;
  /** What it gets when all is well, kbps. */
  planKbps: number;
}

export interface LineDecision {
  /** `line`: what leaves this house is slow; `destination`: one of several is; `none`. */
  cause: 'none' | 'line' | 'destination';
  /** For each encode what share of its plan to send, 0…1. */
  shares: Record<string, number>;
}

/**
 * Which encodes follow a slow way. A destination that is slow alone is its own trouble: the others keep their quality and
 * it loses groups of pictures; unless it is the only one of its encode. When most are slow it is the line, and every
 * encode follows its slowest.
 */
export function decideRates(destinations: readonly DestinationOnLine[]): LineDecision {
  const troubled = destinations.filter((d) => d.verdict.kbps < d.planKbps);
  const slowNow = destinations.filter((d) => d.verdict.state !== 'clear');
  const line = destinations.length > 1 && troubled.length * 2 > destinations.length;
  const shares: Record<string, number> = {};
  for (const encode of new Set(destinations.map((d) => d.encode))) {
    const own = destinations.filter((d) => d.encode === encode);
    const follows = line || own.every((d) => d.verdict.kbps < d.planKbps);
    shares[encode] = follows ? Math.min(1, ...own.map((d) => d.verdict.kbps / d.planKbps)) : 1;
  }
  const cause =
    slowNow.length === 0
      ? 'none'
      : slowNow.length * 2 > destinations.length || destinations.length === 1
        ? 'line'
        : 'destination';
  return { cause, shares };
}
