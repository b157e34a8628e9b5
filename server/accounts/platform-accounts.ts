import Joi from 'joi';
import type { BroadcastDetails } from '../../core/delivery/settings';
import { Fault, messageOf } from '../../core/fault';
import type { DestinationRecord } from '../../core/show/records';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { Log } from '../log';

/** What the page is told about a sign-in. */
export type AccountState =
  | { state: 'none' }
  /** The user enters the code on the platform's page. */
  | { state: 'waiting'; userCode: string; verificationUrl: string; expiresMs: number }
  | { state: 'signedIn' }
  | { state: 'failed'; message: string };

interface Tokens {
  access: string;
  refresh: string;
  expiresMs: number;
}

const CLIENT_ID = 'dolomite';
const TIMEOUT_MS = 5000;
/** A token is renewed this long before it runs out. */
const EARLY_MS = 30_000;
const DEVICE_GRANT = 'urn:ietf:params:oauth:grant-type:device_code';

const deviceSchema = Joi.object<{
  device_code: string;
  user_code: string;
  verification_uri: string;
  expires_in: number;
  interval?: number;
}>({
  device_code: Joi.string().max(500).required(),
  user_code: Joi.string().max(40).required(),
  verification_uri: Joi.string()
    .uri({ scheme: ['http', 'https'] })
    .max(500)
    .required(),
  expires_in: Joi.number().positive().max(86_400).required(),
  interval: Joi.number().min(0).max(60),
}).unknown(true);

const tokenSchema = Joi.object<{ access_token: string; refresh_token: string; expires_in: number }>({
  access_token: Joi.string().max(4000).required(),
  refresh_token: Joi.string().max(4000).required(),
  expires_in: Joi.number().positive().max(1e8).required(),
}).unknown(true);

const keySchema = Joi.object<{ key: string }>({ key: Joi.string().min(1).max(400).required() }).unknown(true);

/**
 * Accounts on platforms, signed in to by the device flow (RFC 8628): the user enters a short code on the platform's own
 * page, and no password ever comes here. With an account the key comes by itself, and title and category are set at
 * going live.
 */
export class PlatformAccounts {
  readonly #states = new Map<string, AccountState>();
  readonly #timers = new Map<string, NodeJS.Timeout>();

  constructor(
    readonly options: {
      secrets: SecretRepository;
      /** Where a platform's API is, by its name. */
      apiUrls: ReadonlyMap<string, string>;
      /** A stored picture by its id; null when it is gone. */
      picture: (assetId: string) => { bytes: Uint8Array<ArrayBuffer>; mime: string } | null;
      now: () => number;
      log: Log;
    },
  ) {}

  state(destinationId: string): AccountState {
    const state = this.#states.get(destinationId);
    if (state) return state;
    return this.#tokens(destinationId) ? { state: 'signedIn' } : { state: 'none' };
  }

  /**
   * Asks the platform for a code and waits for the user in the background.
   * @throws Fault `account.none` or `account.failed`
   */
  async begin(destination: DestinationRecord): Promise<AccountState> {
    const api = this.#api(destination);
    const answer = await this.#post(`${api}/oauth/device`, { client_id: CLIENT_ID, scope: 'broadcast' });
    const { error, value } = deviceSchema.validate(answer.body);
    if (error || !answer.ok)
      throw new Fault('account.failed', `${destination.name} gives no code to sign in with: try again later`);
    const expiresMs = this.options.now() + value.expires_in * 1000;
    const state: AccountState = {
      state: 'waiting',
      userCode: value.user_code,
      verificationUrl: value.verification_uri,
      expiresMs,
    };
    this.#states.set(destination.id, state);
    this.#wait(destination, api, value.device_code, (value.interval ?? 5) * 1000, expiresMs);
    return state;
  }

