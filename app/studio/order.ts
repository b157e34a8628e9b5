import { messageOf } from '~/core/fault';

/**
 * Asks the studio server to do something.
 * @throws Error with words for the user
 */
export async function order<T>(url: string, body: object): Promise<T> {
  let response: Response;
  try {
    response = await fetch(url, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  } catch (error) {
    throw new Error(
      `The studio server does not answer: check that it runs, then try again (${messageOf(error)}).`,
      {
        cause: error,
      },
    );
  }
  const answer = (await response.json().catch(() => null)) as (T & { message?: string }) | null;
  if (!response.ok || answer === null)
    throw new Error(answer?.message ?? `It was not done (status ${response.status}).`);
  return answer;
}

/** The same, with what went wrong said to the user; null then. */
export async function orderOrSay<T>(
  url: string,
  body: object,
  say: (text: string) => void,
): Promise<T | null> {
  try {
    return await order<T>(url, body);
  } catch (error) {
    say(messageOf(error));
    return null;
  }
}
