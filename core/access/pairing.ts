import { Fault } from '../fault';

/** What a studio must know to call a door that stands elsewhere. */
export interface Pairing {
  /** Of the door, with `https:`, host and port, and `/` at its end. */
  url: string;
  token: string;
  /** SHA-256 of its certificate, as pairs of hexadecimal digits with colons, when no authority vouches for it; else null. */
  fingerprint: string | null;
}

const TOKEN = /^([\w-]{20,100})(?:\.([0-9A-Fa-f]{64}))?$/;

/** As the door prints it, to be pasted into the studio as one word. */
export function pairingWord({ url, token, fingerprint }: Pairing): string {
  return `${url}#${token}${fingerprint === null ? '' : `.${fingerprint.replaceAll(':', '').toLowerCase()}`}`;
}

/** @throws Fault `door.pairing` when it is no such word, or one without TLS */
export function readPairing(word: string): Pairing {
  const [address, rest = ''] = word.trim().split('#');
  const [, token, digits] = TOKEN.exec(rest) ?? [];
  const [, host] = /^https:\/\/([^/?#\s@]{1,255})\/?$/i.exec(address) ?? [];
  if (token === undefined || host === undefined)
    throw new Fault(
      'door.pairing',
      'This is not what a door prints. Copy the whole line that begins with https:// and has a # in it.',
    );
  return {
    url: `https://${host.toLowerCase()}/`,
    token,
    fingerprint: digits === undefined ? null : digits.toUpperCase().replace(/..(?!$)/g, '$&:'),
  };
}
