import Joi from 'joi';
import {
  chatLogin,
  hostsOf,
  serversIn,
  valueAt,
  type Call,
  type CallValues,
  type Connector,
  type DeviceSignIn,
  type BrowserSignIn,
  type IngestServer,
  type Question,
} from '../../core/connectors/connector';
import { Fault, messageOf } from '../../core/fault';
import type { DestinationRecord } from '../../core/show/records';
import { destinationUrl } from '../../protocol/delivery-schemas';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { Log } from '../log';
import { awaitComeback, type Comeback } from './loopback';
import { callService, type ServiceAnswer } from './service-call';

/** What the page is told about a sign-in. */
export type AccountState =
  | { state: 'none' }
  /** The user enters the code on the platform's page. */
  | { state: 'waiting'; userCode: string; verificationUrl: string; expiresMs: number }
  /** The user signs in on the platform's page, in a browser of this computer. */
  | { state: 'away'; url: string; expiresMs: number }
  | { state: 'signedIn' }
  | { state: 'failed'; message: string };

interface Tokens {
  /** Which connector it was given under, and every host in that one: it is shown to nobody else. */
  for: string;
  access: string;
  /** Null where the platform gives none: the user signs in anew when the other has run out. */
  refresh: string | null;
  expiresMs: number;
}

/** A token is renewed this long before it runs out. */
const EARLY_MS = 30_000;
/** How long somebody may take to sign in in the browser. */
const AWAY_MS = 10 * 60_000;
const DEVICE_GRANT = 'urn:ietf:params:oauth:grant-type:device_code';
/** Of a token that does not say how long it holds. */
const USUAL_SECONDS = 3600;
const MAX_SERVERS = 50;
const nameSchema = Joi.string().min(1).max(100).required();

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

const tokenSchema = Joi.object<{ access_token: string; refresh_token?: string; expires_in?: number }>({
  access_token: Joi.string().max(4000).required(),
  refresh_token: Joi.string().max(4000),
  expires_in: Joi.number().positive().max(1e8),
}).unknown(true);

const keySchema = Joi.string().min(1).max(400).required();
const serverSchema = Joi.object<{ name: string; url: string }>({
  name: Joi.string().trim().min(1).max(80).required(),
  url: destinationUrl.required(),
});

/**
 * Accounts on platforms, signed in to as their connectors say: by a short code on the platform's own page (RFC 8628), or in the
 * browser, which comes back here (RFC 8252, RFC 7636). No password ever comes here. With an account the key comes by itself,
 * and what viewers read is set at going live.
 */
export class PlatformAccounts {
  readonly #states = new Map<string, AccountState>();
  readonly #timers = new Map<string, NodeJS.Timeout>();
  readonly #away = new Map<string, Comeback>();

  constructor(
    readonly options: {
      secrets: SecretRepository;
      connectors: { find: (id: string | null) => Connector | null };
      /** A stored picture by its id; null when it is gone. */
      picture: (assetId: string) => { bytes: Uint8Array<ArrayBuffer>; mime: string } | null;
      now: () => number;
      log: Log;
    },
  ) {}

  state(destination: DestinationRecord): AccountState {
    const state = this.#states.get(destination.id);
    if (state) return state;
    return this.#tokens(destination) ? { state: 'signedIn' } : { state: 'none' };
  }

  /**
   * Begins a sign-in and waits for the user in the background.
   * @throws Fault `account.none` or `account.failed`
   */
  async begin(destination: DestinationRecord): Promise<AccountState> {
    const { signIn } = this.#connector(destination);
    if (!signIn)
      throw new Fault('account.none', `${destination.name} has no account to sign in to: enter its key`);
    this.#giveUp(destination.id);
    const state =
      signIn.type === 'device'
        ? await this.#beginByCode(destination, signIn)
        : await this.#beginInBrowser(destination, signIn);
    this.#states.set(destination.id, state);
    return state;
  }

  signOut(destinationId: string): void {
    this.#giveUp(destinationId);
    this.options.secrets.remove(subjects.account(destinationId));
  }

