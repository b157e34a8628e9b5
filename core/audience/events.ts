/** What viewers do, whichever platform it came from. */

export interface ChatMessage {
  type: 'chat';
  id: string;
  platform: string;
  viewer: string;
  /** CSS colour the platform gives the name, or null. */
  colour: string | null;
  text: string;
  /** Milliseconds since 1970. */
  atMs: number;
}

export interface FollowEvent {
  type: 'follow';
  id: string;
  platform: string;
  viewer: string;
  atMs: number;
  /** Fired by the test button: shown like a real one, but marked in the list and never counted. */
  test: boolean;
}

export type AudienceEvent = ChatMessage | FollowEvent;

/** The newest events of the evening, without duplicates, in the order they happened. */
export class AudienceLog {
  readonly #events: AudienceEvent[] = [];
  readonly #ids = new Set<string>();

  constructor(readonly limit = 500) {}

  /** @returns whether it was new */
  add(event: AudienceEvent): boolean {
    const key = `${event.platform}/${event.id}`;
    if (this.#ids.has(key)) return false;
    this.#ids.add(key);
    let at = this.#events.length;
    while (at > 0 && this.#events[at - 1].atMs > event.atMs) at -= 1;
    this.#events.splice(at, 0, event);
    if (this.#events.length > this.limit) {
      const gone = this.#events.shift()!;
      this.#ids.delete(`${gone.platform}/${gone.id}`);
    }
    return true;
  }

  list(): readonly AudienceEvent[] {
    return this.#events;
  }
}
