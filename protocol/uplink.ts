/**
 * The uplink: binary messages between the desk and the relay over one WebSocket. Described in docs/protocol.md.
 * Numbers are big endian; each WebSocket message is one uplink message.
 */
import { MESSAGE_BYTES } from '../core/access/limits';
import { Fault } from '../core/fault';
import { TRACKS, type MediaPacket, type Track } from '../core/media/interleaver';
import { TRACK_COUNT } from '../core/sound/format';
import { ENCODE_IDS, type EncodeId } from '../core/delivery/encodes';

/**
 * 2: pictures of two frames. 3: sound of several recording tracks. 4: two encodes of a frame; rates from the relay.
 * 5: three bits for the encode.
 */
export const UPLINK_VERSION = 6;
/** Close codes of the relay's WebSocket (4000–4999 are for applications, RFC 6455 §7.4.2). */
export const UPLINK_CLOSE = { refused: 4001, replaced: 4002, ended: 4003, garbage: 4004 } as const;

/** A keyframe of 4K noise is about 4 MB; anything larger is a mistake. */
export const MAX_PACKET_BYTES = MESSAGE_BYTES.uplink;
const MAX_JSON_BYTES = 16 * 1024;
const MAX_CODEC_CONFIG_BYTES = 4096;

const TYPE = {
  hello: 1,
  config: 2,
  packet: 3,
  bye: 4,
  coverEnd: 5,
  welcome: 16,
  ack: 17,
  refuse: 18,
  rates: 19,
} as const;
const PACKET_HEADER_BYTES = 21;
/** Bits of a configuration's track byte. */
const COVER_CONFIG = 0x80;
/** Which encode, as its place in ENCODE_IDS: three bits of a configuration's track byte and of a packet's flags. */
const CONFIG_ENCODE_SHIFT = 4;
const ENCODE_MASK = 7;
const FLAG = { keyframe: 1, cover: 2 } as const;
const FLAG_ENCODE_SHIFT = 2;
const ALL_FLAGS = 31;

export interface HelloMessage {
  type: 'hello';
  version: number;
  sessionId: string;
  ticket: string;
  /** Names one run of the desk's engine: another run counts its own time. */
  source: string;
}

export interface VideoFacts {
  codec: string;
  width: number;
  height: number;
  fps: number;
  kbps: number;
}
export interface AudioFacts {
  codec: string;
  sampleRate: number;
  channels: number;
  kbps: number;
  /** 1 is the programme, 2…6 are recorded beside it. */
  soundTrack: number;
  name: string;
  /** Said by the programme: how many tracks come beside it, so that a recording can wait for their configurations. */
  tracksBeside: number;
}

/** `cover`: these facts belong to the cover's packets, whose encoder may differ from the live one. */
export type ConfigMessage = { type: 'config'; cover: boolean; codecConfig: Uint8Array } & (
  { track: 'video'; encode: EncodeId; facts: VideoFacts } | { track: 'audio'; facts: AudioFacts }
);

export interface PacketMessage {
  type: 'packet';
  /** Counts packets of this source, from 1; repeats and gaps are found by it. */
  sequence: number;
  /** Part of the cover, kept by the relay and not sent on now. */
  cover: boolean;
  /** Which encode a picture is of; sound belongs to all of them and says 'wide'. */
  encode: EncodeId;
  packet: MediaPacket;
}

/** `coverEnd`: the pictures of an encode's cover are complete. `bye`: the desk ends the uplink on purpose. */
export type DeskMessage =
  HelloMessage | ConfigMessage | PacketMessage | { type: 'coverEnd'; encode: EncodeId } | { type: 'bye' };

export type RelayMessage =
  /**
   * `lastSequence` is the last packet the relay has of this source, 0 for none. `fresh`: the cover has been on
   * meanwhile, so go on with a new keyframe and do not send what was missed.
   */
  | { type: 'welcome'; lastSequence: number; fresh: boolean }
  | { type: 'ack'; sequence: number }
  /** What share of its planned rate each encode is to have, 0…1: the line or a destination is slower than the plan. */
  | { type: 'rates'; shares: Partial<Record<EncodeId, number>> }
  | { type: 'refuse'; code: string; message: string };

const encoder = new TextEncoder();
const decoder = new TextDecoder('utf-8', { fatal: true });

function jsonMessage(type: number, value: unknown): Uint8Array {
  const json = encoder.encode(JSON.stringify(value));
  const out = new Uint8Array(1 + json.length);
  out[0] = type;
  out.set(json, 1);
  return out;
}

