import { TimelineSplice } from '../../core/delivery/splice';
import {
  aacFrame,
  aacSequenceHeader,
  avcFrame,
  avcSequenceHeader,
  onMetaData,
} from '../../core/media/flv-payload';
import { Interleaver, type MediaPacket } from '../../core/media/interleaver';
import type { Cancel, Clock } from '../../core/time/clock';
import type { EncodeId } from '../../core/delivery/encodes';
import { GroupRing, type GroupStore, type RingPacket } from '../../core/delivery/group-ring';
import type { DestinationOrder } from '../../protocol/relay-orders';
import { CoverPlayer } from './cover-player';
import { DelayedFeed } from './delayed-feed';
import { Destination } from './destination';
import { DiskGroups } from './disk-groups';
import { LaneRecording, type RecordingPlace } from './lane-recording';
import type { RecordingConfig, RecordingTrack } from './recorder';
import { SharedMessage, type StreamHeaders } from './shared-message';

/** Groups of pictures in memory for looking back and delays, each lane; what is more goes to the disk. */
const RING_MEMORY_BYTES = 24 * 1024 * 1024;
/** A ring for a delay reaches this much further back. */
const RING_SPARE_SECONDS = 10;
/** How often delayed destinations are looked after. */
const DELAY_TICK_MS = 40;
/** How often the cover's next packets are looked for: more often than there are pictures. */
const COVER_TICK_MS = 20;

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

function sameConfigs(a: LaneConfigsComplete, b: LaneConfigsComplete): boolean {
  return (
    a.video.facts.fps === b.video.facts.fps &&
    sameBytes(a.video.codecConfig, b.video.codecConfig) &&
    sameBytes(a.audio.codecConfig, b.audio.codecConfig)
  );
}

function headersOf({ video, audio }: LaneConfigsComplete): StreamHeaders {
  const { facts } = video;
  const { kbps: audioKbps, sampleRate, channels } = audio.facts;
  const sound = { audioKbps, sampleRate, channels };
  return {
    sound,
    metadata: onMetaData({
      width: facts.width,
      height: facts.height,
      fps: facts.fps,
      videoKbps: facts.kbps,
      ...sound,
    }),
    video: avcSequenceHeader(video.codecConfig),
    audio: aacSequenceHeader(audio.codecConfig),
    kbps: facts.kbps + audio.facts.kbps,
    videoKbps: facts.kbps,
    fps: facts.fps,
  };
}

function messageOf(packet: MediaPacket, placedUs: number): SharedMessage {
  return new SharedMessage(
    packet.track,
    Math.round(placedUs / 1000),
    packet.track === 'video' ? avcFrame(packet.payload, packet.keyframe) : aacFrame(packet.payload),
    packet.keyframe,
  );
}

/** A packet with the configurations its encoder had: they change where it goes out, not where it comes in. */
interface ConfiguredPacket extends MediaPacket {
  configs: LaneConfigsComplete;
}

/** Without a folder nothing is stored: what does not fit into memory is gone, and said. */
const NO_STORE: GroupStore<unknown> = {
  write: () => {
    throw new Error('there is no folder for it');
  },
  read: () => [],
  drop: () => undefined,
};

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((v, i) => v === b[i]);
}

export interface LaneOptions {
  sessionId: string;
  /** Null for no recording of this lane. */
  recording: RecordingPlace | null;
  lookbackSeconds: number;
  scratchFolder: string | null;
  clock: Clock;
  random: () => number;
}

/** Headers of what is in the ring, and what a file of it would need. */
interface UsedHeaders {
  headers: StreamHeaders;
  config: RecordingConfig;
}

/**
 * The way of one encode's pictures, with the sound, to its destinations and its recording: in order, on one timeline,
 * whoever makes them at the moment.
 */
