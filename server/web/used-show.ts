import type { PadState } from '../../protocol/pad';
import type { ShowRepository } from '../db/show-repository';
import { padState } from '../visitors/pad-state';
import { standingOf } from '../visitors/standing';
import type { Broadcast } from './broadcast';
import type { OpenShow } from './open-show';
import type { OpenShows } from './open-shows';

/** So many of the last messages of chat stand on a pad. */
const PAD_CHAT = 6;

/** The show that those who look on from elsewhere mean: the one on air; without one, the one that was used last. */
export class UsedShow {
  constructor(
    readonly parts: {
      shows: ShowRepository;
      open: OpenShows;
      /** There once the studio is whole. */
      broadcast: () => Broadcast;
      now: () => number;
    },
  ) {}

  /** Null while it is not open. */
  get open(): OpenShow | null {
    const listed = this.#listed();
    return listed ? this.parts.open.find(listed.id) : null;
  }

  /** Of the desk on air; without one, of any that runs. */
  get deskHealth() {
    const onAir = this.parts.broadcast().showId;
    const shows = this.parts.open.all();
    return (
      (shows.find((show) => show.id === onAir) ?? shows.find((show) => show.bus.health))?.bus.health ?? null
    );
  }

  /** How it stands, as a watcher sees it. */
  standing() {
    const broadcast = this.parts.broadcast();
    const show = this.open;
    const health = show?.bus.health ?? null;
    return standingOf({
      show: this.#listed()?.name ?? null,
      scene: (health?.onAirSceneId && show?.document.get(health.onAirSceneId)?.name) || null,
      broadcast: broadcast.state,
      status: broadcast.status,
      health,
      nowMs: this.parts.now(),
    });
  }

  /** What a pad shows. @param name its page */
  pad(name: string): PadState | null {
    const show = this.open;
    if (!show) return null;
    const told = show.audience.statuses.flatMap(({ viewers }) => viewers ?? []);
    return padState(
      {
        document: show.document,
        programme: show.programme,
        standing: this.standing(),
        covered: this.parts.broadcast().status?.session?.coverHeld ?? false,
        viewers: told.length === 0 ? null : told.reduce((sum, one) => sum + one, 0),
        chat: show.audience.hub.lastChat(PAD_CHAT).map(({ viewer, text }) => ({ name: viewer, text })),
      },
      name,
    );
  }

  #listed() {
    const shows = this.parts.shows
      .list()
      .filter(({ archivedMs, removedMs }) => archivedMs === null && removedMs === null);
    return shows.find(({ id }) => id === this.parts.broadcast().showId) ?? shows[0];
  }
}
