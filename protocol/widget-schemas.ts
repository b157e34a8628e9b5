/** Joi schemas of the audience's widgets on the picture. */
import Joi from 'joi';
import { CHAT_THEMES, CREDITS_OF, TITLE_LOOKS } from '../core/audience/widgets/widget-settings';
import { colour, id, oneOf, yes } from './field-schemas';

const of = (name: string) => Joi.string().valid(name).required();
const words = (max: number) => Joi.string().allow('').max(max).required();

export const chatPanelSchema = Joi.object({
  theme: oneOf(CHAT_THEMES),
  direction: oneOf(['up', 'down']),
  badges: yes,
  emotes: yes,
  platforms: yes,
}).required();

export const widgetSchema = Joi.alternatives(
  Joi.object({ of: of('viewers'), show: oneOf(['sum', 'each']) }),
  Joi.object({ of: of('supporters'), show: oneOf(['latest', 'largest', 'evening']) }),
  Joi.object({ of: of('recent'), lines: Joi.number().integer().min(1).max(20).required() }),
  Joi.object({
    of: of('streak'),
    decayPerMinute: Joi.number().min(0.01).max(600).required(),
    levels: Joi.array()
      .items(Joi.object({ from: Joi.number().min(0).max(1e6).required(), name: words(60), colour }))
      .max(12)
      .required(),
  }),
  Joi.object({ of: of('goal'), goalId: id.allow('') }),
  Joi.object({
    of: of('countdown'),
    to: oneOf(['length', 'clock']),
    seconds: Joi.number().min(1).max(86_400).required(),
    clock: Joi.string()
      .pattern(/^([01]\d|2[0-3]):[0-5]\d$/)
      .required()
      .messages({ 'string.pattern.base': 'a time of the day is written like 20:00' }),
    restart: yes,
    endText: words(80),
    thenNext: yes,
  }),
  Joi.object({ of: of('clock'), seconds: yes }),
  Joi.object({ of: of('stopwatch'), since: oneOf(['scene', 'broadcast']) }),
  Joi.object({ of: of('poll') }),
  Joi.object({ of: of('title'), look: oneOf(TITLE_LOOKS) }),
  Joi.object({
    of: of('credits'),
    run: oneOf(['once', 'loop']),
    fit: oneOf(['length', 'music']),
    seconds: Joi.number().min(1).max(3600).required(),
    sections: Joi.array()
      .items(
        Joi.object({
          title: words(80),
          of: oneOf(CREDITS_OF),
          lines: words(10_000),
          files: Joi.array()
            .items(Joi.object({ assetId: id, name: words(200) }))
            .max(120)
            .optional(),
        }),
      )
      .max(20)
      .required(),
  }),
  Joi.object({ of: of('readOut') }),
  Joi.object({ of: of('speaking') }),
).required();
