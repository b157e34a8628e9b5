/**
 * Audience events as platforms and hooks send them: CloudEvents 1.0 in JSON (CloudEvents specification v1.0.2, §3 context
 * attributes; JSON event format v1.0.2). Kinds and their data are ours; they are written down in docs/protocol.md.
 */
import Joi from 'joi';
import { isCurrency, MAX_MINOR, minorOfDecimal } from '../core/audience/money';
import {
  BADGES,
  EVENT_TYPES,
  PLAIN_EVENT,
  PLAIN_MESSAGE,
  SUBSCRIPTION_WAYS,
  type Badge,
  type EmoteRange,
  type EventType,
  type Incoming,
  type ViewerEvent,
} from '../core/audience/events';
import { Fault } from '../core/fault';

const PREFIX = 'live.';

interface Data {
  viewer?: string;
  text?: string;
  channel?: string;
  colour?: string;
  badges?: Badge[];
  emotes?: EmoteRange[];
  viewers?: number;
  message?: string;
  currency?: string;
  amount?: string;
  amountMinor?: number;
  count?: number;
  months?: number;
  way?: (typeof SUBSCRIPTION_WAYS)[number];
  title?: string;
  open?: boolean;
  options?: { label: string; votes: number }[];
  messageId?: string;
}

interface CloudEvent {
  specversion: '1.0';
  id: string;
  source: string;
  type: string;
  time?: string;
  data: Data;
}

const words = (max: number) => Joi.string().allow('').max(max);
const whole = Joi.number().integer().min(0).max(1e9);

