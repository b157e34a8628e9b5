/** Joi schemas of the running order, of what can be called, and of what is done to the programme. */
import Joi from 'joi';
import {
  COMMANDS,
  COMMAND_IDS,
  PRESS_TRANSITIONS,
  commandShape,
  type ParamType,
  type Press,
} from '../core/commands/commands';
import { CONTROL_MODES } from '../core/controllers/midi';
import { COMMAND_SOURCES, type ProgrammeCommand, type ProgrammeEntry } from '../core/programme/commands';
import type { ProgrammeState } from '../core/programme/programme-state';
import { SCENE_MARKS } from '../core/show/records';
import { REQUEST_METHODS } from '../core/show/rundown-records';
import { FADER_MAX_DB, FADER_MIN_DB } from '../core/sound/decibel';
import { id, oneOf, yes } from './field-schemas';
import { transitionSchema } from './stage-schemas';

const gainDb = Joi.number().min(FADER_MIN_DB).max(FADER_MAX_DB);
/** Fades and stays: an hour is long for either. */
const seconds = Joi.number().min(0).max(3600);
const clockTime = Joi.string()
  .pattern(/^([01]\d|2[0-3]):[0-5]\d$/)
  .messages({ 'string.pattern.base': 'a time is written like 20:30' });

const PARAMS: Record<ParamType, Joi.Schema> = {
  sceneId: id,
  poseId: id,
  channelId: id,
  musicId: id,
  effectId: id,
  segmentId: id,
  titleId: id,
  cueId: id,
  pollId: id,
  clipsId: id,
  requestId: id,
  seatId: id,
  gainDb: gainDb.required(),
  seconds: seconds.required(),
  // Clips of a day at most.
  toSeconds: Joi.number().min(-86_400).max(86_400).required(),
  on: yes,
  share: Joi.number().min(0).max(1).required(),
  transition: oneOf(PRESS_TRANSITIONS),
  words: Joi.string().allow('').max(200).required(),
};

/** A press, with just the parameters its command has. */
export const pressSchema = Joi.alternatives<Press>(
  ...COMMAND_IDS.map((command) => {
    const { required, optional } = commandShape(command);
    return Joi.object({
      command: Joi.string().valid(command).required(),
      params: Joi.object({
        ...Object.fromEntries(required.map((name) => [name, PARAMS[name]])),
        ...Object.fromEntries(optional.map((name) => [name, PARAMS[name].optional()])),
      }).required(),
    });
  }),
);

/**
 * Why somebody's press cannot be taken, in words; null when it can.
 * @returns the press as it is meant
 */
export function readPress(value: unknown): { press: Press } | { problem: string } {
  const command = (value as Partial<Press> | null)?.command;
  if (typeof command !== 'string' || !Object.hasOwn(COMMANDS, command))
    return { problem: 'there is no such command: the list of commands has their names' };
  const { error, value: press } = pressSchema.validate(value, { convert: false });
  if (!error) return { press };
  const { required, optional } = commandShape(command);
  const all = [...required, ...optional.map((name) => `${name} (may be left out)`)];
  return { problem: `“${command}” wants ${all.length === 0 ? 'no parameters' : all.join(', ')}` };
}

export const rundownFields = { startsAt: clockTime.allow('').required() };

export const segmentFields = {
  rundownId: id,
  sceneId: id.allow(null),
  poseId: id.allow(null),
  transition: transitionSchema.allow(null),
  plannedSeconds: Joi.number()
    .min(0)
    .max(30 * 3600)
    .required(),
  fixed: yes,
  end: Joi.alternatives(
    Joi.object({
      type: Joi.string().valid('hand', 'clip', 'music', 'countdown', 'poll', 'length').required(),
    }),
    Joi.object({ type: Joi.string().valid('clock').required(), at: clockTime.required() }),
  ).required(),
  sound: Joi.array()
    .items(
      Joi.object({
        channelId: id,
        gainDb: gainDb.allow(null).required(),
        muted: Joi.boolean().allow(null).required(),
        seconds: seconds.required(),
      }),
    )
    .max(32)
    .required(),
  titleId: id.allow(null),
  presses: Joi.array().items(pressSchema).max(20).required(),
  notes: Joi.string().allow('').max(5000).required(),
  mark: oneOf(SCENE_MARKS),
  skipped: yes,
  group: Joi.string().allow('').max(80).required(),
  repeats: yes,
};

export const titleFields = {
  line2: Joi.string().allow('').max(200).required(),
  seconds: Joi.number().min(1).max(3600).required(),
};

export const cueFields = {
  steps: Joi.array()
    .items(
      Joi.object({ type: Joi.string().valid('press').required(), press: pressSchema.required() }),
      Joi.object({ type: Joi.string().valid('wait').required(), seconds: seconds.required() }),
      Joi.object({ type: Joi.string().valid('cue').required(), cueId: id }),
    )
    .max(100)
    .required(),
};

