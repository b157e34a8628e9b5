/**
 * Connectors: files that describe a service one broadcasts to. Where its servers are, how to sign in, where the key comes from,
 * how what viewers read is set, where chat and events come from. Nothing of any service stands in the program itself; the file
 * is documented in docs/connectors.md, and anybody can write one.
 */
import type { FrameName, LATENCIES } from '../delivery/settings';

export const CONNECTOR_FORMAT = 'dolomite-connector';
export const CONNECTOR_VERSION = 1;
/** One is a few kilobytes. */
export const MAX_CONNECTOR_BYTES = 64 * 1024;

export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };

export const CALL_METHODS = ['GET', 'POST', 'PUT', 'PATCH'] as const;

/** A request to the service. `{{title}}` and its like are filled in; with `json` or `form` it has a body. */
export interface Call {
  method: (typeof CALL_METHODS)[number];
  url: string;
  headers?: Record<string, string>;
  json?: Json;
  form?: Record<string, string>;
}

/** A request whose answer has what is looked for. */
export interface Question extends Call {
  /** Where in the answer it stands: a JSON pointer (RFC 6901). */
  value: string;
}

/** By a short code that is entered on the service's page (RFC 8628). */
export interface DeviceSignIn {
  type: 'device';
  clientId: string;
  scope: string;
  deviceUrl: string;
  tokenUrl: string;
}

/** In the browser, which then comes back to an address of this computer (RFC 8252, with RFC 7636's proof). */
export interface BrowserSignIn {
  type: 'browser';
  clientId: string;
  scope: string;
  authorizeUrl: string;
  tokenUrl: string;
}

export interface IngestServer {
  name: string;
  url: string;
  /** Of those only that are in `regions`, where the connector names some. */
  region?: string;
}

export interface ConnectorIngest {
  /** The picture its viewers expect. */
  frame?: FrameName;
  /** The most it takes, picture and sound together, kbps. */
  capKbps?: number;
  /** `fresh`: it wants a new key for every broadcast. */
  key?: 'lasting' | 'fresh';
  servers?: IngestServer[];
  /** Or a list that the service gives, of objects with a name and an address. */
  serversFrom?: Question & { name: string; address: string; region?: string };
  regions?: string[];
  /** How long a server is measured, seconds. */
  testSeconds?: number;
}

export interface Connector {
  format: typeof CONNECTOR_FORMAT;
  version: typeof CONNECTOR_VERSION;
  /** Names it in shows and events: small letters, digits and dashes. */
  id: string;
  name: string;
  pages?: { watch?: string; account?: string };
  ingest: ConnectorIngest;
  signIn?: DeviceSignIn | BrowserSignIn;
  key?: { read: Question; renew?: Question };
  details?: {
    /** Each is called before a broadcast, in this order. */
    set: Call[];
    /** Takes the picture of the broadcast as the body itself. */
    picture?: Call;
    /** Words of the service for who may see it; the first is its usual one. */
    visibility?: string[];
    /** Its words for how soon viewers see what happens. */
    latency?: Partial<Record<(typeof LATENCIES)[number], string>>;
  };
  /** Called once the broadcast is there, with `{{text}}`. */
  announcement?: Call;
  /** A WebSocket with CloudEvents, as docs/events.md has them. `signedIn`: it wants the token of the sign-in. */
  events?: { url: string; signedIn?: boolean };
  /**
   * An IRC server. With `account`, whose answer has the name one has there, it is joined by the sign-in: as that name, in the
   * channel with `{{nick}}` filled in, with the password with `{{token}}` filled in.
   */
  chat?: {
    host: string;
    port: number;
    tls: boolean;
    channel: string;
    account?: Question;
    password?: string;
  };
  /** Pictures of emotes: this, and the emote's name. */
  emotes?: string;
}

/** What can stand in a call. */
export type CallValues = Readonly<Record<string, string | readonly string[]>>;
const CALL_VALUES = ['title', 'category', 'tags', 'description', 'latency', 'visibility', 'show', 'text'];

/** The first place in a text that nothing is ever filled into, as it stands there; null when there is none. */
export function unknownPlace(text: string): string | null {
  for (const [place, name] of text.matchAll(PLACE)) if (!CALL_VALUES.includes(name)) return place;
  return null;
}

const PLACE = /\{\{\s*([\w-]{1,40})\s*\}\}/g;
const WHOLE = /^\{\{\s*([\w-]{1,40})\s*\}\}$/;

