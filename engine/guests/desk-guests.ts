import { seatsOf } from '../../core/guests/seats';
import type { ProgrammeState } from '../../core/programme/programme-state';
import { findRecord, type ShowDocument } from '../../core/show/document';
import type { GuestNow, GuestSignal, IceServer } from '../../protocol/guest';
import type { ToStage } from '../../protocol/engine';
import type { SoundDesk } from '../audio/sound-desk';
import { systemClock } from '../system-clock';
import { GuestRoom, type SeatGiven } from './guest-room';
import { ReturnPictures } from './return-pictures';
import type { GuestLink, RoomEngine } from './room-engine';

export interface DeskGuestsParts {
  sound: SoundDesk;
  document: () => ShowDocument;
  programme: () => ProgrammeState;
  toStage: (message: ToStage, transfer?: Transferable[]) => void;
  addView: ConstructorParameters<typeof ReturnPictures>[0];
  changed: (links: ReadonlyMap<string, GuestLink>) => void;
  fault: (message: string) => void;
}

/** A picture that goes to the stage, and what it is a copy of. */
interface OnStage {
  of: MediaStreamTrack;
  copy: MediaStreamTrack;
}

/**
 * Guests at the desk: whoever sits on a seat is an input of the show with a channel of its own, seen and heard by viewers from
 * when they are brought on; each is sent back what their seat says.
 */
export class DeskGuests {
  /** Words to a guest's page. */
  onSignal: (guestId: string, signal: GuestSignal) => void = () => {};
  readonly #room: RoomEngine & Pick<GuestRoom, 'returnsChanged'>;
  readonly #pictures: ReturnPictures;
  #guests: readonly GuestNow[] = [];
  readonly #given = new Map<string, SeatGiven>();
  readonly #onStage = new Map<string, OnStage>();
  readonly #said = new Map<string, string>();
  readonly #streams = new Map<string, MediaStreamTrack>();

  constructor(readonly parts: DeskGuestsParts) {
    this.#pictures = new ReturnPictures(parts.addView);
    this.#room = new GuestRoom({
      clock: systemClock,
      say: (guestId, signal) => this.onSignal(guestId, signal),
      returnSound: (place) => parts.sound.returnTrack(place),
      returnPicture: (seatId) => this.#returnPicture(seatId),
      setHearers: (hearers) => parts.sound.setHearers(hearers),
      setSeat: (seatId, given) => {
        this.#given.set(seatId, given);
        this.#apply();
      },
      changed: () => parts.changed(this.#room.links),
      fault: parts.fault,
    });
  }

  setGuests(guests: readonly GuestNow[], ice: readonly IceServer[]): void {
    this.#guests = guests;
    this.#room.setGuests(guests, ice);
    this.#endUnseen();
    this.#apply();
  }

  hear(guestId: string, signal: GuestSignal): void {
    this.#room.hear(guestId, signal);
  }

  /** The show was edited, or something was done to the programme. */
  update(): void {
    this.#room.returnsChanged();
    this.#endUnseen();
    this.#apply();
  }

  close(): void {
    this.#room.close();
    for (const { copy } of this.#onStage.values()) copy.stop();
  }

  #returnPicture(seatId: string | null): MediaStreamTrack | null {
    const document = this.parts.document();
    return this.#pictures.trackFor(document, seatsOf(document).find(({ id }) => id === seatId) ?? null);
  }

  #endUnseen(): void {
    const document = this.parts.document();
    const seats = seatsOf(document);
    this.#pictures.keep(
      document,
      this.#guests.map(({ seatId }) => seats.find(({ id }) => id === seatId) ?? null),
    );
  }

  /** Brings every seat to what it is to give now. */
  #apply(): void {
    const document = this.parts.document();
    const { seatsOn } = this.parts.programme();
    for (const id of [...this.#onStage.keys(), ...this.#streams.keys()])
      if (!findRecord(document, 'input', id)) this.#clear(id);
    for (const { id } of seatsOf(document)) {
      const given = this.#given.get(id) ?? { picture: null, sound: null, words: '' };
      this.#setSound(id, given.sound);
      const on = seatsOn.includes(id);
      if (on && given.picture) this.#show(id, given.picture);
      else this.#hide(id, on ? given.words : '');
    }
  }

  #setSound(id: string, track: MediaStreamTrack | null): void {
    if ((this.#streams.get(id) ?? null) === track) return;
    if (track) this.#streams.set(id, track);
    else this.#streams.delete(id);
    this.parts.sound.setInputStream(id, track && new MediaStream([track]));
  }

  #show(id: string, picture: MediaStreamTrack): void {
    if (this.#onStage.get(id)?.of === picture) return;
    this.#onStage.get(id)?.copy.stop();
    // A copy: the connection's own track is shown to the host as well, and outlives what the stage does with it.
    const copy = picture.clone();
    this.#onStage.set(id, { of: picture, copy });
    this.#said.delete(id);
    const frames = new MediaStreamTrackProcessor({ track: copy as MediaStreamVideoTrack }).readable;
    this.parts.toStage({ type: 'track', inputId: id, frames }, [frames as unknown as Transferable]);
  }

  /** @param words in place of the picture; empty: the seat's own name */
  #hide(id: string, words: string): void {
    this.#onStage.get(id)?.copy.stop();
    this.#onStage.delete(id);
    if (this.#said.get(id) === words) return;
    this.#said.set(id, words);
    this.parts.toStage({ type: 'inputEmpty', inputId: id, words });
  }

  #clear(id: string): void {
    this.#onStage.get(id)?.copy.stop();
    this.#onStage.delete(id);
    this.#said.delete(id);
    this.#setSound(id, null);
  }
}
