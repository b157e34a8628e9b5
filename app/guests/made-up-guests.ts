import type { MadeUp, MadeUpGuest, Misbehaviour } from '~/standins/guests/made-up-guest';

/** Known here without the whole stand-in, which is fetched when it is wanted. */
export const MISBEHAVIOURS = ['freezes', 'drops', 'echoes'] as const satisfies readonly Misbehaviour[];

const PEOPLE: readonly Omit<MadeUp, 'url'>[] = [
  { name: 'copperkettle', picture: 'lever-camera', sound: 'voice-call' },
  { name: 'slate-lamp', picture: 'desk-camera', sound: 'voice' },
];

/** Two guests who are made up: there as long as somebody rehearses with them. */
export class MadeUpGuests {
  #guests = new Map<string, MadeUpGuest>();
  readonly #listeners = new Set<() => void>();

  constructor(readonly showId: string) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly here = (): boolean => this.#guests.size > 0;

  has(guestId: string): boolean {
    return this.#guests.has(guestId);
  }

  misbehave(guestId: string, how: Misbehaviour): void {
    this.#guests.get(guestId)?.misbehave(how);
  }

  async toggle(): Promise<void> {
    if (this.here()) return this.close();
    const { MadeUpGuest: Guest } = await import('~/standins/guests/made-up-guest');
    if (this.here()) return;
    const origin = `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}`;
    PEOPLE.forEach((person, i) => {
      const url = `${origin}/stand-in-guest/${this.showId}/${i + 1}`;
      this.#guests.set(`stand-in-${i + 1}`, new Guest({ ...person, url }));
    });
    this.#tell();
  }

  close(): void {
    for (const guest of this.#guests.values()) guest.close();
    this.#guests = new Map();
    this.#tell();
  }

  #tell(): void {
    for (const listener of this.#listeners) listener();
  }
}
