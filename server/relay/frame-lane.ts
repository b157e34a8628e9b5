import { TimelineSplice } from '../../core/delivery/splice';
import {
  aacFrame,
  aacSequenceHeader,
  avcFrame,
  avcSequenceHeader,
  onMetaData,
} from '../../core/media/flv-payload';
import { Interleaver, type MediaPacket } from '../../core/media/interleaver';
import type { FrameName } from '../../core/show/records';
import type { DestinationOrder } from '../../protocol/relay-orders';
import { CoverPlayer } from './cover-player';
import { Destination } from './destination';
import { Recorder, type RecordingConfig, type RecordingTrack } from './recorder';
import { SharedMessage, type StreamHeaders } from './shared-message';

/** Moments of recording tracks kept for the programme: 10 s. */
const MAX_EXTRAS = 470;

export interface LaneConfigs {
  video?: RecordingConfig['video'];
  audio?: RecordingConfig['audio'];
}

type LaneConfigsComplete = Omit<RecordingConfig, 'tracks'>;

function trackNames(tracks: readonly RecordingTrack[]): string {
  return tracks.map(({ facts }) => `${facts.soundTrack} ${facts.name}`).join('\n');
}

function complete({ video, audio }: LaneConfigs): LaneConfigsComplete | null {
  return video && audio ? { video, audio } : null;
}

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((v, i) => v === b[i]);
}

/**
 * The way of one frame's pictures, with the sound, to its destinations and its recording: in order, on one timeline,
 * whoever makes them at the moment.
 */
export class FrameLane {
  readonly destinations = new Map<string, Destination>();
  readonly configs: { live: LaneConfigs; cover: LaneConfigs } = { live: {}, cover: {} };
  /** Recording tracks beside the programme, as the desk that is live makes them. */
  readonly extraConfigs = new Map<number, RecordingTrack>();
  readonly cover = new CoverPlayer();
  recorder: Recorder | null = null;
  sent: { timestampUs: number; atMs: number } | null = null;
  readonly #splice = new TimelineSplice();
  #interleaver = new Interleaver();
  #headers: StreamHeaders | null = null;
  #headersOf: (LaneConfigsComplete & { tracks: RecordingTrack[] }) | null = null;
  /** Sound of the recording tracks by its stamp, until the programme's of the same moment goes out. */
  readonly #extras = new Map<number, MediaPacket[]>();
  readonly #finished: Recorder[] = [];
  #recordings = 0;
  #needKeyframe = true;
  /** Stamp of the keyframe the present source began with. */
  #fromUs = 0;
  #coverTimer: NodeJS.Timeout | null = null;

  constructor(
    readonly frame: FrameName,
    readonly recordingFolder: string | null,
    readonly sessionId: string,
    readonly now: () => number,
    readonly random: () => number,
  ) {}

  setDestination(order: DestinationOrder): void {
    this.destinations.get(order.id)?.close();
    this.destinations.set(order.id, new Destination(order, this.now, this.random));
  }

  removeDestination(id: string): void {
    this.destinations.get(id)?.close();
    this.destinations.delete(id);
  }

  /** Something is missing: goes on with the next keyframe. */
  needKeyframe(): void {
    this.#needKeyframe = true;
  }

  /** The desk is sending again after the cover or for the first time. */
  comeLive(): void {
    this.stopCover();
    this.#interleaver = new Interleaver();
  }

