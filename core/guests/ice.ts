/** By which servers guests and desk find each other when routers stand between them. */

/** Addresses of one kind in a setting, at most. */
const MAX_ADDRESSES = 4;

/** `stun:` (RFC 7064), `turn:` and `turns:` (RFC 7065): a name or address, perhaps a port, and for a relay its transport. */
const ADDRESS = {
  stun: /^stuns?:([\w.-]+|\[[\da-f:]+\])(:\d{1,5})?$/i,
  turn: /^turns?:([\w.-]+|\[[\da-f:]+\])(:\d{1,5})?(\?transport=(udp|tcp))?$/i,
} as const;

export interface IceSettings {
  stun: string[];
  turn: string[];
  /** Empty: the secret is shared with the relay, and names are made from it that are good for some hours. */
  user: string;
}

export const NO_ICE: IceSettings = { stun: [], turn: [], user: '' };

/**
 * Addresses as they are typed, several with spaces or commas between them; the scheme may be left out.
 * @throws Error with words for the user
 */
export function readAddresses(text: string, kind: keyof typeof ADDRESS): string[] {
  const all = text.split(/[\s,]+/).filter((one) => one !== '');
  if (all.length > MAX_ADDRESSES) throw new Error(`At most ${MAX_ADDRESSES} addresses of a kind.`);
  return all.map((one) => {
    const address = /^(stuns?|turns?):/i.test(one) ? one : `${kind}:${one}`;
    const port = Number(/:(\d+)(\?|$)/.exec(address)?.[1] ?? 1);
    if (!ADDRESS[kind].test(address) || port < 1 || port > 65_535)
      throw new Error(`“${one}” is no address of a ${kind.toUpperCase()} server: write ${kind}:name:3478.`);
    return address;
  });
}

/** What a test of the servers found. */
export interface IceFound {
  /** Addresses of this computer itself. */
  host: boolean;
  /** How this computer is seen from outside: a STUN server answered. */
  reflexive: boolean;
  /** A TURN server relays. */
  relayed: boolean;
}

/** What kind of way a candidate is (RFC 8839 §5.1); null for none of those that are looked for. */
export function kindOfCandidate(candidate: string): keyof IceFound | null {
  const kind = / typ (host|srflx|relay)\b/.exec(candidate)?.[1];
  return kind === 'host' ? 'host' : kind === 'srflx' ? 'reflexive' : kind === 'relay' ? 'relayed' : null;
}
