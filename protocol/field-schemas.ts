/** Joi schemas of single values that many records have. */
import Joi from 'joi';

export const id = Joi.string()
  .pattern(/^[\w-]{1,64}$/)
  .required();
export const colour = Joi.string()
  .pattern(/^#([0-9a-f]{6}|[0-9a-f]{8})$/i)
  .required()
  .messages({ 'string.pattern.base': 'a colour is written like #1c2229 or #1c2229cc' });
export const oneOf = (values: readonly unknown[]) => Joi.valid(...values).required();
export const yes = Joi.boolean().required();
