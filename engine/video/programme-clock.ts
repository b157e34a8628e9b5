import { ClockAnchor } from '../../core/delivery/clock-anchor';
import { MIXER_SAMPLE_RATE } from '../../core/sound/format';
import { BLOCK, CLOCK } from '../../protocol/shared-sound';

/** The sound thread works in bursts of up to 0.2 s; without a block for this long it stands still. */
const STANDING_SECONDS = 1;

/**
 * The programme's time: the sample count of the sound thread while it runs, the wall clock while it does not (before the
 * first click in a page, sound may not start). Never runs backwards.
 */
export class ProgrammeClock {
  running = false;
  #clock: Int32Array | null = null;
  #anchor = new ClockAnchor(MIXER_SAMPLE_RATE);
  #lastBlock = 0;
  #lastAdvance = -Infinity;
  #base = { time: 0, wall: 0 };
  #last = 0;
  #slips = 0;

  /** @param wall seconds, any origin, steadily rising */
  constructor(readonly wall: () => number) {
    this.#base.wall = wall();
  }

  attach(clock: Int32Array): void {
    this.#clock = clock;
  }

  get slips(): number {
    return this.#slips + this.#anchor.slips;
  }

  now(): number {
    const wall = this.wall();
    const block = this.#clock ? Atomics.load(this.#clock, CLOCK.block) : 0;
    if (block !== this.#lastBlock) {
      if (!this.running) {
        this.#slips += this.#anchor.slips;
        this.#anchor = new ClockAnchor(MIXER_SAMPLE_RATE);
        this.running = true;
      }
      this.#lastBlock = block;
      this.#lastAdvance = wall;
      this.#anchor.observe(wall, block * BLOCK);
    } else if (this.running && wall - this.#lastAdvance > STANDING_SECONDS) {
      this.running = false;
      this.#base = { time: this.#last, wall };
    }
    const time = this.running ? this.#anchor.programmeTime(wall) : this.#base.time + wall - this.#base.wall;
    this.#last = Math.max(this.#last, time);
    if (this.#clock)
      Atomics.store(this.#clock, CLOCK.stageBlock, Math.floor((this.#last * MIXER_SAMPLE_RATE) / BLOCK));
    return this.#last;
  }
}
