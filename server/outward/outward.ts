/**
 * Requests to other programs, as cues, keys and pads send them: only to hosts that the owner allowed one by one, and to
 * addresses inside the house only where that was allowed for just that host.
 */
import { randomBytes, randomUUID } from 'node:crypto';
import { lookup as systemLookup } from 'node:dns/promises';
import http from 'node:http';
import https from 'node:https';
import { isIP } from 'node:net';
import { networkInterfaces } from 'node:os';
import { Webhook } from 'standardwebhooks';
import { Fault, isFault, messageOf } from '../../core/fault';
import { hostAndPort, isNearAddress, isPrivateAddress, readAddress } from '../../core/inputs/web-address';
import { filledRequest, isJson } from '../../core/outward/request-text';
import type { RequestRecord } from '../../core/show/rundown-records';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { SettingRepository } from '../db/setting-repository';

/** A place that requests may go to. `inside`: it may be in this house, or this computer. */
export interface AllowedHost {
  host: string;
  inside: boolean;
}

export interface OutwardParts {
  settings: SettingRepository;
  secrets: SecretRepository;
  /** Ports of this computer that are the studio's own: nothing is ever sent there. */
  ownPorts: () => readonly number[];
  now: () => number;
  lookup?: (name: string) => Promise<string[]>;
}

const SETTING = 'outward.hosts';
const MAX_HOSTS = 50;
const ANSWER_MS = 5000;
/** Of an answer nothing is kept; more than this is not even waited for. */
const ANSWER_BYTES = 64 * 1024;
/** A cue that goes round must not flood anybody. */
const PER_SECOND = 10;
const SECRET_BYTES = 32;

const everyAddress = async (name: string): Promise<string[]> =>
  (await systemLookup(name, { all: true })).map(({ address }) => address);

const bare = (hostname: string): string => hostname.replace(/^\[|\]$/g, '');

export class Outward {
  #second = 0;
  #sent = 0;

  constructor(readonly parts: OutwardParts) {}

  allowed(): AllowedHost[] {
    return JSON.parse(this.parts.settings.get(SETTING) ?? '[]') as AllowedHost[];
  }

