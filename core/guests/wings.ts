/** Who is there of a show's guests, and on which seat: changed by what they and the host do. Knows no connection. */
import { MAX_GUESTS } from './seats';

export interface WingsGuest {
  id: string;
  name: string;
  seatId: string | null;
  /** Milliseconds since 1970: when they came first. */
  sinceMs: number;
  here: boolean;
  /** When they went, while they are not here. */
  goneMs: number | null;
  muted: boolean;
  cameraOff: boolean;
  hand: boolean;
  problem: string | null;
}

/** Whoever is gone for longer is not waited for. */
export const WAITED_FOR_MS = 30 * 60_000;

/**
 * Somebody is ready, or back: on the seat they had, else on that of their link while nobody else sits there.
 * @returns null when there are as many as can be connected
 */
export function arrive(
  guests: readonly WingsGuest[],
  { id, name, seatId, nowMs }: { id: string; name: string; seatId: string | null; nowMs: number },
): readonly WingsGuest[] | null {
  const before = guests.find((guest) => guest.id === id);
  if (before)
    return guests.map((guest) => (guest === before ? { ...guest, name, here: true, goneMs: null } : guest));
  // Who is not here gives way to somebody who is.
  const waited = guests.filter(({ here }) => !here);
  const room = guests.length < MAX_GUESTS ? guests : guests.filter((guest) => guest !== waited[0]);
  if (room.length >= MAX_GUESTS) return null;
  const free = seatId !== null && room.every((guest) => guest.seatId !== seatId);
  const fresh: WingsGuest = {
    ...{ id, name, seatId: free ? seatId : null, sinceMs: nowMs, here: true, goneMs: null },
    ...{ muted: false, cameraOff: false, hand: false, problem: null },
  };
  return [...room, fresh];
}

/** Their page is gone; their seat stays theirs for a while. */
export const goAway = (guests: readonly WingsGuest[], id: string, nowMs: number): readonly WingsGuest[] =>
  guests.map((guest) => (guest.id === id ? { ...guest, here: false, goneMs: nowMs, hand: false } : guest));

/** Without those who have been gone for too long. */
export const stillWaitedFor = (guests: readonly WingsGuest[], nowMs: number): readonly WingsGuest[] =>
  guests.filter(({ goneMs }) => goneMs === null || nowMs - goneMs < WAITED_FOR_MS);

/** Puts somebody on a seat, or on none; whoever sat there has none then. */
export const seat = (
  guests: readonly WingsGuest[],
  id: string,
  seatId: string | null,
): readonly WingsGuest[] =>
  guests.map((guest) =>
    guest.id === id
      ? { ...guest, seatId }
      : seatId !== null && guest.seatId === seatId
        ? { ...guest, seatId: null }
        : guest,
  );