export const shortcutFields = {
  keys: Joi.string()
    .pattern(/^(Control\+)?(Alt\+)?(Shift\+)?(Meta\+)?[A-Z][A-Za-z0-9]{1,20}$/)
    .required()
    .messages({ 'string.pattern.base': 'a key is written like Shift+KeyQ or Numpad1' }),
  press: pressSchema.required(),
};

export const padPageFields = {
  tiles: Joi.array()
    .items(Joi.object({ press: pressSchema.required(), label: Joi.string().allow('').max(60).required() }))
    .max(60)
    .required(),
  channelIds: Joi.array().items(id).max(16).required(),
};

export const pollFields = {
  answers: Joi.array()
    .items(
      Joi.object({
        label: Joi.string().trim().min(1).max(80).required(),
        words: Joi.string().allow('').max(200).required(),
      }),
    )
    .min(2)
    .max(8)
    .required(),
  seconds: seconds.required(),
};

export const requestFields = {
  method: oneOf(REQUEST_METHODS),
  url: Joi.string().allow('').max(2000).required(),
  body: Joi.string().allow('').max(10_000).required(),
  signed: yes,
};

const seven = Joi.number().integer().min(0).max(127).required();

export const controlFields = {
  device: Joi.string().allow('').max(200).required(),
  of: oneOf(['note', 'cc']),
  channel: Joi.number().integer().min(0).max(15).required(),
  number: seven,
  mode: oneOf(CONTROL_MODES),
  press: pressSchema.required(),
};

const words = Joi.object({
  line1: Joi.string().allow('').max(400).required(),
  line2: Joi.string().allow('').max(400).required(),
});
const stop = Joi.object({ sceneId: id, poseId: id.allow(null) }).allow(null);
const type = (name: ProgrammeCommand['type']) => Joi.string().valid(name).required();

const programmeCommand = Joi.alternatives<ProgrammeCommand>(
  Joi.object({ type: type('take'), sceneId: id, poseId: id.allow(null), transition: transitionSchema }),
  Joi.object({
    type: type('draw'),
    sceneId: id,
    poseId: id.allow(null),
    transition: transitionSchema,
    share: Joi.number().min(0).max(1).required(),
  }),
  Joi.object({ type: type('glide'), sceneId: id, poseId: id, seconds: seconds.required() }),
  Joi.object({ type: type('prepare'), stop: stop.required() }),
  Joi.object({ type: type('level'), channelId: id, gainDb: gainDb.required(), seconds: seconds.required() }),
  Joi.object({ type: type('mute'), channelId: id, muted: yes }),
  Joi.object({ type: type('onlyVoices'), on: yes }),
  Joi.object({ type: type('cover'), on: yes }),
  Joi.object({ type: type('seat'), inputId: id, on: yes }),
  Joi.object({ type: type('hold'), on: yes }),
  Joi.object({ type: type('asInShow'), channelIds: Joi.array().items(id).max(64).required() }),
  Joi.object({
    type: type('title'),
    titleId: id.allow(null),
    words: words.allow(null).required(),
    seconds: seconds.allow(null).required(),
  }),
  Joi.object({ type: type('poll'), pollId: id.allow(null), seconds: seconds.required() }),
  Joi.object({ type: type('segment'), rundownId: id.allow(null), segmentId: id.allow(null) }),
);

const ms = Joi.number().integer().min(0).max(1e14);

export const programmeEntrySchema = Joi.object<ProgrammeEntry>({
  seq: Joi.number().integer().min(1).required(),
  atMs: ms.required(),
  revision: Joi.number().integer().min(0).required(),
  by: oneOf(COMMAND_SOURCES),
  commands: Joi.array().items(programmeCommand).min(1).max(100).required(),
}).required();

const byId = (of: Joi.Schema) =>
  Joi.object()
    .pattern(/^[\w-]{1,64}$/, of)
    .max(200)
    .required();

export const programmeStateSchema = Joi.object<ProgrammeState>({
  seq: Joi.number().integer().min(0).required(),
  onAir: Joi.object({ sceneId: id, poseId: id.allow(null), sinceMs: ms.required() })
    .allow(null)
    .required(),
  prepared: stop.required(),
  levels: byId(
    Joi.object({
      fromDb: Joi.number().allow(null).required(),
      toDb: Joi.number().required(),
      startMs: ms.required(),
      seconds: seconds.required(),
    }),
  ),
  mutes: byId(Joi.boolean()),
  onlyVoices: yes,
  covered: yes,
  seatsOn: Joi.array().items(id.optional()).max(64).required(),
  held: yes,
  title: Joi.object({
    titleId: id.allow(null),
    words: words.required(),
    sinceMs: ms.required(),
    untilMs: ms.allow(null).required(),
  })
    .allow(null)
    .required(),
  poll: Joi.object({
    pollId: id,
    sinceMs: ms.required(),
    untilMs: ms.allow(null).required(),
    endedMs: ms.allow(null).required(),
  })
    .allow(null)
    .required(),
  rundown: Joi.object({
    rundownId: id,
    segmentId: id,
    sinceMs: ms.required(),
    startedMs: ms.required(),
    freely: yes,
  })
    .allow(null)
    .required(),
}).required();
