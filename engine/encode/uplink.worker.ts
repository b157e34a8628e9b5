/**
 * Sends encoded packets to the relay, in a worker so that a busy page cannot hold them up. Keeps what is not yet
 * acknowledged: after a short break nothing is lost; after a long one it goes on with the next keyframe.
 */
import type { MediaPacket } from '../../core/media/interleaver';
import type { EncodeId } from '../../core/delivery/encodes';
import type { Cancel, Clock } from '../../core/time/clock';
import type { FromUplink, FromUplinkPort, ToUplink, ToUplinkPort, UplinkReport } from '../../protocol/engine';
import {
  decodeRelayMessage,
  encodeDeskMessage,
  UPLINK_CLOSE,
  UPLINK_VERSION,
  type ConfigMessage,
} from '../../protocol/uplink';
import { systemClock } from '../system-clock';
import { workerScope } from '../worker-scope';

const RETRY_MS = [200, 500, 1000, 2000, 4000];
/** Packets kept for sending again: about the length of a group of pictures and a hiccup. */
const KEEP_MS = 4000;
/** Unacknowledged for this long: the line is slower than what is sent. */
const SLOW_FROM_MS = 600;
/** For this long: stop until the next keyframe. */
const DROP_FROM_MS = 3000;
const REPORT_MS = 500;

type PortOf = EncodeId | 'sound';

/** Sound belongs to all encodes and says the first. */
const encodeOf = (of: PortOf): EncodeId => (of === 'sound' ? 'wide' : of);

interface Kept {
  sequence: number;
  atMs: number;
  keyframe: boolean;
  bytes: Uint8Array;
}

class Uplink {
  readonly #ports = new Map<PortOf, MessagePort>();
  #session: Extract<ToUplink, { type: 'session' }> | null = null;
  #socket: WebSocket | null = null;
  #welcomed = false;
  #tries = 0;
  #reconnects = 0;
  #cancelTry: Cancel = () => {};
  #sequence = 0;
  #kept: Kept[] = [];
  readonly #configs = new Map<string, ConfigMessage>();
  #cover: { of: PortOf; part: ToUplinkPort }[] = [];
  /** Encodes whose next picture must be a keyframe. */
  readonly #waiting = new Set<EncodeId>();
  #state: UplinkReport['state'] = 'idle';
  #message = '';
  /** What the way from here to the relay carries, and what the ways from there do. */
  #factor = 1;
  #shares: Partial<Record<EncodeId, number>> = {};
  #rate: { atMs: number; bytes: number }[] = [];

