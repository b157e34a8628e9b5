/** What the web server orders from the relay, and what the relay tells about itself. JSON over loopback HTTP. */
import Joi from 'joi';
import { ENCODE_IDS, type EncodeId } from '../core/delivery/encodes';
import { RECORDED_PICTURES, type RecordedPicture } from '../core/delivery/settings';
import type { LineDecision, LineState } from '../core/delivery/line-controller';
import { FRAME_NAMES, type FrameName } from '../core/show/records';
import type { EncodeReport } from './engine';

export interface DestinationOrder {
  id: string;
  name: string;
  frame: FrameName;
  /** rtmp:// or rtmps:// without key. */
  url: string;
  key: string;
  /** Left out: the main encode of its frame. */
  encode?: EncodeId;
  /** Left out: none. */
  delaySeconds?: number;
  /** Filled up to the constant rate; left out: no. */
  padded?: boolean;
  /** Made anew on the server out of the encode; left out: sent as it is. */
  reencode?: ReencodeOrder;
}

export interface ReencodeOrder {
  width: number;
  height: number;
  videoKbps: number;
  /** Look longer at each picture. */
  careful: boolean;
}

export function encodeOfOrder({ encode, frame }: DestinationOrder): EncodeId {
  return encode ?? frame;
}

/** What is recorded and how its files are named. */
export interface RecordOrder {
  frames: RecordedPicture[];
  /** A new file after so many minutes; 0 for never. */
  splitMinutes: number;
  /** A new file when one has so many megabytes; 0 for never. */
  splitMb: number;
  /** With {date}, {time} and {frame}; the show's name is in it already. */
  pattern: string;
  /** The one that has the recording tracks; left out: the first of those that are recorded. */
  tracksIn?: RecordedPicture;
}

export interface BeginOrder {
  sessionId: string;
  ticket: string;
  /** Origin of the studio page: the only one whose uplink is taken. */
  origin: string;
  destinations: DestinationOrder[];
  /** Folder for the recording, or null for none. */
  recordingFolder: string | null;
  /** Left out: all frames, one file each. */
  record?: RecordOrder;
  /** How far one can look back; left out or 0: not at all. */
  lookbackSeconds?: number;
  /** Whether encodes follow a slow line; left out: yes. */
  adaptive?: boolean;
  /** The cover is on by hand from the beginning: a relay that was started anew must not lift it. Left out: no. */
  covered?: boolean;
  /** Where looking back and delays put what does not fit into memory; left out: nothing is put there. */
  scratchFolder?: string;
}

/** Saves what was sent between so many seconds ago and so many seconds ago. */
export interface KeepOrder {
  fromSecondsAgo: number;
  toSecondsAgo: number;
  frames: FrameName[];
  folder: string;
  name: string;
}

export interface KeptFile {
  frame: FrameName;
  file: string;
  seconds: number;
  /** How long ago its first picture was sent, when it was saved: less than was asked for in a broadcast that is shorter. */
  beganSecondsAgo: number;
  bytes: number;
}

export const DESTINATION_STATES = [
  'connecting',
  'waiting',
  'live',
  'stalled',
  'refused',
  'unreachable',
  'closed',
] as const;
export type DestinationState = (typeof DESTINATION_STATES)[number];

export interface DestinationStatus {
  id: string;
  name: string;
  frame: FrameName;
  state: DestinationState;
  /** Plain words for the user; empty when all is well. */
  message: string;
  kbps: number;
  framesSent: number;
  framesDropped: number;
  reconnects: number;
  encode: EncodeId;
  /** Age of the oldest byte that has not arrived. */
  lagMs: number;
  line: LineState;
  delaySeconds: number;
}

export interface LookbackStatus {
  /** How far one can look back now, and at most. */
  seconds: number;
  maxSeconds: number;
  memoryBytes: number;
  diskBytes: number;
  /** Empty while all is well. */
  message: string;
}

/** `finishing`: nothing new comes, and delayed destinations still get what their viewers have not seen. */
export const SESSION_STATES = ['waiting', 'live', 'covered', 'away', 'finishing', 'ended'] as const;
export type SessionState = (typeof SESSION_STATES)[number];

export interface RelayStatus {
  session: {
    id: string;
    state: SessionState;
    /** Milliseconds since 1970 of the first packet, or null. */
    startedAtMs: number | null;
    message: string;
    /** While finishing: until the last delayed destination has everything, seconds. */
    secondsToFinish: number;
    /** Whether every frame that is sent has a cover to play while the desk is away. */
    coverReady: boolean;
    /** The cover is on by hand: the desk is not seen until it is taken off. */
    coverHeld: boolean;
    destinations: DestinationStatus[];
    recording: {
      file: string;
      bytes: number;
      seconds: number;
      message: string;
      paused: boolean;
      /** What is wrong with the room on the disk, and what is no longer recorded for it, in words; else empty. */
      room: string;
      files: string[];
    } | null;
    lookback: LookbackStatus | null;
    /** Why less than the plan is sent, and how much of it each encode sends, 0…1. */
    line: LineDecision;
    /** The relay's own time on the broadcast's timeline, seconds. */
    seconds: number;
    /** Of these, in which no desk was there to be seen; a cover by hand is none of them. */
    awaySeconds: number;
    received: { video: number; audio: number; kbps: number };
    /** The newest picture handed to the destinations: the desk's stamp and when, milliseconds since 1970. */
    sent: { timestampUs: number; atMs: number } | null;
  } | null;
}

