import { MAX_GUESTS, type Hearer } from '../../core/guests/seats';
import { messageOf } from '../../core/fault';
import type { Cancel, Clock } from '../../core/time/clock';
import type { GuestNow, GuestSignal, IceServer } from '../../protocol/guest';
import { GuestPeer } from './guest-peer';
import type { GuestLink, RoomEngine } from './room-engine';

const MEASURE_MS = 1000;

export interface RoomParts {
  clock: Clock;
  say: (guestId: string, signal: GuestSignal) => void;
  /** What a guest is sent back, as tracks; null while there is none. */
  returnSound: (place: number) => MediaStreamTrack | null;
  returnPicture: (seatId: string | null) => MediaStreamTrack | null;
  setHearers: (hearers: readonly Hearer[]) => void;
  /** What a seat gives now, with the reason where it gives nothing: `null` for nobody there. */
  setSeat: (seatId: string, given: SeatGiven) => void;
  changed: () => void;
  /** Something that the host should read. */
  fault: (message: string) => void;
}

export interface SeatGiven {
  picture: MediaStreamTrack | null;
  sound: MediaStreamTrack | null;
  /** In place of the picture. */
  words: string;
}

const NOBODY: SeatGiven = { picture: null, sound: null, words: '' };

/** Guests who are connected one by one with this page. */
export class GuestRoom implements RoomEngine {
  #guests: readonly GuestNow[] = [];
  #ice: readonly IceServer[] = [];
  readonly #peers = new Map<string, GuestPeer>();
  /** Of returns, by guest. */
  readonly #places = new Map<string, number>();
  readonly #seats = new Map<string, SeatGiven>();
  /** A muted player each: a remote track that nothing plays may stay silent. */
  readonly #players = new Map<string, HTMLAudioElement>();
  readonly #endMeasuring: Cancel;

  constructor(readonly parts: RoomParts) {
    this.#endMeasuring = parts.clock.every(MEASURE_MS, () => this.#measure());
  }

  /** As they are now: whoever keeps them sees by another object that one has changed. */
  get links(): ReadonlyMap<string, GuestLink> {
    return new Map([...this.#peers].map(([id, { link }]) => [id, { ...link }]));
  }

  setGuests(guests: readonly GuestNow[], ice: readonly IceServer[]): void {
    this.#guests = guests;
    this.#ice = ice;
    for (const id of [...this.#peers.keys()]) if (!guests.some((guest) => guest.id === id)) this.#end(id);
    this.returnsChanged();
    this.#tellHearers();
    this.#tellSeats();
  }

  /** What goes back may be another by now: a seat was set up otherwise, or the desk's sound has begun. */
  returnsChanged(): void {
    for (const { id, seatId } of this.#guests) {
      const peer = this.#peers.get(id);
      const place = this.#places.get(id);
      if (!peer || place === undefined) continue;
      const { returnPicture, returnSound } = this.parts;
      peer.setReturn(returnPicture(seatId), returnSound(place)).catch(this.#failed);
    }
  }

  hear(guestId: string, signal: GuestSignal): void {
    const guest = this.#guests.find(({ id }) => id === guestId);
    if (!guest) return;
    if (signal.type === 'offer') return this.#begin(guest, signal.round, signal.sdp);
    const peer = this.#peers.get(guestId);
    if (signal.type === 'candidate' && peer?.round === signal.round)
      // One that this browser cannot use, such as a name that it does not find, is none.
      void peer.candidate(signal.candidate).catch(() => undefined);
  }

  close(): void {
    this.#endMeasuring();
    for (const id of [...this.#peers.keys()]) this.#end(id);
  }

  #begin(guest: GuestNow, round: number, sdp: string): void {
    this.#end(guest.id);
    const place = this.#placeFor(guest.id);
    if (place === null) return;
    const peer: GuestPeer = new GuestPeer(round, {
      ice: this.#ice,
      say: (signal) => this.parts.say(guest.id, signal),
      sound: this.parts.returnSound(place),
      picture: this.parts.returnPicture(guest.seatId),
      nowMs: () => this.parts.clock.nowMs(),
      changed: () => {
        if (this.#peers.get(guest.id) !== peer) return;
        this.#play(guest.id, peer);
        this.#tellSeats();
        this.parts.changed();
      },
    });
    this.#peers.set(guest.id, peer);
    this.#tellHearers();
    peer.answer(sdp).catch((error: unknown) => {
      if (this.#peers.get(guest.id) !== peer) return;
      this.#end(guest.id);
      this.parts.fault(`${guest.name} cannot be connected: ${messageOf(error)}`);
    });
  }

  readonly #failed = (error: unknown): void => this.parts.fault(`A guest’s return: ${messageOf(error)}`);

  #placeFor(id: string): number | null {
    const taken = new Set(this.#places.values());
    for (let place = 0; place < MAX_GUESTS; place++)
      if (!taken.has(place)) {
        this.#places.set(id, place);
        return place;
      }
    return null;
  }

  #end(id: string): void {
    const peer = this.#peers.get(id);
    if (!peer) return;
    this.#peers.delete(id);
    this.#places.delete(id);
    this.#players.get(id)?.pause();
    this.#players.delete(id);
    peer.close();
    this.#tellHearers();
    this.#tellSeats();
    this.parts.changed();
  }

  #play(id: string, { link }: GuestPeer): void {
    if (!link.stream || this.#players.has(id)) return;
    const player = new Audio();
    player.muted = true;
    player.srcObject = link.stream;
    // It only keeps the track alive: where it may not play there is nothing to hear either.
    void player.play().catch(() => undefined);
    this.#players.set(id, player);
  }

  #tellHearers(): void {
    this.parts.setHearers(
      this.#guests.flatMap(({ id, seatId }) => {
        const place = this.#places.get(id);
        return place === undefined ? [] : [{ place, seatId }];
      }),
    );
  }

  #tellSeats(): void {
    const now = new Map<string, SeatGiven>();
    for (const guest of this.#guests) if (guest.seatId !== null) now.set(guest.seatId, this.#given(guest));
    for (const seatId of new Set([...this.#seats.keys(), ...now.keys()])) {
      const given = now.get(seatId) ?? NOBODY;
      const before = this.#seats.get(seatId) ?? NOBODY;
      if (before.picture === given.picture && before.sound === given.sound && before.words === given.words)
        continue;
      if (now.has(seatId)) this.#seats.set(seatId, given);
      else this.#seats.delete(seatId);
      this.parts.setSeat(seatId, given);
    }
  }

  /** Sound goes on apart from a picture that stands still or is off. */
  #given({ id, name, here, cameraOff }: GuestNow): SeatGiven {
    const peer = this.#peers.get(id);
    if (!peer || peer.link.state === 'connecting' || peer.link.state === 'lost')
      return { picture: null, sound: null, words: here ? `${name} is being connected` : `${name} is away` };
    const { picture, sound, link } = peer;
    if (cameraOff || !picture) return { picture: null, sound, words: name };
    if (link.state === 'frozen') return { picture: null, sound, words: `${name}’s picture stands still` };
    return { picture, sound, words: '' };
  }

  #measure(): void {
    for (const [id, peer] of this.#peers) {
      const guest = this.#guests.find((one) => one.id === id);
      // A connection that closes meanwhile has nothing to tell any more.
      void peer.measure(guest?.cameraOff ?? false).catch(() => undefined);
    }
  }
}
