import type { MediaPacket } from '../../core/media/interleaver';

/** AAC-LC access units hold 1024 samples (ISO/IEC 14496-3). */
const AAC_FRAMES = 1024;
/** Enough for 10 s at 60 fps; a cover is a short loop. */
const MAX_PACKETS = 600;

/** Plays the prepared cover over and over: picture and sound each loop on their own, so neither leaves a gap. */
export class CoverPlayer {
  /** The cover that can be played; a new one takes its place only when it is whole. */
  #video: MediaPacket[] = [];
  #audio: MediaPacket[] = [];
  #coming: MediaPacket[] = [];
  /** One that is whole and not taken yet. */
  #next: { video: MediaPacket[]; fps: number; sampleRate: number } | null = null;
  #fps = 30;
  #sampleRate = 48_000;
  #nextVideo = 0;
  #nextAudio = 0;

  /** @param of whose cover to play; its own when left out */
  constructor(readonly of: CoverPlayer | null = null) {}

  get ready(): boolean {
    return this.#video.length > 0 && this.#audio.length > 0;
  }

  /** Pictures count when they are complete; the sound is silence and counts from its first packet, before or after them. */
  add(packet: MediaPacket): void {
    if (packet.track === 'audio' && packet.timestampUs === 0) this.#audio = [];
    const list = packet.track === 'audio' ? this.#audio : this.#coming;
    if (list.length < MAX_PACKETS) list.push(packet);
  }

  /** All pictures of a cover are there. It is played from `take` on. */
  complete(fps: number, sampleRate: number): void {
    const video = this.#coming;
    this.#coming = [];
    if (video[0]?.keyframe === true) this.#next = { video, fps, sampleRate };
  }

  /** The last one that became whole takes the place of the one before; not while that is playing. */
  take(): void {
    if (!this.#next) return;
    this.#video = this.#next.video;
    this.#fps = this.#next.fps;
    this.#sampleRate = this.#next.sampleRate;
    this.#next = null;
    this.restart();
  }

  /** The same cover from its beginning, played apart. */
  copy(): CoverPlayer {
    return new CoverPlayer(this);
  }

  restart(): void {
    this.#nextVideo = 0;
    this.#nextAudio = 0;
  }

  /** Packets due up to `elapsedUs` after the start, in order. */
  until(elapsedUs: number): MediaPacket[] {
    const out: MediaPacket[] = [];
    const of = this.of ?? this;
    for (;;) {
      const videoUs = Math.round((this.#nextVideo * 1e6) / of.#fps);
      const audioUs = Math.round((this.#nextAudio * AAC_FRAMES * 1e6) / of.#sampleRate);
      if (Math.min(videoUs, audioUs) > elapsedUs) return out;
      if (videoUs <= audioUs) {
        const packet = of.#video[this.#nextVideo % of.#video.length];
        out.push({ ...packet, timestampUs: videoUs, durationUs: Math.round(1e6 / of.#fps) });
        this.#nextVideo += 1;
      } else {
        const packet = of.#audio[this.#nextAudio % of.#audio.length];
        out.push({
          ...packet,
          timestampUs: audioUs,
          durationUs: Math.round((AAC_FRAMES * 1e6) / of.#sampleRate),
        });
        this.#nextAudio += 1;
      }
    }
  }
}
