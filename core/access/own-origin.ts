/** Headers by which a browser says which page a request comes from; programs send none of them. */
export interface OriginHeaders {
  origin?: string;
  /** Fetch Metadata (W3C), `Sec-Fetch-Site`. */
  'sec-fetch-site'?: string | string[];
}

/**
 * Whether a request that changes something comes from a page of one's own, or from a program, which no foreign page can
 * have lured. The origin must be the very same, port included: other ports of this computer are strangers.
 * @param origins such as `http://127.0.0.1:4800`, in lower case
 */
export function isFromOwnPage(headers: OriginHeaders, origins: ReadonlySet<string>): boolean {
  const { origin } = headers;
  const site = headers['sec-fetch-site'];
  if (origin === undefined) return site === undefined || site === 'same-origin' || site === 'none';
  return origins.has(origin.toLowerCase());
}
