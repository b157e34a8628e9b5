/** What the page of backups orders. */
import Joi from 'joi';

export type BackupOrder =
  | { intent: 'make' | 'drill' }
  | { intent: 'folder'; folder: string }
  | { intent: 'restore'; name: string; showId: string };

export const backupOrderSchema = Joi.alternatives<BackupOrder>(
  Joi.object({ intent: Joi.string().valid('make', 'drill').required() }),
  Joi.object({
    intent: Joi.string().valid('folder').required(),
    folder: Joi.string().trim().allow('').max(1000).required(),
  }),
  Joi.object({
    intent: Joi.string().valid('restore').required(),
    name: Joi.string()
      .pattern(/^[\d-]{10}T[\d-]{8}$/)
      .required(),
    // Empty for all shows.
    showId: Joi.string().allow('').max(64).required(),
  }),
);