  /**
   * One packet from the desk.
   * @returns whether the lane took it: false until its configurations and a keyframe are there
   */
  add(packet: MediaPacket, source: string): boolean {
    const configs = complete(this.configs.live);
    const beside = configs?.audio.facts.tracksBeside ?? 0;
    if (!configs || (this.recordingFolder !== null && this.extraConfigs.size < beside)) {
      // One stream is ahead of the other's first packet: begin with the next keyframe.
      this.#needKeyframe = true;
      return false;
    }
    if (this.#needKeyframe) {
      if (packet.track !== 'video' || !packet.keyframe) return false;
      this.#needKeyframe = false;
      this.#fromUs = packet.timestampUs;
    }
    // Sound from before the first picture would be heard over nothing.
    if (packet.timestampUs < this.#fromUs) return true;
    this.#use(configs);
    for (const ready of this.#interleaver.add(packet)) this.#out(ready, source);
    return true;
  }

  /** Sound of a recording track; it waits for the programme's sound of the same stamp. */
  addExtra(packet: MediaPacket): void {
    if (this.recordingFolder === null) return;
    const kept = { ...packet, payload: packet.payload.slice() };
    const waiting = this.#extras.get(packet.timestampUs);
    if (waiting) waiting.push(kept);
    else this.#extras.set(packet.timestampUs, [kept]);
    if (this.#extras.size > MAX_EXTRAS) this.#extras.delete(this.#extras.keys().next().value!);
  }

  flush(source: string): void {
    for (const packet of this.#interleaver.flush()) this.#out(packet, source);
  }

  /** Whether a desk has sent this frame in this session. */
  get used(): boolean {
    return this.#headersOf !== null;
  }

  /** @returns whether there is a cover to play */
  startCover(): boolean {
    this.#needKeyframe = true;
    const configs = complete(this.configs.cover);
    if (!this.cover.ready || !configs) return false;
    this.#use(configs);
    const start = this.now();
    this.cover.restart();
    const source = `cover:${start}`;
    this.#coverTimer = setInterval(() => {
      for (const packet of this.cover.until((this.now() - start) * 1000)) this.#out(packet, source);
    }, 20);
    return true;
  }

  stopCover(): void {
    if (this.#coverTimer) clearInterval(this.#coverTimer);
    this.#coverTimer = null;
  }

  check(queues: ReadonlyMap<number, number>): void {
    for (const destination of this.destinations.values())
      destination.check(destination.localPort === null ? 0 : (queues.get(destination.localPort) ?? 0));
  }

  /** Ends everything; resolves when the recordings are closed. */
  async end(): Promise<void> {
    this.stopCover();
    for (const destination of this.destinations.values()) destination.close();
    if (this.recorder) this.#finished.push(this.recorder);
    await Promise.all(this.#finished.map((r) => r.close()));
  }

  /** Takes these codec configurations for what follows; a changed one means new headers and a new file. */
  #use(configs: LaneConfigsComplete): void {
    const now = this.#headersOf;
    if (now && now.video === configs.video && now.audio === configs.audio) return;
    const fromCover = configs.video === this.configs.cover.video;
    const tracks =
      fromCover && now
        ? now.tracks
        : [...this.extraConfigs.values()].sort((a, b) => a.facts.soundTrack - b.facts.soundTrack);
    const same =
      now !== null &&
      (now.tracks === tracks || trackNames(now.tracks) === trackNames(tracks)) &&
      sameBytes(now.video.codecConfig, configs.video.codecConfig) &&
      sameBytes(now.audio.codecConfig, configs.audio.codecConfig);
    this.#headersOf = { ...configs, tracks };
    if (same) return;
    const { facts } = configs.video;
    this.#headers = {
      metadata: onMetaData({
        width: facts.width,
        height: facts.height,
        fps: facts.fps,
        videoKbps: facts.kbps,
        audioKbps: configs.audio.facts.kbps,
        sampleRate: configs.audio.facts.sampleRate,
        channels: configs.audio.facts.channels,
      }),
      video: avcSequenceHeader(configs.video.codecConfig),
      audio: aacSequenceHeader(configs.audio.codecConfig),
    };
    if (this.recordingFolder === null) return;
    if (this.recorder) {
      void this.recorder.close();
      this.#finished.push(this.recorder);
    }
    this.#recordings += 1;
    const part = this.#recordings === 1 ? '' : `-${this.#recordings}`;
    const shape = this.frame === 'wide' ? '' : `-${this.frame}`;
    const stamp = new Date(this.now()).toISOString().replace(/[:.]/g, '-').slice(0, 19);
    this.recorder = new Recorder(
      this.recordingFolder,
      `${stamp}-${this.sessionId.slice(0, 8)}${shape}${part}.mkv`,
      this.#headersOf,
    );
  }

  #out(packet: MediaPacket, source: string): void {
    const headers = this.#headers;
    if (!headers) return;
    const placedUs = this.#splice.place(source, packet.timestampUs, packet.durationUs, this.now() * 1000);
    if (placedUs === null) return;
    const message = new SharedMessage(
      packet.track,
      Math.round(placedUs / 1000),
      packet.track === 'video' ? avcFrame(packet.payload, packet.keyframe) : aacFrame(packet.payload),
      packet.keyframe,
    );
    for (const destination of this.destinations.values()) destination.send(message, headers);
    this.recorder?.add({ ...packet, timestampUs: placedUs });
    if (packet.track === 'audio') this.#recordExtras(packet, placedUs, source.startsWith('cover:'));
    if (packet.track === 'video') this.sent = { timestampUs: packet.timestampUs, atMs: this.now() };
  }

  /** Records what belongs to a moment of the programme. Under the cover every track gets its silence, or the file would wait. */
  #recordExtras(programme: MediaPacket, placedUs: number, cover: boolean): void {
    const { recorder } = this;
    if (cover) {
      for (const soundTrack of recorder?.trackNumbers ?? [])
        recorder!.add({ ...programme, soundTrack, timestampUs: placedUs });
      return;
    }
    for (const [stamp, packets] of this.#extras) {
      if (stamp > programme.timestampUs) break;
      this.#extras.delete(stamp);
      if (stamp === programme.timestampUs)
        for (const packet of packets) recorder?.add({ ...packet, timestampUs: placedUs });
    }
  }
}
