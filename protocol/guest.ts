/** What a guest's page at the door, the studio and the desk's page say to each other: JSON messages; media go between the pages. */
import Joi from 'joi';
import { MAX_NAME } from '../core/guests/seats';

/** A session description is some thousand letters; one that is longer than this is none. */
const MAX_SDP = 24_000;
/** Short words of the host to a guest. */
export const MAX_WORDS = 200;

/**
 * What the two ends of a connection say to each other (JSEP, RFC 9429). The guest offers. `round` numbers a guest's
 * connections, so that what belongs to an earlier one is let go by; a candidate of null is the last.
 */
export type GuestSignal =
  | { type: 'offer' | 'answer'; round: number; sdp: string }
  | { type: 'candidate'; round: number; candidate: GuestCandidate | null };

export interface GuestCandidate {
  candidate: string;
  sdpMid: string | null;
  sdpMLineIndex: number | null;
}

/** A made-up guest goes and is not waited for (RFC 6455 §7.4.2: 4000 to 4999 are an application's own). */
export const GONE_FOR_GOOD = 4000;

/** Ways around routers (RTCIceServer). */
export interface IceServer {
  urls: string[];
  username?: string;
  credential?: string;
}

/** Somebody who came by a guest's link, as the desk is told. */
export interface GuestNow {
  /** Of the browser that was let in: who comes back with it is the same guest. */
  id: string;
  name: string;
  seatId: string | null;
  /** Milliseconds since 1970: when they came first. */
  sinceMs: number;
  /** Their page is connected with the studio; else it is waited for. */
  here: boolean;
  /** By their own hand. */
  muted: boolean;
  cameraOff: boolean;
  hand: boolean;
  /** What they came with cannot be used, in words; null when all is well. */
  problem: string | null;
}

/** What a guest's page is told of the show. */
export interface GuestStanding {
  nowMs: number;
  show: string;
  /** Null: they wait without one. */
  seat: string | null;
  /** The desk's page is there: without it nobody can be heard. */
  desk: boolean;
  /** They were brought on. */
  broughtOn: boolean;
  /** They are in the picture that goes out. */
  inPicture: boolean;
  onAir: 'off' | 'live' | 'rehearsal' | 'recording' | 'ending';
  startedAtMs: number | null;
  /** The host talks to them, unheard by viewers. */
  talk: boolean;
  /** When a segment with their seat comes, milliseconds since 1970, and what it is called; null when none is planned. */
  next: { name: string; atMs: number } | null;
  /** Whether anything is shown back to them. */
  sees: boolean;
  hearsProgramme: boolean;
  /** Others who are here. */
  others: string[];
}

export type ToGuest =
  | { type: 'welcome'; show: string; seat: string | null; ice: IceServer[] }
  | { type: 'standing'; standing: GuestStanding }
  /** The desk is there, or there anew: make an offer. */
  | { type: 'call' }
  | { type: 'signal'; signal: GuestSignal }
  /** The host says something in words. */
  | { type: 'words'; text: string }
  /** What they asked for cannot be; they stay where they were. */
  | { type: 'refused'; message: string };

export type FromGuest =
  /** From here on they are in the wings. `connected`: with the desk already, from before the studio began anew. */
  | { type: 'ready'; name: string; connected: boolean }
  | { type: 'self'; muted: boolean; cameraOff: boolean; hand: boolean; problem: string | null }
  | { type: 'signal'; signal: GuestSignal };

/** What the host does with a guest. */
export type GuestOrder =
  { do: 'seat'; seatId: string | null } | { do: 'words'; text: string } | { do: 'remove' };

const round = Joi.number().integer().min(1).max(1e6).required();
const signal = Joi.alternatives<GuestSignal>(
  Joi.object({
    type: Joi.string().valid('offer', 'answer').required(),
    round,
    sdp: Joi.string().max(MAX_SDP).required(),
  }),
  Joi.object({
    type: Joi.string().valid('candidate').required(),
    round,
    candidate: Joi.object({
      candidate: Joi.string().allow('').max(1000).required(),
      sdpMid: Joi.string().allow('').max(40).allow(null).required(),
      sdpMLineIndex: Joi.number().integer().min(0).max(40).allow(null).required(),
    })
      .allow(null)
      .required(),
  }),
).required();

const type = (name: FromGuest['type']) => Joi.string().valid(name).required();

export const fromGuestSchema = Joi.alternatives<FromGuest>(
  // However long: it is cut to what can be shown.
  Joi.object({
    type: type('ready'),
    name: Joi.string().allow('').max(20_000).required(),
    connected: Joi.boolean().default(false),
  }),
  Joi.object({
    type: type('self'),
    muted: Joi.boolean().required(),
    cameraOff: Joi.boolean().required(),
    hand: Joi.boolean().required(),
    problem: Joi.string().max(300).allow(null).required(),
  }),
  Joi.object({ type: type('signal'), signal }),
).required();

const guestId = Joi.string().min(1).max(64).required();

/** Of the desk's page, over the bus. */
export const guestFromPageSchemas = [
  Joi.object({ type: Joi.string().valid('guestSignal').required(), guestId, signal }),
  Joi.object({
    type: Joi.string().valid('guestOrder').required(),
    guestId,
    order: Joi.alternatives<GuestOrder>(
      Joi.object({
        do: Joi.string().valid('seat').required(),
        seatId: Joi.string().max(64).allow(null).required(),
      }),
      Joi.object({
        do: Joi.string().valid('words').required(),
        text: Joi.string().trim().min(1).max(MAX_WORDS).required(),
      }),
      Joi.object({ do: Joi.string().valid('remove').required() }),
    ).required(),
  }),
  Joi.object({
    type: Joi.string().valid('callGuests').required(),
    guestIds: Joi.array().items(guestId).max(64).required(),
  }),
  Joi.object({
    type: Joi.string().valid('talkTo').required(),
    to: Joi.string().max(64).allow(null).required(),
  }),
];

/**
 * A name as it can be shown: on one line, without signs that turn the direction of writing or that nobody sees, not too long.
 * Empty when nothing is left.
 */
export function plainName(name: string): string {
  const seen = name
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cf}\p{Co}\p{Cn}\p{Zl}\p{Zp}]/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  return [...seen].slice(0, MAX_NAME).join('').trim();
}