export class EncodeLane {
  readonly destinations = new Map<string, Destination>();
  readonly configs: { live: LaneConfigs; cover: LaneConfigs } = { live: {}, cover: {} };
  /** Recording tracks beside the programme, as the desk that is live makes them; empty where none are recorded. */
  readonly extraConfigs = new Map<number, RecordingTrack>();
  readonly cover = new CoverPlayer();
  /** Of a cover that is still on its way. */
  coverConfig: RecordingConfig['video'] | null = null;
  readonly recording: LaneRecording | null;
  readonly ring: GroupRing<unknown>;
  sent: { timestampUs: number; atMs: number } | null = null;
  /** Where the desk's last picture ended, and for how long since none was expected, since the cover is on by hand. */
  #deskEndUs: number | null = null;
  #heldUs = 0;
  #awayUs = 0;
  /** Set while the pictures are not the desk's. */
  #covered = false;
  #seenSource = '';
  /** The cover is on by hand: nobody misses the desk meanwhile. */
  held = false;
  readonly #store: DiskGroups | null;
  readonly #delayed = new Map<string, DelayedFeed>();
  readonly #splice = new TimelineSplice();
  #interleaver = new Interleaver<ConfiguredPacket>();
  /** All headers so far; what is sent now has the last ones. */
  readonly #used: UsedHeaders[] = [];
  #headersNow = -1;
  #headersOf: RecordingConfig | null = null;
  #needKeyframe = true;
  /** Stamp of the keyframe the present source began with. */
  #fromUs = 0;
  #endCover: Cancel = () => {};
  /** Whether the cover plays, and what takes the next one, once it is whole. */
  #covering = false;
  #takeCover: (() => void) | null = null;
  /** Runs while a destination is delayed. */
  #endDelays: Cancel | null = null;
  /** When the last packet went in, once nothing more comes. */
  #finishedAtMs: number | null = null;

