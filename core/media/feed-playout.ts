/**
 * When the pictures and sounds of a network feed are played: at the feed's own times plus one offset, which is chosen so
 * that what arrives now is due a little later. Only when that little is used up, or has grown far too long, is there
 * another offset.
 */

/** How long after its arrival a part is due: what lines commonly tremble by. */
export const FEED_BUFFER_SECONDS = 0.35;
/** Less is left: what comes next would come too late. */
const LEAST_SECONDS = 0.02;
/** More is waiting than any burst explains. */
const MOST_SECONDS = 1.4;
/** Over this long a time the least that was left is looked at: a buffer that is never used is only delay. */
const LOOK_SECONDS = 8;
const UNUSED_SECONDS = 0.35;

export class FeedPlayout {
  #offset: number | null = null;
  /** How often the offset was changed after the first time: each is a small jump. */
  jumps = 0;
  #least = Infinity;
  #lookedAt = 0;
  #ahead = 0;

  /** Programme seconds of the feed's zero; null before anything arrived. */
  get offset(): number | null {
    return this.#offset;
  }

  /** How much later than its arrival a part is shown now, seconds. */
  get delaySeconds(): number {
    return this.#offset === null ? 0 : Math.max(0, this.#ahead);
  }

  /** The feed begins anew, with times of its own. */
  reset(): void {
    this.#offset = null;
    this.#least = Infinity;
  }

  /**
   * A part has arrived.
   * @param mediaSeconds its time in the feed
   * @param now programme seconds
   * @returns whether the offset is another one now
   */
  arrived(mediaSeconds: number, now: number): boolean {
    if (this.#offset === null) {
      this.#set(mediaSeconds, now);
      return true;
    }
    const ahead = mediaSeconds + this.#offset - now;
    if (ahead < LEAST_SECONDS || ahead > MOST_SECONDS) {
      this.#set(mediaSeconds, now);
      this.jumps += 1;
      return true;
    }
    this.#ahead += (ahead - this.#ahead) * 0.05;
    this.#least = Math.min(this.#least, ahead);
    if (now - this.#lookedAt < LOOK_SECONDS) return false;
    const unused = this.#least - FEED_BUFFER_SECONDS;
    this.#least = Infinity;
    this.#lookedAt = now;
    if (unused < UNUSED_SECONDS) return false;
    this.#offset -= unused;
    this.jumps += 1;
    return true;
  }

  #set(mediaSeconds: number, now: number): void {
    this.#offset = now + FEED_BUFFER_SECONDS - mediaSeconds;
    this.#ahead = FEED_BUFFER_SECONDS;
    this.#least = Infinity;
    this.#lookedAt = now;
  }
}
