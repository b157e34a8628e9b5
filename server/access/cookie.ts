import type { IncomingMessage } from 'node:http';

/** A year and a bit: how long a browser keeps a cookie at most (RFC 6265bis §5.5 caps it at 400 days). */
const COOKIE_SECONDS = 400 * 86_400;

/** The value of one cookie; null without it. Of several with the name, the first: browsers put the nearest path first. */
export function cookieOf({ headers }: Pick<IncomingMessage, 'headers'>, name: string): string | null {
  for (const pair of (headers.cookie ?? '').split(';')) {
    const at = pair.indexOf('=');
    if (at > 0 && pair.slice(0, at).trim() === name) return pair.slice(at + 1).trim();
  }
  return null;
}

/**
 * As a server sets it: for scripts not to be read, sent from pages of the same site alone.
 * @param value null to take it away
 * @param secure over TLS only, where there is TLS
 */
export function setCookie(name: string, value: string | null, secure: boolean): string {
  const age = value === null ? 0 : COOKIE_SECONDS;
  return `${name}=${value ?? ''}; HttpOnly; SameSite=Strict; Path=/; Max-Age=${age}${secure ? '; Secure' : ''}`;
}
