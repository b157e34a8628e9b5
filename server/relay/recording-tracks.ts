import type { MediaPacket } from '../../core/media/interleaver';
import { OPUS_SILENCE, OPUS_SILENCE_US } from '../../core/media/opus';

/** Moments kept for sound that comes early or late: 10 s of AAC. */
const MOMENTS = 470;
/** Packets of one track that may wait for the programme: 10 s of AAC, more of Opus. */
const WAITING = 500;
/** One AAC frame at 48 kHz, and one of rounding: nothing of the programme lies between its packets. */
const MOMENT_US = 21_334;
/** What overlaps by less follows what was before it: stamps are rounded. */
const SLACK_US = 2000;

/** A recording track of a file, and what encodes it. */
export interface TrackOfFile {
  track: number;
  codec: string;
}

/**
 * Brings the sound of recording tracks to where the programme's sound of the same moment was placed. Every track has an
 * encoder of its own, with packets of its own length, so a packet may come before the programme's or, on a full machine,
 * long after it.
 */
export class RecordingTracks {
  #source = '';
  /** Where the programme's sound was placed; stamps rise. */
  #placed: { stampUs: number; placedUs: number }[] = [];
  /** By track: what came before the programme's sound of its moment. */
  readonly #early = new Map<number, MediaPacket[]>();
  /** By track: where its last packet begins and ends. */
  readonly #last = new Map<number, { fromUs: number; untilUs: number }>();

  /**
   * Sound of a track; its payload is kept when it has to wait.
   *
   * @param source the desk it comes from: stamps of another one begin anew
   * @returns what can be recorded now, placed
   */
  add(packet: MediaPacket, source: string): MediaPacket[] {
    this.#from(source);
    const newest = this.#placed.at(-1)?.stampUs ?? -Infinity;
    if (packet.timestampUs <= newest) return this.#atTheirPlaces([packet]);
    const track = packet.soundTrack ?? 1;
    const waiting = this.#early.get(track) ?? [];
    waiting.push({ ...packet, payload: packet.payload.slice() });
    if (waiting.length > WAITING) waiting.shift();
    this.#early.set(track, waiting);
    return [];
  }

  /** The programme's sound has been placed. @returns what has waited for it, placed */
  place(stampUs: number, placedUs: number, source: string): MediaPacket[] {
    this.#from(source);
    this.#placed.push({ stampUs, placedUs });
    if (this.#placed.length > MOMENTS) this.#placed.shift();
    const ready: MediaPacket[] = [];
    for (const waiting of this.#early.values())
      while (waiting.length > 0 && waiting[0].timestampUs <= stampUs) ready.push(waiting.shift()!);
    return this.#atTheirPlaces(ready);
  }

  /** Silence for each of these tracks while the cover's sound is placed: without any a file would wait. */
  fill(cover: MediaPacket, placedUs: number, tracks: readonly TrackOfFile[]): MediaPacket[] {
    return tracks.flatMap(({ track, codec }) => {
      if (codec !== 'opus') return this.#forward([{ ...cover, soundTrack: track, timestampUs: placedUs }]);
      const silence: MediaPacket[] = [];
      const last = this.#last.get(track)?.untilUs ?? -Infinity;
      for (
        let at = Math.max(last, placedUs - OPUS_SILENCE_US);
        at + OPUS_SILENCE_US <= placedUs + cover.durationUs;
        at += OPUS_SILENCE_US
      )
        silence.push({
          ...{ track: 'audio', soundTrack: track, keyframe: true },
          ...{ timestampUs: at, durationUs: OPUS_SILENCE_US, payload: OPUS_SILENCE },
        });
      return this.#forward(silence);
    });
  }

  #atTheirPlaces(packets: readonly MediaPacket[]): MediaPacket[] {
    return this.#forward(
      packets.flatMap((packet) => {
        const moment = this.#placed.findLast(({ stampUs }) => stampUs <= packet.timestampUs);
        // The programme of this moment went nowhere.
        if (!moment || packet.timestampUs - moment.stampUs > MOMENT_US) return [];
        return [{ ...packet, timestampUs: moment.placedUs + packet.timestampUs - moment.stampUs }];
      }),
    );
  }

  /** A track goes forward only: what comes after the silence that stood in for it is too late. */
  #forward(packets: readonly MediaPacket[]): MediaPacket[] {
    return packets.filter(({ soundTrack, timestampUs, durationUs }) => {
      const last = this.#last.get(soundTrack ?? 1);
      if (last && (timestampUs <= last.fromUs || timestampUs < last.untilUs - SLACK_US)) return false;
      this.#last.set(soundTrack ?? 1, { fromUs: timestampUs, untilUs: timestampUs + durationUs });
      return true;
    });
  }

  #from(source: string): void {
    if (source === this.#source) return;
    this.#source = source;
    this.#early.clear();
    this.#placed = [];
  }
}
