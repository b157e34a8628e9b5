/** Joi schema of connector files: the one place where a file from outside becomes a connector. */
import Joi from 'joi';
import {
  CALL_METHODS,
  CONNECTOR_FORMAT,
  CONNECTOR_VERSION,
  MAX_CONNECTOR_BYTES,
  unknownPlace,
  type Connector,
} from '../core/connectors/connector';
import { FRAME_NAMES, LATENCIES } from '../core/delivery/settings';
import { Fault } from '../core/fault';
import { destinationUrl } from './delivery-schemas';
import { oneOf } from './field-schemas';

const words = (most: number) => Joi.string().trim().min(1).max(most);
const LOOPBACK = /^(localhost|127(\.\d+){3}|\[::1\])$/;

/** Over TLS, or on this computer. Places to fill in may stand in it, but not in the name of the host. */
const address = (secure: string, plain: string) =>
  Joi.string()
    .max(2000)
    .custom((value: string, helpers) => {
      let url: URL;
      try {
        url = new URL(value.replace(/\{\{\s*[\w-]{1,40}\s*\}\}/g, 'x'));
      } catch {
        return helpers.error('address.whole');
      }
      if (/^[^/]*\/\/[^/]*\{\{/.test(value)) return helpers.error('address.host');
      if (url.username || url.password) return helpers.error('address.password');
      if (url.protocol === secure || (url.protocol === plain && LOOPBACK.test(url.hostname))) return value;
      return helpers.error('address.secure', { secure });
    })
    .messages({
      'address.whole': '{{#label}} must be a whole address',
      'address.host': '{{#label}} must name its host itself: nothing is filled in there',
      'address.password': '{{#label}} must have no name and password in it',
      'address.secure': '{{#label}} must begin with {{#secure}}// (without TLS only on this computer)',
    });
const web = address('https:', 'http:');
const pointer = Joi.string()
  .max(200)
  .pattern(/^(\/[^/]*)*$/, 'a JSON pointer, such as /data/0/key');

interface Node {
  [key: string]: unknown;
}
const json = Joi.any().custom((value: unknown, helpers) => {
  let nodes = 0;
  const plain = (of: unknown): boolean => {
    if (++nodes > 500) return false;
    if (Array.isArray(of)) return of.every(plain);
    if (typeof of === 'object' && of !== null) return Object.values(of as Node).every(plain);
    return true;
  };
  return plain(value) ? value : helpers.error('any.invalid');
});

const call = {
  method: oneOf(CALL_METHODS),
  url: web.required(),
  headers: Joi.object()
    .pattern(
      /^[\w-]{1,60}$/,
      Joi.string()
        .max(500)
        .pattern(/[\r\n]/, { invert: true }),
    )
    .max(20),
  json,
  form: Joi.object().pattern(Joi.string().max(60), Joi.string().max(2000).allow('')).max(40),
};
/** A misspelt name must not go out as it stands. */
const known = (of: Joi.ObjectSchema): Joi.ObjectSchema =>
  of
    .oxor('json', 'form')
    .custom((value: object, helpers) => {
      const place = unknownPlace(JSON.stringify(value));
      return place === null ? value : helpers.error('call.place', { place });
    })
    .messages({ 'call.place': '{{#label}} has {{#place}}: nothing is ever filled in there' });
const aCall = known(Joi.object(call));
const question = known(Joi.object({ ...call, value: pointer.required() }));

const client = { clientId: words(200).required(), scope: Joi.string().max(500).allow('').required() };

export const connectorSchema = Joi.object<Connector, true>({
  format: Joi.string().valid(CONNECTOR_FORMAT).required(),
  version: Joi.number().valid(CONNECTOR_VERSION).required(),
  id: Joi.string()
    .pattern(/^[a-z0-9][a-z0-9-]{0,39}$/, 'small letters, digits and dashes')
    .required(),
  name: words(60).required(),
  pages: Joi.object({ watch: web, account: web }),
  ingest: Joi.object({
    frame: Joi.string().valid(...FRAME_NAMES),
    capKbps: Joi.number().min(100).max(100_000),
    key: Joi.string().valid('lasting', 'fresh'),
    servers: Joi.array()
      .items(Joi.object({ name: words(80).required(), url: destinationUrl, region: words(40) }))
      .max(200),
    serversFrom: known(
      Joi.object({
        ...call,
        value: pointer.required(),
        name: pointer.required(),
        address: pointer.required(),
        region: pointer,
      }),
    ),
    regions: Joi.array().items(words(40)).max(50),
    testSeconds: Joi.number().min(2).max(15),
  })
    .or('servers', 'serversFrom')
    .required(),
  signIn: Joi.alternatives(
    Joi.object({
      type: Joi.string().valid('device').required(),
      ...client,
      deviceUrl: web.required(),
      tokenUrl: web.required(),
    }),
    Joi.object({
      type: Joi.string().valid('browser').required(),
      ...client,
      authorizeUrl: web.required(),
      tokenUrl: web.required(),
    }),
  ),
  key: Joi.object({ read: question.required(), renew: question }),
  details: Joi.object({
    set: Joi.array().items(aCall).max(10).required(),
    picture: known(Joi.object({ method: call.method, url: call.url, headers: call.headers })),
    visibility: Joi.array().items(words(40)).min(1).max(20),
    latency: Joi.object(Object.fromEntries(LATENCIES.map((name) => [name, words(60)]))),
  }),
  announcement: aCall,
  events: Joi.object({ url: address('wss:', 'ws:').required(), signedIn: Joi.boolean() }),
  chat: Joi.object({
    host: Joi.string().hostname().required(),
    port: Joi.number().port().required(),
    tls: Joi.boolean().strict().required(),
    channel: Joi.string()
      .max(100)
      .pattern(/^[#&][^\s,]+$/, 'a channel, such as #night-signal-box')
      .required(),
    account: question,
    password: Joi.string().max(200),
  })
    // The token of the sign-in is its password.
    .custom((chat: { tls: boolean; host: string; account?: unknown }, helpers) =>
      chat.account && !chat.tls && !LOOPBACK.test(chat.host) ? helpers.error('chat.plain') : chat,
    )
    .messages({ 'chat.plain': '{{#label}} is signed in to, so it goes over TLS: set tls to true' }),
  emotes: web,
}).messages({ 'object.unknown': '{{#label}} is not known: see docs/connectors.md' });

/**
 * A connector as its file has it.
 * @throws Fault `connector.unreadable`, `connector.format`, `connector.version`, `connector.wrong` with what is wrong in it
 */
export function readConnector(text: string): Connector {
  if (text.length > MAX_CONNECTOR_BYTES)
    throw new Fault('connector.unreadable', 'the file is too large for a connector: choose another');
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Fault('connector.unreadable', 'the file is cut off or no JSON: get it again');
  }
  const { format, version } = (
    typeof value === 'object' && value !== null ? value : {}
  ) as Partial<Connector>;
  if (format !== CONNECTOR_FORMAT)
    throw new Fault(
      'connector.format',
      `the file is no connector: its "format" must be "${CONNECTOR_FORMAT}"`,
    );
  if (typeof version === 'number' && version > CONNECTOR_VERSION)
    throw new Fault(
      'connector.version',
      'the connector was written for a later version: update the studio first',
    );
  const { error, value: connector } = connectorSchema.validate(value, { convert: false });
  if (error) throw new Fault('connector.wrong', `the connector cannot be used: ${error.message}`);
  return connector as Connector;
}