export function encodeDeskMessage(message: DeskMessage): Uint8Array {
  switch (message.type) {
    case 'hello': {
      const { version, sessionId, ticket, source } = message;
      return jsonMessage(TYPE.hello, { version, sessionId, ticket, source });
    }
    case 'bye':
      return new Uint8Array([TYPE.bye]);
    case 'coverEnd':
      return new Uint8Array([TYPE.coverEnd, ENCODE_IDS.indexOf(message.encode)]);
    case 'config': {
      const json = encoder.encode(JSON.stringify(message.facts));
      const out = new Uint8Array(4 + json.length + message.codecConfig.length);
      out[0] = TYPE.config;
      out[1] =
        TRACKS.indexOf(message.track) |
        (message.cover ? COVER_CONFIG : 0) |
        (message.track === 'video' ? ENCODE_IDS.indexOf(message.encode) << CONFIG_ENCODE_SHIFT : 0);
      new DataView(out.buffer).setUint16(2, json.length);
      out.set(json, 4);
      out.set(message.codecConfig, 4 + json.length);
      return out;
    }
    case 'packet': {
      const { packet } = message;
      const out = new Uint8Array(PACKET_HEADER_BYTES + packet.payload.length);
      const view = new DataView(out.buffer);
      out[0] = TYPE.packet;
      out[1] = TRACKS.indexOf(packet.track);
      out[2] =
        (packet.keyframe ? FLAG.keyframe : 0) |
        (message.cover ? FLAG.cover : 0) |
        (ENCODE_IDS.indexOf(message.encode) << FLAG_ENCODE_SHIFT);
      view.setUint32(3, message.sequence);
      view.setBigInt64(7, BigInt(packet.timestampUs));
      view.setUint32(15, packet.durationUs);
      // Recording track of sound; 0 for pictures and the programme. The byte after it is free and must be zero.
      out[19] = packet.soundTrack ?? 0;
      out.set(packet.payload, PACKET_HEADER_BYTES);
      return out;
    }
  }
}

const garbage = (what: string) => new Fault('uplink.garbage', `uplink: ${what}`);

function objectOf(bytes: Uint8Array): Record<string, unknown> {
  if (bytes.length > MAX_JSON_BYTES) throw garbage(`description of ${bytes.length} bytes is too long`);
  let value: unknown;
  try {
    value = JSON.parse(decoder.decode(bytes));
  } catch {
    throw garbage('description is not JSON');
  }
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    throw garbage('description is not an object');
  return value as Record<string, unknown>;
}

function text(object: Record<string, unknown>, key: string): string {
  const value = object[key];
  if (typeof value !== 'string' || value.length === 0 || value.length > 200)
    throw garbage(`"${key}" must be a short text`);
  return value;
}

function number(object: Record<string, unknown>, key: string, min: number, max: number): number {
  const value = object[key];
  if (typeof value !== 'number' || !(value >= min && value <= max))
    throw garbage(`"${key}" must be a number from ${min} to ${max}`);
  return value;
}

/** @throws Fault when no encode has this place */
function encodeAt(place: number): EncodeId {
  const encode = ENCODE_IDS.at(place & ENCODE_MASK);
  if (!encode) throw garbage('there is no such encode');
  return encode;
}

function trackOf(byte: number): Track {
  const track = TRACKS[byte];
  if (!track) throw garbage(`track ${byte} does not exist`);
  return track;
}

/**
 * Parses what a desk sent.
 * @throws Fault `uplink.garbage` for anything that is not exactly an uplink message
 */
