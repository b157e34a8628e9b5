/** Which of the two streams a packet belongs to. */
export const TRACKS = ['video', 'audio'] as const;
export type Track = (typeof TRACKS)[number];

/** One encoded picture or access unit of sound. */
export interface MediaPacket {
  track: Track;
  /** Of sound: the recording track, 2…6; left out for the programme. */
  soundTrack?: number;
  /** Microseconds; no reordering, so decoding and showing order agree. */
  timestampUs: number;
  durationUs: number;
  keyframe: boolean;
  payload: Uint8Array;
}

/** A stream that is silent for longer than this no longer holds the other back. */
const MAX_HOLD_US = 1_000_000;

/**
 * Puts picture and sound, which arrive apart, into the order of their stamps.
 * A packet leaves when the other stream has reached it, or when its own stream has run ahead too far.
 */
export class Interleaver<Packet extends MediaPacket = MediaPacket> {
  readonly #queues: Record<Track, Packet[]> = { video: [], audio: [] };
  readonly #newest: Record<Track, number> = { video: -Infinity, audio: -Infinity };

  /** @returns the packets that may go on now, stamps never falling */
  add(packet: Packet): Packet[] {
    this.#queues[packet.track].push(packet);
    this.#newest[packet.track] = Math.max(this.#newest[packet.track], packet.timestampUs);
    const limit = Math.max(this.#newest.video, this.#newest.audio) - MAX_HOLD_US;
    const ready = Math.max(limit, Math.min(this.#newest.video, this.#newest.audio));
    return this.#take(ready);
  }

  /** Everything that is left, in order. */
  flush(): Packet[] {
    return this.#take(Infinity);
  }

  #take(untilUs: number): Packet[] {
    const { video, audio } = this.#queues;
    const out: Packet[] = [];
    for (;;) {
      const v = video[0];
      const a = audio[0];
      const queue = !v ? audio : !a ? video : v.timestampUs <= a.timestampUs ? video : audio;
      if (!queue[0] || queue[0].timestampUs > untilUs) return out;
      out.push(queue.shift()!);
    }
  }
}
