/** What pages and the web server say to each other over the bus, a WebSocket with JSON messages. */
import Joi from 'joi';
import { ENCODE_IDS, type Encode } from '../core/delivery/encodes';
import type { PollResult } from '../core/audience/own-poll';
import type { Press } from '../core/commands/commands';
import type { CommandSource, ProgrammeEntry } from '../core/programme/commands';
import type { ProgrammeState } from '../core/programme/programme-state';
import type { ToldChange } from '../core/show/settle';
import type { Encoding } from '../core/delivery/plan-steps';
import { audienceFromPageSchemas, type AudienceFromPage, type AudienceFromServer } from './audience-bus';
import {
  guestFromPageSchemas,
  type GuestNow,
  type GuestOrder,
  type GuestSignal,
  type IceServer,
} from './guest';
import { programmeEntrySchema, programmeStateSchema } from './programme-schemas';
import type { DeskHealth, RelayStatus } from './relay-orders';
import type { VaultJob } from './vault';

/** What a page is told of a service that can be broadcast to. */
export interface ServiceFacts {
  /** Of its connector. */
  id: string;
  name: string;
  /** Whether its file was brought in, and can be removed. */
  removable: boolean;
  /** Its own pages. */
  watchUrl: string | null;
  accountUrl: string | null;
  signsIn: boolean;
  /** Its words for who may see a broadcast, the usual one first. */
  visibility: string[];
  /** How long its servers are measured, seconds; null: as usual. */
  testSeconds: number | null;
}

export type BusFromServer =
  | { type: 'lease'; held: boolean; byOther: boolean }
  /** To a page that has just come: which state of the show everybody else has. */
  | { type: 'revision'; revision: number }
  /** What somebody's edit came to, in the order of all edits; one's own are told as well. */
  | { type: 'edit'; change: ToldChange }
  /** The show was deleted. */
  | { type: 'showGone' }
  /** Somebody presses a command from elsewhere; the desk says `taken`, hears `go`, does it and answers with `pressed`. */
  | { type: 'press'; id: number; press: Press; by: CommandSource; held: boolean }
  /** The press is still wanted: one that a stalled desk came to too late is not. */
  | { type: 'go'; id: number }
  /** What can be broadcast to, as files describe it. */
  | { type: 'services'; services: ServiceFacts[] }
  /** So many pads are connected: the desk tells levels and pictures while there are any. */
  | { type: 'pads'; connected: number }
  /** Everybody who came by a guest's link, and by which servers their connections find their way. */
  | { type: 'guests'; guests: GuestNow[]; ice: IceServer[] }
  /** To the desk alone. */
  | { type: 'guestSignal'; guestId: string; signal: GuestSignal }
  /** How the programme stands, for a page that takes the desk over. */
  | { type: 'programme'; state: ProgrammeState }
  /** The show's own poll as it stands; null when none runs. */
  | { type: 'ownPoll'; poll: PollResult | null }
  | AudienceFromServer
  | { type: 'relay'; status: RelayStatus | null; broadcast: BroadcastState }
  /** Copies that are being made in the Vault. */
  | { type: 'jobs'; jobs: VaultJob[] };

export type BusFromPage =
  | { type: 'claim'; deskId: string; takeOver: boolean }
  | { type: 'health'; health: DeskHealth }
  /** Something was done to the programme, and how it stands since. */
  | { type: 'programme'; entry: ProgrammeEntry; state: ProgrammeState }
  /** For pads: levels of channels, dBFS, and how a scene looks (JPEG in base64). */
  | { type: 'levels'; levels: Record<string, number> }
  | { type: 'scenePicture'; sceneId: string; jpeg: string }
  | { type: 'guestSignal'; guestId: string; signal: GuestSignal }
  | { type: 'guestOrder'; guestId: string; order: GuestOrder }
  /** The desk is not connected with these guests: they are to begin. */
  | { type: 'callGuests'; guestIds: string[] }
  /** Whom the desk talks to: everybody in the wings, a seat, or nobody. */
  | { type: 'talkTo'; to: string | null }
  /** A press has arrived, and can be done now. */
  | { type: 'taken'; id: number }
  /** What came of a press. */
  | { type: 'pressed'; id: number; problem: string | null }
  | AudienceFromPage;