  constructor(readonly clock: Clock) {
    clock.every(REPORT_MS, () => this.#report());
    clock.every(100, () => this.#watchLine());
  }

  take(message: ToUplink): void {
    if (message.type === 'start') {
      for (const port of this.#ports.values()) port.close();
      this.#ports.clear();
      this.#waiting.clear();
    } else if (message.type === 'port') {
      const { of, port, takesOver } = message;
      this.#ports.set(of, port);
      if (of !== 'sound' && !takesOver) this.#waiting.add(of);
      port.onmessage = ({ data }: MessageEvent<ToUplinkPort>) => this.#fromEncoder(of, data);
      if (takesOver) this.#tellRates();
    } else if (message.type === 'session') {
      const another = this.#session?.source !== message.source;
      this.#session = message;
      if (another) {
        this.#sequence = 0;
        this.#kept = [];
        this.#configs.clear();
        this.#cover = [];
        this.#shares = {};
        this.#factor = 1;
        this.#waitForAll();
      }
      this.#tries = 0;
      this.#connect();
    } else this.#stop();
  }

  #stop(): void {
    this.#session = null;
    this.#cancelTry();
    if (this.#socket?.readyState === WebSocket.OPEN)
      this.#socket.send(encodeDeskMessage({ type: 'bye' }) as Uint8Array<ArrayBuffer>);
    this.#socket?.close(1000);
    this.#socket = null;
    this.#welcomed = false;
    this.#kept = [];
    this.#state = 'idle';
    this.#message = '';
    this.#report();
  }

  #connect(): void {
    this.#cancelTry();
    const session = this.#session;
    if (!session) return;
    this.#socket?.close();
    this.#welcomed = false;
    this.#state = this.#reconnects > 0 || this.#tries > 0 ? 'waiting' : 'connecting';
    const socket = new WebSocket(session.url);
    socket.binaryType = 'arraybuffer';
    this.#socket = socket;
    socket.onopen = () => {
      const { sessionId, ticket, source } = session;
      this.#send({ type: 'hello', version: UPLINK_VERSION, sessionId, ticket, source });
    };
    socket.onmessage = ({ data }: MessageEvent<ArrayBuffer>) => this.#fromRelay(new Uint8Array(data));
    socket.onclose = ({ code, reason }) => {
      if (this.#socket !== socket) return;
      this.#socket = null;
      const wasLive = this.#welcomed;
      this.#welcomed = false;
      if (!this.#session) return;
      if (code === UPLINK_CLOSE.replaced || code === UPLINK_CLOSE.ended) {
        this.#state = 'refused';
        this.#message = reason;
        return;
      }
      if (wasLive) this.#reconnects += 1;
      this.#state = 'waiting';
      this.#message = this.#message || 'The connection to the relay was lost; reconnecting.';
      const wait = RETRY_MS[Math.min(this.#tries++, RETRY_MS.length - 1)];
      this.#cancelTry = this.clock.after(wait, () => this.#connect());
    };
  }

  #fromRelay(bytes: Uint8Array): void {
    const message = decodeRelayMessage(bytes);
    if (message.type === 'ack') {
      while (this.#kept.length > 0 && this.#kept[0].sequence <= message.sequence) this.#kept.shift();
    } else if (message.type === 'refuse') {
      this.#message = message.message;
    } else if (message.type === 'rates') {
      this.#shares = message.shares;
      this.#tellRates();
    } else {
      this.#tries = 0;
      this.#welcomed = true;
      this.#state = 'live';
      this.#message = '';
      for (const config of this.#configs.values()) this.#send(config);
      for (const { of, part } of this.#cover) this.#sendPart(of, part);
      const missing = this.#kept.filter((k) => k.sequence > message.lastSequence);
      const gapless =
        missing.length === 0 ||
        missing[0].sequence === message.lastSequence + 1 ||
        message.lastSequence === 0;
      if (message.fresh || !gapless) {
        // The cover is on, or too much is missing: a fresh picture is worth more than old ones.
        this.#kept = [];
        this.#waitForAll();
        this.#askKeyframe();
      } else for (const kept of missing) this.#socket?.send(kept.bytes as Uint8Array<ArrayBuffer>);
    }
  }

  #waitForAll(): void {
    for (const of of this.#ports.keys()) if (of !== 'sound') this.#waiting.add(of);
  }

  #fromEncoder(of: PortOf, message: ToUplinkPort): void {
    if (message.type === 'config') {
      const { config } = message;
      const full: ConfigMessage = config.track === 'video' ? { ...config, encode: encodeOf(of) } : config;
      const track = config.track === 'audio' ? config.facts.soundTrack : 0;
      this.#configs.set(`${of}${config.cover}${track}`, full);
      // A cover of other pictures takes the place of the one before.
      if (config.cover) this.#cover = this.#cover.filter((kept) => kept.of !== of);
      if (this.#welcomed) this.#send(full);
    } else if (message.type === 'coverEnd' || message.cover) {
      this.#cover.push({ of, part: message });
      if (this.#welcomed) this.#sendPart(of, message);
    } else this.#packet(of, message.packet);
  }

  #packet(of: PortOf, packet: MediaPacket): void {
    if (!this.#session) return;
    if (of === 'sound') {
      // Sound from before any picture would be heard over nothing.
      const encodes = this.#ports.size - (this.#ports.has('sound') ? 1 : 0);
      if (this.#waiting.size >= encodes) return;
    } else if (this.#waiting.has(of)) {
      if (!packet.keyframe) return;
      this.#waiting.delete(of);
    }
    this.#sequence += 1;
    const bytes = encodeDeskMessage({
      type: 'packet',
      sequence: this.#sequence,
      cover: false,
      encode: encodeOf(of),
      packet,
    });
    const now = this.clock.nowMs();
    this.#kept.push({
      sequence: this.#sequence,
      atMs: now,
      keyframe: of !== 'sound' && packet.keyframe,
      bytes,
    });
    if (this.#welcomed && this.#socket) {
      this.#socket.send(bytes as Uint8Array<ArrayBuffer>);
      this.#rate.push({ atMs: now, bytes: bytes.length });
    } else if (now - this.#kept[0].atMs > KEEP_MS) {
      // Too long without a relay: forget up to the newest keyframe.
      const from = this.#kept.findLastIndex((k) => k.keyframe);
      this.#kept.splice(0, Math.max(1, from));
    }
  }

  #send(message: Parameters<typeof encodeDeskMessage>[0]): void {
    this.#socket?.send(encodeDeskMessage(message) as Uint8Array<ArrayBuffer>);
  }

  #sendPart(of: PortOf, part: ToUplinkPort): void {
    const encode = encodeOf(of);
    if (part.type === 'coverEnd') this.#send({ type: 'coverEnd', encode });
    else if (part.type === 'packet')
      this.#send({ type: 'packet', sequence: 0, cover: true, encode, packet: part.packet });
  }

  #unackedMs(): number {
    return this.#welcomed && this.#kept.length > 0 ? this.clock.nowMs() - this.#kept[0].atMs : 0;
  }

  #watchLine(): void {
    if (this.#state !== 'live') return;
    const late = this.#unackedMs();
    if (late > DROP_FROM_MS) {
      this.#waitForAll();
      this.#factor = 0.5;
      this.#tellRates(true);
      return;
    }
    const factor =
      late > SLOW_FROM_MS ? Math.max(0.3, this.#factor * 0.93) : Math.min(1, this.#factor + 0.01);
    if (factor === this.#factor) return;
    this.#factor = factor;
    this.#tellRates();
  }

  #tellRates(dropToKeyframe = false): void {
    for (const [of, port] of this.#ports)
      if (of !== 'sound')
        port.postMessage({
          type: 'line',
          factor: Math.min(this.#factor, this.#shares[of] ?? 1),
          dropToKeyframe,
        } satisfies FromUplinkPort);
  }

  #askKeyframe(): void {
    this.#tell({ type: 'keyframe' });
  }

  #tell(message: FromUplinkPort): void {
    for (const port of this.#ports.values()) port.postMessage(message);
  }

  #report(): void {
    const from = this.clock.nowMs() - 2000;
    this.#rate = this.#rate.filter((r) => r.atMs >= from);
    const report: UplinkReport = {
      state: this.#state,
      message: this.#message,
      kbps: Math.round((this.#rate.reduce((sum, r) => sum + r.bytes, 0) * 8) / 2000),
      unackedMs: Math.round(this.#unackedMs()),
      reconnects: this.#reconnects,
    };
    workerScope.postMessage({ type: 'report', report } satisfies FromUplink);
  }
}

const uplink = new Uplink(systemClock);
workerScope.onmessage = ({ data }: MessageEvent<ToUplink>) => uplink.take(data);