  /**
   * Allows a host, as `name:port` or as an address of it.
   * @param inside also where it is inside the house
   * @throws Fault `outward.inside` when it is and that was not said, `outward.many`, `outward.own`, `address.wrong`
   */
  async allow(text: string, inside: boolean): Promise<AllowedHost[]> {
    const url = readAddress(text, ['http', 'https']);
    const host = hostAndPort(url);
    const addresses = await this.#addresses(url);
    if (addresses.some((address) => this.#isOwn(url, address)))
      throw new Fault('outward.own', 'This is the studio itself: nothing is sent there.');
    const within = addresses.filter(isInside);
    if (within.length > 0 && !inside)
      throw new Fault(
        'outward.inside',
        `${host} is inside this house (${within[0]}): allow it only if the program there is yours.`,
      );
    const others = this.allowed().filter((one) => one.host !== host);
    if (others.length >= MAX_HOSTS)
      throw new Fault('outward.many', `There are ${MAX_HOSTS} hosts already: remove one first.`);
    return this.#keep([...others, { host, inside: within.length > 0 }]);
  }

  forget(host: string): AllowedHost[] {
    return this.#keep(this.allowed().filter((one) => one.host !== host));
  }

  /** Makes the secret that a request is signed with; it is told this once. */
  newSecret(requestId: string): string {
    const secret = `whsec_${randomBytes(SECRET_BYTES).toString('base64')}`;
    this.parts.secrets.set(subjects.request(requestId), secret, this.parts.now());
    return secret;
  }

  hasSecret(requestId: string): boolean {
    return this.parts.secrets.changedMs(subjects.request(requestId)) !== null;
  }

  /** Sends it. @returns what went wrong, in words, or null */
  async send(request: RequestRecord, fields: Readonly<Record<string, string>>): Promise<string | null> {
    const { name } = request;
    try {
      if (this.#flood()) return `“${name}” was not sent: more than ${PER_SECOND} requests a second.`;
      const { url: text, body } = filledRequest(request, fields);
      const url = readAddress(text, ['http', 'https']);
      const host = hostAndPort(url);
      const allowed = this.allowed().find((one) => one.host === host);
      if (!allowed) return `“${name}” was not sent: allow ${host} in Plan, Requests.`;
      const addresses = await this.#addresses(url);
      if (addresses.some((address) => this.#isOwn(url, address)))
        return `“${name}” was not sent: ${host} is the studio itself.`;
      if (!allowed.inside && addresses.some(isInside))
        return `“${name}” was not sent: ${host} is inside this house by now. Allow it again if that is meant.`;
      const status = await this.#request(url, addresses[0], request, body);
      if (status >= 300 && status < 400)
        return `“${name}”: ${host} wants it somewhere else (${status}). Give the new address.`;
      return status >= 200 && status < 300 ? null : `“${name}”: ${host} answered ${status}.`;
    } catch (error) {
      return isFault(error)
        ? `“${name}”: ${error.message}`
        : `“${name}” did not arrive: ${messageOf(error)}.`;
    }
  }

  #keep(hosts: AllowedHost[]): AllowedHost[] {
    this.parts.settings.set(SETTING, JSON.stringify(hosts));
    return hosts;
  }

  #flood(): boolean {
    const second = Math.floor(this.parts.now() / 1000);
    if (second !== this.#second) this.#sent = 0;
    this.#second = second;
    return ++this.#sent > PER_SECOND;
  }

  async #addresses(url: URL): Promise<string[]> {
    const name = bare(url.hostname);
    if (isIP(name)) return [name];
    try {
      const found = await (this.parts.lookup ?? everyAddress)(name);
      if (found.length > 0) return found;
    } catch {
      // The same as no address at all.
    }
    throw new Fault('outward.unknown', `nobody knows where ${name} is: look at its name.`);
  }

  #isOwn(url: URL, address: string): boolean {
    const port = Number(url.port || (url.protocol === 'https:' ? 443 : 80));
    const here = address === '::1' || address.startsWith('127.') || ownAddresses().includes(address);
    return here && this.parts.ownPorts().includes(port);
  }

  #headers(request: RequestRecord, body: string): Record<string, string> {
    if (!request.signed) return {};
    const secret = this.parts.secrets.get(subjects.request(request.id));
    if (secret === null)
      throw new Fault('outward.secret', 'it is to be signed and has no secret: make one in Plan, Requests.');
    const id = `msg_${randomUUID()}`;
    const at = new Date(this.parts.now());
    return {
      'webhook-id': id,
      'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
      'webhook-signature': new Webhook(secret).sign(id, at, body),
    };
  }

  /** To the address that was looked at, whatever the name says a moment later (DNS rebinding). @returns the status */
  #request(url: URL, address: string, request: RequestRecord, body: string): Promise<number> {
    const { method } = request;
    const sends = method !== 'GET';
    const headers = {
      ...this.#headers(request, sends ? body : ''),
      host: url.host,
      'user-agent': 'Dolomite',
      ...(sends && {
        'content-type': isJson(body) ? 'application/json' : 'text/plain; charset=utf-8',
        'content-length': String(Buffer.byteLength(body)),
      }),
    };
    const secure = url.protocol === 'https:';
    return new Promise((resolve, reject) => {
      const onward = (secure ? https : http).request(
        {
          ...{ host: address, method, headers, path: `${url.pathname}${url.search}` },
          port: url.port || (secure ? 443 : 80),
          ...(secure && !isIP(bare(url.hostname)) && { servername: url.hostname }),
          signal: AbortSignal.timeout(ANSWER_MS),
        },
        (answer) => {
          let bytes = 0;
          answer.on('data', (chunk: Buffer) => {
            bytes += chunk.length;
            if (bytes > ANSWER_BYTES) onward.destroy();
          });
          resolve(answer.statusCode ?? 0);
        },
      );
      onward.on('error', (error) =>
        reject(error.name === 'AbortError' ? new Error(`no answer within ${ANSWER_MS / 1000} s`) : error),
      );
      onward.end(sends ? body : undefined);
    });
  }
}

const ownAddresses = (): string[] =>
  Object.values(networkInterfaces()).flatMap((list) => (list ?? []).map(({ address }) => address));

const isInside = (address: string): boolean =>
  isPrivateAddress(address) || isNearAddress(address, ownAddresses());