  signOut(destinationId: string): void {
    clearTimeout(this.#timers.get(destinationId));
    this.#timers.delete(destinationId);
    this.#states.delete(destinationId);
    this.options.secrets.remove(subjects.account(destinationId));
  }

  /**
   * Before going live: sets what viewers read, and fetches a new key where one is wanted for every broadcast.
   * @throws Fault with what did not work; the broadcast can go on with the key there is
   */
  async prepare(destination: DestinationRecord): Promise<void> {
    if (!this.#tokens(destination.id)) return;
    await this.#details(destination, destination.details);
    if (destination.keyUse === 'fresh') await this.#fetchKey(destination, true);
  }

  close(): void {
    for (const timer of this.#timers.values()) clearTimeout(timer);
  }

  #tokens(destinationId: string): Tokens | null {
    const stored = this.options.secrets.get(subjects.account(destinationId));
    return stored === null ? null : (JSON.parse(stored) as Tokens);
  }

  #api(destination: DestinationRecord): string {
    const api = destination.standIn === null ? undefined : this.options.apiUrls.get(destination.standIn);
    if (!api)
      throw new Fault('account.none', `${destination.name} has no account to sign in to: enter its key`);
    return api;
  }

  #wait(
    destination: DestinationRecord,
    api: string,
    deviceCode: string,
    waitMs: number,
    expiresMs: number,
  ): void {
    const again = (ms: number) =>
      this.#timers.set(
        destination.id,
        setTimeout(() => this.#wait(destination, api, deviceCode, ms, expiresMs), ms),
      );
    const fail = (message: string) => this.#states.set(destination.id, { state: 'failed', message });
    void (async () => {
      if (this.options.now() > expiresMs) return fail('The code was not entered in time: begin again.');
      const { ok, body } = await this.#post(`${api}/oauth/token`, {
        grant_type: DEVICE_GRANT,
        device_code: deviceCode,
        client_id: CLIENT_ID,
      });
      if (ok) {
        this.#keep(destination.id, body);
        await this.#fetchKey(destination, destination.keyUse === 'fresh');
        this.#states.delete(destination.id);
        return;
      }
      const code = (body as { error?: unknown } | null)?.error;
      // RFC 8628 §3.5
      if (code === 'authorization_pending') again(waitMs);
      else if (code === 'slow_down') again(waitMs + 5000);
      else
        fail(
          code === 'access_denied'
            ? 'It was refused on the platform.'
            : `The platform said no (${String(code)}).`,
        );
    })().catch((error: unknown) => {
      this.options.log.warn({ error: messageOf(error) }, 'sign-in failed');
      fail(messageOf(error));
    });
  }

  #keep(destinationId: string, body: unknown): void {
    const { error, value } = tokenSchema.validate(body);
    if (error) throw new Fault('account.failed', 'the platform’s answer cannot be read: begin again');
    const tokens: Tokens = {
      access: value.access_token,
      refresh: value.refresh_token,
      expiresMs: this.options.now() + value.expires_in * 1000,
    };
    this.options.secrets.set(subjects.account(destinationId), JSON.stringify(tokens), this.options.now());
  }

  async #fetchKey(destination: DestinationRecord, fresh: boolean): Promise<void> {
    const body = await this.#call(destination, fresh ? 'POST' : 'GET', '/api/key');
    const { error, value } = keySchema.validate(body);
    if (error) throw new Fault('account.failed', `${destination.name} gave no key`);
    this.options.secrets.set(subjects.streamKey(destination.id), value.key, this.options.now());
  }

  async #details(destination: DestinationRecord, details: BroadcastDetails): Promise<void> {
    const { title, category, tags, description, latency } = details;
    await this.#call(destination, 'PUT', '/api/broadcast', { title, category, tags, description, latency });
    const picture = details.thumbnailId === null ? null : this.options.picture(details.thumbnailId);
    if (picture) await this.#call(destination, 'PUT', '/api/thumbnail', picture);
  }

  /** @param body JSON, or a picture */
  async #call(
    destination: DestinationRecord,
    method: string,
    path: string,
    body?: object | { bytes: Uint8Array<ArrayBuffer>; mime: string },
  ): Promise<unknown> {
    const picture = body && 'bytes' in body && 'mime' in body ? body : null;
    const api = this.#api(destination);
    const response = await this.#fetch(api + path, {
      method,
      headers: {
        authorization: `Bearer ${await this.#access(destination, api)}`,
        ...(body && { 'content-type': picture ? picture.mime : 'application/json' }),
      },
      body: picture ? picture.bytes : body && JSON.stringify(body),
    });
    if (response.status === 401) {
      this.signOut(destination.id);
      throw new Fault(
        'account.out',
        `${destination.name} does not know this sign-in any more: sign in again`,
      );
    }
    if (!response.ok)
      throw new Fault('account.failed', `${destination.name} answered ${response.status} to ${path}`);
    return response.json();
  }

  /** A token that holds, renewed when it is about to run out. */
  async #access(destination: DestinationRecord, api: string): Promise<string> {
    const tokens = this.#tokens(destination.id);
    if (!tokens) throw new Fault('account.out', `sign in to ${destination.name} first`);
    if (tokens.expiresMs - EARLY_MS > this.options.now()) return tokens.access;
    const { ok, body } = await this.#post(`${api}/oauth/token`, {
      grant_type: 'refresh_token',
      refresh_token: tokens.refresh,
      client_id: CLIENT_ID,
    });
    if (!ok) {
      this.signOut(destination.id);
      throw new Fault('account.out', `the sign-in to ${destination.name} has run out: sign in again`);
    }
    this.#keep(destination.id, body);
    return this.#tokens(destination.id)!.access;
  }

  async #post(url: string, form: Record<string, string>): Promise<{ ok: boolean; body: unknown }> {
    const response = await this.#fetch(url, { method: 'POST', body: new URLSearchParams(form) });
    try {
      return { ok: response.ok, body: await response.json() };
    } catch (error) {
      throw new Fault('account.failed', `${new URL(url).host} did not answer as a platform does`, {
        cause: error,
      });
    }
  }

  async #fetch(url: string, init: RequestInit): Promise<Response> {
    try {
      return await fetch(url, { ...init, redirect: 'error', signal: AbortSignal.timeout(TIMEOUT_MS) });
    } catch (error) {
      throw new Fault('account.failed', `${new URL(url).host} did not answer (${messageOf(error)})`);
    }
  }
}
