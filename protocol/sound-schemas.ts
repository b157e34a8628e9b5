/** Joi schemas of channels, voice chains and effects. */
import Joi from 'joi';
import { CHANNEL_KINDS } from '../core/show/channel-kinds';
import { CHANNEL_COLOURS, EFFECT_REPEATS, HEARD, SIMULATED_EFFECTS } from '../core/show/records';
import {
  BAND_RANGES,
  BAND_SHAPES,
  MAX_BANDS,
  MAX_PROCESSORS,
  PARAMETERS,
  PROCESSOR_TYPES,
  type ParameterRange,
  type ProcessorType,
} from '../core/sound/chain/chain-settings';
import { FADER_MAX_DB, FADER_MIN_DB } from '../core/sound/decibel';
import { DUCKING_RANGES } from '../core/sound/ducker';
import { OFFSET_MAX_MS, OFFSET_MIN_MS, TRACK_COUNT } from '../core/sound/format';
import { CHANNEL_ROLES, MONITOR_MODES } from '../core/sound/strip';
import { id } from './field-schemas';
import { kindSchema } from './shape-schemas';

const oneOf = (values: readonly string[]) =>
  Joi.string()
    .valid(...values)
    .required();
const within = ({ min, max }: Pick<ParameterRange, 'min' | 'max'>) =>
  Joi.number().min(min).max(max).required();
const ranges = (table: Record<string, ParameterRange>) =>
  Object.fromEntries(Object.entries(table).map(([name, range]) => [name, within(range)]));

const band = Joi.object({
  on: Joi.boolean().required(),
  shape: oneOf(BAND_SHAPES),
  ...ranges(BAND_RANGES),
});

const OWN: Partial<Record<ProcessorType, Record<string, Joi.Schema>>> = {
  equaliser: { bands: Joi.array().items(band).max(MAX_BANDS).required() },
  compressor: { autoMakeUp: Joi.boolean().required() },
};

const processor = Joi.alternatives(
  ...PROCESSOR_TYPES.map((type) =>
    Joi.object({
      id,
      type: Joi.string().valid(type).required(),
      on: Joi.boolean().required(),
      values: Joi.object(ranges(PARAMETERS[type])).required(),
      ...OWN[type],
    }),
  ),
);

export const chainSchema = Joi.object({
  bypassed: Joi.boolean().required(),
  processors: Joi.array().items(processor).max(MAX_PROCESSORS).unique('id').required(),
}).required();

export const channelFields = {
  source: kindSchema('type', CHANNEL_KINDS),
  colour: oneOf(CHANNEL_COLOURS),
  trimDb: Joi.number().min(-40).max(40).required(),
  gainDb: Joi.number().min(FADER_MIN_DB).max(FADER_MAX_DB).required(),
  muted: Joi.boolean().required(),
  pan: Joi.number().min(-1).max(1).required(),
  mono: Joi.boolean().required(),
  inverted: Joi.boolean().required(),
  offsetMs: Joi.number().min(OFFSET_MIN_MS).max(OFFSET_MAX_MS).required(),
  monitor: oneOf(MONITOR_MODES),
  tracks: Joi.array()
    .items(Joi.number().integer().min(1).max(TRACK_COUNT))
    .unique()
    .max(TRACK_COUNT)
    .required(),
  role: oneOf(CHANNEL_ROLES),
  heard: oneOf(HEARD),
  pictureInputId: id.allow(null),
  sceneIds: Joi.array().items(id.optional()).max(500).required(),
  fadeSeconds: Joi.number().min(0).max(10).required(),
  chain: chainSchema,
  ducking: Joi.object({ byChannelId: id, ...ranges(DUCKING_RANGES) })
    .allow(null)
    .required(),
};

export const effectFields = {
  source: Joi.alternatives(
    Joi.object({ type: Joi.string().valid('file').required(), assetId: id }),
    Joi.object({ type: Joi.string().valid('simulated').required(), effect: oneOf(SIMULATED_EFFECTS) }),
  ).required(),
  gainDb: Joi.number().min(FADER_MIN_DB).max(FADER_MAX_DB).required(),
  repeat: oneOf(EFFECT_REPEATS),
  fadeSeconds: Joi.number().min(0).max(10).required(),
  colour: oneOf(CHANNEL_COLOURS),
  key: Joi.string().allow('').max(1).required(),
};

export const soundFields = Joi.object({
  targetLufs: Joi.number().min(-40).max(-8).required(),
  ceilingDbtp: Joi.number().min(-12).max(0).required(),
  trackNames: Joi.array().items(Joi.string().trim().min(1).max(40)).length(TRACK_COUNT).required(),
}).required();
