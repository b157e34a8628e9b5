/** Joi schemas of the audience's widgets on the picture. */
import Joi from 'joi';
import { CHAT_THEMES } from '../core/audience/widgets/chat-settings';
import { WIDGETS } from '../core/audience/widgets/widgets';
import { oneOf, yes } from './field-schemas';
import { kindSchema } from './shape-schemas';

export const chatPanelSchema = Joi.object({
  theme: oneOf(CHAT_THEMES),
  direction: oneOf(['up', 'down']),
  badges: yes,
  emotes: yes,
  platforms: yes,
}).required();

export const widgetSchema = kindSchema('of', WIDGETS);
