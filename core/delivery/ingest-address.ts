/** Addresses of ingest servers as people paste them: often with the stream key at their end. */

/** A last part this long, with a digit in it, is a key; names of applications are short words. */
const LEAST_KEY_LETTERS = 12;

export interface SplitAddress {
  /** What may be seen. */
  url: string;
  /** What may not. */
  key: string;
}

/**
 * Takes the stream key off a pasted address, with everything behind it.
 * @returns null when the address has none, or is none
 */
export function keyInAddress(pasted: string): SplitAddress | null {
  const match = /^(rtmps?:\/\/[^/?#\s]+)(\/[^?#\s]*)?([?#]\S*)?$/i.exec(pasted.trim());
  if (!match) return null;
  const [, server, path = '', more = ''] = match;
  const parts = path.split('/').filter((part) => part !== '');
  const last = parts.at(-1) ?? '';
  const looksLikeKey = last.length >= LEAST_KEY_LETTERS && /\d/.test(last);
  // An application alone is no key, whatever it looks like.
  if (parts.length < 2 || !(looksLikeKey || more !== '')) return null;
  return { url: `${server}/${parts.slice(0, -1).join('/')}`, key: `${last}${more}` };
}
