import type { Incoming } from '../../core/audience/events';
import { messageOf } from '../../core/fault';
import { readCloudEvent, readHookBody } from '../../protocol/cloud-events';
import type { HookRepository } from './hook-repository';

/** Events of a hook are short; a call with more than this is something else. */
export const MAX_HOOK_BYTES = 256 * 1024;
/** Calls of one hook within a second; more is a flood, and is told to come again later. */
const MAX_CALLS_PER_SECOND = 100;
/** Ids of calls that were taken in are remembered as long as their stamps are believed: five minutes either way. */
const REPLAY_MS = 10 * 60_000;
const MAX_REMEMBERED = 60_000;

export interface HookAnswer {
  status: number;
  body: { taken: number; problems: string[] } | { code: string; message: string };
}

/** Where hooks come in: signature, replay window, flood, then the events. */
export class HookDoor {
  readonly #seen = new Map<string, number>();
  readonly #calls = new Map<string, { second: number; count: number }>();

  constructor(
    readonly hooks: HookRepository,
    readonly take: (incoming: Incoming[]) => void,
    readonly reject: (source: string, reason: string) => void,
    readonly now: () => number,
  ) {}

  /** @param header values by lower-case name */
  call(hookId: string, header: (name: string) => string | undefined, body: string): HookAnswer {
    const hook = this.hooks.find(hookId);
    if (!hook) return refusal(404, 'hook.missing', 'There is no such hook here.');
    const now = this.now();
    if (this.#isFlood(hookId, now)) {
      this.reject(hook.name, 'more than 100 calls a second');
      return refusal(
        429,
        'hook.flood',
        'Too many calls: wait a second, or send several events in one batch.',
      );
    }
    const messageId = header('webhook-id') ?? '';
    try {
      this.hooks.verify(hookId, body, {
        'webhook-id': messageId,
        'webhook-timestamp': header('webhook-timestamp') ?? '',
        'webhook-signature': header('webhook-signature') ?? '',
      });
    } catch (error) {
      this.reject(hook.name, `not signed as it should be: ${messageOf(error)}`);
      return refusal(401, 'hook.signature', `The signature is not right: ${messageOf(error)}.`);
    }
    const key = `${hookId}/${messageId}`;
    // The same call again was taken already: its sender did not hear the answer.
    if (this.#seen.has(key)) {
      this.reject(hook.name, 'sent a second time');
      return { status: 200, body: { taken: 0, problems: ['this call was taken before'] } };
    }
    let raw: unknown[];
    try {
      raw = readHookBody(hook.name, header, body);
    } catch (error) {
      this.reject(hook.name, messageOf(error));
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
        this.reject(hook.name, messageOf(error));
      }
    this.#remember(key, now);
    this.take(incoming);
    if (incoming.length === 0 && problems.length > 0) return refusal(400, 'event.garbage', problems[0]);
    return { status: 202, body: { taken: incoming.length, problems } };
  }

  #isFlood(hookId: string, now: number): boolean {
    const second = Math.floor(now / 1000);
    const calls = this.#calls.get(hookId);
    if (!calls || calls.second !== second) {
      this.#calls.set(hookId, { second, count: 1 });
      return false;
    }
    calls.count += 1;
    return calls.count > MAX_CALLS_PER_SECOND;
  }

  #remember(key: string, now: number): void {
    this.#seen.set(key, now);
    for (const [old, at] of this.#seen) {
      if (now - at < REPLAY_MS && this.#seen.size <= MAX_REMEMBERED) break;
      this.#seen.delete(old);
    }
  }
}

function refusal(status: number, code: string, message: string): HookAnswer {
  return { status, body: { code, message } };
}
