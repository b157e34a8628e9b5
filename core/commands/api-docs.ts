/**
 * What other programs may ask, written from the list of commands: OpenAPI 3.1 for single requests, AsyncAPI 3.0 for the
 * connection that is told how things stand. The door gives both out.
 */
import { FADER_MAX_DB, FADER_MIN_DB } from '../sound/decibel';
import { EVENT_TYPES } from '../audience/events';
import { COMMAND_WORDS } from './command-words';
import { COMMAND_IDS, commandShape, PRESS_TRANSITIONS, type CommandId, type ParamType } from './commands';

/** Of the interface: the first figure changes when something that worked does not any more. */
const VERSION = '1.0.0';

type Schema = Record<string, unknown>;

const PARAM_SCHEMAS: Record<ParamType, Schema> = {
  sceneId: { type: 'string', description: 'Of a scene of the show.' },
  poseId: { type: 'string', description: 'Of a pose of any scene; its scene is taken with it.' },
  channelId: { type: 'string', description: 'Of a channel.' },
  musicId: { type: 'string', description: 'Of a channel that plays music.' },
  effectId: { type: 'string', description: 'Of an effect.' },
  segmentId: { type: 'string', description: 'Of a segment of any rundown.' },
  titleId: { type: 'string', description: 'Of a title of the bank.' },
  cueId: { type: 'string', description: 'Of a cue.' },
  pollId: { type: 'string', description: 'Of a poll.' },
  requestId: { type: 'string', description: 'Of a request to another program.' },
  seatId: { type: 'string', description: 'Of an input that is a guest’s seat.' },
  clipsId: { type: 'string', description: 'Of an input that plays clips.' },
  gainDb: {
    type: 'number',
    minimum: FADER_MIN_DB,
    maximum: FADER_MAX_DB,
    description: `A fader’s level in dB, ${FADER_MIN_DB} is silence; for “nudge” by how much.`,
  },
  seconds: {
    type: 'number',
    minimum: 0,
    maximum: 3600,
    description: 'How long a fade takes, or a title stays.',
  },
  toSeconds: {
    type: 'number',
    minimum: -86_400,
    maximum: 86_400,
    description: 'From the beginning of the clips; negative: before their end.',
  },
  share: { type: 'number', minimum: 0, maximum: 1, description: 'How much of the transition is done.' },
  on: { type: 'boolean', description: 'Left out: the other way round than now.' },
  transition: { type: 'string', enum: [...PRESS_TRANSITIONS], description: 'Left out: as the scene says.' },
  words: { type: 'string', maxLength: 200, description: 'Of a marker.' },
};

export interface ListedCommand {
  command: CommandId;
  name: string;
  group: string;
  required: readonly ParamType[];
  optional: readonly ParamType[];
}

/** Every command, with its name and what it wants. */
export function listedCommands(): ListedCommand[] {
  return COMMAND_IDS.map((command) => {
    const { group, required, optional } = commandShape(command);
    return { command, name: COMMAND_WORDS[command][0], group, required, optional };
  });
}

/** Those that another program may press: what is the owner's, or must be let go again, is not. */
export const programCommands = (): ListedCommand[] =>
  listedCommands().filter(({ command }) => {
    const { owners, holds } = commandShape(command);
    return !owners && !holds;
  });

function pressSchemas(): Schema[] {
  return programCommands().map(({ command, name, required, optional }) => ({
    type: 'object',
    title: name,
    required: ['command', 'params'],
    additionalProperties: false,
    properties: {
      command: { const: command },
      params: {
        type: 'object',
        additionalProperties: false,
        ...(required.length > 0 && { required: [...required] }),
        properties: Object.fromEntries(
          [...required, ...optional].map((param) => [param, PARAM_SCHEMAS[param]]),
        ),
      },
    },
  }));
}

const nullable = (schema: Schema): Schema => ({ anyOf: [schema, { type: 'null' }] });

