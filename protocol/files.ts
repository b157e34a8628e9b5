/** What the page of files orders. */
import Joi from 'joi';

export type FileOrder =
  | { intent: 'remove' | 'restore'; ids: string }
  | { intent: 'replace'; id: string; by: string }
  | { intent: 'rule'; days: number };

const id = Joi.string().pattern(/^[0-9a-f]{40}$/);

export const fileOrderSchema = Joi.alternatives<FileOrder>(
  Joi.object({
    intent: Joi.string().valid('remove', 'restore').required(),
    // Ids in a row, separated by commas.
    ids: Joi.string()
      .pattern(/^[0-9a-f]{40}(,[0-9a-f]{40})*$/)
      .max(41 * 5000)
      .required(),
  }),
  Joi.object({ intent: Joi.string().valid('replace').required(), id: id.required(), by: id.required() }),
  Joi.object({
    intent: Joi.string().valid('rule').required(),
    days: Joi.number().integer().valid(0, 30, 90, 365).required(),
  }),
);
