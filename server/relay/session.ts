import { parseAvcConfig, nalTypes } from '../../core/media/avc';
import { TimelineSplice } from '../../core/delivery/splice';
import { Fault } from '../../core/fault';
import {
  aacFrame,
  aacSequenceHeader,
  avcFrame,
  avcSequenceHeader,
  onMetaData,
} from '../../core/media/flv-payload';
import { Interleaver, type MediaPacket, type Track } from '../../core/media/interleaver';
import type { BeginOrder, DestinationOrder, RelayStatus, SessionState } from '../../protocol/relay-orders';
import type { ConfigMessage, PacketMessage } from '../../protocol/uplink';
import { CoverPlayer } from './cover-player';
import { Destination } from './destination';
import { Recorder, type RecordingConfig } from './recorder';
import { RateWindow } from './rate-window';
import { readSendQueues } from './send-queue';
import { SharedMessage, type StreamHeaders } from './shared-message';

/** The desk may be away this long before the cover comes: longer than a hiccup, shorter than a viewer's patience. */
const COVER_AFTER_MS = 1200;
const CHECK_MS = 250;

type Configs = Partial<{ [T in Track]: Extract<ConfigMessage, { track: T }> }>;

function complete(configs: Configs): RecordingConfig | null {
  return configs.video && configs.audio ? { video: configs.video, audio: configs.audio } : null;
}

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((v, i) => v === b[i]);
}

/**
 * One broadcast: packets of the desk, or the cover while the desk is away, go in order and on one timeline to every
 * destination and to the recording.
 */
export class Session {
  state: SessionState = 'waiting';
  readonly #destinations = new Map<string, Destination>();
  readonly #splice = new TimelineSplice();
  #interleaver = new Interleaver();
  readonly #configs: { live: Configs; cover: Configs } = { live: {}, cover: {} };
  #headers: StreamHeaders | null = null;
  #headersOf: RecordingConfig | null = null;
  #recorder: Recorder | null = null;
  readonly #finished: Recorder[] = [];
  #recordings = 0;
  #message = '';
  #sent: { timestampUs: number; atMs: number } | null = null;
  #source: string | null = null;
  #lastSequence = 0;
  #needKeyframe = true;
  /** Stamp of the keyframe the present source began with. */
  #fromUs = 0;
  #lastPacketAt = 0;
  #startedAtMs: number | null = null;
  readonly #received = { video: 0, audio: 0 };
  readonly #rate = new RateWindow();
  readonly #cover = new CoverPlayer();
  readonly #timer: NodeJS.Timeout;
  #coverTimer: NodeJS.Timeout | null = null;

  constructor(
    readonly order: BeginOrder,
    readonly now: () => number,
    readonly random: () => number,
  ) {
    for (const destination of order.destinations) this.addDestination(destination);
    this.#timer = setInterval(() => this.#check(), CHECK_MS);
  }

  /** Adds one, or replaces the one with the same id (a corrected key, say). */
  addDestination(order: DestinationOrder): void {
    this.#destinations.get(order.id)?.close();
    this.#destinations.set(order.id, new Destination(order, this.now, this.random));
  }

  removeDestination(id: string): void {
    this.#destinations.get(id)?.close();
    this.#destinations.delete(id);
  }

