import { fieldOfSeat } from '~/core/guests/guest-scene';
import { isSeat } from '~/core/guests/seats';
import { findRecord, recordsOf } from '~/core/show/document';
import type { Desk } from '~/engine/desk.client';
import { systemClock } from '~/engine/system-clock';
import type { GuestNow } from '~/protocol/guest';
import type { BusClient } from '../studio/bus-client';
import type { DocumentStore } from '../studio/document-store';
import i18next from 'i18next';
import { arrivalSound } from './arrival-sound';

/** Guests who are here and not connected are called again so often: a desk that has just come knows nobody. */
const CALL_MS = 2500;
/** Their pages are back at a server that began anew within this. */
const KEPT_MS = 12_000;

export interface GuestBridgeParts {
  desk: Desk;
  store: DocumentStore;
  bus: BusClient;
  say: (words: string) => void;
}

/** Between guests' pages and the desk: signals, who is there, and what the host is told of it. */
export class GuestBridge {
  #guests: readonly GuestNow[] | null = null;
  #told: readonly GuestNow[] | null = null;
  /** Whom a server that began anew has not told of yet, as they were. */
  readonly #kept = new Map<string, GuestNow>();
  #connected = false;
  /** When the server was there anew. */
  #newMs = -Infinity;
  readonly #stops: (() => void)[];

  constructor(readonly parts: GuestBridgeParts) {
    const { desk, bus } = parts;
    desk.guests.onSignal = (guestId, signal) => bus.say({ type: 'guestSignal', guestId, signal });
    bus.onGuestSignal = (guestId, signal) => desk.guests.hear(guestId, signal);
    this.#stops = [bus.subscribe(() => this.#look()), systemClock.every(CALL_MS, () => this.#call())];
    this.#look();
    this.#call();
  }

  close(): void {
    for (const stop of this.#stops) stop();
    this.parts.bus.onGuestSignal = () => {};
  }

  #look(): void {
    const { desk, bus } = this.parts;
    const { guests: told, ice, connected } = bus.snapshot();
    if (connected && !this.#connected) this.#newMs = systemClock.nowMs();
    this.#connected = connected;
    if (told === this.#told) return;
    this.#told = told;
    const before = this.#guests;
    const guests = this.#withKept(before ?? [], told);
    this.#guests = guests;
    desk.guests.setGuests(guests, ice);
    for (const { id, seatId } of told) {
      const was = this.#kept.get(id);
      this.#kept.delete(id);
      if (was && was.seatId !== seatId)
        bus.say({ type: 'guestOrder', guestId: id, order: { do: 'seat', seatId: was.seatId } });
    }
    this.#name(before, guests);
    if (before) this.#tell(before, guests);
  }

  /**
   * A studio server that began anew knows nobody yet, while their pictures and sound go on: whoever is connected is waited
   * for, on their seat.
   */
  #withKept(before: readonly GuestNow[], told: readonly GuestNow[]): readonly GuestNow[] {
    const links = this.parts.desk.snapshot().guests;
    if (systemClock.nowMs() - this.#newMs > KEPT_MS) return told;
    const kept = before.filter(
      ({ id }) => !told.some((guest) => guest.id === id) && links.get(id)?.state === 'there',
    );
    for (const guest of kept) this.#kept.set(guest.id, guest);
    return [...told, ...kept];
  }

  #call(): void {
    const { desk, bus } = this.parts;
    if (this.#kept.size > 0 && systemClock.nowMs() - this.#newMs > KEPT_MS) {
      this.#kept.clear();
      this.#told = null;
      this.#look();
    }
    const links = desk.snapshot().guests;
    const guestIds = bus.snapshot().guests.flatMap(({ id, here }) => (here && !links.has(id) ? [id] : []));
    if (guestIds.length > 0 && bus.snapshot().lease === 'held') bus.say({ type: 'callGuests', guestIds });
  }

  /**
   * The name of whoever sits down on a seat is a field of the show under the seat's name: titles and texts can use it. What
   * the host makes of it afterwards stays.
   */
  #name(before: readonly GuestNow[] | null, guests: readonly GuestNow[]): void {
    const { store } = this.parts;
    const document = store.document();
    const show = recordsOf(document, 'show')[0];
    if (!show) return;
    const names = Object.fromEntries(
      guests.flatMap(({ id, seatId, name }) => {
        const was = before?.find((guest) => guest.id === id);
        if (was?.seatId === seatId && was.name === name) return [];
        const seat = findRecord(document, 'input', seatId);
        const field = isSeat(seat) ? fieldOfSeat(seat.name) : '';
        // A page that was just opened does not know who has sat there for long.
        const known = before === null && field in show.fields;
        return field !== '' && !known && show.fields[field] !== name ? [[field, name]] : [];
      }),
    );
    if (Object.keys(names).length === 0) return;
    store.edit(i18next.t('guests.named', { names: Object.values(names).join(', ') }), [
      { ...show, fields: { ...show.fields, ...names } },
    ]);
  }

  #tell(before: readonly GuestNow[], guests: readonly GuestNow[]): void {
    const { say } = this.parts;
    for (const guest of guests) {
      const known = before.find(({ id }) => id === guest.id);
      const { name } = guest;
      if (guest.here && !known?.here) {
        say(i18next.t(known ? 'guests.back' : 'guests.came', { name }));
        arrivalSound();
      } else if (known?.here && !guest.here) say(i18next.t('guests.went', { name }));
      else if (guest.hand && !known?.hand) say(i18next.t('guests.handUp', { name }));
    }
  }
}
