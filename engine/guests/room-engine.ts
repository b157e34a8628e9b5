/** Who brings guests' pictures and sound to the desk, and the show back to them. */
import type { GuestNow, GuestSignal, IceServer } from '../../protocol/guest';

/** How the connection with a guest does. */
export interface GuestLink {
  state: 'connecting' | 'there' | 'frozen' | 'lost';
  /** Words there and back, ms; null while not known. */
  roundTripMs: number | null;
  /** Of what comes from them: packets lost lately, 0…1. */
  loss: number;
  /** Of their picture; 0 while none comes. */
  width: number;
  height: number;
  fps: number;
  /** What their page sends, for the host's eyes before they are on; null while nothing comes. */
  stream: MediaStream | null;
}

/**
 * The port behind which guests are connected. Today each is a connection of its own with the desk's page; a server that
 * forwards what one of many sends can take its place.
 */
export interface RoomEngine {
  /** By a guest's id. */
  readonly links: ReadonlyMap<string, GuestLink>;
  /** Everybody there is, and by which servers they are reached. */
  setGuests(guests: readonly GuestNow[], ice: readonly IceServer[]): void;
  hear(guestId: string, signal: GuestSignal): void;
  close(): void;
}
