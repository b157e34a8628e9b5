import { parseAvcConfig, nalTypes } from '../../core/media/avc';
import { Fault } from '../../core/fault';
import { FRAME_NAMES, type FrameName } from '../../core/show/records';
import type { BeginOrder, DestinationOrder, RelayStatus, SessionState } from '../../protocol/relay-orders';
import type { ConfigMessage, PacketMessage } from '../../protocol/uplink';
import { FrameLane } from './frame-lane';
import { RateWindow } from './rate-window';
import { readSendQueues } from './send-queue';

/** The desk may be away this long before the cover comes: longer than a hiccup, shorter than a viewer's patience. */
const COVER_AFTER_MS = 1200;
const CHECK_MS = 250;

/** One broadcast: what the desk sends, or the cover while it is away, goes along one lane for each frame. */
export class Session {
  state: SessionState = 'waiting';
  readonly #lanes: Record<FrameName, FrameLane>;
  #message = '';
  #source: string | null = null;
  #lastSequence = 0;
  #lastPacketAt = 0;
  #startedAtMs: number | null = null;
  readonly #received = { video: 0, audio: 0 };
  readonly #rate = new RateWindow();
  readonly #timer: NodeJS.Timeout;

  constructor(
    readonly order: BeginOrder,
    readonly now: () => number,
    readonly random: () => number,
  ) {
    const lane = (frame: FrameName) =>
      new FrameLane(frame, order.recordingFolder, order.sessionId, now, random);
    this.#lanes = { wide: lane('wide'), tall: lane('tall') };
    for (const destination of order.destinations) this.addDestination(destination);
    this.#timer = setInterval(() => this.#check(), CHECK_MS);
  }

  /** Adds one, or replaces the one with the same id (a corrected key, say). */
  addDestination(order: DestinationOrder): void {
    this.removeDestination(order.id);
    this.#lanes[order.frame].setDestination(order);
  }

  removeDestination(id: string): void {
    for (const lane of this.#all()) lane.removeDestination(id);
  }

  /** A desk has said hello; tells where it should go on. */
  hello(source: string): { lastSequence: number; fresh: boolean } {
    const same = source === this.#source;
    const fresh = this.state === 'covered' || !same;
    if (!same) {
      this.#source = source;
      this.#lastSequence = 0;
      for (const lane of this.#all()) lane.extraConfigs.clear();
    }
    if (fresh) for (const lane of this.#all()) lane.needKeyframe();
    return { lastSequence: this.#lastSequence, fresh: fresh && same };
  }

  /** @throws Fault when the codec configuration is damaged */
  config(message: ConfigMessage): void {
    const which = message.cover ? 'cover' : 'live';
    if (message.track === 'video') {
      parseAvcConfig(message.codecConfig);
      this.#lanes[message.frame].configs[which].video = message;
    } else if (message.facts.soundTrack > 1)
      for (const lane of this.#all()) lane.extraConfigs.set(message.facts.soundTrack, message);
    else for (const lane of this.#all()) lane.configs[which].audio = message;
  }

  /** @throws Fault `avc.picture` when a picture's contents are damaged */
  packet(message: PacketMessage): void {
    const { packet } = message;
    if (packet.track === 'video') {
      const types = nalTypes(packet.payload);
      if (packet.keyframe && !types.includes(5))
        throw new Fault('avc.picture', 'a picture marked as keyframe has no IDR slice');
    }
    const lanes = packet.track === 'video' ? [this.#lanes[message.frame]] : this.#all();
    if (message.cover) {
      const kept = { ...packet, payload: packet.payload.slice() };
      for (const lane of lanes) lane.cover.add(kept);
      return;
    }
    if (message.sequence <= this.#lastSequence) return; // sent again after a reconnection
    if (message.sequence !== this.#lastSequence + 1) for (const lane of this.#all()) lane.needKeyframe();
    this.#lastSequence = message.sequence;
    this.#received[packet.track] += 1;
    this.#rate.add(packet.payload.length, this.now());
    if (this.state !== 'live' && packet.track === 'video' && packet.keyframe) {
      const { live } = this.#lanes[message.frame].configs;
      if (live.video && live.audio) this.#comeLive();
    }
    if (packet.soundTrack) {
      for (const lane of lanes) lane.addExtra(packet);
      return;
    }
    const source = `desk:${this.#source}`;
    for (const lane of lanes) if (lane.add(packet, source)) this.#lastPacketAt = this.now();
  }

  coverComplete(frame: FrameName): void {
    const lane = this.#lanes[frame];
    lane.cover.complete(
      lane.configs.cover.video?.facts.fps ?? 30,
      lane.configs.cover.audio?.facts.sampleRate ?? 48_000,
    );
  }

  get lastSequence(): number {
    return this.#lastSequence;
  }

  status(): RelayStatus['session'] {
    const recorders = this.#all().flatMap((lane) => lane.recorder ?? []);
    return {
      id: this.order.sessionId,
      state: this.state,
      startedAtMs: this.#startedAtMs,
      message: this.#message,
      coverReady: this.#coverReady,
      destinations: this.#all().flatMap((lane) => [...lane.destinations.values()].map((d) => d.status())),
      recording:
        recorders.length === 0
          ? null
          : {
              file: recorders[0].file,
              bytes: recorders.reduce((sum, r) => sum + r.bytes, 0),
              seconds: Math.max(...recorders.map((r) => r.seconds)),
              message: recorders.map((r) => r.message).find((m) => m !== '') ?? '',
            },
      received: { ...this.#received, kbps: this.#rate.kbps(this.now()) },
      sent: this.#lanes.wide.sent ?? this.#lanes.tall.sent,
    };
  }

  /** Ends everything; resolves when the recordings are closed. */
  async end(): Promise<void> {
    if (this.state === 'ended') return;
    clearInterval(this.#timer);
    if (this.state === 'live') for (const lane of this.#all()) lane.flush(`desk:${this.#source}`);
    this.state = 'ended';
    await Promise.all(this.#all().map((lane) => lane.end()));
  }

  #all(): FrameLane[] {
    return FRAME_NAMES.map((frame) => this.#lanes[frame]);
  }

  get #coverReady(): boolean {
    const used = this.#all().filter((lane) => lane.used);
    return used.length > 0 && used.every((lane) => lane.cover.ready);
  }

  #comeLive(): void {
    for (const lane of this.#all()) lane.comeLive();
    this.state = 'live';
    this.#message = '';
    this.#startedAtMs ??= this.now();
    this.#lastPacketAt = this.now();
  }

  #check(): void {
    const queues = readSendQueues();
    for (const lane of this.#all()) lane.check(queues);
    if (this.state === 'live' && this.now() - this.#lastPacketAt > COVER_AFTER_MS) this.#deskIsAway();
    // A cover that arrived since is better than a standing picture.
    else if (this.state === 'away' && this.#coverReady) this.#deskIsAway();
  }

  #deskIsAway(): void {
    const used = this.#all().filter((lane) => lane.used);
    for (const lane of used) lane.flush(`desk:${this.#source}`);
    const covered = used.map((lane) => lane.startCover());
    if (!covered.includes(true)) {
      this.state = 'away';
      this.#message =
        'The desk is gone and there is no cover: viewers see a standing picture. Open the studio again.';
      return;
    }
    this.state = 'covered';
    this.#message = 'The desk is gone: viewers see the cover. Open the studio again to go on.';
  }
}
