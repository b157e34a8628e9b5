/** What the web server orders from the relay, and what the relay tells about itself. JSON over loopback HTTP. */
import Joi from 'joi';
import { FRAME_NAMES, type FrameName } from '../core/show/records';
import type { EncodeReport } from './engine';

export interface DestinationOrder {
  id: string;
  name: string;
  frame: FrameName;
  /** rtmp:// or rtmps:// without key. */
  url: string;
  key: string;
}

export interface BeginOrder {
  sessionId: string;
  ticket: string;
  /** Origin of the studio page: the only one whose uplink is taken. */
  origin: string;
  destinations: DestinationOrder[];
  /** Folder for the recording, or null for none. */
  recordingFolder: string | null;
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
}

export const SESSION_STATES = ['waiting', 'live', 'covered', 'away', 'ended'] as const;
export type SessionState = (typeof SESSION_STATES)[number];

export interface RelayStatus {
  session: {
    id: string;
    state: SessionState;
    /** Milliseconds since 1970 of the first packet, or null. */
    startedAtMs: number | null;
    message: string;
    /** Whether every frame that is sent has a cover to play while the desk is away. */
    coverReady: boolean;
    destinations: DestinationStatus[];
    recording: { file: string; bytes: number; seconds: number; message: string } | null;
    received: { video: number; audio: number; kbps: number };
    /** The newest picture handed to the destinations: the desk's stamp and when, milliseconds since 1970. */
    sent: { timestampUs: number; atMs: number } | null;
  } | null;
}

/** Health the desk tells about its own work, once a second. */
export interface DeskHealth {
  onAirSceneId: string | null;
  fps: number;
  due: number;
  composed: number;
  late: number;
  /** Pictures that were due and never composed, or that the encoder could not take. */
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
  truePeakDbtp: number | null;
  /** Share of its time that the sound thread works, 0…1. */
  soundLoad: number;
  /** From the last event whose alert did not have to wait to its first picture; null before one. */
  alertLagMs: number | null;
  /** Alerts shown, joined to others, kept back by a limit, and waiting. */
  alerts: { shown: number; merged: number; limited: number; waiting: number };
  kbps: number;
  unackedMs: number;
  encodes: EncodeReport[];
}

const id = Joi.string().max(100).required();

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
});

export const beginOrderSchema = Joi.object<BeginOrder>({
  sessionId: id,
  ticket: Joi.string().min(20).max(100).required(),
  origin: Joi.string().max(200).required(),
  destinations: Joi.array().items(destinationOrderSchema).max(50).required(),
  recordingFolder: Joi.string().max(1000).allow(null).required(),
});
