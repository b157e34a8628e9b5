import { MADE_UP_AT_ONCE, MADE_UP_VIEWERS, madeUpEvent } from '../../core/audience/made-up';
import type { ShowDocument } from '../../core/show/document';
import type { Clock } from '../../core/time/clock';
import { Compositor, type LiveState } from './compositor';
import { LiveAudience } from './live-audience';

/** Somebody does something every so many seconds: enough to see how it moves. */
const EVERY_SECONDS = 4;

/**
 * An audience that does not exist, with a compositor that draws from it: for scenes that are laid out while nobody has come
 * yet. Nothing of it reaches what goes out, which has a compositor and an audience of its own.
 */
export class MadeUpViewers {
  readonly #compositor: Compositor;
  readonly #audience: LiveAudience;
  #document: ShowDocument | null = null;
  #count = 0;
  #lastAt = -Infinity;

  constructor(
    readonly clock: Clock,
    live: Omit<LiveState, 'audience'>,
  ) {
    // Their alerts make no sound: they begin nowhere.
    this.#audience = new LiveAudience(clock, () => undefined);
    this.#compositor = new Compositor({ ...live, audience: this.#audience });
  }

  /** What draws the show at this moment, with them in it. @param seconds programme time */
  compositorAt(document: ShowDocument, seconds: number): Compositor {
    if (document !== this.#document) {
      this.#document = document;
      this.#audience.setDocument(document);
      this.#compositor.setDocument(document);
    }
    if (this.#count === 0) {
      this.#audience.setViewers('made up', MADE_UP_VIEWERS, seconds);
      for (let i = 0; i < MADE_UP_AT_ONCE; i++) this.#next(seconds);
    } else if (seconds - this.#lastAt >= EVERY_SECONDS || seconds < this.#lastAt) this.#next(seconds);
    this.#audience.advance(seconds);
    this.#compositor.setLiveFields(this.#audience.liveFields(seconds));
    return this.#compositor;
  }

  #next(seconds: number): void {
    const n = this.#count;
    this.#count += 1;
    this.#lastAt = seconds;
    // Long ago, by when it came: it sets off no alert.
    this.#audience.take([madeUpEvent(n, this.clock.dateMs(), n + 1)], seconds, 0);
  }
}
