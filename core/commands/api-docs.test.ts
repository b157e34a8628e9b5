import asyncApiSpecs from '@asyncapi/specs';
import { Validator } from '@seriousme/openapi-schema-validator';
import Ajv from 'ajv';
import Ajv2020 from 'ajv/dist/2020';
import { expect, test } from 'vitest';
import { asyncApi, listedCommands, openApi, programCommands } from './api-docs';
import { COMMAND_IDS } from './commands';

test('what single requests may be is a good OpenAPI document', async () => {
  const { valid, errors } = await new Validator().validate(openApi());
  expect({ valid, errors }).toEqual({ valid: true, errors: undefined });
});

test('what the connection says is a good AsyncAPI document', () => {
  const ajv = new Ajv({ strict: false, validateFormats: false, meta: false, validateSchema: false });
  const schema = (asyncApiSpecs as { schemas: Record<string, object> }).schemas['3.0.0'];
  const validate = ajv.compile(schema);
  expect([validate(asyncApi()), validate.errors]).toEqual([true, null]);
});

test('every command a program may press is in it, and its schema takes what it wants and nothing else', () => {
  const { components } = openApi() as { components: { schemas: { Press: object } } };
  const takes = new Ajv2020({ strict: false }).compile(components.schemas.Press);
  expect(listedCommands().map(({ command }) => command)).toEqual(COMMAND_IDS);
  expect(COMMAND_IDS.filter((id) => !programCommands().some(({ command }) => command === id))).toEqual([
    ...['skipNext', 'cough', 'keepAsStart', 'talk', 'undo', 'redo'],
  ]);
  expect(takes({ command: 'undo', params: {} })).toBe(false);
  expect(takes({ command: 'take', params: {} })).toBe(true);
  expect(takes({ command: 'level', params: { channelId: 'c', gainDb: -9, seconds: 2 } })).toBe(true);
  expect(takes({ command: 'level', params: { channelId: 'c' } })).toBe(false);
  expect(takes({ command: 'level', params: { channelId: 'c', gainDb: 900 } })).toBe(false);
  expect(takes({ command: 'dance', params: {} })).toBe(false);
});