export function decodeDeskMessage(bytes: Uint8Array): DeskMessage {
  switch (bytes[0]) {
    case TYPE.hello: {
      const object = objectOf(bytes.subarray(1));
      return {
        type: 'hello',
        version: number(object, 'version', 1, 1000),
        sessionId: text(object, 'sessionId'),
        ticket: text(object, 'ticket'),
        source: text(object, 'source'),
      };
    }
    case TYPE.bye:
      return { type: 'bye' };
    case TYPE.coverEnd: {
      const encode = ENCODE_IDS[bytes[1]];
      if (bytes.length !== 2 || !encode) throw garbage('end of a cover of no known encode');
      return { type: 'coverEnd', encode };
    }
    case TYPE.config: {
      if (bytes.length < 4) throw garbage('configuration too short');
      const track = trackOf(bytes[1] & ((1 << CONFIG_ENCODE_SHIFT) - 1));
      const encode = encodeAt(bytes[1] >> CONFIG_ENCODE_SHIFT);
      const cover = (bytes[1] & COVER_CONFIG) !== 0;
      const jsonBytes = (bytes[2] << 8) | bytes[3];
      if (4 + jsonBytes > bytes.length) throw garbage('configuration ends inside its description');
      const object = objectOf(bytes.subarray(4, 4 + jsonBytes));
      const codecConfig = bytes.slice(4 + jsonBytes);
      if (codecConfig.length < 2 || codecConfig.length > MAX_CODEC_CONFIG_BYTES)
        throw garbage('codec configuration has a wrong length');
      if (track === 'video')
        return {
          type: 'config',
          cover,
          track,
          encode,
          facts: {
            codec: text(object, 'codec'),
            width: number(object, 'width', 16, 8192),
            height: number(object, 'height', 16, 8192),
            fps: number(object, 'fps', 1, 240),
            kbps: number(object, 'kbps', 1, 200_000),
          },
          codecConfig,
        };
      const codec = text(object, 'codec');
      const soundTrack = number(object, 'soundTrack', 1, TRACK_COUNT);
      // Platforms take AAC alone; recordings also Opus, which costs a desk a tenth of it.
      if (!codec.startsWith('mp4a.40.') && !(codec === 'opus' && soundTrack > 1))
        throw garbage(`sound of track ${soundTrack} in ${codec}`);
      return {
        type: 'config',
        cover,
        track,
        facts: {
          codec,
          sampleRate: number(object, 'sampleRate', 8000, 192_000),
          channels: number(object, 'channels', 1, 8),
          kbps: number(object, 'kbps', 1, 2000),
          soundTrack,
          name: text(object, 'name'),
          tracksBeside: number(object, 'tracksBeside', 0, TRACK_COUNT - 1),
        },
        codecConfig,
      };
    }
    case TYPE.packet: {
      if (bytes.length <= PACKET_HEADER_BYTES) throw garbage('packet without contents');
      if (bytes.length > MAX_PACKET_BYTES) throw garbage(`packet of ${bytes.length} bytes is too long`);
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      const flags = bytes[2];
      const soundTrack = bytes[19];
      if (flags > ALL_FLAGS || bytes[20] !== 0 || soundTrack > TRACK_COUNT || soundTrack === 1)
        throw garbage('packet with unknown flags');
      const timestampUs = Number(view.getBigInt64(7));
      if (!Number.isSafeInteger(timestampUs) || timestampUs < 0)
        throw garbage(`stamp ${timestampUs} is out of range`);
      return {
        type: 'packet',
        sequence: view.getUint32(3),
        cover: (flags & FLAG.cover) !== 0,
        encode: encodeAt(flags >> FLAG_ENCODE_SHIFT),
        packet: {
          track: trackOf(bytes[1]),
          ...(soundTrack > 0 && { soundTrack }),
          timestampUs,
          durationUs: view.getUint32(15),
          keyframe: (flags & FLAG.keyframe) !== 0,
          payload: bytes.subarray(PACKET_HEADER_BYTES),
        },
      };
    }
    default:
      throw garbage(bytes.length === 0 ? 'empty message' : `message type ${bytes[0]} does not exist`);
  }
}

export function encodeRelayMessage(message: RelayMessage): Uint8Array {
  if (message.type === 'ack') {
    const out = new Uint8Array(5);
    out[0] = TYPE.ack;
    new DataView(out.buffer).setUint32(1, message.sequence);
    return out;
  }
  const { type, ...rest } = message;
  return jsonMessage(TYPE[type], rest);
}

/** @throws Fault `uplink.garbage` */
export function decodeRelayMessage(bytes: Uint8Array): RelayMessage {
  switch (bytes[0]) {
    case TYPE.ack:
      if (bytes.length !== 5) throw garbage('acknowledgement of a wrong length');
      return { type: 'ack', sequence: new DataView(bytes.buffer, bytes.byteOffset).getUint32(1) };
    case TYPE.welcome: {
      const object = objectOf(bytes.subarray(1));
      return {
        type: 'welcome',
        lastSequence: number(object, 'lastSequence', 0, 0xffffffff),
        fresh: object.fresh === true,
      };
    }
    case TYPE.rates: {
      const { shares } = objectOf(bytes.subarray(1));
      if (shares === null || typeof shares !== 'object') throw garbage('rates without shares');
      const of = shares as Record<string, unknown>;
      return {
        type: 'rates',
        shares: Object.fromEntries(
          ENCODE_IDS.flatMap((encode) => (encode in of ? [[encode, number(of, encode, 0, 1)]] : [])),
        ),
      };
    }
    case TYPE.refuse: {
      const object = objectOf(bytes.subarray(1));
      return { type: 'refuse', code: text(object, 'code'), message: text(object, 'message') };
    }
    default:
      throw garbage(`message type ${bytes[0]} does not exist`);
  }
}
