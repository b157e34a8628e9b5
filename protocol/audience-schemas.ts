/** Joi schemas of what a show says about its audience: rules, goals, what is let through. */
import Joi from 'joi';
import { EVENT_TYPES, SUBSCRIPTION_WAYS } from '../core/audience/events';
import { isCurrency, MAX_MINOR } from '../core/audience/money';
import { NAME_STYLES } from '../core/audience/words';
import { ALERT_LAYOUTS, ALERT_MOTIONS, ALERT_PRIORITIES, GOAL_KINDS } from '../core/show/audience-records';
import { SIMULATED_EFFECTS } from '../core/show/records';
import { id, oneOf, yes } from './field-schemas';
import { textStyle } from './stage-schemas';

const currency = Joi.string()
  .custom((value: string, helpers) => (isCurrency(value) ? value : helpers.error('money.currency')))
  .messages({ 'money.currency': 'a currency is written as its three letters, like EUR' });
const names = (max: number) => Joi.array().items(Joi.string().trim().min(1).max(max)).max(1000).required();
const millis = Joi.number().integer().min(0).max(8.64e15);
const amount = Joi.number().integer().min(0).max(MAX_MINOR).required();
const fileName = Joi.string().min(1).max(200).required();

export const audienceFields = Joi.object({
  currency: currency.required(),
  rates: Joi.object().pattern(currency, Joi.number().positive().max(1e6)).max(60).required(),
  names: oneOf(NAME_STYLES),
  maskLists: yes,
  hideCommands: yes,
  hiddenViewers: names(80),
  blockedWords: names(80),
  maskLinks: yes,
  holdSeconds: Joi.number().min(0).max(60).required(),
  quietSceneIds: Joi.array().items(id.optional()).max(500).required(),
}).required();

export const alertRuleFields = {
  on: yes,
  event: oneOf(EVENT_TYPES),
  from: amount,
  way: oneOf([...SUBSCRIPTION_WAYS, 'any']),
  title: Joi.string().allow('').max(80).required(),
  text: Joi.string().min(1).max(300).required(),
  seconds: Joi.number().min(1).max(30).required(),
  picture: Joi.object({ assetId: id, name: fileName, as: oneOf(['picture', 'lottie', 'clip']) })
    .allow(null)
    .required(),
  layout: oneOf(ALERT_LAYOUTS),
  sound: Joi.alternatives(
    Joi.object({ type: Joi.string().valid('file').required(), assetId: id, name: fileName }),
    Joi.object({ type: Joi.string().valid('simulated').required(), effect: oneOf(SIMULATED_EFFECTS) }),
  )
    .allow(null)
    .required(),
  soundGainDb: Joi.number().min(-60).max(10).required(),
  spoken: yes,
  motionIn: oneOf(ALERT_MOTIONS),
  motionOut: oneOf(ALERT_MOTIONS),
  motionSeconds: Joi.number().min(0).max(3).required(),
  style: textStyle.allow(null),
  priority: oneOf(ALERT_PRIORITIES),
  mergeSeconds: Joi.number().min(0).max(600).required(),
  coolDownSeconds: Joi.number().min(0).max(3600).required(),
  perViewerSeconds: Joi.number().min(0).max(86_400).required(),
};

export const goalFields = {
  key: Joi.string()
    .pattern(/^[a-z0-9-]{1,30}$/)
    .required()
    .messages({ 'string.pattern.base': 'the key of a goal is small letters, figures and dashes' }),
  of: oneOf(GOAL_KINDS),
  target: amount,
  start: amount,
  sinceMs: millis.required(),
  deadlineMs: millis.allow(null).required(),
};
