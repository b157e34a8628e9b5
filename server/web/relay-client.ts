import { Fault, messageOf } from '../../core/fault';
import type { BeginOrder, DestinationOrder, RelayStatus } from '../../protocol/relay-orders';

/** Local calls answer in milliseconds; a relay that does not is gone. */
const TIMEOUT_MS = 3000;

/** The web server's side of the orders. */
export class RelayClient {
  constructor(
    readonly url: string,
    readonly token: string,
  ) {}

  status(): Promise<RelayStatus & { pid: number }> {
    return this.#call('GET', '/status');
  }

  begin(order: BeginOrder): Promise<RelayStatus> {
    return this.#call('POST', '/begin', order);
  }

  end(): Promise<RelayStatus> {
    return this.#call('POST', '/end', {});
  }

  setDestination(order: DestinationOrder): Promise<RelayStatus> {
    return this.#call('POST', '/destination', order);
  }

  removeDestination(id: string): Promise<RelayStatus> {
    return this.#call('POST', '/destination/remove', { id });
  }

  async #call<T>(method: string, path: string, body?: unknown): Promise<T> {
    let response: Response;
    try {
      response = await fetch(this.url + path, {
        method,
        headers: { authorization: `Bearer ${this.token}`, 'content-type': 'application/json' },
        body: body === undefined ? undefined : JSON.stringify(body),
        signal: AbortSignal.timeout(TIMEOUT_MS),
      });
    } catch (error) {
      throw new Fault(
        'relay.gone',
        `the relay does not answer (${messageOf(error)}); it is started anew by itself within seconds`,
        { cause: error },
      );
    }
    const answer = (await response.json()) as T & { message?: string };
    if (!response.ok)
      throw new Fault('relay.refused', answer.message ?? `the relay answered ${response.status}`);
    return answer;
  }
}