/** Health the desk tells about its own work, once a second. */
export interface DeskHealth {
  /** Differs whenever the counters below began anew: at going live, and with each page. */
  run: string;
  onAirSceneId: string | null;
  fps: number;
  due: number;
  composed: number;
  late: number;
  /** Pictures a second that are wanted now: fewer than the plan's while the machine is short of time. */
  pace: number;
  /** How large they are drawn, in parts of each side of what is sent. */
  scale: number;
  /** Pictures that were due and never composed, left out to keep an even pace, or that the encoder could not take. */
  skipped: number;
  /** Pictures the governor left out, and those the line could not carry. */
  leftOut: number;
  lineDropped: number;
  composeMs: number;
  /** Milliseconds since 1970 at which the programme's time was 0: tells how old a picture is anywhere. */
  programmeEpochMs: number;
  clockSlips: number;
  lufs: number | null;
  integratedLufs: number | null;
  /** Gated blocks that integrated loudness is the mean of. */
  loudnessBlocks: number;
  truePeakDbtp: number | null;
  /** Share of its time that the sound thread works, 0…1. */
  soundLoad: number;
  /** What mixing alone takes of a block, 0…1. */
  soundMixing: number;
  /** From the last event whose alert did not have to wait to its first picture; null before one. */
  alertLagMs: number | null;
  /** Alerts shown, joined to others, kept back by a limit, and waiting. */
  alerts: { shown: number; merged: number; limited: number; waiting: number };
  kbps: number;
  unackedMs: number;
  encodes: EncodeReport[];
}

const id = Joi.string().max(100).required();
const evenSide = Joi.number().integer().multiple(2).min(16).max(3840).required();

export const destinationOrderSchema = Joi.object<DestinationOrder>({
  id,
  name: Joi.string().max(200).required(),
  frame: Joi.string()
    .valid(...FRAME_NAMES)
    .required(),
  url: Joi.string()
    .uri({ scheme: ['rtmp', 'rtmps'] })
    .max(500)
    .required(),
  key: Joi.string().allow('').max(500).required(),
  encode: Joi.string().valid(...ENCODE_IDS),
  delaySeconds: Joi.number().min(0).max(900),
  padded: Joi.boolean(),
  reencode: Joi.object<ReencodeOrder>({
    width: evenSide,
    height: evenSide,
    videoKbps: Joi.number().min(50).max(50_000).required(),
    careful: Joi.boolean().required(),
  }),
});

export const beginOrderSchema = Joi.object<BeginOrder>({
  sessionId: id,
  ticket: Joi.string().min(20).max(100).required(),
  origin: Joi.string().max(200).required(),
  destinations: Joi.array().items(destinationOrderSchema).max(50).required(),
  recordingFolder: Joi.string().max(1000).allow(null).required(),
  record: Joi.object({
    frames: Joi.array()
      .items(Joi.string().valid(...RECORDED_PICTURES))
      .required(),
    splitMinutes: Joi.number().min(0).required(),
    splitMb: Joi.number().min(0).required(),
    tracksIn: Joi.string().valid(...RECORDED_PICTURES),
    pattern: Joi.string().min(1).max(400).required(),
  }),
  lookbackSeconds: Joi.number().min(0).max(900),
  adaptive: Joi.boolean(),
  scratchFolder: Joi.string().max(1000),
  covered: Joi.boolean(),
});

export const keepOrderSchema = Joi.object<KeepOrder>({
  fromSecondsAgo: Joi.number().positive().max(1000).required(),
  toSecondsAgo: Joi.number().min(0).less(Joi.ref('fromSecondsAgo')).required(),
  frames: Joi.array()
    .items(Joi.string().valid(...FRAME_NAMES))
    .min(1)
    .unique()
    .required(),
  folder: Joi.string().max(1000).required(),
  name: Joi.string()
    .max(200)
    .pattern(/^[^/\\\0]+$/)
    .required(),
});

/** Nothing of the last so many seconds goes out to a delayed destination: the cover stands in. */
export const cutOrderSchema = Joi.object<{ id: string; seconds: number }>({
  id,
  seconds: Joi.number().positive().max(900).required(),
});

/** The cover by hand, on or off. */
export const coverOrderSchema = Joi.object<{ on: boolean }>({ on: Joi.boolean().required() });

export interface LineTestOrder {
  /** rtmp:// or rtmps://; nothing is published there. */
  url: string;
  seconds: number;
}

export const lineTestOrderSchema = Joi.object<LineTestOrder>({
  url: Joi.string()
    .uri({ scheme: ['rtmp', 'rtmps'] })
    .max(500)
    .required(),
  seconds: Joi.number().min(2).max(30).required(),
});
