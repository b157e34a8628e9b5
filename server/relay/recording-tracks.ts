import type { MediaPacket } from '../../core/media/interleaver';

/** Moments kept for sound that comes early or late: 10 s of AAC. */
const MOMENTS = 470;

/**
 * Brings the sound of recording tracks to where the programme's sound of the same stamp was placed. Every track has an
 * encoder of its own, so a packet may come before the programme's or, on a full machine, long after it.
 */
export class RecordingTracks {
  #source = '';
  /** By stamp: what came before the programme's sound of that moment. */
  readonly #early = new Map<number, MediaPacket[]>();
  /** By stamp: where the programme's sound of that moment was placed. */
  readonly #placed = new Map<number, number>();
  /** By track: where its last packet was placed. */
  readonly #last = new Map<number, number>();

  /**
   * Sound of a track; its payload is kept when it has to wait.
   *
   * @param source the desk it comes from: stamps of another one begin anew
   * @returns what can be recorded now, placed
   */
  add(packet: MediaPacket, source: string): MediaPacket[] {
    this.#from(source);
    const placedUs = this.#placed.get(packet.timestampUs);
    if (placedUs !== undefined) return this.#inOrder([packet], placedUs);
    const kept = { ...packet, payload: packet.payload.slice() };
    const waiting = this.#early.get(packet.timestampUs);
    if (waiting) waiting.push(kept);
    else keep(this.#early, packet.timestampUs, [kept]);
    return [];
  }

  /** The programme's sound has been placed. @returns what has waited for it, placed */
  place(stampUs: number, placedUs: number, source: string): MediaPacket[] {
    this.#from(source);
    keep(this.#placed, stampUs, placedUs);
    const waiting = this.#early.get(stampUs) ?? [];
    this.#early.delete(stampUs);
    return this.#inOrder(waiting, placedUs);
  }

  /** The same packet for each of these tracks, such as the cover's silence: without any a file would wait. */
  fill(packet: MediaPacket, placedUs: number, tracks: readonly number[]): MediaPacket[] {
    return this.#inOrder(
      tracks.map((soundTrack) => ({ ...packet, soundTrack })),
      placedUs,
    );
  }

  /** A track goes forward only: what comes after the silence that stood in for it is too late. */
  #inOrder(packets: readonly MediaPacket[], placedUs: number): MediaPacket[] {
    const next = packets.filter(
      ({ soundTrack }) => placedUs > (this.#last.get(soundTrack ?? 1) ?? -Infinity),
    );
    for (const { soundTrack } of next) this.#last.set(soundTrack ?? 1, placedUs);
    return next.map((packet) => ({ ...packet, timestampUs: placedUs }));
  }

  #from(source: string): void {
    if (source === this.#source) return;
    this.#source = source;
    this.#early.clear();
    this.#placed.clear();
  }
}

function keep<T>(map: Map<number, T>, stamp: number, value: T): void {
  map.set(stamp, value);
  if (map.size > MOMENTS) map.delete(map.keys().next().value!);
}