function filledText(text: string, values: CallValues, as: (value: string) => string): string {
  return text.replace(PLACE, (place, name: string) =>
    name in values ? as([values[name]].flat().join(', ')) : place,
  );
}

function filledJson(value: Json, values: CallValues): Json {
  if (typeof value === 'string') {
    // A place that is all there is takes a list as a list.
    const whole = WHOLE.exec(value)?.[1];
    const found = whole === undefined ? undefined : values[whole];
    return Array.isArray(found)
      ? [...(found as readonly string[])]
      : filledText(value, values, (text) => text);
  }
  if (Array.isArray(value)) return value.map((item) => filledJson(item, values));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, filledJson(item, values)]));
}

/**
 * A call as it goes out. What is filled in can be neither another address nor another header nor another part of the body.
 *
 * @returns address, headers, and the body as text; null without one
 */
export function filledCall(
  { url, headers = {}, json, form }: Call,
  values: CallValues,
): { url: string; headers: Record<string, string>; body: string | null } {
  const plain = (text: string) => text;
  const line = (text: string) => text.replace(/[\r\n]+/g, ' ');
  const sent = Object.fromEntries(
    Object.entries(headers).map(([name, text]) => [name.toLowerCase(), filledText(text, values, line)]),
  );
  if (json !== undefined) sent['content-type'] ??= 'application/json';
  else if (form) sent['content-type'] ??= 'application/x-www-form-urlencoded';
  const body =
    json !== undefined
      ? JSON.stringify(filledJson(json, values))
      : form
        ? new URLSearchParams(
            Object.entries(form).map(([name, text]) => [name, filledText(text, values, plain)]),
          ).toString()
        : null;
  return { url: filledText(url, values, encodeURIComponent), headers: sent, body };
}

/** What stands at a JSON pointer (RFC 6901); undefined where nothing does. */
export function valueAt(json: unknown, pointer: string): unknown {
  if (pointer === '') return json;
  let at = json;
  for (const part of pointer.split('/').slice(1)) {
    const key = part.replaceAll('~1', '/').replaceAll('~0', '~');
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, key)) return undefined;
    at = (at as Record<string, unknown>)[key];
  }
  return at;
}

/** Servers that are chosen among: those of the connector's regions, where it names some. */
export function serversIn(ingest: ConnectorIngest, all: readonly IngestServer[]): IngestServer[] {
  const { regions = [] } = ingest;
  return all.filter(
    ({ region }) => regions.length === 0 || (region !== undefined && regions.includes(region)),
  );
}

/** Every address in a connector. */
export function addressesIn(connector: Connector): string[] {
  const { pages, ingest, signIn, key, details, announcement, events, chat, emotes } = connector;
  const calls = [
    ingest.serversFrom,
    key?.read,
    key?.renew,
    ...(details?.set ?? []),
    details?.picture,
    announcement,
    chat?.account,
  ];
  const urls = [
    ...calls.map((call) => call?.url),
    ...(signIn ? [signIn.tokenUrl, signIn.type === 'device' ? signIn.deviceUrl : signIn.authorizeUrl] : []),
    ...(ingest.servers ?? []).map((server) => server.url),
    ...[pages?.watch, pages?.account, events?.url, emotes],
  ];
  return urls.filter((url) => url !== undefined);
}

/** Whom this computer will talk to: hosts, each once, as somebody reads them before the file is taken. */
export function hostsOf(connector: Connector): string[] {
  const hosts = addressesIn(connector).map((url) => new URL(url.replace(PLACE, 'x')).host);
  return [
    ...new Set([...hosts, ...(connector.chat ? [`${connector.chat.host}:${connector.chat.port}`] : [])]),
  ].sort();
}

/** As whom, and where, the chat of a service is joined by its sign-in. @param nick the account's name there */
export function chatLogin(
  { channel, password = '{{token}}' }: NonNullable<Connector['chat']>,
  nick: string,
  token: string,
): { nick: string; password: string; channels: string[] } {
  // Neither may end the line and begin another order.
  const bare = (text: string) => text.replace(/[\s,]+/g, '');
  const values = { nick: bare(nick).toLowerCase(), token: bare(token) };
  const plain = (text: string) => text;
  return {
    nick: bare(nick),
    password: filledText(password, values, plain),
    channels: [filledText(channel, values, plain)],
  };
}
