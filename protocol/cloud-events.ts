/** Audience events as platforms send them: CloudEvents 1.0 in JSON (cloudevents.io, §3.1 required attributes). */
import Joi from 'joi';
import type { AudienceEvent } from '../core/audience/events';
import { Fault } from '../core/fault';

interface CloudEvent {
  specversion: '1.0';
  id: string;
  source: string;
  type: 'live.chat.message' | 'live.follow' | 'live.viewers';
  time: string;
  data: { viewer?: string; text?: string; colour?: string; viewers?: number };
}

const schema = Joi.object<CloudEvent>({
  specversion: Joi.string().valid('1.0').required(),
  id: Joi.string().min(1).max(200).required(),
  source: Joi.string().max(500).required(),
  type: Joi.string().max(200).required(),
  time: Joi.string().isoDate().required(),
  data: Joi.object({
    viewer: Joi.string().min(1).max(60),
    text: Joi.string().allow('').max(2000),
    colour: Joi.string().pattern(/^#[0-9a-f]{6}$/i),
    viewers: Joi.number().integer().min(0),
  })
    .unknown(true)
    .required(),
}).unknown(true);

export type PlatformEvent = AudienceEvent | { type: 'viewers'; viewers: number } | null;

/**
 * One event of a platform; null for a kind we do not know.
 * @throws Fault `event.garbage` when it is not a CloudEvent or lacks what its kind needs
 */
export function parsePlatformEvent(platform: string, json: string): PlatformEvent {
  let raw: unknown;
  try {
    raw = JSON.parse(json);
  } catch {
    throw new Fault('event.garbage', `${platform} sent something that is not JSON`, { fatal: false });
  }
  const { error, value } = schema.validate(raw);
  if (error)
    throw new Fault('event.garbage', `${platform} sent an event that is not a CloudEvent: ${error.message}`, {
      fatal: false,
    });
  const { id, data } = value;
  const atMs = Date.parse(value.time);
  const viewer = data.viewer;
  if (value.type === 'live.viewers' && data.viewers !== undefined)
    return { type: 'viewers', viewers: data.viewers };
  if (value.type !== 'live.chat.message' && value.type !== 'live.follow') return null;
  if (viewer === undefined)
    throw new Fault('event.garbage', `${platform} sent ${value.type} without a viewer`, { fatal: false });
  if (value.type === 'live.follow') return { type: 'follow', id, platform, viewer, atMs, test: false };
  return { type: 'chat', id, platform, viewer, colour: data.colour ?? null, text: data.text ?? '', atMs };
}

/** Writes an event the way stand-ins send it. */
export function platformEventJson(
  source: string,
  id: string,
  type: CloudEvent['type'],
  atMs: number,
  data: CloudEvent['data'],
): string {
  const event: CloudEvent = {
    specversion: '1.0',
    id,
    source,
    type,
    time: new Date(atMs).toISOString(),
    data,
  };
  return JSON.stringify(event);
}
