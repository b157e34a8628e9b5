import { Fault } from '../../core/fault';
import type { InputRecord } from '../../core/show/records';
import { findRecord } from '../../core/show/document';
import type { SettingRepository } from '../db/setting-repository';
import { OpenShow, type OpenShowParts } from './open-show';

const LAST = 'show.last';

/**
 * The shows that are open: those with a page, the one on air, and the one that was used last, whose viewers are listened to
 * also while no page is open.
 */
export class OpenShows {
  readonly #open = new Map<string, OpenShow>();

  constructor(
    readonly parts: Omit<OpenShowParts, 'left'> & {
      settings: SettingRepository;
      /** The show that is on air; null when none is. */
      onAir: () => string | null;
      /** No page of any show has been here for a while. */
      empty: () => void;
    },
  ) {}

  /** The show, opened when it is not yet. @throws Fault `show.missing` */
  get(showId: string): OpenShow {
    const open = this.#open.get(showId);
    if (open) return open;
    if (!this.parts.shows.has(showId))
      throw new Fault('show.missing', 'This show is not here any more: go to Home and choose another.');
    const show = new OpenShow(showId, { ...this.parts, left: (left) => this.#left(left) });
    this.#open.set(showId, show);
    return show;
  }

  find(showId: string): OpenShow | null {
    return this.#open.get(showId) ?? null;
  }

  all(): OpenShow[] {
    return [...this.#open.values()];
  }

  /** A page works on it from now on. */
  use(showId: string, nowMs: number): OpenShow {
    const show = this.get(showId);
    this.parts.shows.stamp(showId, 'opened', nowMs);
    if (this.#last !== showId) {
      this.parts.settings.set(LAST, showId);
      for (const other of this.all()) if (other.bus.pages === 0) this.#left(other);
    }
    return show;
  }

  /** Opens the one that was used last. */
  openLast(): void {
    const last = this.#last;
    if (last !== null && this.parts.shows.has(last)) this.get(last);
  }

  /** Its pages are told that it is gone. */
  drop(showId: string): void {
    const show = this.#open.get(showId);
    show?.bus.broadcast({ type: 'showGone' });
    show?.close();
    this.#open.delete(showId);
  }

  /** An input of any of them. */
  input(inputId: string): InputRecord | null {
    for (const { document } of this.#open.values()) {
      const input = findRecord(document, 'input', inputId);
      if (input) return input;
    }
    return null;
  }

  close(): void {
    for (const show of this.#open.values()) show.close();
  }

  get #last(): string | null {
    return (
      this.parts.settings.get(LAST) ?? this.parts.shows.list().find((s) => s.removedMs === null)?.id ?? null
    );
  }

  #left(show: OpenShow): void {
    if (show.id !== this.parts.onAir() && show.id !== this.#last) {
      show.close();
      this.#open.delete(show.id);
    }
    if (this.all().every(({ bus }) => bus.pages === 0)) this.parts.empty();
  }
}