function stateSchema(): Schema {
  const tile = {
    type: 'object',
    properties: {
      press: { $ref: '#/components/schemas/Press' },
      label: { type: 'string' },
      words: { type: 'string' },
      tone: { enum: ['plain', 'on', 'next', 'alarm'] },
      holds: { type: 'boolean', description: 'Does one thing while it is held.' },
      careful: { type: 'boolean', description: 'A person must hold it for a moment.' },
      sceneId: nullable({ type: 'string', description: 'The scene it leads to.' }),
    },
  };
  return {
    type: 'object',
    description: 'How the show stands.',
    properties: {
      nowMs: { type: 'number', description: 'The studio’s clock, milliseconds since 1970.' },
      show: { type: 'string' },
      onAir: { enum: ['off', 'live', 'rehearsal', 'recording', 'ending'] },
      startedAtMs: nullable({ type: 'number' }),
      desk: { type: 'boolean', description: 'A studio page is open: without one nothing can be pressed.' },
      overSeconds: nullable({ type: 'number', description: 'Later (positive) or earlier than planned.' }),
      next: nullable({ type: 'object', properties: { name: { type: 'string' }, words: { type: 'string' } } }),
      on: nullable({ type: 'object', properties: { name: { type: 'string' }, notes: { type: 'string' } } }),
      viewers: nullable({ type: 'number' }),
      voiceBandDb: {
        type: 'array',
        items: { type: 'number' },
        description: 'Where a voice’s level belongs, dBFS: from, to.',
      },
      trouble: nullable({ type: 'string' }),
      pages: {
        type: 'array',
        items: {
          type: 'object',
          properties: {
            name: { type: 'string' },
            tiles: { type: 'array', items: tile },
            faders: {
              type: 'array',
              items: {
                type: 'object',
                properties: {
                  channelId: { type: 'string' },
                  name: { type: 'string' },
                  gainDb: { type: 'number' },
                  muted: { type: 'boolean' },
                },
              },
            },
          },
        },
      },
    },
  };
}

const fault = (description: string): Schema => ({
  description,
  content: {
    'application/json': {
      schema: {
        type: 'object',
        required: ['code', 'message'],
        properties: { code: { type: 'string' }, message: { type: 'string', description: 'For people.' } },
      },
    },
  },
});
const json = (description: string, schema: Schema): Schema => ({
  description,
  content: { 'application/json': { schema } },
});
const REFUSED = {
  401: fault('No link, or not a good one.'),
  403: fault('The link does not let you operate the show.'),
  429: fault('Too many requests at once.'),
  503: fault('The studio is not there at the moment.'),
};

/** @returns an OpenAPI 3.1 document */
export function openApi(): Schema {
  return {
    openapi: '3.1.0',
    info: {
      title: 'Dolomite: run a show from another program',
      version: VERSION,
      description:
        'Make a link that may run the show (This computer, Let somebody in), and send what stands after its # as a bearer token.',
    },
    servers: [{ url: '/' }],
    security: [{ link: [] }],
    paths: {
      '/press': {
        post: {
          operationId: 'press',
          summary: 'Does what a key or a button of the studio does',
          requestBody: {
            required: true,
            content: { 'application/json': { schema: { $ref: '#/components/schemas/Press' } } },
          },
          responses: {
            200: json('It was done.', { type: 'object', properties: { done: { const: true } } }),
            400: fault('No such command, or not what it wants.'),
            409: fault('It could not be done now; why stands in the message. Nothing is done later.'),
            ...REFUSED,
          },
        },
      },
      '/state': {
        get: {
          operationId: 'state',
          summary: 'How the show stands',
          responses: {
            200: json('How it stands.', { $ref: '#/components/schemas/State' }),
            ...REFUSED,
          },
        },
      },
      '/commands': {
        get: {
          operationId: 'commands',
          summary: 'All commands, and what each wants',
          responses: {
            200: json('The list.', {
              type: 'object',
              properties: { commands: { type: 'array', items: { type: 'object' } } },
            }),
            ...REFUSED,
          },
        },
      },
    },
    components: {
      securitySchemes: { link: { type: 'http', scheme: 'bearer' } },
      schemas: { Press: { oneOf: pressSchemas() }, State: stateSchema() },
    },
  };
}

