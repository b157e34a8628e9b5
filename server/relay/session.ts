import os from 'node:os';
import { parseAvcConfig, nalTypes } from '../../core/media/avc';
import { opusPreSkip } from '../../core/media/opus';
import { Fault } from '../../core/fault';
import { ENCODE_IDS, isMain, isRecorded, type EncodeId } from '../../core/delivery/encodes';
import type { Cancel, Clock } from '../../core/time/clock';
import { decideRates, type LineDecision } from '../../core/delivery/line-controller';
import { ALL_ROOM, decideRoom, roomWords } from '../../core/delivery/recording-room';
import {
  encodeOfOrder,
  type BeginOrder,
  type DestinationOrder,
  type KeepOrder,
  type KeptFile,
  type RelayStatus,
  type SessionState,
} from '../../protocol/relay-orders';
import type { ConfigMessage, PacketMessage } from '../../protocol/uplink';
import { EncodeLane } from './encode-lane';
import { freeBytesOf } from '../free-bytes';
import { keepClip } from './keep-clip';
import { RateWindow } from './rate-window';
import { readSendQueues } from './send-queue';

/** How often the disk is looked at. */
const ROOM_MS = 5000;
/** The desk may be away this long before the cover comes: longer than a hiccup, shorter than a viewer's patience. */
const COVER_AFTER_MS = 1200;
const CHECK_MS = 100;
/** Lines that take everything at once are looked at so often: the kernel's list of all connections is long. */
const LINES_MS = 300;
/** How often the machine's network addresses are looked at. */
const ADDRESS_MS = 1000;

function ownAddresses(): Set<string> {
  return new Set(Object.values(os.networkInterfaces()).flatMap((of) => (of ?? []).map((a) => a.address)));
}

const DESK_GONE = 'The desk is gone: viewers see the cover. Open the studio again to continue.';

/** Whether two orders send the same to the same place. */
function sameWay(a: DestinationOrder, b: DestinationOrder): boolean {
  return (
    a.url === b.url &&
    a.key === b.key &&
    encodeOfOrder(a) === encodeOfOrder(b) &&
    (a.delaySeconds ?? 0) === (b.delaySeconds ?? 0) &&
    (a.padded ?? false) === (b.padded ?? false) &&
    JSON.stringify(a.reencode) === JSON.stringify(b.reencode)
  );
}

/** One broadcast: what the desk sends, or the cover while it is away, goes along one lane for each encode. */
export class Session {
  state: SessionState = 'waiting';
  readonly #lanes: Record<EncodeId, EncodeLane>;
  #line: LineDecision = { cause: 'none', shares: {} };
  #message = '';
  #source: string | null = null;
  #lastSequence = 0;
  #lastPacketAt = 0;
  #addressesAt = 0;
  #linesAt = -Infinity;
  #room = ALL_ROOM;
  #recordedRate = 0;
  #roomAt: { ms: number; bytes: number } | null = null;
  /** The cover is on by hand. */
  #held: boolean;
  #startedAtMs: number | null = null;
  readonly #received = { video: 0, audio: 0 };
  readonly #rate = new RateWindow();
  readonly #endChecks: Cancel;

  constructor(
    readonly order: BeginOrder,
    readonly clock: Clock,
    readonly random: () => number,
    /** Bytes free on the disk of a folder; null when nobody can tell. */
    readonly freeBytes: (folder: string) => number | null = freeBytesOf,
  ) {
    this.#held = order.covered ?? false;
    const { recordingFolder: folder, record = null, sessionId } = order;
    const recorded = (encode: EncodeId) =>
      folder !== null && isRecorded(encode) && (record ? record.frames.includes(encode) : isMain(encode));
    // They are the same whatever the picture: once is enough.
    const withTracks = record?.tracksIn ?? ENCODE_IDS.find(recorded);
    const lane = (encode: EncodeId): EncodeLane => {
      return new EncodeLane(encode, {
        sessionId,
        recording:
          folder !== null && isRecorded(encode) && recorded(encode)
            ? { folder, sessionId, picture: encode, order: record, tracks: encode === withTracks }
            : null,
        lookbackSeconds: isMain(encode) ? (order.lookbackSeconds ?? 0) : 0,
        scratchFolder: order.scratchFolder ?? null,
        clock,
        random,
      });
    };
    this.#lanes = Object.fromEntries(ENCODE_IDS.map((id) => [id, lane(id)])) as Record<EncodeId, EncodeLane>;
    this.#hold(this.#held);
    for (const destination of order.destinations) this.addDestination(destination);
    this.#endChecks = clock.every(CHECK_MS, () => this.#check());
  }

