/**
 * What the door and the studio say to each other, over one WebSocket that the studio opens: JSON messages. Through it go
 * words and signals of people and programs outside, never media. `id` numbers what is under way on this connection.
 */
import Joi from 'joi';
import { MESSAGE_BYTES } from '../core/access/limits';

/** Of these messages. A door of another one is told so, and not used. */
export const DOOR_VERSION = 1;
/** What is passed on of a request's headers; everything else stays at the door. */
const PASSED_HEADERS = [
  'cookie',
  'authorization',
  'user-agent',
  'content-type',
  'webhook-id',
  'webhook-timestamp',
  'webhook-signature',
  'sec-websocket-protocol',
] as const;
/** Attributes of an event whose data is the body (CloudEvents HTTP binding 1.0.2, binary mode). */
const EVENT_HEADER = /^ce-[a-z0-9]{1,40}$/;
const MAX_HEADERS = 40;

/** Whether a header, by its name in lower case, is passed on. */
export const isPassed = (name: string): boolean =>
  PASSED_HEADERS.some((passed) => passed === name) || EVENT_HEADER.test(name);

/** Why somebody is shut out who may come again at once: what they were in is closed. */
export const COME_AGAIN = 'again';

/** How people reach it. */
export interface DoorAddress {
  /** With scheme, host and port, and `/` at its end. */
  url: string;
  /** SHA-256 of the certificate, as pairs of hexadecimal digits with colons, when no authority vouches for it; else null. */
  fingerprint: string | null;
}

export interface Passed {
  path: string;
  headers: Record<string, string>;
  /** Names the cookie: cookies do not tell ports apart. */
  port: number;
  /** It came over TLS. */
  secure: boolean;
}

export type FromDoor =
  /** At the beginning, and whenever an address is new. `house`: whether it can be opened to the local network. */
  | { type: 'hello'; version: number; addresses: DoorAddress[]; house: boolean; problem: string | null }
  | ({ type: 'ask'; id: number; how: 'read' | 'write'; body: string } & Passed)
  /** A call that was larger than is passed on. */
  | { type: 'tooLarge'; path: string }
  | ({ type: 'open'; id: number } & Passed)
  | { type: 'said'; id: number; text: string }
  | { type: 'left'; id: number };

export type ToDoor =
  /** Of a door on this computer: whether it is open to the local network. */
  | { type: 'listen'; house: boolean }
  | { type: 'answer'; id: number; status: number; cookie: string | null; body: string }
  | { type: 'opened'; id: number; protocol: string | null }
  | { type: 'refused'; id: number; status: number }
  | { type: 'say'; id: number; text: string }
  | { type: 'shut'; id: number; why: string };

const type = (name: FromDoor['type'] | ToDoor['type']) => Joi.string().valid(name).required();
const id = Joi.number().integer().min(1).required();
const text = Joi.string().allow('').max(MESSAGE_BYTES.door).required();
const status = Joi.number().integer().min(200).max(599).required();
const path = Joi.string().max(2000).pattern(/^\//).required();
const passed = {
  path,
  headers: Joi.object()
    .pattern(
      Joi.string().custom((name: string) => {
        if (!isPassed(name)) throw new Error('is not passed on');
        return name;
      }),
      Joi.string().allow('').max(8192),
    )
    .max(MAX_HEADERS)
    .required(),
  port: Joi.number().integer().min(1).max(65_535).required(),
  secure: Joi.boolean().required(),
};

export const fromDoorSchema = Joi.alternatives<FromDoor>(
  Joi.object({
    type: type('hello'),
    version: Joi.number().integer().required(),
    addresses: Joi.array()
      .items(
        Joi.object({
          url: Joi.string()
            .uri({ scheme: ['http', 'https'] })
            .max(300)
            .required(),
          fingerprint: Joi.string()
            .pattern(/^([0-9A-F]{2}:){31}[0-9A-F]{2}$/)
            .allow(null)
            .required(),
        }),
      )
      .max(20)
      .required(),
    house: Joi.boolean().required(),
    problem: Joi.string().max(500).allow(null).required(),
    // A newer door may say more; its version tells.
  }).unknown(true),
  Joi.object({
    type: type('ask'),
    id,
    how: Joi.string().valid('read', 'write').required(),
    body: text,
    ...passed,
  }),
  Joi.object({ type: type('tooLarge'), path }),
  Joi.object({ type: type('open'), id, ...passed }),
  Joi.object({ type: type('said'), id, text }),
  Joi.object({ type: type('left'), id }),
);

export const toDoorSchema = Joi.alternatives<ToDoor>(
  Joi.object({ type: type('listen'), house: Joi.boolean().required() }),
  Joi.object({
    type: type('answer'),
    id,
    status,
    cookie: Joi.string().max(500).allow(null).required(),
    body: text,
  }),
  Joi.object({ type: type('opened'), id, protocol: Joi.string().max(100).allow(null).required() }),
  Joi.object({ type: type('refused'), id, status }),
  Joi.object({ type: type('say'), id, text }),
  Joi.object({ type: type('shut'), id, why: Joi.string().max(100).required() }),
);

/** How the show stands, as people outside are told: nothing of addresses, keys or what is said in the studio. */
export interface Standing {
  /** Who this is told to: their role decides what their page can do. */
  role: 'operator' | 'guest' | 'watcher';
  name: string;
  show: string | null;
  /** `ending`: delayed destinations still get their last seconds. */
  onAir: 'off' | 'live' | 'rehearsal' | 'recording' | 'ending';
  scene: string | null;
  /** Milliseconds since 1970; null while nothing is on air. */
  startedAtMs: number | null;
  nowMs: number;
  destinations: { name: string; state: 'good' | 'connecting' | 'trouble' }[];
  /** The desk's page is there and sends pictures. */
  desk: boolean;
}
