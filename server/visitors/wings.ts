import { arrive, goAway, seat, stillWaitedFor, type WingsGuest } from '../../core/guests/wings';
import { isSeat, TALK_TO_WINGS } from '../../core/guests/seats';
import type { ProgrammeState } from '../../core/programme/programme-state';
import { rundownInUse, rundownTimes } from '../../core/rundown/rundown';
import { findRecord, type ShowDocument } from '../../core/show/document';
import { inputsOfScene } from '../../core/show/inputs-shown';
import type { BusFromServer } from '../../protocol/bus';
import { COME_AGAIN, type Standing } from '../../protocol/door';
import {
  plainName,
  type FromGuest,
  type GuestNow,
  type GuestOrder,
  type GuestSignal,
  type GuestStanding,
  type IceServer,
  type ToGuest,
} from '../../protocol/guest';

/** So often those who are here are told how things stand; their pages say that they are cut off after two without a word. */
const TELL_MS = 1000;
const FULL = 'The wings are full: eight people can be connected at once. Ask the host.';

export interface WingsParts {
  document: () => ShowDocument;
  programme: () => ProgrammeState;
  standing: () => Omit<Standing, 'role' | 'name'>;
  ice: () => IceServer[];
  broadcast: (message: BusFromServer) => void;
  sayToDesk: (message: BusFromServer) => boolean;
  hasDesk: () => boolean;
  /** They may not come in any more. */
  sendOut: (visitorId: string) => void;
  now: () => number;
}

/** One guest's page, as the wings know it. */
export interface GuestLine {
  say: (message: ToGuest) => void;
  /** `replaced`: the same person opened another page; `removed`: the host wants them gone; else the show was closed. */
  shut: (why: 'replaced' | 'removed' | typeof COME_AGAIN) => void;
}

/**
 * The guests of a show: who is here, on which seat, and the words and signals between their pages and the desk's. Pictures
 * and sound go from page to page.
 */
export class Wings {
  #guests: readonly WingsGuest[] = [];
  readonly #lines = new Map<string, GuestLine>();
  #talk: string | null = null;
  #timer: NodeJS.Timeout | undefined;

  constructor(readonly parts: WingsParts) {}

  /** Everybody, for a page of the studio. */
  message(): Extract<BusFromServer, { type: 'guests' }> {
    const guests = this.#guests.map(({ goneMs: _, ...guest }): GuestNow => guest);
    return { type: 'guests', guests, ice: this.parts.ice() };
  }

  /** A guest's page is open, and may not be ready yet. @param seatId of the link they came by */
  opened(line: GuestLine, id: string, seatId: string | null): void {
    const { document, standing, ice } = this.parts;
    this.#lines.get(id)?.shut('replaced');
    this.#lines.set(id, line);
    const known = this.#guests.find((guest) => guest.id === id);
    const own = findRecord(document(), 'input', known ? known.seatId : seatId);
    line.say({
      ...{ type: 'welcome', show: standing().show ?? '', ice: ice() },
      seat: isSeat(own) ? own.name : null,
    });
  }

