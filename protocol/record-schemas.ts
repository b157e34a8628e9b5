/** Joi schemas of all records: the one place where a record from outside becomes a record of ours. */
import Joi from 'joi';
import type { Edit } from '../core/show/document';
import {
  ALERT_EVENTS,
  FONTS,
  FRAME_NAMES,
  SIMULATED_PICTURES,
  SIMULATED_SOUNDS,
  TRANSITIONS,
  type AnyRecord,
  type RecordKind,
} from '../core/show/records';

const id = Joi.string()
  .pattern(/^[\w-]{1,64}$/)
  .required();
const name = Joi.string().trim().min(1).max(120).required();
const colour = Joi.string()
  .pattern(/^#([0-9a-f]{6}|[0-9a-f]{8})$/i)
  .required()
  .messages({ 'string.pattern.base': 'a colour is written like #1c2229 or #1c2229cc' });
const pixels = Joi.number().min(-20_000).max(20_000).required();
const size = Joi.number().min(1).max(20_000).required();
const part = Joi.number().min(0).max(0.99).required();

const base = (kind: RecordKind) => ({
  kind: Joi.string().valid(kind).required(),
  id,
  showId: id,
  name,
  position: Joi.number().min(-1e6).max(1e6).required(),
});

const placement = Joi.object({
  cx: pixels,
  cy: pixels,
  width: size,
  height: size,
  rotationDeg: Joi.number().min(-360).max(360).required(),
  opacity: Joi.number().min(0).max(1).required(),
  cornerPx: Joi.number().min(0).max(10_000).required(),
  crop: Joi.object({ left: part, top: part, right: part, bottom: part }).required(),
  borderPx: Joi.number().min(0).max(200).required(),
  borderColour: colour,
  shadowPx: Joi.number().min(0).max(200).required(),
});

const textStyle = Joi.object({
  font: Joi.string()
    .valid(...FONTS)
    .required(),
  sizePx: Joi.number().min(6).max(1000).required(),
  weight: Joi.number().min(100).max(900).required(),
  colour,
  align: Joi.string().valid('left', 'center', 'right').required(),
  box: Joi.alternatives(Joi.string().valid('none'), colour).required(),
}).required();

const device = {
  deviceId: Joi.string().allow('').max(200).required(),
  deviceLabel: Joi.string().allow('').max(200).required(),
};

const source = Joi.alternatives(
  Joi.object({
    type: Joi.string().valid('camera').required(),
    ...device,
    width: Joi.number().integer().min(16).max(7680).required(),
    height: Joi.number().integer().min(16).max(4320).required(),
    fps: Joi.number().min(1).max(240).required(),
    mirrored: Joi.boolean().required(),
  }),
  Joi.object({ type: Joi.string().valid('screen').required() }),
  Joi.object({ type: Joi.string().valid('picture').required(), assetId: id }),
  Joi.object({ type: Joi.string().valid('video').required(), assetId: id, loop: Joi.boolean().required() }),
  Joi.object({
    type: Joi.string().valid('simulated').required(),
    picture: Joi.string()
      .valid(...SIMULATED_PICTURES)
      .required(),
  }),
);

const content = Joi.alternatives(
  Joi.object({
    type: Joi.string().valid('input').required(),
    inputId: id,
    fit: Joi.string().valid('fill', 'fit', 'stretch').required(),
  }),
  Joi.object({
    type: Joi.string().valid('text').required(),
    text: Joi.string().allow('').max(5000).required(),
    style: textStyle,
  }),
  Joi.object({ type: Joi.string().valid('fill').required(), colour }),
  Joi.object({
    type: Joi.string().valid('chatPanel').required(),
    style: textStyle,
    keepSeconds: Joi.number().min(1).max(3600).required(),
  }),
  Joi.object({ type: Joi.string().valid('alert').required(), style: textStyle }),
);

const frame = Joi.object({
  width: Joi.number().integer().min(16).max(7680).required(),
  height: Joi.number().integer().min(16).max(7680).required(),
  used: Joi.boolean().required(),
}).required();

/** Even, because 4:2:0 pictures halve both sides. */
const evenSize = Joi.number().integer().multiple(2).min(64).max(3840).required();

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
      url.pathname.length < 2
    )
      return helpers.error('destination.url');
    return value;
  })
  .messages({
    'destination.url': 'the address must look like rtmp://host/app or rtmps://host:port/app, without the key',
  })
  .required();

