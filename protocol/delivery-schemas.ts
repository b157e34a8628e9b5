/** Joi schemas of destinations, delivery plans and what a show says about its delivery. */
import Joi from 'joi';
import {
  CONTENTS,
  ENCODERS,
  EFFORTS,
  VIDEO_ENCODERS,
  KEEPS,
  FRAME_NAMES,
  KEY_USES,
  LATENCIES,
  MAX_DELAY_SECONDS,
  RECORDED_PICTURES,
} from '../core/delivery/settings';
import { id, oneOf, yes } from './field-schemas';

/** Even, because 4:2:0 pictures halve both sides. */
const evenSize = Joi.number().integer().multiple(2).min(64).max(3840).required();
const kbps = Joi.number().min(100).max(50_000);

const framePlan = Joi.object({ width: evenSize, height: evenSize, videoKbps: kbps.required() });

export const destinationUrl = Joi.string()
  .max(500)
  .custom((value: string, helpers) => {
    let url: URL;
    try {
      url = new URL(value);
    } catch {
      return helpers.error('destination.url');
    }
    if (
      !['rtmp:', 'rtmps:'].includes(url.protocol) ||
      url.hostname === '' ||
      url.username !== '' ||
      // Whatever stands there is as good as a key, and an address is seen by everybody.
      url.search !== '' ||
      url.hash !== '' ||
      url.pathname.length < 2
    )
      return helpers.error('destination.url');
    return value;
  })
  .messages({
    'destination.url': 'the address must look like rtmp://host/app or rtmps://host:port/app, without the key',
  })
  .required();

const words = (max: number) => Joi.string().allow('').max(max).required();

export const detailsFields = {
  title: words(200),
  category: words(100),
  tags: Joi.array().items(Joi.string().trim().min(1).max(40)).max(20).required(),
  description: words(5000),
  latency: oneOf(LATENCIES),
  thumbnailId: Joi.string().max(100).allow(null).required(),
  visibility: words(40),
};

export const destinationFields = {
  url: destinationUrl,
  frame: oneOf(FRAME_NAMES),
  enabled: yes,
  connector: Joi.string().max(40).allow(null).required(),
  capKbps: kbps.allow(null).required(),
  ownKbps: kbps.allow(null).required(),
  encodedBy: oneOf(ENCODERS),
  delaySeconds: Joi.number().min(0).max(MAX_DELAY_SECONDS).required(),
  keyUse: oneOf(KEY_USES),
  padded: yes,
  servers: Joi.array()
    .items(Joi.object({ name: Joi.string().trim().min(1).max(80).required(), url: destinationUrl }))
    .max(50)
    .required(),
  details: Joi.object(detailsFields).required(),
};

export const planFields = {
  frames: Joi.object(Object.fromEntries(FRAME_NAMES.map((f) => [f, framePlan]))).required(),
  fps: Joi.number().min(5).max(60).required(),
  audioKbps: Joi.number().valid(64, 96, 128, 160, 192, 256, 320).required(),
  keyframeSeconds: Joi.number().min(0.5).max(10).required(),
  lineKbps: Joi.number().min(1).max(10_000_000).allow(null).required(),
  headroom: Joi.number().min(0).max(0.9).required(),
  content: oneOf(CONTENTS),
  effort: oneOf(EFFORTS),
  encoder: oneOf(VIDEO_ENCODERS),
  keep: oneOf(KEEPS),
  adaptive: yes,
};

export const deliveryFields = Joi.object({
  planId: id.optional().allow(null).required(),
  record: Joi.object({
    frames: Joi.array()
      .items(Joi.string().valid(...RECORDED_PICTURES))
      .unique()
      .required(),
    splitMinutes: Joi.number()
      .min(0)
      .max(24 * 60)
      .required(),
    // A file that is smaller than this would hold seconds only.
    splitMb: Joi.alternatives(Joi.number().valid(0), Joi.number().min(10).max(1_000_000)).required(),
    pattern: Joi.string()
      .max(120)
      .pattern(/^[^/\\:*?"<>|\0]+$/)
      .required()
      .messages({ 'string.pattern.base': 'a file name has no / \\ : * ? " < > | in it' }),
    rewrap: yes,
  }).required(),
  lookback: Joi.object({ on: yes, seconds: Joi.number().min(30).max(900).required() }).required(),
  announce: Joi.object({ on: yes, text: words(1000) }).required(),
  plannedMinutes: Joi.number()
    .min(1)
    .max(48 * 60)
    .required(),
}).required();