  /** @param seatId of the link they came by */
  said(id: string, message: FromGuest, seatId: string | null): void {
    const line = this.#lines.get(id);
    if (!line) return;
    switch (message.type) {
      case 'ready': {
        const name = plainName(message.name) || 'Guest';
        const nowMs = this.parts.now();
        const own = isSeat(findRecord(this.parts.document(), 'input', seatId)) ? seatId : null;
        const guests = arrive(stillWaitedFor(this.#guests, nowMs), { id, name, seatId: own, nowMs });
        if (!guests) return line.say({ type: 'refused', message: FULL });
        this.#change(guests);
        this.#timer ??= setInterval(() => this.#tellAll(), TELL_MS);
        // One that is still opening calls everybody itself.
        if (this.parts.hasDesk() && !message.connected) line.say({ type: 'call' });
        return;
      }
      case 'self': {
        const { muted, cameraOff, hand, problem } = message;
        return this.#change(
          this.#guests.map((guest) =>
            guest.id === id ? { ...guest, muted, cameraOff, hand, problem } : guest,
          ),
        );
      }
      case 'signal':
        if (this.#guests.some((guest) => guest.id === id))
          this.parts.sayToDesk({ type: 'guestSignal', guestId: id, signal: message.signal });
    }
  }

  /** A guest's page is closed, or lost. */
  left(id: string, line: GuestLine): void {
    if (this.#lines.get(id) !== line) return;
    this.#lines.delete(id);
    this.#change(goAway(this.#guests, id, this.parts.now()));
    if (this.#lines.size > 0) return;
    clearInterval(this.#timer);
    this.#timer = undefined;
  }

  /** The desk is not connected with these: they are to call it. */
  call(guestIds: readonly string[]): void {
    for (const { id, here } of this.#guests)
      if (here && guestIds.includes(id)) this.#lines.get(id)?.say({ type: 'call' });
  }

  /** Something was done at the desk that may concern them. */
  changed(): void {
    this.#tellAll();
  }

  signal(guestId: string, signal: GuestSignal): void {
    this.#lines.get(guestId)?.say({ type: 'signal', signal });
  }

  talkTo(to: string | null): void {
    this.#talk = to;
    this.#tellAll();
  }

  order(guestId: string, order: GuestOrder): void {
    switch (order.do) {
      case 'seat': {
        const { seatId } = order;
        if (seatId !== null && !isSeat(findRecord(this.parts.document(), 'input', seatId))) return;
        return this.#change(seat(this.#guests, guestId, seatId));
      }
      case 'words':
        return this.#lines.get(guestId)?.say({ type: 'words', text: order.text });
      case 'remove':
        this.#change(this.#guests.filter(({ id }) => id !== guestId));
        this.parts.sendOut(guestId);
        this.#lines.get(guestId)?.shut('removed');
        return void this.#lines.delete(guestId);
    }
  }

  close(): void {
    clearInterval(this.#timer);
    for (const line of this.#lines.values()) line.shut(COME_AGAIN);
    this.#lines.clear();
  }

  #change(guests: readonly WingsGuest[]): void {
    if (JSON.stringify(guests) === JSON.stringify(this.#guests)) return;
    this.#guests = guests;
    this.parts.broadcast(this.message());
    this.#tellAll();
  }

  #tellAll(): void {
    const nowMs = this.parts.now();
    const waited = stillWaitedFor(this.#guests, nowMs);
    if (waited.length < this.#guests.length) return this.#change(waited);
    const standing = this.parts.standing();
    for (const guest of this.#guests)
      this.#lines
        .get(guest.id)
        ?.say({ type: 'standing', standing: this.#standingOf(guest, standing, nowMs) });
  }

  #standingOf(
    { id, seatId }: WingsGuest,
    standing: Omit<Standing, 'role' | 'name'>,
    nowMs: number,
  ): GuestStanding {
    const document = this.parts.document();
    const programme = this.parts.programme();
    const input = findRecord(document, 'input', seatId);
    const own = isSeat(input) ? input : null;
    const broughtOn = own !== null && programme.seatsOn.includes(own.id);
    const { onAir } = programme;
    const inPicture =
      broughtOn && onAir !== null && inputsOfScene(document, onAir.sceneId, onAir.poseId).has(own.id);
    return {
      ...{ nowMs, show: standing.show ?? '', seat: own?.name ?? null, desk: standing.desk },
      ...{ broughtOn, inPicture, onAir: standing.onAir, startedAtMs: standing.startedAtMs },
      talk: this.#talk !== null && (this.#talk === TALK_TO_WINGS ? !broughtOn : this.#talk === own?.id),
      next: own && nextWith(document, programme, own.id, nowMs),
      sees: own !== null && own.source.sees !== 'nothing',
      hearsProgramme: own?.source.hearsProgramme ?? false,
      others: this.#guests.filter((guest) => guest.id !== id && guest.here).map(({ name }) => name),
    };
  }
}

/** The next segment whose scene shows a seat, while a rundown runs. */
function nextWith(
  document: ShowDocument,
  programme: ProgrammeState,
  seatId: string,
  nowMs: number,
): GuestStanding['next'] {
  const rundown = programme.rundown && rundownInUse(document, programme);
  if (!rundown) return null;
  for (const { segment, startMs, standing } of rundownTimes(document, rundown, programme, nowMs).segments)
    if (
      (standing === 'next' || standing === 'coming') &&
      segment.sceneId !== null &&
      inputsOfScene(document, segment.sceneId, segment.poseId).has(seatId)
    )
      return { name: segment.name, atMs: startMs };
  return null;
}