/** `record`: nothing is sent. `rehearse`: everything is sent as planned, but privately, to a stand-in. */
/** `lookBack`: nothing is sent or recorded, the last minutes are kept at hand. */
export const PURPOSES = ['live', 'record', 'rehearse', 'lookBack'] as const;
export type Purpose = (typeof PURPOSES)[number];

/** The broadcast as the web server knows it. */
export type BroadcastState =
  /** `elsewhere`: the name of another show that is on air; null when none is. */
  | { state: 'off'; elsewhere: string | null }
  | {
      state: 'on';
      sessionId: string;
      ticket: string;
      uplinkUrl: string;
      startedAtMs: number;
      purpose: Purpose;
      /** What is encoded, and who gets it: decided by the server, so that all ends agree. */
      encodes: Encode[];
      /** What all of them have in common. */
      encoding: Encoding;
    }
  /** Nothing new goes out; delayed destinations still get what their viewers have not seen. */
  | { state: 'ending'; endsAtMs: number }
  /** The relay does not answer; sessions are opened anew as soon as it does. */
  | { state: 'relayGone'; message: string };

export const busFromPageSchema = Joi.alternatives<BusFromPage>(
  ...audienceFromPageSchemas,
  ...guestFromPageSchemas,
  Joi.object({
    type: Joi.string().valid('claim').required(),
    deskId: Joi.string().min(8).max(64).required(),
    takeOver: Joi.boolean().required(),
  }),
  Joi.object({
    type: Joi.string().valid('programme').required(),
    entry: programmeEntrySchema,
    state: programmeStateSchema,
  }),
  Joi.object({
    type: Joi.string().valid('levels').required(),
    levels: Joi.object()
      .pattern(/^[\w-]{1,64}$/, Joi.number().min(-200).max(40))
      .max(64)
      .required(),
  }),
  Joi.object({
    type: Joi.string().valid('scenePicture').required(),
    sceneId: Joi.string().max(64).required(),
    jpeg: Joi.string().base64().max(40_000).required(),
  }),
  Joi.object({
    type: Joi.string().valid('taken').required(),
    id: Joi.number().integer().min(1).required(),
  }),
  Joi.object({
    type: Joi.string().valid('pressed').required(),
    id: Joi.number().integer().min(1).required(),
    problem: Joi.string().max(500).allow(null).required(),
  }),
  Joi.object({
    type: Joi.string().valid('health').required(),
    // Strict: a figure that is told but not expected would cost the whole message.
    health: Joi.object<DeskHealth, true>({
      run: Joi.string().max(100).required(),
      onAirSceneId: Joi.string().max(64).allow(null).required(),
      fps: Joi.number().required(),
      pace: Joi.number().required(),
      scale: Joi.number().min(0.1).max(1).required(),
      due: Joi.number().required(),
      composed: Joi.number().required(),
      late: Joi.number().required(),
      skipped: Joi.number().required(),
      leftOut: Joi.number().required(),
      lineDropped: Joi.number().required(),
      composeMs: Joi.number().required(),
      programmeEpochMs: Joi.number().required(),
      clockSlips: Joi.number().required(),
      lufs: Joi.number().allow(null).required(),
      integratedLufs: Joi.number().allow(null).required(),
      loudnessBlocks: Joi.number().min(0).required(),
      truePeakDbtp: Joi.number().allow(null).required(),
      soundLoad: Joi.number().required(),
      soundMixing: Joi.number().required(),
      alertLagMs: Joi.number().allow(null).required(),
      alerts: Joi.object({
        shown: Joi.number().required(),
        merged: Joi.number().required(),
        limited: Joi.number().required(),
        waiting: Joi.number().required(),
      }).required(),
      kbps: Joi.number().required(),
      unackedMs: Joi.number().required(),
      encodes: Joi.array()
        .items(
          Joi.object({
            encode: Joi.string()
              .valid(...ENCODE_IDS)
              .required(),
            codec: Joi.string().max(40).required(),
            width: Joi.number().required(),
            height: Joi.number().required(),
            governor: Joi.object().pattern(Joi.string(), Joi.number()).required(),
          }),
        )
        .max(ENCODE_IDS.length)
        .required(),
    }).required(),
  }),
);