  /**
   * Adds one, or replaces the one with the same id (a corrected key, say). One that is on its way and gets the same order
   * again, because its title was changed, is left alone: viewers there must not notice.
   */
  addDestination(order: DestinationOrder): void {
    const now = this.#all()
      .flatMap((lane) => [...lane.destinations.values()])
      .find((d) => d.order.id === order.id);
    if (now && now.state !== 'refused' && sameWay(now.order, order)) {
      now.name = order.name;
      return;
    }
    this.removeDestination(order.id);
    this.#lanes[encodeOfOrder(order)].setDestination(order);
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
    if (message.track === 'video') {
      parseAvcConfig(message.codecConfig);
      const lane = this.#lanes[message.encode];
      if (message.cover) lane.coverConfig = message;
      else lane.configs.live.video = message;
    } else if (message.facts.soundTrack > 1) {
      if (message.facts.codec === 'opus') opusPreSkip(message.codecConfig);
      for (const lane of this.#all())
        if (lane.recording?.place.tracks) lane.extraConfigs.set(message.facts.soundTrack, message);
    } else for (const lane of this.#all()) lane.configs[message.cover ? 'cover' : 'live'].audio = message;
  }

  /** @throws Fault `avc.picture` when a picture's contents are damaged */
  packet(message: PacketMessage): void {
    const { packet } = message;
    if (packet.track === 'video') {
      const types = nalTypes(packet.payload);
      if (packet.keyframe && !types.includes(5))
        throw new Fault('avc.picture', 'a picture marked as keyframe has no IDR slice');
    }
    const lanes = packet.track === 'video' ? [this.#lanes[message.encode]] : this.#all();
    if (message.cover) {
      const kept = { ...packet, payload: packet.payload.slice() };
      for (const lane of lanes) lane.cover.add(kept);
      return;
    }
    if (this.state === 'finishing') return;
    if (message.sequence <= this.#lastSequence) return; // sent again after a reconnection
    if (message.sequence !== this.#lastSequence + 1) for (const lane of this.#all()) lane.needKeyframe();
    this.#lastSequence = message.sequence;
    this.#received[packet.track] += 1;
    this.#rate.add(packet.payload.length, this.clock.nowMs());
    if (this.#held) {
      // The desk goes on, unseen; a cover that has just become whole is brought on.
      this.#lastPacketAt = this.clock.nowMs();
      if (this.state !== 'covered') this.#coverByHand();
      return;
    }
    if (this.state !== 'live' && packet.track === 'video' && packet.keyframe) {
      const { live } = this.#lanes[message.encode].configs;
      if (live.video && live.audio) this.#comeLive();
    }
    const source = `desk:${this.#source}`;
    if (packet.soundTrack) {
      for (const lane of lanes) if (lane.recording?.place.tracks) lane.addExtra(packet, source);
      return;
    }
    for (const lane of lanes) if (lane.add(packet, source)) this.#lastPacketAt = this.clock.nowMs();
  }

  coverComplete(encode: EncodeId): void {
    this.#lanes[encode].coverComplete();
  }

  get lastSequence(): number {
    return this.#lastSequence;
  }

  status(): RelayStatus['session'] {
    return {
      id: this.order.sessionId,
      state: this.state,
      startedAtMs: this.#startedAtMs,
      message: this.#message,
      secondsToFinish: this.state === 'finishing' ? this.#secondsToFinish : 0,
      coverReady: this.#coverReady,
      coverHeld: this.#held,
      destinations: this.#all().flatMap((lane) => [...lane.destinations.values()].map((d) => d.status())),
      recording: this.#recordingStatus(),
      lookback: this.#lookbackStatus(),
      line: this.#line,
      seconds: this.#mainLane.endUs / 1e6,
      awaySeconds: this.#mainLane.awayUs / 1e6,
      received: { ...this.#received, kbps: this.#rate.kbps(this.clock.nowMs()) },
      sent: this.#mainLane.sent,
    };
  }

  /** What share of its planned rate each encode is to have. */
  get shares(): LineDecision['shares'] {
    return this.#line.shares;
  }

  /**
   * The cover by hand: viewers get it at once, in the same stream; taken off, the desk is back with its next keyframe.
   * @throws Fault `cover.none` when there is none to play
   */
  cover(on: boolean): void {
    if (on === this.#held) return;
    if (this.state === 'finishing' || this.state === 'ended')
      throw new Fault('cover.over', 'the broadcast is over: only what is in a delay still goes out');
    if (on && !this.#all().some((lane) => lane.cover.ready))
      throw new Fault(
        'cover.none',
        'there is no cover yet: it comes with the first seconds of the broadcast',
      );
    this.#hold(on);
    if (on) return this.#coverByHand();
    for (const lane of this.#all()) lane.needKeyframe();
    const away = this.clock.nowMs() - this.#lastPacketAt > COVER_AFTER_MS;
    this.#message = away ? DESK_GONE : '';
  }

  #hold(on: boolean): void {
    this.#held = on;
    for (const lane of this.#all()) lane.held = on;
  }

  #coverByHand(): void {
    if (this.state === 'live')
      for (const lane of this.#all().filter((l) => l.used)) lane.flush(`desk:${this.#source}`);
    // One that plays already, since the desk is gone, goes on.
    if (this.state !== 'covered') {
      const lanes = this.#all().filter((lane) => lane.cover.ready);
      if (!lanes.map((lane) => lane.startCover()).includes(true)) return;
      this.state = 'covered';
      this.#startedAtMs ??= this.clock.nowMs();
    }
    this.#message = 'The cover is on by hand: viewers do not see the desk.';
  }

  pauseRecording(paused: boolean): void {
    for (const lane of this.#all()) lane.recording?.pause(paused);
  }

  /** @returns seconds that never go out to this destination */
  cut(id: string, seconds: number): number {
    return Math.max(0, ...this.#all().map((lane) => lane.cut(id, seconds)));
  }

  /** @throws Fault `lookback.*` when there is nothing to save or it cannot be written */
  async keep(order: KeepOrder): Promise<KeptFile[]> {
    const kept: KeptFile[] = [];
    for (const frame of order.frames) {
      const lane = this.#lanes[frame];
      // While it is written the broadcast goes on.
      const { endUs } = lane.ring;
      for (const past of lane.lookBack(order.fromSecondsAgo, order.toSecondsAgo)) {
        const { firstUs, ...file } = await keepClip(past, order, frame);
        kept.push({ frame, ...file, beganSecondsAgo: (endUs - firstUs) / 1e6 });
      }
    }
    if (kept.length === 0)
      throw new Fault(
        'lookback.empty',
        'there is nothing to keep yet: look back works from the first seconds on',
      );
    return kept;
  }

  #recordingStatus(): NonNullable<RelayStatus['session']>['recording'] {
    const lanes = this.#all().flatMap((lane) => lane.recording ?? []);
    const recorders = lanes.flatMap((recording) => recording.recorder ?? []);
    const files = lanes.flatMap((recording) => recording.files);
    if (files.length === 0) return null;
    return {
      file: recorders[0]?.file ?? '',
      bytes: recorders.reduce((sum, r) => sum + r.bytes, 0),
      seconds: Math.max(0, ...recorders.map((r) => r.seconds)),
      message: recorders.map((r) => r.message).find((m) => m !== '') ?? '',
      paused: lanes.some((recording) => recording.paused),
      room: roomWords(this.#room),
      files,
    };
  }

  #lookbackStatus(): NonNullable<RelayStatus['session']>['lookback'] {
    const maxSeconds = this.order.lookbackSeconds ?? 0;
    if (maxSeconds === 0) return null;
    const rings = this.#all().map((lane) => lane.ring);
    const { startUs, endUs } = this.#mainLane.ring;
    return {
      seconds: startUs === null ? 0 : Math.min(maxSeconds, (endUs - startUs) / 1e6),
      maxSeconds,
      memoryBytes: rings.reduce((sum, ring) => sum + ring.memoryBytes, 0),
      diskBytes: rings.reduce((sum, ring) => sum + ring.storedBytes, 0),
      message: rings.find((ring) => ring.problem !== '')?.problem ?? '',
    };
  }

  get #mainLane(): EncodeLane {
    return this.#lanes.wide.used ? this.#lanes.wide : this.#lanes.tall;
  }

  /**
   * Nothing new goes out. Delayed destinations still get what their viewers have not seen, then the session ends by itself.
   * Resolves when the recordings are closed.
   */
  async finish(): Promise<void> {
    if (this.state === 'finishing' || this.state === 'ended') return;
    const late = this.#all().some((lane) => lane.secondsToFinish > 0);
    if (!late) return this.end();
    this.#flush();
    this.state = 'finishing';
    this.#message = '';
    await Promise.all(this.#all().map((lane) => lane.finish()));
  }

  get #secondsToFinish(): number {
    return Math.max(...this.#all().map((lane) => lane.secondsToFinish));
  }

  #flush(): void {
    if (this.state === 'live') for (const lane of this.#all()) lane.flush(`desk:${this.#source}`);
  }

  /** Ends everything; resolves when the recordings are closed. */
  async end(): Promise<void> {
    if (this.state === 'ended') return;
    this.#endChecks();
    this.#flush();
    this.state = 'ended';
    await Promise.all(this.#all().map((lane) => lane.end()));
  }

  #all(): EncodeLane[] {
    return ENCODE_IDS.map((encode) => this.#lanes[encode]);
  }

  get #coverReady(): boolean {
    const used = this.#all().filter((lane) => lane.used);
    return used.length > 0 && used.every((lane) => lane.cover.ready);
  }

  #comeLive(): void {
    for (const lane of this.#all()) lane.comeLive();
    this.state = 'live';
    this.#message = '';
    this.#startedAtMs ??= this.clock.nowMs();
    this.#lastPacketAt = this.clock.nowMs();
  }

  #check(): void {
    const now = this.clock.nowMs();
    if (now - this.#linesAt >= LINES_MS || this.#all().some((lane) => lane.pressed)) {
      this.#linesAt = now;
      this.#checkLines();
    }
    if (this.#roomAt === null || now - this.#roomAt.ms >= ROOM_MS) this.#checkRoom(now);
    if (this.state === 'finishing') {
      const over = this.#all().every((lane) => lane.destinations.size === 0);
      if (over) void this.end();
      return;
    }
    if (this.state === 'live' && now - this.#lastPacketAt > COVER_AFTER_MS) this.#deskIsAway();
    // A cover that arrived since is better than a standing picture.
    else if (this.state === 'away' && this.#coverReady) this.#deskIsAway();
  }

  /** How much room the recordings have, by what they took since the last look. */
  #checkRoom(nowMs: number): void {
    const { recordingFolder } = this.order;
    if (recordingFolder === null) return;
    const recordings = this.#all().flatMap((lane) => lane.recording ?? []);
    const bytes = recordings.reduce((sum, recording) => sum + recording.bytes, 0);
    const last = this.#roomAt;
    const rate = last ? ((bytes - last.bytes) * 1000) / (nowMs - last.ms) : 0;
    // Nothing was written: what was known of the rate still holds.
    if (rate > 0) this.#recordedRate = rate;
    this.#roomAt = { ms: nowMs, bytes };
    this.#room = decideRoom(this.freeBytes(recordingFolder), this.#recordedRate, this.#room);
    for (const recording of recordings) recording.setRoom(this.#room);
  }

  #checkLines(): void {
    const queues = readSendQueues();
    const look = this.clock.nowMs() - this.#addressesAt >= ADDRESS_MS;
    if (look) this.#addressesAt = this.clock.nowMs();
    const addresses = look ? ownAddresses() : null;
    for (const lane of this.#all()) lane.check(queues, addresses);
    const line = decideRates(
      this.#all().flatMap((lane) =>
        [...lane.destinations.values()].flatMap((d) =>
          // One that is delayed or has pictures of its own slows no encode down.
          d.line && (d.order.delaySeconds ?? 0) === 0 && !d.order.reencode
            ? [{ encode: lane.encode, ...d.line }]
            : [],
        ),
      ),
    );
    this.#line = this.order.adaptive === false ? { ...line, shares: {} } : line;
  }

  #deskIsAway(): void {
    const used = this.#all().filter((lane) => lane.used);
    for (const lane of used) lane.flush(`desk:${this.#source}`);
    const covered = used.map((lane) => lane.startCover());
    if (!covered.includes(true)) {
      this.state = 'away';
      this.#message =
        'The desk is gone and there is no cover: video is frozen for viewers. Open the studio again.';
      return;
    }
    this.state = 'covered';
    this.#message = DESK_GONE;
  }
}