/** @returns an AsyncAPI 3.0 document */
export function asyncApi(): Schema {
  const message = (name: string, payload: Schema): Schema => ({
    name,
    contentType: 'application/json',
    payload,
  });
  return {
    asyncapi: '3.0.0',
    info: { title: 'Dolomite: a pad, or a program in its place', version: VERSION },
    defaultContentType: 'application/json',
    servers: {
      door: {
        host: 'the-door.example:8443',
        protocol: 'wss',
        security: [{ $ref: '#/components/securitySchemes/link' }],
      },
    },
    channels: {
      pad: {
        address: '/pad',
        description: 'A WebSocket. It is told how the show stands when that changes, and once a second.',
        messages: {
          state: { $ref: '#/components/messages/state' },
          pressed: { $ref: '#/components/messages/pressed' },
          levels: { $ref: '#/components/messages/levels' },
          picture: { $ref: '#/components/messages/picture' },
          event: { $ref: '#/components/messages/event' },
          press: { $ref: '#/components/messages/press' },
        },
      },
    },
    operations: {
      told: {
        action: 'send',
        channel: { $ref: '#/channels/pad' },
        messages: ['state', 'pressed', 'levels', 'picture', 'event'].map((name) => ({
          $ref: `#/channels/pad/messages/${name}`,
        })),
      },
      press: {
        action: 'receive',
        channel: { $ref: '#/channels/pad' },
        messages: [{ $ref: '#/channels/pad/messages/press' }],
      },
    },
    components: {
      securitySchemes: { link: { type: 'http', scheme: 'bearer' } },
      schemas: { Press: { oneOf: pressSchemas() }, State: stateSchema() },
      messages: {
        state: message('state', {
          type: 'object',
          required: ['type', 'state'],
          properties: { type: { const: 'state' }, state: { $ref: '#/components/schemas/State' } },
        }),
        pressed: message('pressed', {
          type: 'object',
          required: ['type', 'id', 'problem'],
          properties: {
            type: { const: 'pressed' },
            id: { type: 'integer', description: 'Of the press.' },
            problem: nullable({ type: 'string', description: 'Why it was not done; null when it was.' }),
          },
        }),
        levels: message('levels', {
          type: 'object',
          required: ['type', 'levels'],
          properties: {
            type: { const: 'levels' },
            levels: {
              type: 'object',
              additionalProperties: { type: 'number' },
              description: 'How loud channels with a fader on a page are, dBFS, by id.',
            },
          },
        }),
        picture: message('picture', {
          type: 'object',
          required: ['type', 'sceneId', 'jpeg'],
          properties: {
            type: { const: 'picture' },
            sceneId: { type: 'string' },
            jpeg: { type: 'string', description: 'How the scene looks, base64; now and then.' },
          },
        }),
        event: message('event', {
          type: 'object',
          required: ['type', 'event'],
          properties: {
            type: { const: 'event' },
            event: {
              type: 'object',
              description: 'What a viewer did, from when the connection was opened.',
              required: ['seq', 'type', 'platform', 'viewer', 'text', 'money', 'count'],
              properties: {
                seq: { type: 'integer' },
                type: { type: 'string', enum: ['chat', ...EVENT_TYPES] },
                platform: { type: 'string' },
                viewer: { type: 'string' },
                text: { type: 'string' },
                money: nullable({
                  type: 'object',
                  properties: {
                    currency: { type: 'string', description: 'ISO 4217' },
                    minor: { type: 'integer', description: 'Cents, or what else is smallest.' },
                  },
                }),
                count: nullable({ type: 'number' }),
              },
            },
          },
        }),
        press: message('press', {
          type: 'object',
          required: ['type', 'id', 'press', 'held'],
          properties: {
            type: { const: 'press' },
            id: { type: 'integer', minimum: 1 },
            press: { $ref: '#/components/schemas/Press' },
            held: { type: 'boolean', description: 'Of what is held: pressed, or let go. Else true.' },
          },
        }),
      },
    },
  };
}
