/** What Home orders. */
import Joi from 'joi';

export type HomeOrder =
  | { intent: 'first'; name: string; handle: string }
  | { intent: 'blank'; name: string }
  | { intent: 'copy' | 'rename'; showId: string; name: string }
  | { intent: 'archive' | 'unarchive' | 'delete' | 'restore'; showId: string }
  /** Milliseconds since 1970; null for not planned. */
  | { intent: 'plan'; showId: string; nextMs: number | null }
  | { intent: 'demonstration' };

/** The last moment a date can name. */
const MOST_MS = 8.64e15;
const name = Joi.string().trim().min(1).max(120).required();
const showId = Joi.string()
  .pattern(/^[\w-]{1,64}$/)
  .required();

export const homeOrderSchema = Joi.alternatives<HomeOrder>(
  Joi.object({
    intent: Joi.string().valid('first').required(),
    name,
    handle: Joi.string().trim().allow('').max(80).default(''),
  }),
  Joi.object({ intent: Joi.string().valid('blank').required(), name }),
  Joi.object({ intent: Joi.string().valid('copy', 'rename').required(), showId, name }),
  Joi.object({
    intent: Joi.string().valid('archive', 'unarchive', 'delete', 'restore').required(),
    showId,
  }),
  Joi.object({
    intent: Joi.string().valid('plan').required(),
    showId,
    nextMs: Joi.number().integer().min(0).max(MOST_MS).empty('').default(null),
  }),
  Joi.object({ intent: Joi.string().valid('demonstration').required() }),
);