  /** A desk has said hello; tells where it should go on. */
  hello(source: string): { lastSequence: number; fresh: boolean } {
    const same = source === this.#source;
    const fresh = this.state === 'covered' || !same;
    if (!same) {
      this.#source = source;
      this.#lastSequence = 0;
    }
    if (fresh) this.#needKeyframe = true;
    return { lastSequence: this.#lastSequence, fresh: fresh && same };
  }

  /** @throws Fault when the codec configuration is damaged */
  config(message: ConfigMessage): void {
    if (message.track === 'video') parseAvcConfig(message.codecConfig);
    const configs = message.cover ? this.#configs.cover : this.#configs.live;
    if (message.track === 'video') configs.video = message;
    else configs.audio = message;
  }

  /** @throws Fault `avc.picture` when a picture's contents are damaged */
  packet(message: PacketMessage): void {
    const { packet } = message;
    if (packet.track === 'video') {
      const types = nalTypes(packet.payload);
      if (packet.keyframe && !types.includes(5))
        throw new Fault('avc.picture', 'a picture marked as keyframe has no IDR slice');
    }
    if (message.cover) {
      this.#cover.add({ ...packet, payload: packet.payload.slice() });
      return;
    }
    if (message.sequence <= this.#lastSequence) return; // sent again after a reconnection
    if (message.sequence !== this.#lastSequence + 1) this.#needKeyframe = true;
    this.#lastSequence = message.sequence;
    this.#received[packet.track] += 1;
    this.#rate.add(packet.payload.length, this.now());
    const configs = complete(this.#configs.live);
    if (!configs) {
      // One stream is ahead of the other's first packet: begin with the next keyframe.
      this.#needKeyframe = true;
      return;
    }
    if (this.#needKeyframe) {
      if (packet.track !== 'video' || !packet.keyframe) return;
      this.#needKeyframe = false;
      this.#fromUs = packet.timestampUs;
    }
    this.#lastPacketAt = this.now();
    // Sound from before the first picture would be heard over nothing.
    if (packet.timestampUs < this.#fromUs) return;
    if (this.state !== 'live') this.#comeLive();
    this.#use(configs);
    for (const ready of this.#interleaver.add(packet)) this.#out(ready, `desk:${this.#source}`);
  }

  coverComplete(): void {
    this.#cover.complete(
      this.#configs.cover.video?.facts.fps ?? 30,
      this.#configs.cover.audio?.facts.sampleRate ?? 48_000,
    );
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
      destinations: [...this.#destinations.values()].map((d) => d.status()),
      recording: this.#recorder && {
        file: this.#recorder.file,
        bytes: this.#recorder.bytes,
        seconds: this.#recorder.seconds,
        message: this.#recorder.message,
      },
      received: { ...this.#received, kbps: this.#rate.kbps(this.now()) },
      sent: this.#sent,
    };
  }

  /** Ends everything; resolves when the recording is closed. */
  async end(): Promise<void> {
    if (this.state === 'ended') return;
    clearInterval(this.#timer);
    this.#stopCover();
    if (this.state === 'live')
      for (const packet of this.#interleaver.flush()) this.#out(packet, `desk:${this.#source}`);
    this.state = 'ended';
    for (const destination of this.#destinations.values()) destination.close();
    if (this.#recorder) this.#finished.push(this.#recorder);
    await Promise.all(this.#finished.map((r) => r.close()));
  }

  #comeLive(): void {
    this.#stopCover();
    this.#interleaver = new Interleaver();
    this.state = 'live';
    this.#message = '';
    this.#startedAtMs ??= this.now();
  }

  #check(): void {
    const queues = readSendQueues();
    for (const destination of this.#destinations.values())
      destination.check(destination.localPort === null ? 0 : (queues.get(destination.localPort) ?? 0));
    if (this.state === 'live' && this.now() - this.#lastPacketAt > COVER_AFTER_MS) this.#deskIsAway();
  }

  #deskIsAway(): void {
    for (const packet of this.#interleaver.flush()) this.#out(packet, `desk:${this.#source}`);
    this.#needKeyframe = true;
    const configs = complete(this.#configs.cover);
    if (!this.#cover.ready || !configs) {
      this.state = 'away';
      this.#message =
        'The desk is gone and there is no cover: viewers see a standing picture. Open the studio again.';
      return;
    }
    this.state = 'covered';
    this.#message = 'The desk is gone: viewers see the cover. Open the studio again to go on.';
    this.#use(configs);
    const start = this.now();
    this.#cover.restart();
    const source = `cover:${start}`;
    this.#coverTimer = setInterval(() => {
      for (const packet of this.#cover.until((this.now() - start) * 1000)) this.#out(packet, source);
    }, 20);
  }

  #stopCover(): void {
    if (this.#coverTimer) clearInterval(this.#coverTimer);
    this.#coverTimer = null;
  }

  /** Takes these codec configurations for what follows; a changed one means new headers and a new file. */
  #use(configs: RecordingConfig): void {
    const now = this.#headersOf;
    if (now === configs || (now && now.video === configs.video && now.audio === configs.audio)) return;
    const same =
      now !== null &&
      sameBytes(now.video.codecConfig, configs.video.codecConfig) &&
      sameBytes(now.audio.codecConfig, configs.audio.codecConfig);
    this.#headersOf = configs;
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
    if (this.order.recordingFolder === null) return;
    if (this.#recorder) {
      void this.#recorder.close();
      this.#finished.push(this.#recorder);
    }
    this.#recordings += 1;
    const part = this.#recordings === 1 ? '' : `-${this.#recordings}`;
    const stamp = new Date(this.now()).toISOString().replace(/[:.]/g, '-').slice(0, 19);
    this.#recorder = new Recorder(
      this.order.recordingFolder,
      `${stamp}-${this.order.sessionId.slice(0, 8)}${part}.mkv`,
      configs,
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
    for (const destination of this.#destinations.values()) destination.send(message, headers);
    this.#recorder?.add({ ...packet, timestampUs: placedUs });
    if (packet.track === 'video') this.#sent = { timestampUs: packet.timestampUs, atMs: this.now() };
  }
}