  /**
   * Before going live: sets what viewers read, and fetches a new key where one is wanted for every broadcast.
   * @throws Fault with what did not work; the broadcast can go on with the key there is
   */
  async prepare(destination: DestinationRecord, show: string): Promise<void> {
    if (!this.#tokens(destination)) return;
    await this.#details(destination, show);
    if (destination.keyUse === 'fresh') await this.#fetchKey(destination, true);
  }

  /**
   * Tells the platform's followers, where it has a way for that.
   * @returns whether it was told
   * @throws Fault with what did not work
   */
  async announce(destination: DestinationRecord, show: string, text: string): Promise<boolean> {
    const { announcement } = this.options.connectors.find(destination.connector) ?? {};
    if (!announcement || !this.#tokens(destination)) return false;
    await this.#call(destination, announcement, { ...valuesOf(destination, show, null), text });
    return true;
  }

  /**
   * The servers that one chooses among: those in the file, or those the platform lists now.
   * @param destination whose sign-in to use; null without one
   * @throws Fault `account.failed`, `account.servers` when none can be used
   */
  async servers(connector: Connector, destination: DestinationRecord | null): Promise<IngestServer[]> {
    const { servers = [], serversFrom: from } = connector.ingest;
    let all = servers;
    if (from) {
      const tokens = destination?.connector === connector.id ? this.#tokens(destination) : null;
      const headers = tokens ? { authorization: `Bearer ${tokens.access}` } : undefined;
      const { status, body } = await callService(from, {}, { headers });
      const found = valueAt(body, from.value);
      if (status >= 300 || !Array.isArray(found))
        throw new Fault('account.servers', `${connector.name} gave no list of servers (status ${status})`);
      const listed = found.slice(0, 1000).flatMap((item: unknown) => {
        const { error, value } = serverSchema.validate({
          name: valueAt(item, from.name),
          url: valueAt(item, from.address),
        });
        const region = from.region === undefined ? undefined : valueAt(item, from.region);
        return error ? [] : [{ ...value, ...(typeof region === 'string' && { region }) }];
      });
      all = [...servers, ...listed];
    }
    const chosen = serversIn(connector.ingest, all).slice(0, MAX_SERVERS);
    if (chosen.length === 0)
      throw new Fault('account.servers', `${connector.name} lists no server that can be used`);
    return chosen;
  }

  close(): void {
    for (const timer of this.#timers.values()) clearTimeout(timer);
    for (const comeback of this.#away.values()) comeback.close();
  }

  /** What was begun and not finished is over. */
  #giveUp(destinationId: string): void {
    clearTimeout(this.#timers.get(destinationId));
    this.#timers.delete(destinationId);
    this.#away.get(destinationId)?.close();
    this.#away.delete(destinationId);
    this.#states.delete(destinationId);
  }

  /** What a sign-in brought, as long as the destination is still at the same service. */
  #tokens({ id, connector }: DestinationRecord): Tokens | null {
    const stored = this.options.secrets.get(subjects.account(id));
    const service = this.options.connectors.find(connector);
    if (stored === null || !service) return null;
    const tokens = JSON.parse(stored) as Tokens;
    return tokens.for === audienceOf(service) ? tokens : null;
  }

  #connector({ connector, name }: DestinationRecord): Connector {
    const found = this.options.connectors.find(connector);
    if (found) return found;
    throw connector === null
      ? new Fault('account.none', `${name} has no account to sign in to: enter its key`)
      : new Fault('account.none', `The connector "${connector}" is not on this computer: import its file`);
  }

  async #beginByCode(destination: DestinationRecord, signIn: DeviceSignIn): Promise<AccountState> {
    const { clientId, scope, deviceUrl } = signIn;
    const { status, body } = await callService(
      { method: 'POST', url: deviceUrl, form: { client_id: clientId, scope } },
      {},
    );
    if (body === null) throw noPlatform(deviceUrl);
    const { error, value } = deviceSchema.validate(body);
    if (error || status >= 300)
      throw new Fault('account.failed', `${destination.name} gives no code to sign in with: try again later`);
    const expiresMs = this.options.now() + value.expires_in * 1000;
    this.#wait(destination, signIn, value.device_code, (value.interval ?? 5) * 1000, expiresMs);
    return {
      state: 'waiting',
      userCode: value.user_code,
      verificationUrl: value.verification_uri,
      expiresMs,
    };
  }

  async #beginInBrowser(destination: DestinationRecord, signIn: BrowserSignIn): Promise<AccountState> {
    const comeback = await awaitComeback(destination.name);
    const { clientId, scope, authorizeUrl, tokenUrl } = signIn;
    const url = new URL(authorizeUrl);
    for (const [name, value] of Object.entries({
      response_type: 'code',
      client_id: clientId,
      redirect_uri: comeback.redirectUri,
      scope,
      state: comeback.state,
      code_challenge: comeback.challenge,
      code_challenge_method: 'S256',
    }))
      url.searchParams.set(name, value);
    this.#away.set(destination.id, comeback);
    this.#timers.set(
      destination.id,
      setTimeout(() => {
        if (this.#away.get(destination.id) !== comeback) return;
        this.#giveUp(destination.id);
        this.#states.set(destination.id, {
          state: 'failed',
          message: 'Nobody signed in in time: begin again.',
        });
      }, AWAY_MS),
    );
    void comeback.code
      .then(async (code) => {
        const answer = await callService(
          {
            method: 'POST',
            url: tokenUrl,
            form: {
              grant_type: 'authorization_code',
              code,
              redirect_uri: comeback.redirectUri,
              client_id: clientId,
              code_verifier: comeback.verifier,
            },
          },
          {},
        );
        if (answer.status >= 300) throw new Error(`The platform said no (${errorIn(answer)}).`);
        await this.#signedIn(destination, answer.body);
      })
      .catch((error: unknown) => {
        // Given up, or begun anew, by the user: what came of it is not told any more.
        if (this.#away.get(destination.id) !== comeback) return;
        this.#failed(destination.id, messageOf(error));
      })
      .finally(() => comeback.close());
    return { state: 'away', url: url.href, expiresMs: this.options.now() + AWAY_MS };
  }

  #wait(
    destination: DestinationRecord,
    signIn: DeviceSignIn,
    deviceCode: string,
    waitMs: number,
    expiresMs: number,
  ): void {
    const again = (ms: number) =>
      this.#timers.set(
        destination.id,
        setTimeout(() => this.#wait(destination, signIn, deviceCode, ms, expiresMs), ms),
      );
    void (async () => {
      if (this.options.now() > expiresMs) throw new Error('The code was not entered in time: begin again.');
      const answer = await callService(
        {
          method: 'POST',
          url: signIn.tokenUrl,
          form: { grant_type: DEVICE_GRANT, device_code: deviceCode, client_id: signIn.clientId },
        },
        {},
      );
      if (answer.status < 300) return this.#signedIn(destination, answer.body);
      const code = errorIn(answer);
      // RFC 8628 §3.5
      if (code === 'authorization_pending') again(waitMs);
      else if (code === 'slow_down') again(waitMs + 5000);
      else
        throw new Error(
          code === 'access_denied' ? 'It was refused on the platform.' : `The platform said no (${code}).`,
        );
    })().catch((error: unknown) => this.#failed(destination.id, messageOf(error)));
  }

  async #signedIn(destination: DestinationRecord, body: unknown): Promise<void> {
    this.#keep(destination, body, null);
    if (this.#connector(destination).key) await this.#fetchKey(destination, destination.keyUse === 'fresh');
    this.#giveUp(destination.id);
  }

  #failed(destinationId: string, message: string): void {
    this.options.log.warn({ error: message }, 'sign-in failed');
    this.#giveUp(destinationId);
    this.#states.set(destinationId, { state: 'failed', message });
  }

  /** @param before what holds on where the answer brings no new one */
  #keep(destination: DestinationRecord, body: unknown, before: Tokens | null): void {
    const { error, value } = tokenSchema.validate(body);
    if (error) throw new Fault('account.failed', 'the platform’s answer cannot be read: begin again');
    const tokens: Tokens = {
      for: audienceOf(this.#connector(destination)),
      access: value.access_token,
      refresh: value.refresh_token ?? before?.refresh ?? null,
      expiresMs: this.options.now() + (value.expires_in ?? USUAL_SECONDS) * 1000,
    };
    this.options.secrets.set(subjects.account(destination.id), JSON.stringify(tokens), this.options.now());
  }

  async #fetchKey(destination: DestinationRecord, fresh: boolean): Promise<void> {
    const { key } = this.#connector(destination);
    const question = fresh ? (key?.renew ?? key?.read) : key?.read;
    if (!question) return;
    const { error, value } = keySchema.validate(await this.#ask(destination, question));
    if (error) throw new Fault('account.failed', `${destination.name} gave no key`);
    this.options.secrets.set(subjects.streamKey(destination.id), value as string, this.options.now());
  }

  async #details(destination: DestinationRecord, show: string): Promise<void> {
    const { details: set } = this.#connector(destination);
    if (!set) return;
    const values = valuesOf(destination, show, set);
    for (const call of set.set) await this.#call(destination, call, values);
    const { thumbnailId } = destination.details;
    const picture = thumbnailId === null ? null : this.options.picture(thumbnailId);
    if (picture && set.picture) await this.#call(destination, set.picture, values, picture);
  }

  async #ask(destination: DestinationRecord, question: Question): Promise<unknown> {
    return valueAt(await this.#call(destination, question, {}), question.value);
  }

  async #call(
    destination: DestinationRecord,
    call: Call,
    values: CallValues,
    picture?: { bytes: Uint8Array<ArrayBuffer>; mime: string },
  ): Promise<unknown> {
    const headers = {
      authorization: `Bearer ${await this.token(destination)}`,
      ...(picture && { 'content-type': picture.mime }),
    };
    const { status, body } = await callService(call, values, { headers, body: picture?.bytes });
    if (status === 401) {
      this.signOut(destination.id);
      throw new Fault(
        'account.out',
        `${destination.name} does not know this sign-in any more: sign in again`,
      );
    }
    if (status >= 300)
      throw new Fault(
        'account.failed',
        `${destination.name} answered ${status} to ${new URL(call.url).pathname}`,
      );
    return body;
  }

  /** As whom the chat of a service is joined. @throws Fault `account.*` with what to do when nobody is signed in */
  async chatLogin(destination: DestinationRecord): Promise<ReturnType<typeof chatLogin>> {
    const { chat } = this.#connector(destination);
    if (!chat?.account)
      throw new Fault('account.out', `${destination.name} has no chat that is signed in to`);
    const token = await this.token(destination);
    const { error, value } = nameSchema.validate(await this.#ask(destination, chat.account));
    if (error) throw new Fault('account.failed', `${destination.name} gave no name of the account`);
    return chatLogin(chat, value as string, token);
  }

  /**
   * A token that holds, renewed when it is about to run out.
   * @throws Fault `account.*` with what to do when there is none
   */
  async token(destination: DestinationRecord): Promise<string> {
    const tokens = this.#tokens(destination);
    const { signIn } = this.#connector(destination);
    if (!tokens || !signIn) throw new Fault('account.out', `sign in to ${destination.name} first`);
    if (tokens.expiresMs - EARLY_MS > this.options.now()) return tokens.access;
    const answer: ServiceAnswer =
      tokens.refresh === null
        ? { status: 400, body: null }
        : await callService(
            {
              method: 'POST',
              url: signIn.tokenUrl,
              form: {
                grant_type: 'refresh_token',
                refresh_token: tokens.refresh,
                client_id: signIn.clientId,
              },
            },
            {},
          );
    // A platform that has trouble of its own has not signed anybody out.
    if (answer.status >= 500)
      throw new Fault('account.failed', `${destination.name} answered ${answer.status} to a renewal`);
    if (answer.status >= 300) {
      this.signOut(destination.id);
      throw new Fault('account.out', `the sign-in to ${destination.name} has run out: sign in again`);
    }
    this.#keep(destination, answer.body, tokens);
    return this.#tokens(destination)!.access;
  }
}

/** Whom a token is for: another connector, or other hosts in its file, are somebody else. */
const audienceOf = (connector: Connector): string => [connector.id, ...hostsOf(connector)].join(' ');

const noPlatform = (url: string): Fault =>
  new Fault('account.failed', `${new URL(url).host} did not answer as a platform does`);

function errorIn({ status, body }: ServiceAnswer): string {
  const error = valueAt(body, '/error');
  return typeof error === 'string' ? error.slice(0, 60) : `status ${status}`;
}

/** What stands in calls; in the service's own words where its connector has some. */
function valuesOf(
  { details }: DestinationRecord,
  show: string,
  words: Connector['details'] | null,
): Record<string, string | string[]> {
  const { title, category, tags, description, latency, visibility } = details;
  return {
    ...{ title, category, tags, description, show },
    latency: words?.latency?.[latency] ?? latency,
    visibility: visibility || (words?.visibility?.[0] ?? ''),
  };
}