export const recordSchemas: Record<RecordKind, Joi.ObjectSchema> = {
  show: Joi.object({
    ...base('show'),
    frames: Joi.object(Object.fromEntries(FRAME_NAMES.map((f) => [f, frame]))).required(),
    fields: Joi.object()
      .pattern(/^[\w-]{1,40}$/, Joi.string().allow('').max(1000))
      .max(200)
      .required(),
  }),
  input: Joi.object({ ...base('input'), source: source.required() }),
  scene: Joi.object({
    ...base('scene'),
    folder: Joi.string().allow('').max(80).required(),
    transition: Joi.object({
      type: Joi.string()
        .valid(...TRANSITIONS)
        .required(),
      seconds: Joi.number().min(0).max(10).required(),
    }).required(),
    background: colour,
  }),
  layer: Joi.object({
    ...base('layer'),
    sceneId: id.allow(null),
    visible: Joi.boolean().required(),
    locked: Joi.boolean().required(),
    content: content.required(),
    placements: Joi.object(Object.fromEntries(FRAME_NAMES.map((f) => [f, placement]))).required(),
  }),
  channel: Joi.object({
    ...base('channel'),
    source: Joi.alternatives(
      Joi.object({
        type: Joi.string().valid('simulated').required(),
        sound: Joi.string()
          .valid(...SIMULATED_SOUNDS)
          .required(),
      }),
      Joi.object({ type: Joi.string().valid('microphone').required(), ...device }),
      Joi.object({ type: Joi.string().valid('input').required(), inputId: id }),
    ).required(),
    gainDb: Joi.number().min(-60).max(10).required(),
    muted: Joi.boolean().required(),
    heard: Joi.string().valid('always', 'with-picture').required(),
    pictureInputId: id.allow(null),
  }),
  destination: Joi.object({
    ...base('destination'),
    url: destinationUrl,
    enabled: Joi.boolean().required(),
    standIn: Joi.string().max(40).allow(null).required(),
  }),
  plan: Joi.object({
    ...base('plan'),
    width: evenSize,
    height: evenSize,
    fps: Joi.number().min(5).max(60).required(),
    videoKbps: Joi.number().min(100).max(50_000).required(),
    audioKbps: Joi.number().valid(64, 96, 128, 160, 192, 256, 320).required(),
    keyframeSeconds: Joi.number().min(0.5).max(10).required(),
  }),
  alertRule: Joi.object({
    ...base('alertRule'),
    event: Joi.string()
      .valid(...ALERT_EVENTS)
      .required(),
    text: Joi.string().min(1).max(300).required(),
    seconds: Joi.number().min(1).max(30).required(),
  }),
};

const anyRecord = Joi.object({
  kind: Joi.string()
    .valid(...Object.keys(recordSchemas))
    .required(),
})
  .unknown(true)
  .custom((value: { kind: RecordKind }, helpers) => {
    const { error, value: checked } = recordSchemas[value.kind].validate(value, { convert: false });
    if (error) return helpers.message({ custom: `${value.kind}: ${error.message}` });
    return checked as AnyRecord;
  });

export const editSchema = Joi.object<Edit & { baseRevision: number }>({
  id: Joi.string().min(1).max(200).required(),
  name: Joi.string().max(200).required(),
  put: Joi.array().items(anyRecord).max(2000).required(),
  removed: Joi.array().items(Joi.string().max(64)).max(2000).required(),
  baseRevision: Joi.number().integer().min(0).required(),
});
