import { filledCall, type Call, type CallValues } from '../../core/connectors/connector';
import { Fault, messageOf } from '../../core/fault';

const TIMEOUT_MS = 5000;
/** Answers are keys, tokens and lists of servers. */
const MAX_ANSWER_BYTES = 512 * 1024;

export interface ServiceAnswer {
  status: number;
  /** Parsed JSON; null when it is none. */
  body: unknown;
}

/**
 * One request to a service. Nobody is followed elsewhere: a token must reach only whom it is for.
 *
 * @param more headers, and a body in place of the call's own
 * @throws Fault `account.failed` when the service does not answer, or with more than it should
 */
export async function callService(
  call: Call,
  values: CallValues,
  more: { headers?: Record<string, string>; body?: Uint8Array<ArrayBuffer> } = {},
): Promise<ServiceAnswer> {
  const { url, headers, body } = filledCall(call, values);
  const { host } = new URL(url);
  let response: Response;
  try {
    response = await fetch(url, {
      method: call.method,
      headers: { accept: 'application/json', ...headers, ...more.headers },
      body: more.body ?? body,
      redirect: 'error',
      signal: AbortSignal.timeout(TIMEOUT_MS),
    });
    const text = await limitedText(response);
    return { status: response.status, body: parsed(text) };
  } catch (error) {
    throw new Fault('account.failed', `${host} did not answer (${messageOf(error)})`, { cause: error });
  }
}

async function limitedText(response: Response): Promise<string> {
  const decoder = new TextDecoder();
  let text = '';
  let bytes = 0;
  for await (const part of (response.body ?? []) as AsyncIterable<Uint8Array>) {
    bytes += part.length;
    if (bytes > MAX_ANSWER_BYTES) throw new Error('the answer is too long');
    text += decoder.decode(part, { stream: true });
  }
  return text + decoder.decode();
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return null;
  }
}