const data = Joi.object<Data>({
  viewer: Joi.string().min(1).max(2000),
  text: words(4000),
  channel: words(200),
  colour: Joi.string().pattern(/^#[0-9a-f]{6}$/i),
  badges: Joi.array()
    .items(Joi.string().valid(...BADGES))
    .max(10),
  emotes: Joi.array()
    .items(
      Joi.object({
        from: whole.required(),
        to: whole.required(),
        id: Joi.string()
          .pattern(/^[\w.-]{1,64}$/)
          .required(),
      }),
    )
    .max(200),
  viewers: whole,
  message: words(4000),
  currency: Joi.string()
    .custom((value: string, helpers) => (isCurrency(value) ? value : helpers.error('money.currency')))
    .messages({ 'money.currency': '{{#label}} "{{#value}}" is no currency of ISO 4217' }),
  amount: Joi.string().max(20),
  amountMinor: Joi.number().integer().min(1).max(MAX_MINOR),
  count: whole.min(1),
  months: whole.max(1200),
  way: Joi.string().valid(...SUBSCRIPTION_WAYS),
  title: words(200),
  open: Joi.boolean(),
  options: Joi.array()
    .items(Joi.object({ label: words(200).required(), votes: whole.required() }))
    .max(20),
  messageId: Joi.string().max(200),
})
  // Others may send more than we read.
  .unknown(true);

const schema = Joi.object<CloudEvent>({
  specversion: Joi.string().valid('1.0').required(),
  id: Joi.string().min(1).max(200).required(),
  source: Joi.string().min(1).max(500).required(),
  type: Joi.string().min(1).max(200).required(),
  time: Joi.string()
    .isoDate()
    // More is an ISO date than the clock here can read, such as an offset without its minutes.
    .custom((value: string, helpers) =>
      Number.isFinite(Date.parse(value)) ? value : helpers.error('time.rfc3339'),
    )
    .messages({
      'time.rfc3339': '{{#label}} "{{#value}}" cannot be read: write it like 2026-11-28T21:15:00+01:00',
    }),
  data: data.default({}),
})
  .unknown(true)
  .required();

const refuse = (message: string) => new Fault('event.garbage', message, { fatal: false });

/**
 * One event; null for a kind of a platform that we do not know.
 * @param nowMs its time when it does not say one; a time in the future counts as now
 * @param anyKind a hook's kind that we do not know becomes an `other` event instead of nothing
 * @throws Fault `event.garbage` when it is not a CloudEvent, lacks what its kind needs, or has amounts that cannot be
 */
export function readCloudEvent(
  platform: string,
  raw: unknown,
  nowMs: number,
  anyKind = false,
): Incoming | null {
  const { error, value } = schema.validate(raw, { convert: false });
  if (error) throw refuse(`${platform} sent an event that cannot be read: ${error.message}`);
  const { id, data: d } = value;
  const said = value.time === undefined ? nowMs : Date.parse(value.time);
  const atMs = Math.max(0, Math.min(said, nowMs));
  const kind = value.type.startsWith(PREFIX) ? value.type.slice(PREFIX.length) : value.type;
  const need = <T>(field: string, found: T | undefined): T => {
    if (found === undefined) throw refuse(`${platform} sent ${value.type} without "data.${field}"`);
    return found;
  };
  if (kind === 'viewers') return { type: 'viewers', platform, viewers: need('viewers', d.viewers) };
  if (kind === 'chat.removed') return { type: 'removed', platform, id: need('messageId', d.messageId), atMs };
  if (kind === 'chat.silenced') return { type: 'silenced', platform, viewer: need('viewer', d.viewer), atMs };
  if (kind === 'chat.message')
    return {
      ...PLAIN_MESSAGE,
      id,
      platform,
      viewer: need('viewer', d.viewer),
      atMs,
      channel: d.channel ?? '',
      colour: d.colour ?? null,
      badges: d.badges ?? [],
      emotes: d.emotes ?? [],
      text: d.text ?? '',
    };
  if (kind !== 'other' && (EVENT_TYPES as readonly string[]).includes(kind))
    return viewerEvent(kind as EventType, platform, id, atMs, value, need);
  if (!anyKind) return null;
  return { ...viewerEvent('other', platform, id, atMs, value, need), title: d.title ?? value.type };
}

function viewerEvent(
  type: EventType,
  platform: string,
  id: string,
  atMs: number,
  { data: d, type: named }: CloudEvent,
  need: <T>(field: string, found: T | undefined) => T,
): ViewerEvent {
  const event: ViewerEvent = {
    ...PLAIN_EVENT,
    type,
    id,
    platform,
    // Polls and foreign events may come from nobody.
    viewer: type === 'poll' || type === 'other' ? (d.viewer ?? platform) : need('viewer', d.viewer),
    atMs,
    message: d.message ?? d.text ?? '',
    title: d.title ?? '',
    count: d.count ?? null,
    months: d.months ?? null,
    way: d.way ?? (type === 'subscription' ? 'new' : null),
  };
  if (
    d.currency !== undefined ||
    d.amount !== undefined ||
    d.amountMinor !== undefined ||
    type === 'donation'
  ) {
    const currency = need('currency', d.currency);
    const minor = d.amountMinor ?? minorOfDecimal(need('amount', d.amount), currency);
    if (minor === null || minor < 1)
      throw refuse(
        `${platform} sent ${named} with the amount "${d.amount ?? ''}" ${currency}: it must be above nothing, in decimals such as 12.50, with no more digits than the currency has`,
      );
    event.money = { currency, minor };
  }
  if (type === 'cheer' || type === 'raid') event.count = need('count', d.count);
  if (event.way === 'gifted') event.count ??= 1;
  if (type === 'poll') event.poll = { open: d.open ?? true, options: need('options', d.options) };
  return event;
}

/** The same from text. @throws Fault `event.garbage` */
export function parseCloudEvent(platform: string, json: string, nowMs: number): Incoming | null {
  return readCloudEvent(platform, parseJson(platform, json), nowMs);
}

export function parseJson(platform: string, json: string): unknown {
  try {
    return JSON.parse(json);
  } catch {
    throw refuse(`${platform} sent something that is not JSON`);
  }
}

/** Most events in one call of a hook. */
const MAX_BATCH = 100;

/**
 * What a hook's call brings: structured, batched or binary content mode (CloudEvents HTTP protocol binding v1.0.2, §3).
 * @param header values by lower-case name
 * @throws Fault `event.garbage`
 */
export function readHookBody(
  platform: string,
  header: (name: string) => string | undefined,
  body: string,
): unknown[] {
  const kind = (header('content-type') ?? '').split(';')[0].trim().toLowerCase();
  if (kind === 'application/cloudevents-batch+json') {
    const batch = parseJson(platform, body);
    if (!Array.isArray(batch) || batch.length > MAX_BATCH)
      throw refuse(`a batch must be a list of at most ${MAX_BATCH} events`);
    return batch;
  }
  if (kind === 'application/cloudevents+json') return [parseJson(platform, body)];
  if (header('ce-specversion') === undefined)
    throw refuse(
      'the call is no CloudEvent: send application/cloudevents+json, or the ce- headers with the data as JSON',
    );
  const attribute = (name: string) => {
    const value = header(`ce-${name}`);
    return value === undefined ? undefined : decodePercent(value);
  };
  const time = attribute('time');
  return [
    {
      specversion: attribute('specversion'),
      id: attribute('id'),
      source: attribute('source'),
      type: attribute('type'),
      ...(time !== undefined && { time }),
      data: body.trim() === '' ? {} : parseJson(platform, body),
    },
  ];
}

/** Header values are percent-encoded UTF-8 (HTTP protocol binding §3.1.3.2). */
function decodePercent(value: string): string {
  try {
    return decodeURIComponent(value);
  } catch {
    return value;
  }
}

/** Writes an event the way stand-ins send it. */
export function cloudEventJson(source: string, id: string, type: string, atMs: number, data: object): string {
  return JSON.stringify({
    specversion: '1.0',
    id,
    source,
    type: PREFIX + type,
    time: new Date(atMs).toISOString(),
    datacontenttype: 'application/json',
    data,
  });
}
