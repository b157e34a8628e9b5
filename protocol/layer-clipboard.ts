/** Layers from the clipboard, checked: anything can be on it. */
import Joi from 'joi';
import { Fault } from '../core/fault';
import { CLIPBOARD_FORMAT, type LayerClipboard } from '../core/show/clipboard';
import { recordSchemas } from './record-schemas';

/** More than a scene anyone makes, less than what would stop the page. */
const MAX_TEXT = 4 * 1024 * 1024;

const schema = Joi.object<LayerClipboard>({
  format: Joi.string().valid(CLIPBOARD_FORMAT).required(),
  layers: Joi.array().items(recordSchemas.layer).max(500).required(),
  inputs: Joi.array().items(recordSchemas.input).max(500).required(),
  channels: Joi.array().items(recordSchemas.channel).max(500).required(),
});

/**
 * @returns the layers, or null when the text is something else altogether
 * @throws Fault `paste.damaged` when it says that it holds layers and they are not right
 */
export function readClipboard(text: string): LayerClipboard | null {
  if (!text.includes(CLIPBOARD_FORMAT)) return null;
  if (text.length > MAX_TEXT)
    throw new Fault('paste.damaged', 'too much on the clipboard: copy fewer layers');
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Fault('paste.damaged', 'the layers on the clipboard are cut off: copy them again');
  }
  const { error, value: checked } = schema.validate(value, { convert: false });
  if (error)
    throw new Fault(
      'paste.damaged',
      `the layers on the clipboard cannot be read (${error.message}): copy them again`,
    );
  return checked;
}
