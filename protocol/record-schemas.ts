/** Joi schemas of all records: the one place where a record from outside becomes a record of ours. */
import Joi from 'joi';
import { Fault } from '../core/fault';
import type { Edit } from '../core/show/document';
import { FRAME_NAMES, type AnyRecord, type RecordKind } from '../core/show/records';
import { alertRuleFields, audienceFields, goalFields } from './audience-schemas';
import { deliveryFields, destinationFields, planFields } from './delivery-schemas';
import {
  controlFields,
  cueFields,
  padPageFields,
  pollFields,
  requestFields,
  rundownFields,
  segmentFields,
  shortcutFields,
  titleFields,
} from './programme-schemas';
import { channelFields, chainSchema, effectFields, soundFields } from './sound-schemas';
import { id } from './field-schemas';
import {
  gradeFields,
  inputFields,
  layerFields,
  poseFields,
  sceneFields,
  transitionSchema,
} from './stage-schemas';

const name = Joi.string().trim().min(1).max(120).required();

const base = (kind: RecordKind) => ({
  kind: Joi.string().valid(kind).required(),
  id,
  showId: id,
  name,
  position: Joi.number().min(-1e6).max(1e6).required(),
});

const frame = Joi.object({
  width: Joi.number().integer().min(16).max(7680).required(),
  height: Joi.number().integer().min(16).max(7680).required(),
  used: Joi.boolean().required(),
}).required();

export const recordSchemas: Record<RecordKind, Joi.ObjectSchema> = {
  show: Joi.object({
    ...base('show'),
    frames: Joi.object(Object.fromEntries(FRAME_NAMES.map((f) => [f, frame]))).required(),
    sound: soundFields,
    audience: audienceFields,
    delivery: deliveryFields,
    transition: transitionSchema,
    kits: Joi.array()
      .items(
        Joi.object({
          id,
          name: Joi.string().max(120).required(),
          records: Joi.object()
            .pattern(/^[\w-]{1,64}$/, Joi.string().max(40))
            .max(2000)
            .required(),
        }),
      )
      .max(50)
      .required(),
    fields: Joi.object()
      .pattern(/^[\w-]{1,40}$/, Joi.string().allow('').max(1000))
      .max(200)
      .required(),
  }),
  input: Joi.object({ ...base('input'), ...inputFields }),
  scene: Joi.object({ ...base('scene'), ...sceneFields }),
  layer: Joi.object({ ...base('layer'), ...layerFields }),
  pose: Joi.object({ ...base('pose'), ...poseFields }),
  grade: Joi.object({ ...base('grade'), ...gradeFields }),
  channel: Joi.object({ ...base('channel'), ...channelFields }),
  destination: Joi.object({ ...base('destination'), ...destinationFields }),
  plan: Joi.object({ ...base('plan'), ...planFields }),
  alertRule: Joi.object({ ...base('alertRule'), ...alertRuleFields }),
  goal: Joi.object({ ...base('goal'), ...goalFields }),
  effect: Joi.object({ ...base('effect'), ...effectFields }),
  chainPreset: Joi.object({ ...base('chainPreset'), chain: chainSchema }),
  rundown: Joi.object({ ...base('rundown'), ...rundownFields }),
  segment: Joi.object({ ...base('segment'), ...segmentFields }),
  title: Joi.object({ ...base('title'), ...titleFields }),
  cue: Joi.object({ ...base('cue'), ...cueFields }),
  shortcut: Joi.object({ ...base('shortcut'), ...shortcutFields }),
  padPage: Joi.object({ ...base('padPage'), ...padPageFields }),
  control: Joi.object({ ...base('control'), ...controlFields }),
  poll: Joi.object({ ...base('poll'), ...pollFields }),
  request: Joi.object({ ...base('request'), ...requestFields }),
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

export const editSchema = Joi.object<Edit & { seen: AnyRecord[] }>({
  id: Joi.string().min(1).max(200).required(),
  name: Joi.string().max(200).required(),
  put: Joi.array().items(anyRecord).max(2000).required(),
  removed: Joi.array().items(Joi.string().max(64)).max(2000).required(),
  // The records it changes as they were when it was made: what it did not touch stays as it is by now.
  seen: Joi.array().items(anyRecord).max(2000).required(),
});

/** @throws Fault `edit.invalid` when one of the records is not as such records are */
export function checkRecords(records: readonly AnyRecord[]): void {
  for (const record of records) {
    const { error } = anyRecord.validate(record, { convert: false });
    if (error) throw new Fault('edit.invalid', error.message);
  }
}