  constructor(
    readonly encode: EncodeId,
    readonly options: LaneOptions,
  ) {
    const { recording, scratchFolder, sessionId, clock } = options;
    this.recording = recording && new LaneRecording(recording, clock);
    this.#store = scratchFolder === null ? null : new DiskGroups(scratchFolder, `${sessionId}-${encode}`);
    this.ring = new GroupRing(0, RING_MEMORY_BYTES, (this.#store ?? NO_STORE) as GroupStore<unknown>);
    this.#sizeRing();
  }

  setDestination(order: DestinationOrder): void {
    this.removeDestination(order.id);
    this.destinations.set(order.id, new Destination(order, this.options.clock, this.options.random));
    const delaySeconds = order.delaySeconds ?? 0;
    if (delaySeconds > 0) {
      this.#delayed.set(order.id, this.#delayedFeed(order.id, delaySeconds));
      this.#endDelays ??= this.options.clock.every(DELAY_TICK_MS, () => this.#tickDelayed());
    }
    this.#sizeRing();
  }

  removeDestination(id: string): void {
    this.destinations.get(id)?.close();
    this.destinations.delete(id);
    this.#delayed.delete(id);
    if (this.#delayed.size === 0) this.#stopDelays();
    this.#sizeRing();
  }

  #stopDelays(): void {
    this.#endDelays?.();
    this.#endDelays = null;
  }

  /**
   * Nothing of the last so many seconds goes out to a delayed destination.
   * @returns seconds that are cut; 0 when it was all sent already
   */
  cut(id: string, seconds: number): number {
    const { endUs } = this.ring;
    return (this.#delayed.get(id)?.cut(endUs - seconds * 1e6, endUs) ?? 0) / 1e6;
  }

  /** What is in the ring between so many seconds ago and so many seconds ago: a part for each kind of headers. */
  lookBack(
    fromSecondsAgo: number,
    toSecondsAgo: number,
  ): { config: RecordingConfig; packets: Generator<RingPacket> }[] {
    const { endUs } = this.ring;
    return this.ring
      .runs(endUs - fromSecondsAgo * 1e6, endUs - toSecondsAgo * 1e6)
      .map(({ headers, fromUs, toUs }) => ({
        config: { ...this.#used[headers].config, tracks: [] },
        packets: this.ring.range(fromUs, toUs),
      }));
  }

  /** Something is missing: goes on with the next keyframe. */
  needKeyframe(): void {
    this.#needKeyframe = true;
  }

  /** The desk is sending again after the cover or for the first time. */
  comeLive(): void {
    this.stopCover();
    this.#interleaver = new Interleaver<ConfiguredPacket>();
  }

  /**
   * One packet from the desk.
   * @returns whether the lane took it: false until its configurations and a keyframe are there
   */
  add(packet: MediaPacket, source: string): boolean {
    const configs = complete(this.configs.live);
    const beside = configs?.audio.facts.tracksBeside ?? 0;
    if (!configs || (this.recording?.place.tracks && this.extraConfigs.size < beside)) {
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
    for (const ready of this.#interleaver.add({ ...packet, configs })) this.#ready(ready, source);
    return true;
  }

  /** Sound of a recording track. */
  addExtra(packet: MediaPacket, source: string): void {
    this.recording?.addExtra(packet, source);
  }

  flush(source: string): void {
    for (const packet of this.#interleaver.flush()) this.#ready(packet, source);
  }

  /** A packet whose turn it is. Other headers begin with a picture. */
  #ready({ configs, ...packet }: ConfiguredPacket, source: string): void {
    if (packet.track === 'video' || this.#headersNow < 0) this.#use(configs);
    this.#out(packet, source);
  }

  /** Whether a desk has sent this encode in this session. */
  get used(): boolean {
    return this.#headersOf !== null;
  }

  /** How far the broadcast has got, microseconds. */
  get endUs(): number {
    return this.#splice.endUs;
  }

  /** For how long no desk was seen in a broadcast that had begun, microseconds, but for a cover by hand. */
  get awayUs(): number {
    return this.#awayUs + (this.#covered ? this.#sinceDeskUs(this.endUs) : 0);
  }

  #sinceDeskUs(untilUs: number): number {
    return this.#deskEndUs === null ? 0 : Math.max(0, untilUs - this.#deskEndUs - this.#heldUs);
  }

  /** Keeps the account of who was seen. */
  #see(source: string, placedUs: number, durationUs: number): void {
    if (source.startsWith('cover:')) {
      this.#covered = true;
      if (this.held) this.#heldUs += durationUs;
      return;
    }
    // Within one desk's pictures a gap is the desk's to tell.
    if (this.#covered || source !== this.#seenSource) this.#awayUs += this.#sinceDeskUs(placedUs);
    this.#seenSource = source;
    this.#covered = false;
    this.#heldUs = 0;
    this.#deskEndUs = placedUs + durationUs;
  }

  /** @returns whether there is a cover to play */
  startCover(): boolean {
    this.#needKeyframe = true;
    const configs = complete(this.configs.cover);
    if (!this.cover.ready || !configs) return false;
    this.#use(configs);
    const start = this.options.clock.nowMs();
    this.cover.restart();
    this.#covering = true;
    const source = `cover:${start}`;
    this.#endCover = this.options.clock.every(COVER_TICK_MS, () => {
      for (const packet of this.cover.until((this.options.clock.nowMs() - start) * 1000))
        this.#out(packet, source);
    });
    return true;
  }

  /**
   * The desk has sent a whole cover. While one plays it waits: begun anew in the middle of it, it would be placed where
   * the playing one began, in the past, and a recording takes nothing from there.
   */
  coverComplete(): void {
    const { live, cover } = this.configs;
    const video = this.coverConfig ?? cover.video;
    this.cover.complete(
      video?.facts.fps ?? live.video?.facts.fps ?? 30,
      cover.audio?.facts.sampleRate ?? 48_000,
    );
    const config = this.coverConfig;
    this.#takeCover = () => {
      if (config) this.configs.cover.video = config;
      this.cover.take();
    };
    if (!this.#covering) this.#useNextCover();
  }

  #useNextCover(): void {
    this.#takeCover?.();
    this.#takeCover = null;
  }

  stopCover(): void {
    this.#endCover();
    this.#covering = false;
    this.#useNextCover();
  }

  /** Whether one of its destinations is to be looked at soon. */
  get pressed(): boolean {
    for (const destination of this.destinations.values()) if (destination.pressed) return true;
    return false;
  }

  /** @param addresses those of this machine, when it is time to look at them */
  check(queues: ReadonlyMap<number, number>, addresses: ReadonlySet<string> | null): void {
    for (const destination of this.destinations.values()) {
      if (addresses) destination.checkAddress(addresses);
      destination.check(destination.localPort === null ? 0 : (queues.get(destination.localPort) ?? 0));
    }
  }

  /** Nothing more comes: the recording is closed, and only delayed destinations still get something. */
  async finish(): Promise<void> {
    this.stopCover();
    this.#finishedAtMs = this.options.clock.nowMs();
    for (const id of [...this.destinations.keys()]) if (!this.#delayed.has(id)) this.removeDestination(id);
    await this.recording?.end();
  }

  /** Until delayed destinations have everything, seconds; 0 when none has anything to come. */
  get secondsToFinish(): number {
    const last = Math.max(0, ...[...this.#delayed.values()].map((feed) => feed.delayUs));
    return this.used && last > 0 ? Math.max(0, this.ring.endUs + last - this.#headUs) / 1e6 : 0;
  }

  /** How far the broadcast has got, or would have: time goes on for those who are behind. */
  get #headUs(): number {
    const since = this.#finishedAtMs === null ? 0 : (this.options.clock.nowMs() - this.#finishedAtMs) * 1000;
    return this.ring.endUs + since;
  }

  /** Ends everything; resolves when the recordings are closed. */
  async end(): Promise<void> {
    this.stopCover();
    this.#stopDelays();
    for (const destination of this.destinations.values()) destination.close();
    await this.recording?.end();
    this.ring.clear();
    this.#store?.close();
  }

  #sizeRing(): void {
    const delays = [...this.#delayed.values()].map((feed) => feed.delayUs + RING_SPARE_SECONDS * 1e6);
    this.ring.spanUs = Math.max(this.options.lookbackSeconds * 1e6, ...delays, 0);
  }

  #delayedFeed(id: string, delaySeconds: number): DelayedFeed {
    const player = this.cover.copy();
    return new DelayedFeed(
      this.ring,
      delaySeconds * 1e6,
      (packet) => {
        const { headers } = this.#used[packet.headers];
        this.destinations.get(id)?.send(messageOf(packet, packet.timestampUs), headers);
      },
      {
        restart: () => player.restart(),
        until: (elapsedUs) => {
          const headers = this.#coverHeaders();
          return headers === null ? [] : player.until(elapsedUs).map((packet) => ({ ...packet, headers }));
        },
      },
    );
  }

  /** The number of the cover's headers; null when there is no cover. */
  #coverHeaders(): number | null {
    const configs = complete(this.configs.cover);
    if (!this.cover.ready || !configs) return null;
    const known = this.#used.findIndex((u) => sameConfigs(u.config, configs));
    if (known >= 0) return known;
    this.#used.push({ headers: headersOf(configs), config: { ...configs, tracks: [] } });
    return this.#used.length - 1;
  }

  #tickDelayed(): void {
    const headUs = this.#headUs;
    for (const [id, feed] of this.#delayed) {
      feed.tick(headUs);
      if (this.#finishedAtMs !== null && headUs - feed.delayUs > this.ring.endUs) this.removeDestination(id);
    }
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
    const config = { ...configs, tracks };
    const same = now !== null && trackNames(now.tracks) === trackNames(tracks) && sameConfigs(now, configs);
    this.#headersOf = config;
    if (same) {
      // Another rate alone needs no other headers, but rates are judged by it.
      this.#used[this.#headersNow].headers = headersOf(configs);
      return;
    }
    const known = this.#used.findIndex((u) => sameConfigs(u.config, configs));
    // The same numbers again, when cover and desk take turns, but a file of its own each time.
    this.#headersNow = known >= 0 ? known : this.#used.push({ headers: headersOf(configs), config }) - 1;
    this.recording?.begin(config);
  }

  #out(packet: MediaPacket, source: string): void {
    if (this.#headersNow < 0) return;
    const { headers, config } = this.#used[this.#headersNow];
    const placedUs = this.#splice.place(
      source,
      packet.timestampUs,
      packet.durationUs,
      this.options.clock.nowMs() * 1000,
      packet.track === 'video' ? config.video.facts.fps : null,
    );
    if (placedUs === null) return;
    const message = messageOf(packet, placedUs);
    for (const [id, destination] of this.destinations)
      if (!this.#delayed.has(id)) destination.send(message, headers);
    const placed = { ...packet, timestampUs: placedUs };
    this.recording?.add(placed);
    if (this.ring.spanUs > 0)
      // The payload lives in the message it came in, which is gone by the time anybody looks back.
      this.ring.add({ ...placed, payload: packet.payload.slice(), headers: this.#headersNow });
    if (packet.track === 'audio') this.recording?.addExtrasOf(packet, placedUs, source);
    if (packet.track === 'video') {
      this.#see(source, placedUs, packet.durationUs);
      this.sent = { timestampUs: packet.timestampUs, atMs: this.options.clock.nowMs() };
    }
  }
}
