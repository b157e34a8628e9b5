import { HOOK } from '../../core/access/limits';
import type { Incoming } from '../../core/audience/events';
import { messageOf } from '../../core/fault';
import { parseJson, readCloudEvent, readHookBody } from '../../protocol/cloud-events';
import type { Hook, HookRepository } from './hook-repository';

/** Ids of calls that were taken in are remembered as long as their stamps are believed: five minutes either way. */
const REPLAY_MS = 10 * 60_000;
const MAX_REMEMBERED = 60_000;

export interface HookAnswer {
  status: number;
  body: { taken: number; problems: string[] } | { code: string; message: string };
}

type HeaderOf = (name: string) => string | undefined;

/** A connection of a hook: what ends it. */
export interface HookConnection {
  close: (why: string) => void;
}

/** Where hooks come in: signature, replay window, flood, then the events. */
export class HookDoor {
  readonly #seen = new Map<string, number>();
  readonly #calls = new Map<string, { second: number; count: number }>();
  readonly #connections = new Map<string, Set<HookConnection>>();

  constructor(
    readonly hooks: HookRepository,
    readonly take: (hook: Hook, incoming: Incoming[]) => void,
    readonly reject: (hook: Hook, reason: string) => void,
    readonly now: () => number,
  ) {}

  /** @param header values by lower-case name */
  call(hookId: string, header: HeaderOf, body: string): HookAnswer {
    const hook = this.hooks.find(hookId);
    if (!hook) return refusal(404, 'hook.missing', 'There is no such hook here.');
    const now = this.now();
    const refused = this.#refusal(hook, header, body, now);
    if (refused) return refused;
    const key = callKey(hookId, header);
    // The same call again was taken already: its sender did not hear the answer.
    if (this.#seen.has(key)) {
      this.reject(hook, 'sent a second time');
      return { status: 200, body: { taken: 0, problems: ['this call was taken before'] } };
    }
    let raw: unknown[];
    try {
      raw = readHookBody(hook.name, header, body);
    } catch (error) {
      this.reject(hook, messageOf(error));
      return refusal(400, 'event.garbage', messageOf(error));
    }
    const incoming: Incoming[] = [];
    const problems: string[] = [];
    for (const event of raw)
      try {
        const read = readCloudEvent(hook.name, event, now, true);
        if (read) incoming.push(read);
      } catch (error) {
        problems.push(messageOf(error));
        this.reject(hook, messageOf(error));
      }
    this.#remember(key, now);
    this.take(hook, incoming);
    if (incoming.length === 0 && problems.length > 0) return refusal(400, 'event.garbage', problems[0]);
    return { status: 202, body: { taken: incoming.length, problems } };
  }

  /**
   * Whether a connection may be opened: its opening is signed like a call with an empty body, and good once.
   * @returns why not, or null
   */
  opening(hookId: string, header: HeaderOf): HookAnswer | null {
    const hook = this.hooks.find(hookId);
    if (!hook) return refusal(404, 'hook.missing', 'There is no such hook here.');
    const now = this.now();
    const refused = this.#refusal(hook, header, '', now);
    if (refused) return refused;
    const key = callKey(hookId, header);
    if (this.#seen.has(key)) {
      this.reject(hook, 'opened a second time with the same signature');
      return refusal(401, 'hook.replayed', 'This opening was used before: sign a new one.');
    }
    if ((this.#connections.get(hookId)?.size ?? 0) >= HOOK.connections) {
      this.reject(hook, `more than ${HOOK.connections} connections at once`);
      return refusal(429, 'hook.flood', 'This hook has too many connections: close one first.');
    }
    this.#remember(key, now);
    return null;
  }

  /** A call that was not even read. */
  tooLarge(hookId: string): void {
    const hook = this.hooks.find(hookId);
    if (hook) this.reject(hook, 'larger than 256 kB');
  }

  /** A connection that was let in. @returns to be called when it has ended */
  connected(hookId: string, connection: HookConnection): () => void {
    const all = this.#connections.get(hookId) ?? new Set();
    this.#connections.set(hookId, all.add(connection));
    return () => {
      all.delete(connection);
      if (all.size === 0 && this.#connections.get(hookId) === all) this.#connections.delete(hookId);
    };
  }

  /** The hook was removed, or has another secret: whoever came in by the old one is sent out. */
  shut(hookId: string): void {
    for (const connection of this.#connections.get(hookId) ?? []) connection.close('the hook was changed');
    this.#connections.delete(hookId);
  }

  /** One message over a connection. What is wrong with it is counted and shown; a flood that goes on ends the connection. */
  message(hookId: string, connection: HookConnection, text: string): void {
    const hook = this.hooks.find(hookId);
    if (!hook) return connection.close('the hook was removed');
    const now = this.now();
    const count = this.#count(hookId, now);
    if (count > HOOK.perSecond) {
      this.reject(hook, `more than ${HOOK.perSecond} messages a second`);
      if (count > HOOK.shutAtPerSecond) connection.close('too many messages: wait a second');
      return;
    }
    try {
      const incoming = readCloudEvent(hook.name, parseJson(hook.name, text), now, true);
      if (incoming) this.take(hook, [incoming]);
    } catch (error) {
      this.reject(hook, messageOf(error));
    }
  }

  #refusal(hook: Hook, header: HeaderOf, body: string, now: number): HookAnswer | null {
    if (this.#count(hook.id, now) > HOOK.perSecond) {
      this.reject(hook, `more than ${HOOK.perSecond} calls a second`);
      return refusal(
        429,
        'hook.flood',
        'Too many calls: wait a second, or send several events in one batch.',
      );
    }
    try {
      this.hooks.verify(hook.id, body, {
        'webhook-id': header('webhook-id') ?? '',
        'webhook-timestamp': header('webhook-timestamp') ?? '',
        'webhook-signature': header('webhook-signature') ?? '',
      });
    } catch (error) {
      this.reject(hook, `not signed as it should be: ${messageOf(error)}`);
      return refusal(401, 'hook.signature', `The signature is not right: ${messageOf(error)}.`);
    }
    return null;
  }

  /** One more. @returns how many there were in this second */
  #count(hookId: string, now: number): number {
    const second = Math.floor(now / 1000);
    const calls = this.#calls.get(hookId);
    if (calls?.second === second) return (calls.count += 1);
    this.#calls.set(hookId, { second, count: 1 });
    return 1;
  }

  #remember(key: string, now: number): void {
    this.#seen.set(key, now);
    for (const [old, at] of this.#seen) {
      if (now - at < REPLAY_MS && this.#seen.size <= MAX_REMEMBERED) break;
      this.#seen.delete(old);
    }
  }
}

const callKey = (hookId: string, header: HeaderOf) => `${hookId}/${header('webhook-id') ?? ''}`;

function refusal(status: number, code: string, message: string): HookAnswer {
  return { status, body: { code, message } };
}
