import { Fault, messageOf } from '../../core/fault';
import type {
  BeginOrder,
  DestinationOrder,
  KeepOrder,
  KeptFile,
  LineTestOrder,
  RelayStatus,
} from '../../protocol/relay-orders';
import type { LineTestResult } from '../../protocol/vault';

/** Local calls answer in milliseconds; a relay that does not is gone. */
const TIMEOUT_MS = 3000;
/** Keeping minutes and measuring lines takes longer. */
const LONG_MS = 20_000;

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

  /** Delayed destinations still get what is theirs. */
  finish(): Promise<RelayStatus> {
    return this.#call('POST', '/finish', {});
  }

  setDestination(order: DestinationOrder): Promise<RelayStatus> {
    return this.#call('POST', '/destination', order);
  }

  removeDestination(id: string): Promise<RelayStatus> {
    return this.#call('POST', '/destination/remove', { id });
  }

  keep(order: KeepOrder): Promise<{ files: KeptFile[] }> {
    return this.#call('POST', '/keep', order, LONG_MS);
  }

  cover(on: boolean): Promise<RelayStatus> {
    return this.#call('POST', '/cover', { on });
  }

  cut(id: string, seconds: number): Promise<{ seconds: number }> {
    return this.#call('POST', '/cut', { id, seconds });
  }

  pauseRecording(paused: boolean): Promise<RelayStatus> {
    return this.#call('POST', '/recording/pause', { paused });
  }

  testLine(order: LineTestOrder): Promise<{ result: LineTestResult }> {
    return this.#call('POST', '/line-test', order, LONG_MS + order.seconds * 1000);
  }

  async #call<T>(method: string, path: string, body?: unknown, timeoutMs = TIMEOUT_MS): Promise<T> {
    let response: Response;
    try {
      response = await fetch(this.url + path, {
        method,
        headers: {
          authorization: `Bearer ${this.token}`,
          'content-type': 'application/json',
          // An order is not given twice: it must not go into a kept connection that the relay is just closing.
          ...(method === 'POST' && { connection: 'close' }),
        },
        body: body === undefined ? undefined : JSON.stringify(body),
        signal: AbortSignal.timeout(timeoutMs),
      });
    } catch (error) {
      throw new Fault(
        'relay.gone',
        `the relay does not answer (${messageOf(error)}); it restarts within seconds`,
        { cause: error },
      );
    }
    const answer = (await response.json()) as T & { message?: string };
    if (!response.ok)
      throw new Fault('relay.refused', answer.message ?? `the relay answered ${response.status}`);
    return answer;
  }
}
