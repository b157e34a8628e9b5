import { randomBytes, randomUUID } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { Fault, messageOf } from '../../core/fault';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';

interface Stored {
  url: string;
  secret: string;
}

export interface Announcement {
  show: string;
  title: string;
  destinations: string[];
  text: string;
}

const TIMEOUT_MS = 8000;

/** Puts what is known into the words: {show}, {title}, {destinations}. */
export function announcementText(
  template: string,
  facts: Pick<Announcement, 'show' | 'title' | 'destinations'>,
): string {
  return template
    .replaceAll('{show}', facts.show)
    .replaceAll('{title}', facts.title)
    .replaceAll('{destinations}', facts.destinations.join(', '));
}

/** Tells another service that the broadcast has begun: a hook signed as Standard Webhooks 1.0 has it. */
export class Announcer {
  constructor(
    readonly secrets: SecretRepository,
    readonly now: () => number,
  ) {}

  /** The host it goes to, never the address, which may hold a token; null when there is none. */
  target(showId: string): string | null {
    const stored = this.#stored(showId);
    return stored ? new URL(stored.url).host : null;
  }

  /**
   * Stores the address and makes a new secret, which is shown this once.
   * @throws Fault `announce.url`
   */
  set(showId: string, address: string): string {
    let url: URL;
    try {
      url = new URL(address);
    } catch {
      throw new Fault('announce.url', 'the address must be whole, like https://example.net/hook');
    }
    if (!['http:', 'https:'].includes(url.protocol))
      throw new Fault('announce.url', 'the address must begin with https:// or http://');
    const secret = `whsec_${randomBytes(32).toString('base64')}`;
    this.secrets.set(subjects.announce(showId), JSON.stringify({ url: url.href, secret }), this.now());
    return secret;
  }

  remove(showId: string): void {
    this.secrets.remove(subjects.announce(showId));
  }

  /** @throws Fault `announce.failed` with what the other side said */
  async announce(showId: string, announcement: Announcement): Promise<void> {
    const stored = this.#stored(showId);
    if (!stored) throw new Fault('announce.none', 'no address is stored: enter one in Delivery');
    const at = new Date(this.now());
    const id = `msg_${randomUUID()}`;
    const body = JSON.stringify({
      type: 'broadcast.started',
      timestamp: at.toISOString(),
      data: announcement,
    });
    let status: number;
    try {
      const response = await fetch(stored.url, {
        method: 'POST',
        redirect: 'error',
        headers: {
          'content-type': 'application/json',
          'webhook-id': id,
          'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
          'webhook-signature': new Webhook(stored.secret).sign(id, at, body),
        },
        body,
        signal: AbortSignal.timeout(TIMEOUT_MS),
      });
      status = response.status;
    } catch (error) {
      throw new Fault('announce.failed', `${new URL(stored.url).host} did not answer (${messageOf(error)})`);
    }
    if (status >= 300)
      throw new Fault(
        'announce.failed',
        `${new URL(stored.url).host} answered with ${status}: it did not take it`,
      );
  }

  #stored(showId: string): Stored | null {
    const stored = this.secrets.get(subjects.announce(showId));
    return stored === null ? null : (JSON.parse(stored) as Stored);
  }
}
